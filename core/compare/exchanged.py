"""Whose labels may change places: people one by one, inside layers, and those who heard each other as one block."""

from dataclasses import dataclass
from itertools import permutations

import numpy as np
import numpy.typing as npt

from core.compare.tally import Tally
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.dealing import Exchange, Reorder, conversations, exchange

Counts = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Exchanged:
    """``people`` (people,) are the cases that take part, by position; ``exchange`` what is dealt to them; ``together`` how
    many of them are in one block with somebody else."""

    people: Counts
    exchange: Exchange
    together: int


def exchanged(snapshot: Snapshot, scope: Scope, counted: Tally, layers: int) -> Exchanged | None:
    """Labels of people, each in one group; None where somebody is in two. With ``layers``, the groups stand layer after
    layer, and labels stay inside."""
    if counted.case_group is None or not counted.base.shape[1]:
        return None
    people = np.flatnonzero(counted.in_base)
    labels = counted.base[people].argmax(axis=1)
    block, together = _heard(snapshot, scope, people)
    wide = max(counted.base.shape[1] // layers, 1)
    return Exchanged(people, exchange(labels, labels // wide if layers > 1 else None, block), together)


@dataclass(frozen=True)
class Reordered:
    """The same for people who are in all of several groups: ``orders`` in which their occasions may be dealt."""

    people: Counts
    exchange: Reorder
    orders: tuple[tuple[int, ...], ...]
    together: int


def reordered(snapshot: Snapshot, scope: Scope, counted: Tally) -> Reordered:
    """Occasions of the people who are in all groups."""
    people = np.flatnonzero(counted.base.all(axis=1))
    block, together = _heard(snapshot, scope, people)
    orders = tuple(permutations(range(counted.base.shape[1])))
    return Reordered(people, Reorder(block, len(orders)), orders, together)


def _heard(snapshot: Snapshot, scope: Scope, people: Counts) -> tuple[Counts, int]:
    """The conversation of each of these people, and how many are in one with others."""
    talks = snapshot.talks
    at = np.full(len(snapshot.case_ids), -1, np.int64)
    at[people] = np.arange(len(people))
    there = np.flatnonzero(talks.real & talks.mask(scope) & (at[talks.case] >= 0))
    block = conversations(at[talks.case[there]], talks.document[there], len(people))
    return block, int((np.bincount(block)[block] > 1).sum()) if len(people) else 0
