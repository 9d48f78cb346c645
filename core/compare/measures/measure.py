"""What a measure is: what is counted in each cell, what it is over, and the words that go with it."""

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.compare.counts import LeftOut
from core.compare.groups import AnyGroups
from core.compare.rows import Row, Rows
from core.compare.tally import Tally
from core.language import message
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture

Compared = Literal["shares", "ratios", "parts"]
Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Inputs:
    """All that a measure reads: ``asked`` are the rows as asked for, ``rows`` their passages, ``counted`` and ``lost``
    what was tallied of them in ``scope``."""

    snapshot: Snapshot
    asked: tuple[Row, ...]
    groups: AnyGroups
    scope: Scope
    roll_up: bool
    base: str
    rows: Rows
    counted: Tally
    lost: LeftOut
    texture: Texture | None = None


@dataclass(frozen=True)
class Measured:
    """figure (a share 0–1, a mean or a rate; NaN without a base), count, base, median, deviation: (rows, groups), the
    last two NaN where the measure has none; total_figure, total_count, total_base (rows,) in all groups; ``by_case``
    (rows, cases) over ``exposure`` (cases,) or (rows, cases) is what the groups' figures are made of, times ``scale``.

    How the figures of two groups are compared is ``compared``: as ``shares`` of people; as ``ratios``, amount over exposure
    (means, rates, shares of what a group says); or as ``parts`` of one total, which every group takes its part of."""

    figure: Floats
    count: Counts
    base: Counts
    median: Floats
    deviation: Floats
    total_figure: Floats
    total_count: Counts
    total_base: Counts
    by_case: Counts
    exposure: Floats
    compared: Compared
    scale: int = 1


class Measure(ABC):
    """One measure. Words may hold ``{one}`` and ``{many}``, the project's own words for a case and for several.

    id        how it is asked for          counted   what the sentence says is counted
    hint      what the menu adds           taken     how the sentence goes on to the base
    bases     every base that fits, by id, in words; the first is the usual one
    share     whether the figure is a share from 0 to 1        unit   of a figure that isn't
    head      of a column of figures in an export              noun   of what ``count`` counts, for one and several
    cell      what the figure is made of, small beside it: ``{count}``, ``{counted}`` (with its noun), ``{base}``
    shuffled  what is never tested as if each were a person, for the caution; "" where people are tested
    amount    whether it counts how much is said, so that one talkative person can make most of a figure
    """

    id: str
    counted: str
    hint: str
    taken: str = message(", as a share of ")
    bases: Mapping[str, str]
    share: bool = True
    unit: str = ""
    head: str = message("share")
    cell: str = message("{count} of {base}")
    noun: tuple[str, str]
    shuffled: str = message("Passages")
    amount: bool = True
    needs_texture: bool = False

    def counted_in(self, snapshot: Snapshot, scope: Scope) -> Scope:
        """The scope of what is counted."""
        return scope

    @abstractmethod
    def measured(self, inputs: Inputs) -> Measured:
        """The figures."""


def share(count: Counts, base: Counts) -> Floats:
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(base > 0, count / base, np.nan)


def made(
    count: Counts,
    base: Counts,
    total: Counts,
    total_base: Counts,
    by_case: Counts,
    exposure: Floats,
    compared: Compared = "ratios",
    scale: int = 1,
) -> Measured:
    """Figures as count over base, times scale."""
    none = np.full(count.shape, np.nan)
    figure, total_figure = share(count, base) * scale, share(total, total_base) * scale
    return Measured(
        figure, count, base, none, none, total_figure, total, total_base, by_case, exposure, compared, scale
    )


def totals(counted: Tally, lost: LeftOut) -> tuple[Counts, Counts]:
    """Distinct people and passages of each row in the groups shown."""
    if counted.said is None:
        return counted.people.sum(axis=1), lost.by_row[:, 0]
    return (counted.said.sum(axis=1) > 0).sum(axis=1), lost.by_row[:, 0]
