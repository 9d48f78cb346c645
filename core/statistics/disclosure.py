"""Cells so small that a reader might recognise somebody: hidden, with those that would give them away."""

import numpy as np
import numpy.typing as npt

Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]


def hidden_cells(people: Ints, least: int, rows_add_up: bool, groups_add_up: bool) -> Bools:
    """Which cells of (rows, groups) to hide: those of 1 to ``least`` − 1 people, and where a shown total would give a
    lone hidden cell away, the smallest other one too.

    ``rows_add_up``: a row's cells add up to a total that is shown; ``groups_add_up``: so do a group's (only where
    everyone mentions exactly one row).
    Source: complementary suppression, common practice of statistical offices (Hundepool et al. 2012, 4.3).
    """
    hidden = (people > 0) & (people < least)
    while True:
        before = hidden.copy()
        if rows_add_up:
            for row in range(len(people)):
                _cover(hidden[row], people[row])
        if groups_add_up:
            for group in range(people.shape[1]):
                column = hidden[:, group].copy()
                _cover(column, people[:, group])
                hidden[:, group] = column
        if (hidden == before).all():
            return hidden


def _cover(hidden: Bools, people: Ints) -> None:
    """A lone hidden cell gets company: the smallest that isn't empty, else the smallest."""
    if hidden.sum() != 1 or len(hidden) < 2:
        return
    others = np.flatnonzero(~hidden)
    filled = others[people[others] > 0]
    among = filled if len(filled) else others
    hidden[among[np.argmin(people[among])]] = True
