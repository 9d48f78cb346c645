"""Writes on exhibits and their pieces."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from django.db.models import Max

from core.language import say
from server.coding import queries as coding
from server.coding.models import Passage
from server.common import names
from server.common.errors import NotFound, Refusal
from server.compare import searching
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act
from server.report import queries
from server.report.models import Exhibit, ExhibitPiece
from server.snapshots.queries import snapshot

MOST_PIECES = 500


def make_exhibit(
    member: Membership, name: str, audience: str = "", question: int | None = None, passages: Sequence[int] = ()
) -> Exhibit:
    """Make an exhibit, with its first passages."""
    with act(member, "exhibit.make") as change:
        name = names.free(queries.exhibits(member), name, say("an exhibit"))
        asked = None if question is None else coding.question(member, question)
        change.summary = say("Made the exhibit “{name}”", name=name)
        made = change.create(
            Exhibit(
                project_id=member.project_id,
                name=name,
                audience=audience.strip(),
                question=asked,
                author=member.account,
            )
        )
        _add(change, made, passages)
    return made


def change_exhibit(member: Membership, exhibit_id: int, **fields: Any) -> Exhibit:
    """Another name, audience, research question or order of ``pieces``; those not named stay behind as they were."""
    with act(member, "exhibit.change") as change:
        exhibit = queries.exhibit(member, exhibit_id)
        if "name" in fields:
            fields["name"] = names.free(queries.exhibits(member), fields["name"], say("an exhibit"), exhibit.pk)
        if "question" in fields:
            chosen = fields.pop("question")
            fields["question_id"] = None if chosen is None else coding.question(member, chosen).pk
        if "pieces" in fields:
            _order(change, exhibit, fields.pop("pieces"))
        change.update(exhibit, **fields)
        change.summary = say("Changed the exhibit “{name}”", name=exhibit.name)
    return exhibit


def delete_exhibit(member: Membership, exhibit_id: int) -> None:
    """Delete an exhibit; its passages stay where they are."""
    with act(member, "exhibit.delete") as change:
        exhibit = queries.exhibit(member, exhibit_id)
        kept = list(exhibit.pieces.values_list("passage_id", flat=True))
        change.summary = say("Deleted the exhibit “{name}”", name=exhibit.name)
        change.delete(Exhibit.objects.filter(pk=exhibit.pk))
        change.delete(Passage.objects.filter(pk__in=kept).idle())


def add_to_exhibit(
    member: Membership, exhibit_id: int, passages: Sequence[int] = (), query: int | None = None
) -> tuple[Exhibit, int]:
    """Put passages, or all that a saved query finds today, at the end of an exhibit; how many were new to it."""
    with act(member, "exhibit.add") as change:
        exhibit = queries.exhibit(member, exhibit_id)
        wanted = list(passages)
        if query is not None:
            held = snapshot(member.project_id)
            found = searching.passages_found(member, held, searching.saved_query(member, query).blocks)
            wanted += held.passage_ids[np.flatnonzero(found)].tolist()
        count = _add(change, exhibit, wanted)
        change.summary = say(
            "Put {count} {count, plural, one {passage} other {passages}} into “{name}”", count=count, name=exhibit.name
        )
    return exhibit, count


def _add(change: Change, exhibit: Exhibit, passages: Sequence[int]) -> int:
    held = set(exhibit.pieces.values_list("passage_id", flat=True))
    wanted = [pk for pk in dict.fromkeys(passages) if pk not in held]
    if len(held) + len(wanted) > MOST_PIECES:
        raise Refusal(
            say("An exhibit holds at most {most_pieces} passages: choose some of them.", most_pieces=MOST_PIECES)
        )
    for pk in wanted:
        coding.passage(change.member, pk)
    last = exhibit.pieces.aggregate(last=Max("position"))["last"]
    first = 0 if last is None else last + 1
    change.create_many(
        [ExhibitPiece(exhibit=exhibit, passage_id=pk, position=first + at) for at, pk in enumerate(wanted)]
    )
    return len(wanted)


def change_piece(member: Membership, exhibit_id: int, piece_id: int, **fields: Any) -> ExhibitPiece:
    """Another caption, or other words left off at the beginning (``cut_start``) and the end (``cut_end``)."""
    with act(member, "piece.change") as change:
        piece = _piece(member, exhibit_id, piece_id)
        start, end = fields.get("cut_start", piece.cut_start), fields.get("cut_end", piece.cut_end)
        if (start or end) and start + end >= piece.passage.end - piece.passage.start:
            raise Refusal(say("Nothing would be left of the passage; leave some of its words, or take it out."))
        change.update(piece, **fields)
        change.summary = say("Changed a piece of “{name}”", name=piece.exhibit.name)
    return piece


def _order(change: Change, exhibit: Exhibit, pieces: Sequence[int]) -> None:
    rows = {row.pk: row for row in exhibit.pieces.all()}
    wanted = [pk for pk in dict.fromkeys(pieces) if pk in rows]
    for at, pk in enumerate([*wanted, *(pk for pk in rows if pk not in wanted)]):
        change.update(rows[pk], position=at)


def take_out(member: Membership, exhibit_id: int, piece_id: int) -> None:
    """Take a passage out of an exhibit; a passage that carries nothing else goes too."""
    with act(member, "piece.take_out") as change:
        piece = _piece(member, exhibit_id, piece_id)
        change.summary = say("Took a passage out of “{name}”", name=piece.exhibit.name)
        change.delete(ExhibitPiece.objects.filter(pk=piece.pk))
        change.delete(Passage.objects.filter(pk=piece.passage_id).idle())


def _piece(member: Membership, exhibit_id: int, piece_id: int) -> ExhibitPiece:
    found = queries.exhibit(member, exhibit_id).pieces.select_related("exhibit", "passage").filter(pk=piece_id).first()
    if found is None:
        raise NotFound(say("This passage isn’t in the exhibit any more."))
    return found
