"""Rows × passages: which passages each code (or branch) holds, each once."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.snapshot.attribution import Attributed
from core.snapshot.lineage import lineage
from core.statistics.ranges import distinct, expand, pieces


@dataclass(frozen=True)
class Incidence:
    """Two sorted lists, both cut into rows (one a code) by offsets.

    A passage stands once in a row, whatever number of its codes or coders it carries.

    pair_passage   (pairs,)        the passages of each row
    pair_first     (codes + 1,)
    entry_*        (entries,)      the same pairs, one entry for each case that said the passage
    entry_said     (entries,)      the attribution that it stands for
    entry_cell     (entries,)      row × cases + case: the entry's cell in a rows × cases table
    """

    pair_passage: npt.NDArray[np.int32]
    pair_first: npt.NDArray[np.int64]
    entry_passage: npt.NDArray[np.int32]
    entry_case: npt.NDArray[np.int32]
    entry_said: npt.NDArray[np.int32]
    entry_row: npt.NDArray[np.int32]
    entry_cell: npt.NDArray[np.int64]

    @property
    def rows(self) -> int:
        return len(self.pair_first) - 1

    def pairs_of(self, chosen: npt.NDArray[np.int64]) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int32]]:
        """All (place among ``chosen``, passage) pairs of the chosen rows."""
        first, passage = self.cut(chosen)
        return np.repeat(np.arange(len(chosen)), np.diff(first)), passage

    def cut(self, chosen: npt.NDArray[np.int64]) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int32]]:
        """The passages of the chosen rows one after the other, cut by offsets: (chosen + 1,), (pairs,)."""
        if self.holds_only(chosen):
            return self.pair_first, self.pair_passage
        first = np.concatenate([[0], np.cumsum(np.diff(self.pair_first)[chosen])]).astype(np.int64)
        return first, pieces(self.pair_passage, self.pair_first[chosen], self.pair_first[chosen + 1])

    def holds_only(self, chosen: npt.NDArray[np.int64]) -> bool:
        """Whether these are all rows, in order."""
        return np.array_equal(chosen, np.arange(self.rows))

    def anywhere(self, passages: int) -> npt.NDArray[np.bool_]:
        """Which passages are in any row, (passages,); found once."""
        known: npt.NDArray[np.bool_] | None = vars(self).get("_anywhere")
        if known is None:
            known = np.zeros(passages, bool)
            known[self.pair_passage] = True
            vars(self)["_anywhere"] = known
        return known

    def only(self, chosen: npt.NDArray[np.int64], cases: int) -> "Incidence":
        """These rows alone, in this order; all of them in order are the same rows."""
        if self.holds_only(chosen):
            return self
        first, passage = self.cut(chosen)
        bounds = np.searchsorted(self.entry_row, np.arange(self.rows + 1)).astype(np.int64)
        begin, end = bounds[chosen], bounds[chosen + 1]
        row = np.repeat(np.arange(len(chosen)), end - begin)
        case = pieces(self.entry_case, begin, end)
        return Incidence(
            passage,
            first,
            pieces(self.entry_passage, begin, end),
            case,
            pieces(self.entry_said, begin, end),
            row.astype(np.int32),
            row * cases + case,
        )

    def passages_of(self, row: int) -> npt.NDArray[np.int32]:
        """The passages of one row, ascending."""
        return self.pair_passage[self.pair_first[row] : self.pair_first[row + 1]]


def incidence(
    held: Attributed, roll_up: bool, codings: npt.NDArray[np.bool_] | npt.NDArray[np.int64] | None = None
) -> Incidence:
    """Build the rows of all codes; ``codings``, a mask of all or places of some, keeps only those."""
    passage, code = held.coding_passage, held.coding_code
    if codings is not None:
        passage, code = passage[codings], code[codings]
    if roll_up:
        passage, code = _to_ancestors(held, passage, code)
    return of_pairs(held, code, passage, len(held.code_ids))


def of_pairs(held: Attributed, rows: npt.NDArray[np.integer], of_row: npt.NDArray[np.integer], count: int) -> Incidence:
    """Any rows, ``count`` of them, from (row, passage) pairs in any order, repeated or not."""
    passages = max(len(held.passage_ids), 1)
    keys = distinct(rows.astype(np.int64) * passages + of_row)
    row, pair_passage = keys // passages, (keys % passages).astype(np.int32)
    pair_first = np.searchsorted(row, np.arange(count + 1)).astype(np.int64)

    said = held.attributions
    pair, attribution = expand(said.first[pair_passage], said.first[pair_passage.astype(np.int64) + 1])
    entry_row = row[pair].astype(np.int32)
    entry_case = said.case[attribution]
    return Incidence(
        pair_passage,
        pair_first,
        pair_passage[pair],
        entry_case,
        attribution.astype(np.int32),
        entry_row,
        entry_row * np.int64(len(held.case_ids)) + entry_case,
    )


def _to_ancestors(
    held: Attributed, passage: npt.NDArray[np.int32], code: npt.NDArray[np.int32]
) -> tuple[npt.NDArray[np.int32], npt.NDArray[np.int32]]:
    below, above = lineage(held.code_parent)
    order = np.argsort(below, kind="stable")
    first = np.searchsorted(below[order], np.arange(len(held.code_ids) + 1)).astype(np.int64)
    coding, pair = expand(first[code], first[code.astype(np.int64) + 1])
    return passage[coding], above[order][pair]
