"""Rows taken out of an array and put into it, and what becomes of the numbers that point into it."""

from functools import cached_property
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

from core.statistics.ranges import expand

Places = npt.NDArray[np.int64]
Kind = TypeVar("Kind", bound=np.generic)
FEW = 8
"""Changes up to which every pointer is compared with each; more go by a table of all."""
MANY = 500
"""Changes from which pieces are gathered at once rather than cut one by one."""


class Splice:
    """``removed`` (ascending) go; what is new stands before the old rows ``at`` (ascending, up to ``length``). ``back``: where
    each removed row came back, as a new place, or −1 (filled in by whoever knows)."""

    def __init__(self, length: int, removed: Places, at: Places) -> None:
        self.length = length
        self.removed = removed
        self.at = at
        self.back = np.full(len(removed), -1, np.int64)

    @property
    def nothing(self) -> bool:
        """Whether all stays as it is."""
        return not len(self.removed) and not len(self.at)

    @cached_property
    def fresh(self) -> Places:
        """New places of the new rows."""
        return self.at - np.searchsorted(self.removed, self.at) + np.arange(len(self.at))

    @cached_property
    def way(self) -> Places:
        """(length,) the new place of every old row."""
        steps = np.bincount(self.at, minlength=self.length + 1)[: self.length]
        stays = np.ones(self.length, np.int64)
        stays[self.removed] = 0
        way = np.cumsum(steps) + np.cumsum(stays) - 1
        way[self.removed] = self.back
        return way

    def put(self, old: npt.NDArray[Kind], fresh: npt.NDArray[Any]) -> npt.NDArray[Kind]:
        """The array with the change made; the same one where nothing changes."""
        if self.nothing:
            return old
        fresh = fresh.astype(old.dtype, copy=False)
        if len(self.removed) + len(self.at) > MANY:
            return self._gathered(old, fresh)
        pieces, done, cut = [], 0, 0
        for place, drop in self._events:
            pieces.append(old[done:place])
            done = place
            if drop:
                done += 1
            else:
                pieces.append(fresh[cut : cut + 1])
                cut += 1
        return np.concatenate([*pieces, old[done:]])

    @cached_property
    def _events(self) -> list[tuple[int, bool]]:
        # What stands before a row goes in before that row goes.
        return sorted(
            [(place, False) for place in self.at.tolist()] + [(place, True) for place in self.removed.tolist()]
        )

    def _gathered(self, old: npt.NDArray[Kind], fresh: npt.NDArray[Kind]) -> npt.NDArray[Kind]:
        made = np.empty(self.length - len(self.removed) + len(self.at), old.dtype)
        new = np.ones(len(made), bool)
        new[self.fresh] = False
        stays = np.ones(self.length, bool)
        stays[self.removed] = False
        made[self.fresh] = fresh
        made[new] = old[stays]
        return made

    def follow(self, pointers: npt.NDArray[np.int32]) -> npt.NDArray[np.int32]:
        """Old places as new ones; −1 stays, and stands for what went."""
        if self.nothing:
            return pointers
        if len(self.removed) + len(self.at) > FEW:
            return np.append(self.way, -1).astype(np.int32)[pointers]
        # By one at most, each time: a step that stays in one pass over memory.
        moved = pointers
        for place in self.removed.tolist():
            moved = np.subtract(moved, (pointers > place).view(np.int8), dtype=np.int32)
        for place in self.at.tolist():
            moved = np.add(moved, (pointers >= place).view(np.int8), dtype=np.int32)
        for place, back in zip(self.removed.tolist(), self.back.tolist(), strict=True):
            moved[pointers == place] = back
        return moved

    def before(self, places: Places) -> Places:
        """For new places, before which old row each stands: the old row itself where it is one that stayed."""
        fresher = np.searchsorted(self.fresh, places)
        gaps = self.removed - np.arange(len(self.removed))
        stayed = places - fresher
        old = stayed + np.searchsorted(gaps, stayed, side="right")
        is_fresh = np.append(self.fresh, -1)[fresher] == places
        return np.where(is_fresh, np.append(self.at, 0)[fresher], old)


def holding(values: npt.NDArray[np.int32], wanted: Places, length: int) -> Places:
    """Where any of the wanted (all below ``length``) stand in ``values``, ascending."""
    if len(wanted) <= FEW:
        found = [np.flatnonzero(values == one) for one in wanted]
        return np.sort(np.concatenate(found)) if found else np.zeros(0, np.int64)
    mask = np.zeros(length + 1, bool)
    mask[wanted] = True
    return np.flatnonzero(mask[values])


def within(first: Places, values: npt.NDArray[np.int32], rows: Places, wanted: Places) -> Places:
    """Before which entry of its row each wanted value stands: entries of row r are ``values[first[r]:first[r + 1]]``, ascending."""
    if len(rows) > MANY:
        length = int(max(values.max(initial=0), wanted.max(initial=0))) + 1
        owner, _ = expand(first[:-1], first[1:])
        return np.searchsorted(owner * length + values, rows * length + wanted)
    found = [
        first[row] + np.searchsorted(values[first[row] : first[row + 1]], one)
        for row, one in zip(rows.tolist(), wanted.tolist(), strict=True)
    ]
    return np.array(found, np.int64)
