"""Finding words in the project's texts, and reading every hit in its context."""

import bisect
import time
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import groupby
from typing import Any

from django.db.models import Q, QuerySet

from core.coding.find import SECONDS, BadQuery, Query, find, query
from server.common.errors import Refusal
from server.compare.queries import facts_of
from server.gather import queries as gather
from server.gather.models import Document, SpeakerRole, Turn
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
            case = turn.speaker.case_id if turn.speaker.role == SpeakerRole.PARTICIPANT else None
            people[case] = people.get(case, 0) + 1
            if total <= MOST:
                listed.append(shown(document, turn, start, end, case))
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


def _found(member: Membership, asked: Asked, wanted: Query) -> Iterator[tuple[Document, Turn, int, int]]:
    for document in _candidates(member, asked, wanted):
        left = SECONDS
        for turns in _runs(asked, document):
            first = turns[0].start
            starts = [turn.start for turn in turns]
            began = time.monotonic()
            for start, end in find(document.text[first : turns[-1].end], wanted, left):
                yield document, turns[bisect.bisect_right(starts, first + start) - 1], first + start, first + end
            left -= time.monotonic() - began


def _runs(asked: Asked, document: Document) -> Iterator[list[Turn]]:
    """Stretches of turns that are searched, as nobody else speaks between: words may be near each other across two
    turns of those asked for, but not across a question put in between."""
    for meant, turns in groupby(document.turns.all(), lambda turn: _meant(asked, turn)):
        if meant:
            yield list(turns)


def _meant(asked: Asked, turn: Turn) -> bool:
    return (asked.everyone or turn.speaker.role == SpeakerRole.PARTICIPANT) and (
        asked.cases is None or turn.speaker.case_id in asked.cases
    )


def _candidates(member: Membership, asked: Asked, wanted: Query) -> QuerySet[Document]:
    """Documents that may hold a hit, found by the database."""
    rows = gather.documents(member).order_by("title")
    if asked.documents is not None:
        rows = rows.filter(pk__in=asked.documents)
    conditions = [Q(text__icontains=word) for word in _parts(wanted)]
    if wanted.how == "words":
        either = Q()
        for condition in conditions:
            either |= condition
        rows = rows.filter(either)
    elif wanted.how in ("phrase", "near"):
        for condition in conditions:
            rows = rows.filter(condition)
    return rows.prefetch_related("turns__speaker")


def _parts(wanted: Query) -> list[str]:
    """Of each word its longest part without apostrophes, which texts write in two ways."""
    return [max(word.replace("’", "'").split("'"), key=len) for word in wanted.words]


def shown(document: Document, turn: Turn, start: int, end: int, case: int | None) -> dict[str, Any]:
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
        "speaker": turn.speaker.label,
        "case": case,
        "start": start,
        "end": end,
        "before": before,
        "text": text[start:end],
        "after": after,
    }
