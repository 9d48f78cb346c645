"""Conditions on passages: what a saved query is made of, and how many passages each part of it keeps."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.compare.rows import CodesRow, rows_of
from core.snapshot.masks import passage_mask
from core.snapshot.nearness import Extents, Nearness, extents
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture

Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]
OVERLAPPING = Nearness()
How = Literal["all", "any", "none", "one"]
Relation = Literal["inside", "contains", "overlaps", "near", "before", "after"]


@dataclass(frozen=True)
class Coded:
    """Coded with all of, any of, none of, or exactly one of these codes (positions); ``beneath`` counts the codes
    beneath each as that code."""

    how: How
    codes: tuple[int, ...]
    beneath: bool = True


@dataclass(frozen=True)
class Placed:
    """Where it lies to a passage of any of these codes; one that carries such a code itself lies on it, inside it and near
    it, as it does where codes are counted with codes.

    ``inside`` and ``contains`` take equal bounds too; ``before`` ends before the other begins, ``after`` the other way
    round, both within the distance; ``near`` is either or overlapping."""

    relation: Relation
    codes: tuple[int, ...]
    beneath: bool = True
    nearness: Nearness = OVERLAPPING


@dataclass(frozen=True)
class Made:
    """Has a coding by one of these coders (positions; none: any), rated between, and made between days (since
    1970-01-01, both included)."""

    coders: tuple[int, ...] = ()
    rating: tuple[int, int] | None = None
    days: tuple[int | None, int | None] = (None, None)


@dataclass(frozen=True)
class Said:
    """Said by one of these cases, (cases,) truth."""

    cases: Bools


@dataclass(frozen=True)
class Within:
    """In one of these documents, (documents,) truth."""

    documents: Bools


@dataclass(frozen=True)
class Among:
    """One of these passages, (passages,) truth: what only the texts, or memos, can tell."""

    passages: Bools


@dataclass(frozen=True)
class Blocks:
    """``all`` or ``any`` of its parts; ``negated``: those for which that is not so."""

    join: Literal["all", "any"]
    parts: tuple["Block", ...]
    negated: bool = False


Block = Coded | Placed | Made | Said | Within | Among | Blocks


@dataclass(frozen=True)
class KeptPassages:
    """How many passages a part keeps by itself, and, in an ``all``, together with the parts before it."""

    count: int
    so_far: int
    parts: tuple["KeptPassages", ...] = ()


@dataclass(frozen=True)
class Search:
    """Where conditions are asked; ``texture`` is needed where paragraphs are."""

    snapshot: Snapshot
    scope: Scope
    texture: Texture | None = None

    def found(self, block: Block) -> Bools:
        """Which passages in scope fulfil the condition, (passages,)."""
        return self.fulfil(block) & passage_mask(self.snapshot, self.scope) & self._coded

    @property
    def _coded(self) -> Bools:
        """A passage whose every coding is out of scope is not in play."""
        kept = self.scope.coding_mask(self.snapshot)
        if kept is None:
            return np.ones(len(self.snapshot.passage_ids), bool)
        coded = np.zeros(len(self.snapshot.passage_ids), bool)
        coded[self.snapshot.coding_passage[kept]] = True
        return coded

    def kept(self, block: Block, before: Bools | None = None) -> KeptPassages:
        """The live count of every part."""
        own = self.found(block)
        so_far = own if before is None else own & before
        parts: list[KeptPassages] = []
        if isinstance(block, Blocks):
            running: Bools | None = None
            for part in block.parts:
                parts.append(self.kept(part, running))
                if block.join == "all":
                    running = self.found(part) if running is None else running & self.found(part)
        return KeptPassages(int(own.sum()), int(so_far.sum()), tuple(parts))

    def fulfil(self, block: Block) -> Bools:
        """The same wherever, in scope or not."""
        if isinstance(block, Blocks):
            parts = [self.fulfil(part) for part in block.parts]
            if not parts:
                return np.ones(len(self.snapshot.passage_ids), bool)
            found = np.logical_and.reduce(parts) if block.join == "all" else np.logical_or.reduce(parts)
            return ~found if block.negated else found
        if isinstance(block, Coded):
            return self._of_codes(block)
        if isinstance(block, Placed):
            return self._placed(block)
        if isinstance(block, Made):
            return self._made(block)
        if isinstance(block, Said):
            said = self.snapshot.attributions
            found = np.zeros(len(self.snapshot.passage_ids), bool)
            found[said.passage[block.cases[said.case]]] = True
            return found
        if isinstance(block, Within):
            return block.documents[self.snapshot.passage_document]
        return block.passages

    def _of_codes(self, block: Coded) -> Bools:
        coding = Scope(coders=self.scope.coders, codings=self.scope.codings)
        rows = rows_of(self.snapshot, block.codes, coding, block.beneath)
        times = np.zeros(len(self.snapshot.passage_ids), np.int32)
        for row in rows.chosen.tolist():
            times[rows.incidence.passages_of(row)] += 1
        if block.how == "all":
            return times == len(set(block.codes))
        if block.how == "one":
            return times == 1
        return times > 0 if block.how == "any" else times == 0

    def _placed(self, block: Placed) -> Bools:
        nearness = block.nearness if block.relation in ("near", "before", "after") else Nearness()
        where = extents(self.snapshot, nearness, self.texture)
        coding = Scope(coders=self.scope.coders, codings=self.scope.codings)
        rows = rows_of(self.snapshot, (CodesRow(block.codes),), coding, block.beneath)
        others = rows.incidence.passages_of(0).astype(np.int64)
        return placed(extents(self.snapshot, Nearness()), where, others, block.relation)

    def _made(self, block: Made) -> Bools:
        snapshot = self.snapshot
        kept = self.scope.coding_mask(snapshot)
        fits = np.ones(len(snapshot.coding_passage), bool) if kept is None else kept.copy()
        if block.coders:
            fits &= np.isin(snapshot.coding_coder, block.coders)
        if block.rating is not None:
            fits &= (snapshot.coding_rating >= block.rating[0]) & (snapshot.coding_rating <= block.rating[1])
            fits &= snapshot.coding_rating > 0
        since, until = block.days
        if since is not None:
            fits &= snapshot.coding_day >= since
        if until is not None:
            fits &= snapshot.coding_day <= until
        found = np.zeros(len(snapshot.passage_ids), bool)
        found[snapshot.coding_passage[fits]] = True
        return found


def placed(chars: Extents, where: Extents, others: Ints, relation: Relation) -> Bools:
    """Which passages stand in ``relation`` to one of ``others`` (positions), (passages,): itself is one of them where it
    lies on, inside or near; nothing lies before or after itself.

    ``chars`` by characters, ``where`` in the unit of the distance. Sorted sweeps: each answer follows from the extremes
    of what starts, or ends, before a point.
    """
    if relation in ("before", "after"):
        return _next(chars, where, others, relation == "before")
    if relation in ("overlaps", "near"):
        low, high = _on_one_line(where)
        # Of all that begin before a passage's end, less those that end before its beginning.
        begun = np.searchsorted(np.sort(low[others]), high + where.reach, side="left")
        done = np.searchsorted(np.sort(high[others] + where.reach), low, side="right")
        found: Bools = begun - done > 0
        return found
    low, high = _on_one_line(chars)
    if relation == "inside":
        return _spanned(low[others], high[others], low, high)
    return _holds(low, high, others)


def _on_one_line(where: Extents) -> tuple[Ints, Ints]:
    stride = int(where.far.max(initial=0)) + where.reach + 2
    return where.line * stride + where.low, where.line * stride + where.high


def _next(chars: Extents, where: Extents, others: Ints, before: bool) -> Bools:
    """The nearest of the others that begins after a passage's end (or ends before its beginning) is also the nearest
    in turns, paragraphs or seconds: only that one has to be looked at."""
    low, high = _on_one_line(chars)
    others = others[where.line[others] == chars.line[others]]
    if not len(others):
        return np.zeros(len(low), bool)
    if before:
        order = others[np.argsort(low[others], kind="stable")]
        at = np.searchsorted(low[order], high, side="left")
        there, nearest = at < len(order), order[np.minimum(at, len(order) - 1)]
        close = where.low[nearest] < where.far
    else:
        order = others[np.argsort(high[others], kind="stable")]
        at = np.searchsorted(high[order], low, side="right") - 1
        there, nearest = at >= 0, order[np.maximum(at, 0)]
        close = where.low < where.far[nearest]
    return there & close & (where.line[nearest] == where.line) & (chars.line[nearest] == chars.line)


def _spanned(other_low: Ints, other_high: Ints, low: Ints, high: Ints) -> Bools:
    """Whether another begins no later and ends no earlier: of those that begin no later, the one reaching farthest
    decides."""
    if not len(other_low):
        return np.zeros(len(low), bool)
    order = np.argsort(other_low, kind="stable")
    farthest = np.maximum.accumulate(other_high[order])
    at = np.searchsorted(other_low[order], low, side="right") - 1
    return (at >= 0) & (farthest[np.maximum(at, 0)] >= high)


def _holds(low: Ints, high: Ints, others: Ints) -> Bools:
    """Whether another lies within: of those that begin no earlier, one ends no later; the one that ends first decides."""
    if not len(others):
        return np.zeros(len(low), bool)
    order = others[np.argsort(low[others], kind="stable")]
    first = np.minimum.accumulate(high[order][::-1])[::-1]
    at = np.searchsorted(low[order], low, side="left")
    return (at < len(order)) & (first[np.minimum(at, len(order) - 1)] <= high)
