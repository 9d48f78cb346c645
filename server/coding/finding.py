"""Finding words in the project's texts, and reading every hit in its context."""

import bisect
import time
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Any, NamedTuple

from core.coding.find import SECONDS, BadQuery, Query, find, query
from server.common.errors import Refusal
from server.compare.queries import facts_of
from server.gather import queries as gather
from server.gather.models import Document, Speaker, SpeakerRole, Turn
from server.gather.word_index import may_hold
from server.projects.models import Membership

MOST = 300
"""Hits that are shown at once; all are counted."""
AROUND = 90
"""Code points of context on either side."""


@dataclass(frozen=True)
class Asked:
    """``everyone``: interviewers and others too, not participants alone."""

    text: str
    how: str = "words"
    language: str = "english"
    within: int = 10
    everyone: bool = False
    documents: tuple[int, ...] | None = None
    cases: tuple[int, ...] | None = None


class Said(NamedTuple):
    """A turn as far as finding needs it."""

    number: int
    start: int
    end: int
    ink_start: int
    ink_end: int
    label: str
    case: int | None
    participant: bool


def hits(member: Membership, asked: Asked) -> dict[str, Any]:
    """Every hit by document in its context, with how many people and documents have one."""
    try:
        wanted = query(asked.text, asked.how, asked.language, asked.within)  # type: ignore[arg-type]
        listed: list[dict[str, Any]] = []
        total, documents = 0, set()
        people: dict[int | None, int] = {}
        for document, turn, start, end in _found(member, asked, wanted):
            total += 1
            documents.add(document.pk)
            case = turn.case if turn.participant else None
            people[case] = people.get(case, 0) + 1
            if total <= MOST:
                listed.append(shown(document, turn, turn.label, case, start, end))
    except BadQuery as bad:
        raise Refusal(str(bad)) from bad
    about = facts_of(member, [case for case in people if case])
    return {
        "total": total,
        "documents": len(documents),
        "people": [
            {"case": case, "count": count, **about.get(case or 0, {"identifier": "", "facts": []})}
            for case, count in sorted(people.items(), key=lambda pair: -pair[1])
        ],
        "hits": listed,
        "more": max(0, total - MOST),
    }


def _found(member: Membership, asked: Asked, wanted: Query) -> Iterator[tuple[Document, Said, int, int]]:
    documents = _candidates(member, asked, wanted)
    turns = _said(documents)
    for document in documents:
        left = SECONDS
        for run in _runs(asked, turns.get(document.pk, [])):
            first = run[0].start
            starts = [turn.start for turn in run]
            began = time.monotonic()
            for start, end in find(document.text[first : run[-1].end], wanted, left):
                yield document, run[bisect.bisect_right(starts, first + start) - 1], first + start, first + end
            left -= time.monotonic() - began


def _candidates(member: Membership, asked: Asked, wanted: Query) -> list[Document]:
    """Documents that may hold a hit, found by the database's index."""
    rows = gather.documents(member).only("id", "title", "text").order_by("title")
    if asked.documents is not None:
        rows = rows.filter(pk__in=asked.documents)
    held = may_hold(wanted)
    return list(rows if held is None else rows.filter(pk__in=held))


def _said(documents: Sequence[Document]) -> dict[int, list[Said]]:
    """The turns of each document in order: plain rows, since there may be many thousand."""
    speakers = {
        pk: (label, case, role == SpeakerRole.PARTICIPANT)
        for pk, label, case, role in Speaker.objects.filter(document__in=documents).values_list(
            "id", "label", "case_id", "role"
        )
    }
    columns = ("document_id", "speaker_id", "number", "start", "end", "ink_start", "ink_end")
    found: dict[int, list[Said]] = {}
    for document, speaker, number, start, end, ink_start, ink_end in (
        Turn.objects.filter(document__in=documents).order_by("document_id", "number").values_list(*columns)
    ):
        found.setdefault(document, []).append(Said(number, start, end, ink_start, ink_end, *speakers[speaker]))
    return found


def _runs(asked: Asked, turns: list[Said]) -> Iterator[list[Said]]:
    """Stretches of turns that are searched, as nobody else speaks between: words may be near each other across two
    turns of those asked for, but not across a question put in between."""
    for meant, run in groupby(turns, lambda turn: _meant(asked, turn)):
        if meant:
            yield list(run)


def _meant(asked: Asked, turn: Said) -> bool:
    return (asked.everyone or turn.participant) and (asked.cases is None or turn.case in asked.cases)


def shown(
    document: Document, turn: "Said | Turn", label: str, case: int | None, start: int, end: int
) -> dict[str, Any]:
    """A stretch of a turn with a little of the turn on both sides."""
    text = document.text
    low = max(turn.ink_start, start - AROUND)
    high = max(end, min(turn.ink_end, end + AROUND))
    before, after = text[low:start], text[end:high]
    if low > turn.ink_start:
        before = "…" + before.partition(" ")[2]
    if high < turn.ink_end:
        after = after.rpartition(" ")[0] + "…"
    return {
        "document": document.pk,
        "title": document.title,
        "turn": turn.number,
        "speaker": label,
        "case": case,
        "start": start,
        "end": end,
        "before": before,
        "text": text[start:end],
        "after": after,
    }
