"""Writes on digests."""

from typing import Literal

from django.db.models.functions import Now

from core.language import say
from server.coding import queries as coding
from server.common.errors import Refusal
from server.people import queries as people
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act
from server.report.models import Digest


def carry_digests(change: Change, what: Literal["case", "code"], gone: int, there: int) -> None:
    """What was written of a case or code that becomes one with another; two of one thing are put together."""
    for row in Digest.objects.filter(**{f"{what}_id": gone}):
        same = {"case_id": row.case_id, "code_id": row.code_id, "theme_id": row.theme_id} | {f"{what}_id": there}
        held = Digest.objects.filter(**same).first()
        if held is None:
            change.update(row, **{f"{what}_id": there})
        else:
            change.update(held, text=f"{held.text}\n\n{row.text}")


def write_digest(
    member: Membership, case_id: int, text: str, *, code: int | None = None, theme: int | None = None
) -> Digest | None:
    """Write what one person says about one code or theme, in place of what was written; nothing takes it away."""
    with act(member, "digest.write") as change:
        if (code is None) == (theme is None):
            raise Refusal(say("A digest is of one person and one code or theme."))
        case = people.case(member, case_id)
        of_code = None if code is None else coding.code(member, code)
        of_theme = None if theme is None else coding.theme(member, theme)
        name = of_code.name if of_code else of_theme.name if of_theme else ""
        held = Digest.objects.filter(case=case, code=of_code, theme=of_theme).first()
        text = text.strip()
        if not text:
            if held is not None:
                change.summary = say(
                    "Deleted the digest of {identifier} on {name}", identifier=case.identifier, name=name
                )
                change.delete(Digest.objects.filter(pk=held.pk))
            return None
        change.summary = say("Wrote a digest of {identifier} on {name}", identifier=case.identifier, name=name)
        if held is None:
            made = Digest(
                project_id=member.project_id, case=case, code=of_code, theme=of_theme, text=text, author=member.account
            )
            return change.create(made)
        if change.update(held, text=text, author_id=member.account_id):
            Digest.objects.filter(pk=held.pk).update(changed_at=Now())
        return held
