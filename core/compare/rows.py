"""The rows of a comparison: each a set of passages, whether of a code, of a theme's codes or of a saved query."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.snapshot.incidence import Incidence, of_pairs
from core.snapshot.lineage import lineage
from core.snapshot.masks import rows_in
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.ranges import expand

Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class CodesRow:
    """Passages of any of these codes (by position), each once: what a theme is."""

    codes: tuple[int, ...]


@dataclass(frozen=True)
class PassagesRow:
    """Passages given one by one, ``passages`` (passages,): what a query finds."""

    passages: Bools


Row = int | CodesRow | PassagesRow
"""A code by position, several codes in one, or any passages."""


@dataclass(frozen=True)
class Rows:
    """``chosen`` (rows,) are the places in ``incidence`` of the rows asked for."""

    incidence: Incidence
    chosen: npt.NDArray[np.int64]


def rows_of(snapshot: Snapshot, asked: tuple[Row, ...], scope: Scope, roll_up: bool) -> Rows:
    """Where all rows are codes the project's own rows are used as they stand; else rows are made of what is asked."""
    of_codes = rows_in(snapshot, scope, roll_up)
    if all(isinstance(row, int) for row in asked):
        return Rows(of_codes, np.asarray(asked, np.int64))
    parts = [_passages(of_codes, row) for row in asked]
    owner = np.repeat(np.arange(len(parts)), [len(part) for part in parts])
    made = of_pairs(snapshot, owner, np.concatenate(parts), len(parts))
    return Rows(made, np.arange(len(parts)))


def _passages(of_codes: Incidence, row: Row) -> npt.NDArray[np.integer]:
    if isinstance(row, int):
        return of_codes.passages_of(row)
    if isinstance(row, CodesRow):
        return np.concatenate([of_codes.passages_of(code) for code in row.codes] or [np.zeros(0, np.int32)])
    return np.flatnonzero(row.passages)


def codings_of(snapshot: Snapshot, row: Row, scope: Scope, roll_up: bool) -> npt.NDArray[np.int64]:
    """The codings in scope that a row stands on, ascending; a query stands on none."""
    if isinstance(row, PassagesRow):
        return np.zeros(0, np.int64)
    wanted = np.zeros(len(snapshot.code_ids), bool)
    wanted[list(row.codes) if isinstance(row, CodesRow) else row] = True
    if roll_up:
        below, above = lineage(snapshot.code_parent)
        wanted[below[wanted[above]]] = True
    order, first = snapshot.codings_by_code
    codes = np.flatnonzero(wanted)
    held = np.sort(order[expand(first[codes], first[codes + 1])[1]])
    kept = scope.coding_mask(snapshot)
    return held if kept is None else held[kept[held]]
