"""Codes with codes: how often passages of one lie on or near passages of another."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy import sparse

from core.compare.attribution import expand
from core.compare.incidence import Incidence
from core.compare.nearness import Nearness, extents, near_pairs
from core.compare.scope import Scope, attribution_mask, rows_in
from core.compare.shared import AnyGroups, by_talk
from core.compare.snapshot import Snapshot
from core.compare.texture import Texture

Ints = npt.NDArray[np.int64]
Bools = npt.NDArray[np.bool_]
Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Together:
    """Counts of codes i (rows) with codes j (columns), (codes, codes) each; the diagonal holds a code by itself.

    pairs      pairs of a passage of i and a passage of j that meet; one that carries both is a pair with itself
    passages   passages of i that meet one of j (so the table isn't symmetric)
    documents  documents in which they meet
    people     people of whom a passage of i meets a passage of j, both their own
    """

    pairs: Ints
    passages: Ints
    documents: Ints
    people: Ints

    def likeness(self, measure: str) -> Floats:
        """Jaccard's coefficient n12 / (n1 + n2 − n12); of passages n12 is the lesser of both ways. NaN for 0/0.
        Source: Jaccard 1912."""
        counted: Ints = getattr(self, measure)
        own, both = np.diag(counted), np.minimum(counted, counted.T)
        with np.errstate(invalid="ignore", divide="ignore"):
            return both / (own[:, None] + own[None, :] - both)


@dataclass(frozen=True)
class Meetings:
    """Everything that is needed to count meetings, of everybody or of one group; ``chosen`` are codes by position."""

    snapshot: Snapshot
    rows: Incidence
    chosen: Ints
    scope: Scope
    nearness: Nearness
    woven: Texture | None = None

    @cached_property
    def said(self) -> Bools:
        """Which attributions are in scope, (attributions,)."""
        return attribution_mask(self.snapshot, self.scope)

    @cached_property
    def near(self) -> tuple[Ints, Ints]:
        """Pairs of different passages near each other, coded with any of the chosen codes and said by anybody in scope."""
        where = extents(self.snapshot, self.nearness, self.woven)
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

    def among(self, attributions: Bools | None = None) -> Together:
        """Count the meetings of these attributions' passages with each other; all in scope unless given."""
        said = self.said if attributions is None else self.said & attributions
        spoken = self._spoken(said)
        one, other = self.near
        kept = spoken[one] & spoken[other]
        inside = np.flatnonzero(spoken)
        codes = self.codes[inside]
        at = np.cumsum(spoken) - 1
        meets = _meets(at[one[kept]], at[other[kept]], codes)
        document = self.snapshot.passage_document[inside]
        return Together(
            pairs=_square(codes.T @ meets),
            passages=_square(codes.T @ (meets > 0).astype(np.int32)),
            documents=_by_unit(document.astype(np.int64), codes, meets, len(self.snapshot.document_ids)),
            people=self._people(said, one[kept], other[kept]),
        )

    def _people(self, said: Bools, one: Ints, other: Ints) -> Ints:
        """Both passages have to be one person's: joined by who said them."""
        attributed = self.snapshot.attributions
        rows = np.flatnonzero(said)
        at = np.full(len(said), -1, np.int64)
        at[rows] = np.arange(len(rows))
        left, right = _same_person(
            attributed.first, attributed.case.astype(np.int64), one, other, len(self.snapshot.case_ids)
        )
        kept = said[left] & said[right]
        codes = self.codes[attributed.passage[rows]]
        meets = _meets(at[left[kept]], at[right[kept]], codes)
        return _by_unit(attributed.case[rows].astype(np.int64), codes, meets, len(self.snapshot.case_ids))


def meetings(
    snapshot: Snapshot,
    chosen: Ints,
    scope: Scope | None = None,
    nearness: Nearness | None = None,
    roll_up: bool = False,
    woven: Texture | None = None,
) -> Meetings:
    """Get ready to count the meetings of the chosen codes."""
    scope = scope or Scope()
    rows = rows_in(snapshot, scope, roll_up)
    return Meetings(snapshot, rows, chosen, scope, nearness or Nearness(), woven)


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


def met(found: Meetings, row: int, column: int, attributions: Bools | None = None) -> list[Met]:
    """The meetings behind one cell (places among the chosen codes), in reading order."""
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
    return [Met(a, b) for a, b in sorted(pairs)]


def _meets(one: Ints, other: Ints, codes: sparse.csr_array) -> sparse.csr_array:
    """How many near passages (itself among them) each passage has that carry each code, passages × codes."""
    size = codes.shape[0]
    every = np.arange(size)
    left, right = np.concatenate([every, one, other]), np.concatenate([every, other, one])
    near = sparse.csr_array((np.ones(len(left), np.int32), (left, right)), shape=(size, size))
    return sparse.csr_array(near @ codes)


def _square(table: sparse.csr_array) -> Ints:
    return np.asarray(table.todense()).astype(np.int64)


def _by_unit(unit: Ints, codes: sparse.csr_array, meets: sparse.csr_array, units: int) -> Ints:
    """In how many units (documents, people) i meets j, (codes, codes)."""
    many = codes.shape[1]
    held = codes.tocoo()
    # One line for each (code, unit): multiplied out, it has an entry wherever they meet in that unit.
    lines = sparse.csr_array(
        (np.ones(held.nnz, np.int32), (held.col.astype(np.int64) * units + unit[held.row], held.row)),
        shape=(many * units, codes.shape[0]),
    )
    found = (lines @ meets).tocoo()
    cell = (found.row.astype(np.int64) // max(units, 1)) * many + found.col
    return np.bincount(cell[found.data > 0], minlength=many * many).reshape(many, many)


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
