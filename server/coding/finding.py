"""Finding words in the project's texts, and reading every hit in its context."""

import bisect
import time
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from core.coding.find import SECONDS, BadQuery, Query, find, query
from core.coding.near_misses import near_misses
from core.coding.tally import by_group
from core.snapshot.snapshot import Snapshot
from core.snapshot.word_places import by_participants, hits_of, key_of, run_at
from core.text.words import words
from server.coding.grouping import groups_by
from server.common.columns import integer_columns
from server.common.database import of_one_state
from server.common.errors import Refusal
from server.gather import queries as gather
from server.gather.models import Document, Speaker, SpeakerRole, Turn
from server.gather.word_index import may_hold
from server.people.queries import facts_of
from server.projects.models import Membership
from server.snapshots.queries import snapshot
from server.snapshots.words import words_of

MOST = 300
"""Hits that are listed at once; all are counted."""
FEW = 5
"""Hits below which words that are written nearly so are offered."""
LETTERS = 3_000_000
"""Of the texts that are gone through for them."""
AROUND = 90
"""Code points of context on either side."""


@dataclass(frozen=True)
class Asked:
    """``everyone``: interviewers and others too, not participants alone. ``variable``: count by its groups, too."""

    text: str
    how: str = "words"
    language: str = "english"
    within: int = 10
    everyone: bool = False
    variable: int | None = None
    documents: tuple[int, ...] | None = None
    cases: tuple[int, ...] | None = None
    skip: int = 0


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


@of_one_state
def hits(member: Membership, asked: Asked) -> dict[str, Any]:
    """Hits by document in their context, ``MOST`` after the first ``skip``; how many there are, and of how many people and documents."""
    # Before the texts are gone through, which takes long enough for others to move on.
    held = snapshot(member.project_id)
    names, groups_of = ([], {}) if asked.variable is None else groups_by(member, asked.variable)
    try:
        wanted = query(asked.text, asked.how, asked.language, asked.within)  # type: ignore[arg-type]
        found = _by_words(member, held, asked, wanted) or _by_texts(member, asked, wanted)
    except BadQuery as bad:
        raise Refusal(str(bad)) from bad
    about = facts_of(member, held, [case for case in found.people if case])
    return {
        "total": found.total,
        "documents": found.documents,
        "people": [
            {"case": case, "count": count, **about.get(case or 0, {"identifier": "", "facts": []})}
            for case, count in sorted(found.people.items(), key=lambda pair: -pair[1])
        ],
        "groups": [vars(one) for one in by_group(found.people, groups_of, names)],
        "near": _near(member, asked, wanted) if found.total < FEW else [],
        "hits": found.listed,
        "more": max(0, found.total - asked.skip - len(found.listed)),
    }


def every(member: Membership, asked: Asked) -> list[tuple[int, int, int]]:
    """All hits as (document, start, end), in order."""
    try:
        wanted = query(asked.text, asked.how, asked.language, asked.within)  # type: ignore[arg-type]
        return [(document.pk, start, end) for document, _, start, end in _found(member, asked, wanted)]
    except BadQuery as bad:
        raise Refusal(str(bad)) from bad


def _near(member: Membership, asked: Asked, wanted: Query) -> list[dict[str, Any]]:
    """Words that are said and written nearly so, looked for in as many texts as can be gone through at once."""
    if not wanted.words:
        return []
    said: Counter[str] = Counter()
    letters = 0
    rows = gather.documents(member).order_by("title")
    if asked.documents is not None:
        rows = rows.filter(pk__in=asked.documents)
    for text in rows.values_list("text", flat=True).iterator(50):
        said.update(word.casefold() for word in words(text))
        letters += len(text)
        if letters > LETTERS:
            break
    return [{"word": word, "count": count} for word, count in near_misses(wanted.words, said)]


@dataclass
class _All:
    """Hits that are listed, and what is counted of all: by case (None for nobody’s)."""

    total: int
    documents: int
    people: dict[int | None, int]
    listed: list[dict[str, Any]]


def _by_texts(member: Membership, asked: Asked, wanted: Query) -> _All:
    """By going through every text that may hold one."""
    found = _All(0, 0, {}, [])
    documents = set()
    for document, turn, start, end in _found(member, asked, wanted):
        documents.add(document.pk)
        case = turn.case if turn.participant else None
        found.people[case] = found.people.get(case, 0) + 1
        if asked.skip <= found.total < asked.skip + MOST:
            found.listed.append(shown(document, turn, turn.label, case, start, end))
        found.total += 1
    found.documents = len(documents)
    return found


def _by_words(member: Membership, held: Snapshot, asked: Asked, wanted: Query) -> _All | None:
    """Single words by where each word stands: no text is read but of the hits that are listed. None where it takes the texts."""
    if wanted.how != "words":
        return None
    keys = [key_of(word) for word in wanted.words]
    if any(key is None for key in keys):
        return None
    places = words_of(member.project_id, held)
    if places is None:
        return None
    every = hits_of(places, held, [key for key in keys if key is not None])
    case = held.turn_case[every.turn]
    kept = np.ones(len(case), bool) if asked.everyone else by_participants(held, every.turn)
    if asked.cases is not None:
        kept &= (case >= 0) & np.isin(held.case_ids[case], asked.cases)
    if asked.documents is not None:
        kept &= np.isin(held.document_ids[every.document], asked.documents)
    document, start, case = every.document[kept], every.start[kept], case[kept]
    whose, many = np.unique(case, return_counts=True)
    ids = {-1: None, **dict(enumerate(held.case_ids.tolist()))}
    people = {ids[one]: count for one, count in zip(whose.tolist(), many.tolist(), strict=True)}
    in_order = _in_order(member, held.document_ids)[document]
    page = np.lexsort((start, in_order))[asked.skip : asked.skip + MOST]
    listed = _listed(member, held.document_ids[document[page]].tolist(), start[page].tolist())
    return _All(len(start), len(np.unique(document)), people, listed)


def _in_order(member: Membership, ids: npt.NDArray[np.int64]) -> npt.NDArray[np.int64]:
    """The place of each of these documents among all by title."""
    by_title = list(gather.documents(member).order_by("title").values_list("pk", flat=True))
    place = {pk: at for at, pk in enumerate(by_title)}
    return np.array([place.get(pk, len(place)) for pk in ids.tolist()], np.int64)


def _listed(member: Membership, documents: list[int], starts: list[int]) -> list[dict[str, Any]]:
    """Hits in their context, each word as long as it is there."""
    there = gather.documents(member).filter(pk__in=set(documents))
    rows = {row.pk: row for row in there.only("id", "title", "text")}
    turns = Turns(list(rows.values()))
    listed = []
    for pk, start in zip(documents, starts, strict=True):
        turn = turns.at(pk, start)
        end = start + run_at(rows[pk].text, start)
        if turn is not None:
            case = turn.case if turn.participant else None
            listed.append(shown(rows[pk], turn, turn.label, case, start, end))
    return listed


def _found(member: Membership, asked: Asked, wanted: Query) -> Iterator[tuple[Document, Said, int, int]]:
    documents = _candidates(member, asked, wanted)
    turns = Turns(documents)
    for document in documents:
        if wanted.how in ("words", "forms"):
            yield from _single(document, turns, asked, wanted)
            continue
        left = SECONDS
        for run in _runs(asked, turns.all(document.pk)):
            first = run[0].start
            starts = [turn.start for turn in run]
            began = time.monotonic()
            for start, end in find(document.text[first : run[-1].end], wanted, left):
                yield document, run[bisect.bisect_right(starts, first + start) - 1], first + start, first + end
            left -= time.monotonic() - began


def _single(
    document: Document, turns: "Turns", asked: Asked, wanted: Query
) -> Iterator[tuple[Document, Said, int, int]]:
    """Hits of single words, which reach into no other turn: the text is gone through once as a whole."""
    for start, end in find(document.text, wanted):
        turn = turns.at(document.pk, start)
        if turn is not None and _meant(asked, turn):
            yield document, turn, start, end


def _candidates(member: Membership, asked: Asked, wanted: Query) -> list[Document]:
    """Documents that may hold a hit, found by the database's index."""
    rows = gather.documents(member).only("id", "title", "text").order_by("title")
    if asked.documents is not None:
        rows = rows.filter(pk__in=asked.documents)
    return list(rows.filter(pk__in=may_hold(wanted, list(rows.values_list("pk", flat=True)))))


class Turns:
    """The turns of many documents as arrays: an object is made only of those that are asked for."""

    def __init__(self, documents: Sequence[Document]) -> None:
        self.speakers = {
            pk: (label, case, role == SpeakerRole.PARTICIPANT)
            for pk, label, case, role in Speaker.objects.filter(document__in=documents).values_list(
                "id", "label", "case_id", "role"
            )
        }
        columns = integer_columns(_TURNS, [[document.pk for document in documents]], _COLUMNS)
        self.held = [columns[name] for name in ("number", "start", "end", "ink_start", "ink_end", "speaker")]
        ids, first = np.unique(columns["document"], return_index=True)
        bounds = [*first.tolist(), len(columns["document"])]
        self.place = {pk: (bounds[at], bounds[at + 1]) for at, pk in enumerate(ids.tolist())}

    def all(self, document: int) -> list[Said]:
        return [self._turn(at) for at in range(*self.place.get(document, (0, 0)))]

    def at(self, document: int, position: int) -> Said | None:
        """The turn in which a position of the document's text stands."""
        first, last = self.place.get(document, (0, 0))
        at = first + int(np.searchsorted(self.held[1][first:last], position, side="right")) - 1
        return self._turn(at) if at >= first and position < self.held[2][at] else None

    def _turn(self, at: int) -> Said:
        number, start, end, ink_start, ink_end, speaker = (int(column[at]) for column in self.held)
        return Said(number, start, end, ink_start, ink_end, *self.speakers[speaker])


_COLUMNS = ["document", "number", "start", "end", "ink_start", "ink_end", "speaker"]
_TURNS = """SELECT document_id::bigint AS document, number::bigint, start::bigint, "end"::bigint, ink_start::bigint,
    ink_end::bigint, speaker_id::bigint AS speaker FROM gather_turn WHERE document_id = ANY(%s) ORDER BY document_id, number"""


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
