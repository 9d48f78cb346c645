"""Codes with codes: how often passages of one lie on or near passages of another."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy import sparse

from core.compare.groups import AnyGroups, by_talk
from core.snapshot.incidence import Incidence
from core.snapshot.masks import attribution_mask, rows_in
from core.snapshot.nearness import Nearness, extents, near_pairs
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture
from core.statistics.ranges import expand

Ints = npt.NDArray[np.int64]
Bools = npt.NDArray[np.bool_]
Floats = npt.NDArray[np.float64]
_HALF, _LOWER = 32, (1 << 32) - 1
"""Of a number that counts two things at once; pairs of passages are far fewer (``MOST_PAIRS``)."""


@dataclass(frozen=True)
class Meetings:
    """Everything that is needed to count meetings, of everybody or of one group; ``chosen`` are codes by position."""

    snapshot: Snapshot
    rows: Incidence
    chosen: Ints
    scope: Scope
    nearness: Nearness
    texture: Texture | None = None

    @cached_property
    def said(self) -> Bools:
        """Which attributions are in scope, (attributions,)."""
        return attribution_mask(self.snapshot, self.scope)

    @cached_property
    def near(self) -> tuple[Ints, Ints]:
        """Pairs of different passages near each other, coded with any of the chosen codes and said by anybody in scope."""
        where = extents(self.snapshot, self.nearness, self.texture)
        coded = np.zeros(len(self.snapshot.passage_ids), bool)
        coded[self.rows.pairs_of(self.chosen)[1]] = True
        return near_pairs(where, coded & self._spoken(self.said))

    def _spoken(self, attributions: Bools) -> Bools:
        found = np.zeros(len(self.snapshot.passage_ids), bool)
        found[self.snapshot.attributions.passage[attributions]] = True
        return found

    @cached_property
    def codes(self) -> sparse.csr_array:
        """Which passages carry which of the chosen codes, passages × codes."""
        code, passage = self.rows.pairs_of(self.chosen)
        shape = (len(self.snapshot.passage_ids), len(self.chosen))
        return sparse.csr_array((np.ones(len(code), np.int32), (passage, code)), shape=shape)

    def among(self, attributions: Bools | None = None) -> "Together":
        """The meetings of these attributions' passages with each other; all in scope unless given."""
        return Together(self, self.said if attributions is None else self.said & attributions)


@dataclass(frozen=True)
class Together:
    """Counts of codes i (rows) with codes j (columns), (codes, codes) each, made when asked for; the diagonal holds a
    code by itself. ``said`` (attributions,): whose passages."""

    of: Meetings
    said: Bools

    @cached_property
    def _spoken(self) -> Bools:
        return self.of._spoken(self.said)

    @cached_property
    def _near(self) -> tuple[Ints, Ints]:
        one, other = self.of.near
        kept = self._spoken[one] & self._spoken[other]
        return one[kept], other[kept]

    @cached_property
    def _codes(self) -> sparse.csr_array:
        return self.of.codes[np.flatnonzero(self._spoken)]

    @cached_property
    def _by_code(self) -> sparse.csr_array:
        """Codes × passages."""
        return sparse.csr_array(self._codes.T)

    @cached_property
    def _meets(self) -> sparse.csr_array:
        at = np.cumsum(self._spoken) - 1
        one, other = self._near
        return _meets(at[one], at[other], self._codes)

    @cached_property
    def pairs(self) -> Ints:
        """Pairs of a passage of i and a passage of j that meet; one that carries both is a pair with itself."""
        return self._counted >> _HALF

    @cached_property
    def passages(self) -> Ints:
        """Passages of i that meet one of j (so the table isn't symmetric)."""
        return self._counted & _LOWER

    @cached_property
    def _counted(self) -> Ints:
        """Pairs in the upper half of each number, passages in the lower: one product instead of two, which take the most time."""
        meets = self._meets
        both = (meets.data.astype(np.int64) << _HALF) + 1
        counted = sparse.csr_array((both, meets.indices, meets.indptr), shape=meets.shape)
        return np.asarray((self._by_code @ counted).todense())

    @cached_property
    def documents(self) -> Ints:
        """Documents in which they meet."""
        document = self.of.snapshot.passage_document[np.flatnonzero(self._spoken)]
        return _by_unit(document.astype(np.int64), self._codes, self._meets, len(self.of.snapshot.document_ids))

    @cached_property
    def people(self) -> Ints:
        """People of whom a passage of i meets a passage of j: joined by who said them, since both have to be their own."""
        attributed, cases = self.of.snapshot.attributions, len(self.of.snapshot.case_ids)
        rows = np.flatnonzero(self.said)
        case = attributed.case[rows].astype(np.int64)
        if self._each_said_by_one(rows):
            return _by_unit(case, self._codes, self._meets, cases)
        at = np.full(len(self.said), -1, np.int64)
        at[rows] = np.arange(len(rows))
        left, right = _same_person(attributed.first, attributed.case.astype(np.int64), *self._near, cases)
        kept = self.said[left] & self.said[right]
        codes = self.of.codes[attributed.passage[rows]]
        meets = _meets(at[left[kept]], at[right[kept]], codes)
        return _by_unit(case, codes, meets, cases)

    def _each_said_by_one(self, rows: Ints) -> bool:
        """Each passage is said by one person, and meets that person's only (``rows``: attributions, of one passage each then):
        who meets whom is the same for people as for passages."""
        attributed = self.of.snapshot.attributions
        if len(rows) != np.count_nonzero(self._spoken):
            return False
        by = np.full(len(self._spoken), -1, np.int32)
        by[attributed.passage[rows]] = attributed.case[rows]
        one, other = self._near
        return bool((by[one] == by[other]).all())

    def likeness(self, measure: str) -> Floats:
        """Jaccard's coefficient n12 / (n1 + n2 − n12); of passages n12 is the lesser of both ways. NaN for 0/0.
        Source: Jaccard 1912."""
        counted: Ints = getattr(self, measure)
        own, both = np.diag(counted), np.minimum(counted, counted.T)
        with np.errstate(invalid="ignore", divide="ignore"):
            return both / (own[:, None] + own[None, :] - both)


def meetings(
    snapshot: Snapshot,
    chosen: Ints,
    scope: Scope | None = None,
    nearness: Nearness | None = None,
    roll_up: bool = False,
    texture: Texture | None = None,
) -> Meetings:
    """Get ready to count the meetings of the chosen codes."""
    scope = scope or Scope()
    rows = rows_in(snapshot, scope, roll_up)
    return Meetings(snapshot, rows, chosen, scope, nearness or Nearness(), texture)


def by_group(found: Meetings, groups: AnyGroups) -> list[Together]:
    """The same for each group by itself: passages of its people, near each other."""
    shared = by_talk(groups, found.snapshot.talks)
    talk = found.snapshot.talks.of_attribution
    return [found.among(shared.member[talk, group]) for group in range(groups.count)]


@dataclass(frozen=True)
class Met:
    """One meeting: two passages by position (the same one where it carries both codes)."""

    first: int
    second: int


def met(found: Meetings, row: int, column: int, attributions: Bools | None = None, of_one: bool = False) -> list[Met]:
    """The meetings behind one cell (places among the chosen codes), in reading order; ``of_one``: only those both of whose
    passages are one person's, as people are counted."""
    said = found.said if attributions is None else found.said & attributions
    spoken = found._spoken(said)
    of_row, of_column = np.zeros(len(spoken), bool), np.zeros(len(spoken), bool)
    of_row[found.rows.passages_of(int(found.chosen[row]))] = True
    of_column[found.rows.passages_of(int(found.chosen[column]))] = True
    one, other = found.near
    itself = np.flatnonzero(spoken & of_row & of_column)
    ways = [(itself, itself)]
    for first, second in ((one, other), (other, one)):
        kept = spoken[first] & spoken[second] & of_row[first] & of_column[second]
        ways.append((first[kept], second[kept]))
    pairs = {(int(a), int(b)) for first, second in ways for a, b in zip(first, second, strict=True)}
    if of_one:
        by = _people_of(found, said)
        pairs = {(a, b) for a, b in pairs if by.get(a, set()) & by.get(b, set())}
    return [Met(a, b) for a, b in sorted(pairs)]


def _people_of(found: Meetings, said: Bools) -> dict[int, set[int]]:
    """Who said each passage, of these attributions."""
    attributed, by = found.snapshot.attributions, dict[int, set[int]]()
    for passage, case in zip(attributed.passage[said].tolist(), attributed.case[said].tolist(), strict=True):
        by.setdefault(passage, set()).add(case)
    return by


def _meets(one: Ints, other: Ints, codes: sparse.csr_array) -> sparse.csr_array:
    """How many near passages (itself among them) each passage has that carry each code, passages × codes."""
    size = codes.shape[0]
    every = np.arange(size)
    left, right = np.concatenate([every, one, other]), np.concatenate([every, other, one])
    near = sparse.csr_array((np.ones(len(left), np.int32), (left, right)), shape=(size, size))
    return sparse.csr_array(near @ codes)


def _by_unit(unit: Ints, codes: sparse.csr_array, meets: sparse.csr_array, units: int) -> Ints:
    """In how many units (documents, people) i meets j, (codes, codes): each (i, j, unit) once, as one product of a row for each
    code in each unit with whom its passages meet."""
    many = codes.shape[1]
    passage = np.repeat(np.arange(codes.shape[0]), np.diff(codes.indptr))
    row = unit[passage] * many + codes.indices
    shape = (max(units, 1) * many, codes.shape[0])
    met = sparse.csr_array((np.ones(len(row), np.int32), (row, passage)), shape=shape) @ meets
    first = np.repeat(np.arange(met.shape[0]) % max(many, 1), np.diff(met.indptr))
    return np.bincount(first * many + met.indices, minlength=many * many).reshape(many, many)


def _same_person(first: Ints, case: Ints, one: Ints, other: Ints, cases: int) -> tuple[Ints, Ints]:
    """Attributions of ``one`` and ``other`` passages that are of one person: two arrays of equal length."""
    pair, left = expand(first[one], first[one + 1])
    # Attributions are sorted by passage and case: the other's row for the same person is found by its key.
    passage = np.repeat(np.arange(len(first) - 1), np.diff(first))
    keys = passage * max(cases, 1) + case
    wanted = other[pair] * max(cases, 1) + case[left]
    right = np.minimum(np.searchsorted(keys, wanted), max(len(keys) - 1, 0))
    same = keys[right] == wanted if len(keys) else np.zeros(0, bool)
    return left[same], right[same]
