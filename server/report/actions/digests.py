"""Writes on digests."""

from django.db.models.functions import Now

from server.coding import queries as coding
from server.common.errors import Refusal
from server.people import queries as people
from server.projects.models import Membership
from server.projects.trail import act
from server.report.models import Digest


def write_digest(
    member: Membership, case_id: int, text: str, *, code: int | None = None, theme: int | None = None
) -> Digest | None:
    """Write what one person says about one code or theme, in place of what was written; nothing takes it away."""
    with act(member, "coder", "digest") as change:
        if (code is None) == (theme is None):
            raise Refusal("A digest is of one person and one code or theme.")
        case = people.case(member, case_id)
        of_code = None if code is None else coding.code(member, code)
        of_theme = None if theme is None else coding.theme(member, theme)
        name = of_code.name if of_code else of_theme.name if of_theme else ""
        held = Digest.objects.filter(case=case, code=of_code, theme=of_theme).first()
        text = text.strip()
        if not text:
            if held is not None:
                change.summary = f"Deleted the digest of {case.identifier} on {name}"
                change.delete(Digest.objects.filter(pk=held.pk))
            return None
        change.summary = f"Wrote a digest of {case.identifier} on {name}"
        if held is None:
            made = Digest(
                project_id=member.project_id, case=case, code=of_code, theme=of_theme, text=text, author=member.account
            )
            return change.create(made)
        if change.update(held, text=text, author_id=member.account_id):
            Digest.objects.filter(pk=held.pk).update(changed_at=Now())
        return held
