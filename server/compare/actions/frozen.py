"""Writes on frozen results, and notes on cells."""

from typing import Any

from core.language import say
from server.common import names
from server.common.errors import NotFound, Refusal
from server.compare import frozen, frozen_passages, queries
from server.compare.models import CellNote, FrozenResult
from server.projects.models import Membership
from server.projects.trail import act

Json = dict[str, Any]


def freeze(member: Membership, name: str, asked: Json, shown: Json, kept_id: int | None = None) -> FrozenResult:
    """Keep a comparison's result as it is today, with all that every cell holds."""
    with act(member, "comparison.freeze") as change:
        name = names.given(name)
        result, held = frozen.as_it_is(member, asked)
        change.summary = say("Froze the result “{name}”", name=name)
        return change.create(
            FrozenResult(
                project_id=member.project_id,
                kind="comparison",
                comparison=None if kept_id is None else queries.kept_comparison(member, kept_id),
                name=name,
                asked=asked,
                shown=shown,
                result=result,
                held=held,
                author=member.account,
            )
        )


def freeze_passages(member: Membership, name: str, asked: Json) -> FrozenResult:
    """Keep what conditions on passages (``blocks`` in a ``scope``) find today."""
    with act(member, "query.freeze") as change:
        name = names.given(name)
        result, held = frozen_passages.as_they_are(member, asked)
        change.summary = say("Froze the passages “{name}”", name=name)
        return change.create(
            FrozenResult(
                project_id=member.project_id,
                kind="passages",
                name=name,
                asked=asked,
                result=result,
                held=held,
                author=member.account,
            )
        )


def delete_frozen(member: Membership, frozen_id: int) -> None:
    """Delete a frozen result."""
    with act(member, "frozen.delete") as change:
        row = frozen.frozen_result(member, frozen_id)
        change.summary = say("Deleted the frozen result “{name}”", name=row.name)
        change.delete(FrozenResult.objects.filter(pk=row.pk))


def note_cell(member: Membership, kept_id: int, kind: str, row: int, group: str, text: str) -> CellNote:
    """Write a note on a cell of a kept comparison."""
    with act(member, "note.write") as change:
        kept = queries.kept_comparison(member, kept_id)
        if not text.strip():
            raise Refusal(say("Write something first."))
        change.summary = say("Wrote a note in “{name}”", name=kept.name)
        return change.create(
            CellNote(comparison=kept, kind=kind, row=row, group=group, text=text.strip(), author=member.account)
        )


def change_note(member: Membership, kept_id: int, note_id: int, text: str) -> CellNote:
    """Other words for a note."""
    with act(member, "note.change") as change:
        note = _note(member, kept_id, note_id)
        if not text.strip():
            raise Refusal(say("Write something, or delete the note."))
        change.update(note, text=text.strip())
        change.summary = say("Changed a note in “{name}”", name=note.comparison.name)
    return note


def delete_note(member: Membership, kept_id: int, note_id: int) -> None:
    """Delete a note."""
    with act(member, "note.delete") as change:
        note = _note(member, kept_id, note_id)
        change.summary = say("Deleted a note in “{name}”", name=note.comparison.name)
        change.delete(CellNote.objects.filter(pk=note.pk))


def _note(member: Membership, kept_id: int, note_id: int) -> CellNote:
    found = queries.kept_comparison(member, kept_id).notes.filter(pk=note_id).first()
    if found is None:
        raise NotFound(say("This note isn’t here any more; somebody has deleted it."))
    return found
