"""What in a codebook wants a look: codes nobody uses, one person's codes, codes without definition, near-duplicates."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from rapidfuzz import fuzz, process, utils
from scipy import sparse

from core.snapshot.masks import entry_mask, passage_mask, rows_in
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot

ALIKE = 88.0
"""Likeness of two names (0 to 100, by edits that make one the other) from which they are pointed out."""
SAME_PASSAGES = 0.6
"""Jaccard's coefficient of two codes' passages from which they are pointed out."""
FEWEST = 3
"""Passages that both codes need for that."""


@dataclass(frozen=True)
class Alike:
    """Two codes (positions) that may be one; ``by`` name (likeness 0 to 100) or passages (Jaccard 0 to 1)."""

    left: int
    right: int
    by: str
    likeness: float


def uses(
    snapshot: Snapshot, scope: Scope | None = None
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """Passages, people and documents of each code itself, as far as they are in scope; each of shape (codes,)."""
    scope = scope or Scope()
    rows = rows_in(snapshot, scope, roll_up=False)
    codes = len(snapshot.code_ids)
    place = np.repeat(np.arange(codes, dtype=np.int32), np.diff(rows.pair_first))
    passage, entry_row, entry_case = rows.pair_passage, rows.entry_row, rows.entry_case
    said = entry_mask(snapshot, scope, rows)
    if said is not None:
        kept = passage_mask(snapshot, scope)[passage]
        place, passage = place[kept], passage[kept]
        entry_row, entry_case = entry_row[said], entry_case[said]
    passages = np.bincount(place, minlength=codes).astype(np.int64)
    people = _distinct(entry_row, entry_case, codes, len(snapshot.case_ids))
    documents = _distinct(place, snapshot.passage_document[passage], codes, len(snapshot.document_ids))
    return passages, people, documents


def branch_passages(snapshot: Snapshot, scope: Scope) -> npt.NDArray[np.int64]:
    """Passages of each code and of all beneath it, each once, as far as they are in scope; (codes,)."""
    rows = rows_in(snapshot, scope, roll_up=True)
    if entry_mask(snapshot, scope, rows) is None:
        return np.diff(rows.pair_first)
    place = np.repeat(np.arange(rows.rows), np.diff(rows.pair_first))
    kept = passage_mask(snapshot, scope)[rows.pair_passage]
    return np.bincount(place[kept], minlength=rows.rows).astype(np.int64)


def uses_together(snapshot: Snapshot, codes: Sequence[int], scope: Scope | None = None) -> tuple[int, int, int]:
    """Passages, people and documents of several codes (positions) with those beneath them, each once, as far as they are
    in scope."""
    scope = scope or Scope()
    rows = rows_in(snapshot, scope, roll_up=True)
    among = np.zeros(len(snapshot.passage_ids), bool)
    for code in codes:
        among[rows.passages_of(code)] = True
    held = np.flatnonzero(among if scope.whole else among & passage_mask(snapshot, scope))
    among[:] = False
    among[held] = True
    said = snapshot.attributions
    spoken = among[said.passage] if scope.cases is None else among[said.passage] & scope.cases[said.case]
    return (
        len(held),
        len(np.unique(said.case[spoken])),
        len(np.unique(snapshot.passage_document[held])),
    )


@dataclass(frozen=True)
class Merging:
    """Passages of the code that is kept, of each other (and how many of those carry the kept one too), of all."""

    kept: int
    others: tuple[tuple[int, int], ...]
    together: int


def merging(snapshot: Snapshot, into: int, others: Sequence[int]) -> Merging:
    """What becomes one when codes (positions) are merged, the codes beneath them aside."""
    own = snapshot.own_rows.passages_of(into)
    theirs = [snapshot.own_rows.passages_of(code) for code in others]
    both = [(len(rows), len(np.intersect1d(rows, own, assume_unique=True))) for rows in theirs]
    return Merging(len(own), tuple(both), len(np.unique(np.concatenate([own, *theirs]))))


def alike_by_name(names: Sequence[str]) -> list[Alike]:
    """Pairs of codes whose names differ by little: letters, order of words, case, signs."""
    if len(names) < 2:
        return []
    scores = process.cdist(names, names, scorer=fuzz.token_sort_ratio, processor=utils.default_process)
    left, right = np.nonzero(np.triu(scores >= ALIKE, 1))
    return [Alike(int(a), int(b), "name", float(scores[a, b])) for a, b in zip(left, right, strict=True)]


def alike_by_passages(snapshot: Snapshot) -> list[Alike]:
    """Pairs of codes put on mostly the same passages: n12 / (n1 + n2 − n12) (Jaccard 1912)."""
    rows, codes = snapshot.own_rows, len(snapshot.code_ids)
    if not codes or not len(rows.pair_passage):
        return []
    shape = (codes, len(snapshot.passage_ids))
    held = sparse.csr_matrix((np.ones(len(rows.pair_passage), np.int32), rows.pair_passage, rows.pair_first), shape)
    both = sparse.coo_matrix(sparse.triu(held @ held.T, 1))
    count = np.diff(rows.pair_first)
    likeness = both.data / (count[both.row] + count[both.col] - both.data)
    enough = (np.minimum(count[both.row], count[both.col]) >= FEWEST) & (likeness >= SAME_PASSAGES)
    found = zip(both.row[enough], both.col[enough], likeness[enough], strict=True)
    return sorted((Alike(int(a), int(b), "passages", float(x)) for a, b, x in found), key=lambda one: -one.likeness)


CELLS = 20_000_000
"""Cells of a table up to which different things are counted by filling it in: several times as fast as sorting."""


def _distinct(rows: npt.NDArray[np.int32], of: npt.NDArray[np.int32], count: int, size: int) -> npt.NDArray[np.int64]:
    """How many different ``of`` each row has."""
    keys = rows.astype(np.int64) * max(size, 1) + of
    if count * size <= CELLS:
        there = np.zeros((count, max(size, 1)), bool)
        there.reshape(-1)[keys] = True
        return there.sum(axis=1, dtype=np.int64)
    return np.bincount(np.unique(keys) // max(size, 1), minlength=count).astype(np.int64)
