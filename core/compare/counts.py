"""People, passages and rates by row and group, and what is left out."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from core.compare.groups import OUTSIDE, UNASKED, Groups
from core.snapshot.attribution import INTERVIEWER_ONLY, NOT_LINKED, OTHER_ONLY, SPOKEN
from core.snapshot.incidence import Incidence
from core.snapshot.masks import attribution_mask, entry_mask, passage_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.text.missing import REASONS

Table = npt.NDArray[np.int64]


def case_counts(snapshot: Snapshot, rows: Incidence, scope: Scope | None = None) -> npt.NDArray[np.int64]:
    """Distinct passages of each code said by each case, shape (codes, cases).

    The one table from which people, passages, rates and permutations all follow.
    """
    codes, cases = rows.rows, len(snapshot.case_ids)
    mask = entry_mask(snapshot, scope, rows) if scope is not None else None
    cell = rows.entry_cell if mask is None else rows.entry_cell[mask]
    return np.bincount(cell, minlength=codes * cases).reshape(codes, cases)


def people(counts: npt.NDArray[np.int64], groups: Groups, keep: npt.NDArray[np.bool_] | None = None) -> Table:
    """Cases of each group with at least one passage, shape (rows, groups).

    ``counts`` (rows, cases) from ``case_counts``; ``keep`` (cases,) restricts the base.
    """
    return np.rint((counts > 0).astype(np.float32) @ groups.indicator(keep)).astype(np.int64)


def passages(
    snapshot: Snapshot,
    rows: Incidence,
    counts: npt.NDArray[np.int64],
    groups: Groups,
    scope: Scope | None = None,
) -> Table:
    """Distinct passages of each code belonging to each group, shape (codes, groups).

    A passage by two people of one group counts once in it; by people of two groups, once in each.
    """
    if not groups.count or not rows.rows:
        return np.zeros((rows.rows, groups.count), np.int64)
    table = np.rint(counts.astype(np.float32) @ groups.indicator()).astype(np.int64)
    shared = snapshot.attributions.shared
    if not shared.any():
        return table
    repeated = shared[rows.entry_passage]
    mask = entry_mask(snapshot, scope, rows) if scope is not None else None
    if mask is not None:
        repeated &= mask
    label = groups.labels[rows.entry_case[repeated]]
    row, passage = rows.entry_row[repeated][label >= 0], rows.entry_passage[repeated][label >= 0]
    label = label[label >= 0]
    cells = (row.astype(np.int64) * groups.count + label) * len(snapshot.passage_ids) + passage
    distinct, times = np.unique(cells, return_counts=True)
    surplus = np.bincount(distinct // len(snapshot.passage_ids), weights=times - 1, minlength=table.size)
    return table - surplus.reshape(table.shape).astype(np.int64)


REASONS_LEFT_OUT = ("in_table", "interviewer_only", "not_linked", "other_only", "unasked", "outside", *REASONS)
"""What becomes of each passage in scope; the first is the table, the rest the left-out line."""


@dataclass(frozen=True)
class LeftOut:
    """Where each row's passages in scope went: ``by_row`` (rows, len(REASONS_LEFT_OUT)) and,
    each passage once whatever rows it is in, ``overall`` (len(REASONS_LEFT_OUT),)."""

    by_row: Table
    overall: Table

    @property
    def in_scope(self) -> int:
        """Distinct passages of the chosen rows in scope."""
        return int(self.overall.sum())


def fates(snapshot: Snapshot, scope: Scope, groups: Groups) -> npt.NDArray[np.int8]:
    """For each passage a position in ``REASONS_LEFT_OUT``, −1 out of scope, shape (passages,)."""
    return settled_fates(snapshot, scope, depths(groups.labels)[snapshot.attributions.case])


def settled_fates(snapshot: Snapshot, scope: Scope, depth: npt.NDArray[np.int8]) -> npt.NDArray[np.int8]:
    """The same from how far out each attribution stands (``depths`` of its label), (attributions,).

    A passage by several people is in the table if one of them is in a group; else it is
    outside the groups if one of them is; else missing, for the first reason in order.
    """
    said = snapshot.attributions
    fate = _OF_STANDING[said.standing]
    # Of several people the one furthest in decides; one out of scope is furthest out.
    if not scope.whole:
        depth = np.where(attribution_mask(snapshot, scope), depth, _FURTHEST)
    spoken = np.diff(said.first) > 0
    if len(depth):
        alone = len(depth) == np.count_nonzero(spoken)
        fate[spoken] = _OF_DEPTH[depth if alone else np.minimum.reduceat(depth, said.first[:-1][spoken])]
    if not scope.whole:
        fate[~passage_mask(snapshot, scope)] = -1
    return fate


_BY_STANDING = {
    SPOKEN: "in_table",
    INTERVIEWER_ONLY: "interviewer_only",
    NOT_LINKED: "not_linked",
    OTHER_ONLY: "other_only",
}
_OF_STANDING = np.array([REASONS_LEFT_OUT.index(_BY_STANDING[one]) for one in sorted(_BY_STANDING)], np.int8)
_DEPTHS = ("in_table", "unasked", "outside", *REASONS)
_OF_DEPTH = np.array([*(REASONS_LEFT_OUT.index(one) for one in _DEPTHS), -1], np.int8)
_FURTHEST = np.int8(len(_DEPTHS))


def depths(label: npt.NDArray[np.int32]) -> npt.NDArray[np.int8]:
    """How far out a label stands: 0 in a group, 1 in one but not asked, 2 outside the chosen ones, then missing by reason."""
    found = np.where(label >= 0, 0, np.where(label == UNASKED, 1, np.where(label == OUTSIDE, 2, 2 - label)))
    return found.astype(np.int8)


def left_out(snapshot: Snapshot, rows: Incidence, chosen: npt.NDArray[np.int64], fate: npt.NDArray[np.int8]) -> LeftOut:
    """Reconcile the chosen rows (codes by position) with ``fates``."""
    kinds = len(REASONS_LEFT_OUT)
    first, passage = rows.cut(chosen)
    found, bounds = fate[passage], first.tolist()
    if rows.holds_only(chosen):
        seen = rows.anywhere(len(snapshot.passage_ids))
    else:
        seen = np.zeros(len(snapshot.passage_ids), bool)
        seen[passage] = True
    by_row, overall = np.zeros((len(chosen), kinds), np.int64), np.zeros(kinds, np.int64)
    for kind in range(kinds):
        overall[kind] = np.count_nonzero(seen & (fate == kind))
        if not overall[kind]:
            continue
        # Row by row: counting in one piece of an array is as fast as memory is read.
        of_kind = found == kind
        by_row[:, kind] = [np.count_nonzero(of_kind[one:next_]) for one, next_ in pairwise(bounds)]
    return LeftOut(by_row, overall)


Most = tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]
"""The most talkative case of each row: its passages, and its position (−1 where nobody says it), both (rows, …)."""


def most_by_one(counts: npt.NDArray[np.int64], member: npt.NDArray[np.bool_]) -> Most:
    """The most talkative of each row among ``member`` (cases,); of several the first."""
    members = np.flatnonzero(member)
    if not len(members):
        return np.zeros(len(counts), np.int64), np.full(len(counts), -1)
    among = counts.astype(np.int32)[:, members]
    who = among.argmax(axis=1)
    most = among[np.arange(len(counts)), who].astype(np.int64)
    return most, np.where(most > 0, members[who], -1)


def most_of_groups(counts: npt.NDArray[np.int64], groups: Groups) -> tuple[Most, Most]:
    """The most talkative of each row in every group, (rows, groups), and among all of them, (rows,)."""
    found = [most_by_one(counts, groups.labels == group) for group in range(groups.count)]
    if not found:
        empty, nobody = np.zeros((len(counts), 0), np.int64), np.full(len(counts), -1)
        return (empty, empty), (np.zeros(len(counts), np.int64), nobody)
    most, who = (np.stack(parts, axis=1) for parts in zip(*found, strict=True))
    top = most.max(axis=1)
    # Of several with as many, the first in the project's order, whatever group is theirs.
    first = np.where((most == top[:, None]) & (who >= 0), who, counts.shape[1]).min(axis=1)
    return (most, who), (top, np.where(top > 0, first, -1))
