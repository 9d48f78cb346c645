"""Writes on kept comparisons."""

from typing import Any

from core.language import say
from server.coding import queries as coding
from server.common import names
from server.compare import queries
from server.compare.asking import ask
from server.compare.called import names_in
from server.compare.models import KeptComparison
from server.projects.models import Membership
from server.projects.trail import act

Json = dict[str, Any]


def keep_comparison(
    member: Membership, name: str, asked: Json, shown: Json, question_id: int | None = None
) -> KeptComparison:
    """Keep what is asked under a name; it has to make sense now."""
    with act(member, "comparison.keep") as change:
        name = names.free(queries.kept_comparisons(member), name, say("a kept comparison"))
        ask(member, asked)
        change.summary = say("Kept the comparison “{name}”", name=name)
        return change.create(
            KeptComparison(
                project_id=member.project_id,
                name=name,
                question=None if question_id is None else coding.question(member, question_id),
                asked=asked,
                shown=shown,
                called=names_in(member, asked),
                author=member.account,
            )
        )


def change_kept(member: Membership, kept_id: int, **fields: Any) -> KeptComparison:
    """Another name or research question, or what is asked now in place of what was."""
    with act(member, "comparison.change") as change:
        kept = queries.kept_comparison(member, kept_id)
        if "name" in fields:
            fields["name"] = names.free(
                queries.kept_comparisons(member), fields["name"], say("a kept comparison"), kept.pk
            )
        if "question" in fields:
            chosen = fields.pop("question")
            fields["question_id"] = None if chosen is None else coding.question(member, chosen).pk
        if "asked" in fields:
            ask(member, fields["asked"])
            fields["called"] = names_in(member, fields["asked"])
        change.update(kept, **fields)
        change.summary = say("Changed the kept comparison “{name}”", name=kept.name)
    return kept


def delete_kept(member: Membership, kept_id: int) -> None:
    """Let go of a kept comparison, with the memos on it."""
    with act(member, "comparison.delete") as change:
        kept = queries.kept_comparison(member, kept_id)
        change.summary = say("Let go of the kept comparison “{name}”", name=kept.name)
        change.delete(KeptComparison.objects.filter(pk=kept.pk))
