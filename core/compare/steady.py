"""How steady a difference is: without any one person, document or coder, and under each other reasonable choice."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import product
from typing import cast

import numpy as np
import numpy.typing as npt

from core.compare.asked import never_asked
from core.compare.by_part import compare, family_of
from core.compare.groups import by_talk
from core.compare.measures import Base
from core.compare.question import Accord, Comparison
from core.compare.result import SMALL_GROUP, Result
from core.compare.rows import CodesRow, PassagesRow, Row, codings_of
from core.compare.tally import in_groups
from core.snapshot.snapshot import Snapshot

Ints = npt.NDArray[np.int64]
Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]
_HALF = 0.5


@dataclass(frozen=True)
class Range:
    """The difference without any one of ``count`` people, documents or coders: from ``least`` (without the one at position
    ``least_without``) to ``most``."""

    count: int
    least: float
    least_without: int
    most: float
    most_without: int


@dataclass(frozen=True)
class Choice:
    """The same difference asked another way: ``base``, ``roll_up``, with or without group ``discussions``, all mentions or
    those of one ``accord``. It ``holds`` where it points the same way and its own 95 % interval leaves 0 out (a share of a total has none: where at least half
    of it is left)."""

    base: str
    roll_up: bool
    discussions: bool
    accord: Accord
    as_asked: bool
    difference: float
    holds: bool


@dataclass(frozen=True)
class Steady:
    """Of one difference; a range is None where there are fewer than two to leave out, or what is counted can't be told
    apart by them."""

    people: Range | None
    documents: Range | None
    coders: Range | None
    choices: tuple[Choice, ...]


def steady(result: Result, found: list[tuple[int, int, int]]) -> list[Steady]:
    """For each (row, high group, low group). Nothing where layers are held apart or the same people are in several
    groups: there is no one figure a group.

    Source: leaving one out: common practice (jackknife influence); choices: Steegen, Tuerlinckx, Gelman & Vanpaemel 2016,
    *Perspectives on Psychological Science* 11.
    """
    if not found or result.asked.layers > 1 or result.counted.case_group is None:
        return [Steady(None, None, None, ())] * len(found)
    choices = _choices(result, found)
    every = []
    for place, (row, high, low) in enumerate(found):
        own, at = result.of_row(row)
        one = _Pair(own, at, high, low, *_entries(own, at))
        every.append(Steady(one.people(), one.documents(), one.coders(), choices[place]))
    return every


def _entries(result: Result, row: int) -> tuple[Ints, Ints, Ints]:
    """Passage, case and group of everything counted in a row."""
    groups = by_talk(result.asked.groups, result.snapshot.talks)
    held = result.rows.incidence
    _, entry, group = in_groups(result.snapshot, held, result.rows.chosen[[row]], groups, result.scope)
    return held.entry_passage[entry].astype(np.int64), held.entry_case[entry].astype(np.int64), group


@dataclass(frozen=True)
class _Pair:
    """One row in two groups. ``passage``, ``case``, ``group`` (entries,) of all groups."""

    result: Result
    row: int
    high: int
    low: int
    passage: Ints
    case: Ints
    group: Ints

    @property
    def snapshot(self) -> Snapshot:
        return self.result.snapshot

    def _sides(self) -> Iterator[tuple[int, Ints, Ints]]:
        """Each group with its entries' passages and cases."""
        for side in (self.high, self.low):
            kept = self.group == side
            yield side, self.passage[kept], self.case[kept]

    def _exposure(self, side: int) -> Floats:
        """What each case of a group counts for in its base, (cases,)."""
        made = self.result.made
        over = np.broadcast_to(np.atleast_2d(made.exposure), made.by_case.shape)[self.row]
        return np.where(self.result.counted.base[:, side], over, 0.0)

    @property
    def _by_entries(self) -> bool:
        """Whether the figure can be counted from passages: words and ratings can't."""
        return self.result.measure.id in ("people", "per_person", "rate")

    def _difference(self, amounts: list[Floats], bases: list[Floats]) -> Floats:
        with np.errstate(invalid="ignore", divide="ignore"):
            high, low = (amount / base for amount, base in zip(amounts, bases, strict=True))
        return (high - low) * self.result.made.scale

    def _range(self, left: Floats, among: Ints) -> Range | None:
        left = left[among]
        known = np.isfinite(left)
        if known.sum() < 2:
            return None
        among, left = among[known], left[known]
        least, most = int(left.argmin()), int(left.argmax())
        return Range(len(left), float(left[least]), int(among[least]), float(left[most]), int(among[most]))

    def people(self) -> Range | None:
        if self.result.made.compared == "parts":
            return None
        cases, amounts, bases = len(self.snapshot.case_ids), [], []
        for side, passage, case in self._sides():
            over = self._exposure(side)
            if self._by_entries:
                own, total = self._amount_by_case(passage, case, cases)
            else:
                own = np.where(self.result.counted.base[:, side], self.result.by_case[self.row], 0).astype(float)
                total = own.sum()
            amounts.append(total - own)
            bases.append(over.sum() - over)
        there = np.flatnonzero(self.result.counted.base[:, [self.high, self.low]].any(axis=1))
        return self._range(self._difference(amounts, bases), there)

    def _amount_by_case(self, passage: Ints, case: Ints, cases: int) -> tuple[Floats, float]:
        """What goes with each case, and all of it: a mention, passages each, or passages that nobody else of the group
        said."""
        if self.result.measure.id == "people":
            says = np.bincount(case, minlength=cases) > 0
            return says.astype(float), float(says.sum())
        if self.result.measure.id == "per_person":
            each = np.bincount(case, minlength=cases).astype(float)
            return each, float(each.sum())
        distinct, place, times = np.unique(passage, return_inverse=True, return_counts=True)
        return np.bincount(case[times[place] == 1], minlength=cases).astype(float), float(len(distinct))

    def documents(self) -> Range | None:
        if not self._by_entries:
            return None
        snapshot, many = self.snapshot, len(self.snapshot.document_ids)
        if self.result.asked.asked_in is not None:
            return self._documents_asked(self.result.asked.asked_in, many)
        amounts, bases, there = [], [], np.zeros(many, bool)
        for side, passage, case in self._sides():
            document = snapshot.passage_document[passage].astype(np.int64)
            if self.result.measure.id == "people":
                lost, total = _only_in(case, document, many), float(len(np.unique(case)))
            elif self.result.measure.id == "per_person":
                lost, total = np.bincount(document, minlength=many).astype(float), float(len(case))
            else:
                distinct = np.unique(passage)
                lost = np.bincount(snapshot.passage_document[distinct], minlength=many).astype(float)
                total = float(len(distinct))
            amounts.append(total - lost)
            base, here = self._base_without_documents(side, many)
            bases.append(base)
            there |= here
        return self._range(self._difference(amounts, bases), np.flatnonzero(there))

    def _documents_asked(self, asked_in: Bools, many: int) -> Range | None:
        """Without a document goes whoever was asked in no other, with all that they say anywhere."""
        held, cases = self.snapshot.talks, len(self.snapshot.case_ids)
        talks = {side: self._talks(side) for side in (self.high, self.low)}
        there = np.unique(held.document[np.concatenate(list(talks.values()))])
        amounts, bases = np.full((2, many), np.nan), np.full((2, many), np.nan)
        for at, (side, passage, case) in enumerate(self._sides()):
            put = talks[side][asked_in[held.document[talks[side]]]]
            for one in there.tolist():
                still = np.bincount(held.case[put[held.document[put] != one]], minlength=cases) > 0
                kept = (self.snapshot.passage_document[passage] != one) & still[case]
                _, amounts[at, one] = self._amount_by_case(passage[kept], case[kept], cases)
                bases[at, one] = still.sum()
        return self._range(self._difference(list(amounts), list(bases)), there)

    def _base_without_documents(self, side: int, many: int) -> tuple[Floats, Bools]:
        """The group's base without each document, and which documents it speaks in."""
        talks, result = self.snapshot.talks, self.result
        kept = self._talks(side)
        here = np.bincount(talks.document[kept], minlength=many) > 0
        total = self._exposure(side).sum()
        if result.measure.id == "rate":
            return total - np.bincount(talks.document[kept], weights=talks.words[kept], minlength=many), here
        if result.asked.base == "everyone":
            return np.full(many, total), here
        return total - _only_in(talks.case[kept], talks.document[kept], many), here

    def coders(self) -> Range | None:
        """Without one coder: in the documents that somebody else has coded too, as that other has coded them."""
        row = self.result.asked.rows[self.row]
        if not self._by_entries or isinstance(row, PassagesRow):
            return None
        snapshot = self.snapshot
        codings = codings_of(snapshot, row, self.result.scope, self.result.asked.roll_up)
        pairs = np.unique(np.stack([snapshot.coding_passage[codings], snapshot.coding_coder[codings]]), axis=1)
        coders = np.unique(pairs[1]).astype(np.int64)
        left = np.full(len(snapshot.coder_ids), np.nan)
        for coder in coders.tolist():
            kept = np.zeros(len(snapshot.passage_ids), bool)
            kept[pairs[0][pairs[1] != coder]] = True
            others = np.zeros(len(snapshot.document_ids), bool)
            others[snapshot.passage_document[snapshot.coding_passage[snapshot.coding_coder != coder]]] = True
            amounts, bases = [], []
            for side, passage, case in self._sides():
                people, base = self._base_in(side, others)
                still = kept[passage] & others[snapshot.passage_document[passage]] & np.isin(case, people)
                _, total = self._amount_by_case(passage[still], case[still], len(snapshot.case_ids))
                amounts.append(np.array([total]))
                bases.append(np.array([base if len(people) >= SMALL_GROUP else np.nan]))
            left[coder] = self._difference(amounts, bases)[0]
        return self._range(left, coders)

    def _base_in(self, side: int, documents: Bools) -> tuple[Ints, float]:
        """People of a group who speak (or were asked) in these documents, and what they count for in the base."""
        talks, asked_in = self.snapshot.talks, self.result.asked.asked_in
        among = documents if asked_in is None else documents & asked_in
        kept = self._talks(side)
        kept = kept[among[talks.document[kept]]]
        people = np.unique(talks.case[kept])
        return people, float(talks.words[kept].sum() if self.result.measure.id == "rate" else len(people))

    def _talks(self, side: int) -> Ints:
        """Where a group speaks."""
        talks = self.snapshot.talks
        member = by_talk(self.result.asked.groups, talks).member[:, side]
        return np.flatnonzero(member & talks.real & talks.mask(self.result.scope))


def _only_in(case: Ints, document: Ints, many: int) -> Floats:
    """How many cases are in each document and in no other, (documents,)."""
    pairs = np.unique(np.stack([case, document]), axis=1) if len(case) else np.zeros((2, 0), np.int64)
    times = np.bincount(pairs[0], minlength=1)
    return np.bincount(pairs[1][times[pairs[0]] == 1], minlength=many).astype(float)


def discussions(snapshot: Snapshot) -> Bools:
    """Documents in which several people speak, (documents,)."""
    talks = snapshot.talks
    found: Bools = np.bincount(talks.document[talks.real], minlength=len(snapshot.document_ids)) > 1
    return found


def _choices(result: Result, found: list[tuple[int, int, int]]) -> list[tuple[Choice, ...]]:
    asked, snapshot = result.asked, result.snapshot
    rows = tuple(asked.rows[row] for row, _, _ in found)
    told: list[list[Choice]] = [[] for _ in found]
    ways = list(product(*_ways(result, rows)))
    if len(ways) < 2:
        return [()] * len(found)
    together = discussions(snapshot)
    for base, roll_up, with_discussions, accord in ways:
        if base == "asked" and accord == "own_accord" and asked.accord != accord:
            # Who was asked is held against what was said when asked, or ever.
            continue
        documents = asked.scope.documents
        if not with_discussions:
            documents = ~together if documents is None else documents & ~together
        scope = replace(asked.scope, documents=documents)
        other = replace(asked, rows=rows, base=base, roll_up=roll_up, scope=scope, difference=None, accord=accord)
        as_asked = (base, roll_up, with_discussions, accord) == (asked.base, asked.roll_up, True, asked.accord)
        for place, gap, holds in _held_under(snapshot, other, found):
            if base != "asked" or np.isfinite(gap):
                told[place].append(Choice(base, roll_up, with_discussions, accord, as_asked, gap, holds))
    if result.made.compared == "parts":
        plain = [next(one.difference for one in choices if one.as_asked) for choices in told]
        told = [
            [replace(one, holds=bool(one.difference >= _HALF * gap)) for one in choices]
            for choices, gap in zip(told, plain, strict=True)
        ]
    return [tuple(choices) for choices in told]


def _ways(result: Result, rows: tuple[Row, ...]) -> tuple[list[Base], list[bool], list[bool], list[Accord]]:
    """Bases, roll-up, discussions and accord, as far as they can make a difference; what was asked comes first."""
    asked, snapshot = result.asked, result.snapshot
    asks = asked.guide is not None and len(never_asked(snapshot, replace(asked, rows=rows))) < len(rows)
    other: Accord = "own_accord" if asked.accord == "either" else "either"
    known = [one for one in result.measure.bases if one != "asked" or asks]
    bases = [asked.base, *(cast(Base, one) for one in known if one != asked.base)]
    if result.made.compared != "shares" and asked.measure != "per_person":
        bases = [asked.base]
    codes = {code for row in rows for code in (row.codes if isinstance(row, CodesRow) else [row] if isinstance(row, int) else [])}  # fmt: skip
    nested = bool(np.isin(snapshot.code_parent, list(codes)).any())
    there = discussions(snapshot)
    if asked.scope.documents is not None:
        there = there & asked.scope.documents
    return (
        bases,
        [asked.roll_up, not asked.roll_up] if nested else [asked.roll_up],
        [True, False] if there.any() else [True],
        [asked.accord, other] if asks and asked.measure != "rating" else [asked.accord],
    )


def _held_under(
    snapshot: Snapshot, other: Comparison, found: list[tuple[int, int, int]]
) -> Iterator[tuple[int, float, bool]]:
    """Place, difference (high minus low), and whether its interval leaves 0 out the same way."""
    family = family_of(compare(snapshot, other))
    at = {pair: place for place, pair in enumerate(family.pairs)}
    if family.result.counted.case_group is None:
        return
    gap, low, high = family.interval(0.95)
    for place, (_, one, two) in enumerate(found):
        turned = (one, two) not in at
        pair = at[(two, one)] if turned else at[(one, two)]
        difference = float(-gap[place, pair] if turned else gap[place, pair])
        clear = high[place, pair] < 0 if turned else low[place, pair] > 0
        yield place, difference, bool(clear)
