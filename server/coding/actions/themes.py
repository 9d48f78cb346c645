"""Writes on research questions and themes."""

from collections.abc import Sequence
from typing import Any

from django.db.models import Max, Model

from core.language import say
from server.coding import queries
from server.coding.models import ResearchQuestion, Theme, ThemeCode
from server.common.errors import Conflict, Refusal
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act


def create_question(member: Membership, text: str) -> ResearchQuestion:
    with act(member, "question.create") as change:
        text = " ".join(text.split())
        if not text:
            raise Refusal(say("Write the question first."))
        change.summary = say("Asked “{text}”", text=text[:60])
        return change.create(
            ResearchQuestion(project_id=member.project_id, text=text, position=_last(member, ResearchQuestion))
        )


def change_question(member: Membership, question_id: int, text: str) -> ResearchQuestion:
    with act(member, "question.change") as change:
        question = queries.question(member, question_id)
        text = " ".join(text.split())
        if not text:
            raise Refusal(say("A question asks something; delete it if it isn’t wanted any more."))
        change.update(question, text=text)
        change.summary = say("Changed the question to “{text}”", text=text[:60])
    return question


def delete_question(member: Membership, question_id: int) -> None:
    """Delete a research question; its themes stay, tied to none."""
    with act(member, "question.delete") as change:
        question = queries.question(member, question_id)
        change.delete(ResearchQuestion.objects.filter(pk=question.pk))
        change.summary = say("Deleted the question “{text}”", text=question.text[:60])


def create_theme(
    member: Membership, name: str, statement: str = "", question_id: int | None = None, code_ids: Sequence[int] = ()
) -> Theme:
    with act(member, "theme.create") as change:
        name = _name(member, name)
        question = queries.question(member, question_id) if question_id else None
        theme = change.create(
            Theme(
                project_id=member.project_id,
                name=name,
                statement=statement,
                question=question,
                position=_last(member, Theme),
            )
        )
        for place, code_id in enumerate(dict.fromkeys(code_ids)):
            change.create(ThemeCode(theme=theme, code=queries.code(member, code_id), position=place))
        change.summary = say("Made the theme {name}", name=theme.name)
    return theme


def change_theme(member: Membership, theme_id: int, codes: Sequence[int] | None = None, **fields: Any) -> Theme:
    """Rename, state, tie to a question (``question_id``), draw other ``codes`` together: all of it, or nothing."""
    with act(member, "theme.change") as change:
        theme = queries.theme(member, theme_id)
        if "name" in fields:
            fields["name"] = _name(member, fields["name"], theme_id)
        if fields.get("question_id"):
            queries.question(member, fields["question_id"])
        renamed = change.update(theme, **fields)
        if codes is not None:
            _order_codes(change, theme, codes)
        change.summary = (
            say("Changed the theme {name}", name=theme.name)
            if renamed
            else say("Changed the codes of the theme {name}", name=theme.name)
        )
    return theme


def delete_theme(member: Membership, theme_id: int) -> None:
    """Delete a theme; its codes stay in the codebook."""
    with act(member, "theme.delete") as change:
        theme = queries.theme(member, theme_id)
        change.delete(Theme.objects.filter(pk=theme.pk))
        change.summary = say("Deleted the theme {name}", name=theme.name)


def _order_codes(change: Change, theme: Theme, code_ids: Sequence[int]) -> None:
    """Which codes a theme draws together, in order."""
    wanted = list(dict.fromkeys(code_ids))
    held = {row.code_id: row for row in theme.placings.all()}
    for place, code_id in enumerate(wanted):
        if code_id in held:
            change.update(held[code_id], position=place)
        else:
            change.create(ThemeCode(theme=theme, code=queries.code(change.member, code_id), position=place))
    gone = [code_id for code_id in held if code_id not in wanted]
    change.delete(theme.placings.filter(code_id__in=gone))


def _name(member: Membership, name: str, but: int = 0) -> str:
    name = " ".join(name.split())
    if not name or len(name) > 160:
        raise Refusal(say("Give the theme a name of up to 160 characters; what it says goes into its statement."))
    same = queries.themes(member).filter(name__iexact=name).exclude(pk=but).first()
    if same:
        raise Conflict(say("There is a theme “{name}” already.", name=same.name))
    return name


def _last(member: Membership, model: type[Model]) -> int:
    rows = model._default_manager.filter(project=member.project_id)
    last: int | None = rows.aggregate(last=Max("position"))["last"]
    return 0 if last is None else last + 1
