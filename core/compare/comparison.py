"""A comparison: codes × groups, with a measure, a base, intervals and tests."""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.compare import association, intervals, permutation, sureness
from core.compare.counts import LeftOut, left_out
from core.compare.groups import Groups
from core.compare.ordered import Trend
from core.compare.paired import Changes
from core.compare.scope import Scope, case_words, rows_in
from core.compare.shared import AnyGroups
from core.compare.snapshot import Snapshot
from core.compare.sureness import Difference, Tests, WithinLayers
from core.compare.tally import Tally, tally

Measure = Literal["people", "passages", "per_person", "rate"]
Base = Literal["with_material", "everyone", "row", "column", "table", "words"]
BASES: dict[Measure, tuple[Base, ...]] = {
    "people": ("with_material", "everyone"),
    "passages": ("column", "row", "table"),
    "per_person": ("with_material", "everyone"),
    "rate": ("words",),
}
"""Every base that fits a measure; the first is the usual one."""
PER_WORDS = 1000
SMALL_GROUP = 5
RESAMPLES = 1000

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]


class ComparisonError(ValueError):
    """The comparison asked for makes no sense; the message says why."""


@dataclass(frozen=True)
class Comparison:
    """What is asked. ``rows`` are codes by position, ``difference`` two groups (first minus
    second) by position, within each layer where there are layers; ``permutations`` 0 leaves the tests of passages and rates out. With ``layers`` above 1 the
    groups stand layer after layer, as many in each: tests then hold the layers apart."""

    rows: tuple[int, ...]
    groups: AnyGroups
    roll_up: bool = True
    measure: Measure = "people"
    base: Base = "with_material"
    scope: Scope = field(default_factory=Scope)
    difference: tuple[int, int] | None = None
    layers: int = 1
    permutations: int = 0
    seed: int = 1

    def __post_init__(self) -> None:
        if self.base not in BASES[self.measure]:
            raise ComparisonError(f"{self.measure} can't be taken as a share of {self.base}.")
        if self.difference and max(self.difference) >= self.groups.count // self.layers:
            raise ComparisonError("The difference asked for is between groups that aren't shown.")


@dataclass(frozen=True)
class ComparisonResult:
    """Arrays by row and group, (rows, groups) unless said otherwise.

    counted           what all figures were made of
    people, passages  distinct people and passages in each cell
    figure            the share (0–1), the mean (passages a person) or the rate (passages per 1,000 words); NaN
                      without a base
    count, base       what the figure is made of
    median            of passages a person, over the base; else NaN
    low, high         95 % interval of the figure, NaN where none is given
    residual          adjusted residual (people only), else NaN
    most, most_case   passages by, and position of, each cell's most talkative case
    total_*           (rows,) the same for everyone in the groups shown
    group_*           (groups,) people in the base, distinct passages, words
    everyone          how many people are in the base of any group
    shared_people     how many are in the base of two groups or more
    """

    asked: Comparison
    counted: Tally
    people: Counts
    passages: Counts
    figure: Floats
    count: Counts
    base: Counts
    median: Floats
    low: Floats
    high: Floats
    residual: Floats
    most: Counts
    most_case: Counts
    total_people: Counts
    total_passages: Counts
    total_figure: Floats
    total_base: Counts
    total_most: Counts
    total_most_case: Counts
    group_people: Counts
    group_passages: Counts
    group_words: Counts
    left_out: LeftOut
    tests: Tests
    difference: Difference | None
    trend: Trend | None
    within_layers: WithinLayers | None
    changes: Changes | None
    shared_people: int
    everyone: int

    @property
    def small_groups(self) -> list[int]:
        """Groups of fewer than five people: each deserves a caution in words."""
        return [group for group, size in enumerate(self.group_people) if size < SMALL_GROUP]


def compare(snapshot: Snapshot, asked: Comparison) -> ComparisonResult:
    """Answer a comparison from the snapshot. Source of each figure: ``docs/methods.md``."""
    scope, groups, measure = asked.scope, asked.groups, asked.measure
    chosen = np.asarray(asked.rows, np.int64)
    rows = rows_in(snapshot, scope, asked.roll_up)
    counted = tally(snapshot, rows, chosen, groups, scope, asked.base == "everyone")
    lost = left_out(snapshot, rows, chosen, counted.fate)
    total_people, total_passages = _totals(counted, lost)
    count, total = _counts_of(asked, counted, total_people, total_passages)
    base, total_base = _bases(asked, counted, total_passages, int(lost.overall[0]))
    scale = PER_WORDS if measure == "rate" else 1
    in_base = counted.in_base
    exposure = case_words(snapshot, scope).astype(float) if measure == "rate" else in_base.astype(float)
    low, high = _intervals(asked, counted, base, exposure)
    of_people = measure == "people"
    tests = (
        sureness.tests_of_people(counted, groups, asked.layers, asked.seed)
        if of_people
        else sureness.tests_by_shuffling(counted, groups, exposure, asked.permutations, asked.seed)
    )
    nothing = np.full(count.shape, np.nan)
    flat = of_people and counted.case_group is not None
    return ComparisonResult(
        asked=asked,
        counted=counted,
        people=counted.people,
        passages=counted.passages,
        figure=_share(count, base) * scale,
        count=count,
        base=base,
        median=_medians(counted) if measure == "per_person" else nothing,
        low=low * scale,
        high=high * scale,
        residual=_residuals(counted, asked.layers) if flat else nothing,
        most=counted.most,
        most_case=counted.most_case,
        total_people=total_people,
        total_passages=total_passages,
        total_figure=_share(total, total_base) * scale,
        total_base=total_base,
        total_most=counted.total_most,
        total_most_case=counted.total_most_case,
        group_people=counted.group_people,
        group_passages=counted.group_passages,
        group_words=counted.group_words,
        left_out=lost,
        tests=tests,
        difference=sureness.difference_of_people(counted, asked.difference)
        if of_people and asked.difference and asked.layers == 1
        else None,
        trend=sureness.trend_of(counted, groups, asked.layers) if of_people else None,
        within_layers=sureness.within_layers(counted, asked.layers, asked.difference) if of_people else None,
        changes=sureness.changes_of(counted, groups) if of_people else None,
        shared_people=int((counted.base.sum(axis=1) > 1).sum()),
        everyone=int(in_base.sum()),
    )


def _residuals(counted: Tally, layers: int) -> Floats:
    """Adjusted residuals of the people in each cell, expected from its own layer."""
    wide = counted.people.shape[1] // layers
    blocks = [slice(layer * wide, (layer + 1) * wide) for layer in range(layers)]
    return np.concatenate(
        [association.adjusted_residuals(counted.people[:, one], counted.group_people[one]) for one in blocks], axis=1
    )


def _totals(counted: Tally, lost: LeftOut) -> tuple[Counts, Counts]:
    """Distinct people and passages of each row in the groups shown."""
    if counted.said is None:
        return counted.people.sum(axis=1), lost.by_row[:, 0]
    return (counted.said.sum(axis=1) > 0).sum(axis=1), lost.by_row[:, 0]


def _counts_of(asked: Comparison, counted: Tally, people: Counts, passages: Counts) -> tuple[Counts, Counts]:
    """What is counted in each cell, and in all groups."""
    if asked.measure == "people":
        return counted.people, people
    if asked.measure == "per_person":
        return _summed(counted), counted.counts[:, counted.in_base].sum(axis=1)
    return counted.passages, passages


def _summed(counted: Tally) -> Counts:
    """Passages of each person of the base, added up by group: one that two people said counts for each."""
    if counted.said is None:
        return np.rint(counted.counts.astype(float) @ counted.base.astype(float)).astype(np.int64)
    return np.einsum("rgc,cg->rg", counted.said, counted.base.astype(np.int64))


def _medians(counted: Tally) -> Floats:
    """Median passages of a person of the base, (rows, groups)."""
    found = np.full(counted.people.shape, np.nan)
    for group in range(counted.base.shape[-1]):
        members = counted.base[:, group]
        said = counted.counts if counted.said is None else counted.said[:, group]
        if members.any():
            found[:, group] = np.median(said[:, members], axis=1)
    return found


def _share(count: Counts, base: Counts) -> Floats:
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(base > 0, count / base, np.nan)


def _bases(asked: Comparison, counted: Tally, row_passages: Counts, table_passages: int) -> tuple[Counts, Counts]:
    """What each cell, and each row's total, is a share of."""
    shape: tuple[int, int] = (len(counted.counts), asked.groups.count)
    if asked.measure in ("people", "per_person"):
        return np.broadcast_to(counted.group_people, shape), np.full(shape[0], counted.in_base.sum())
    if asked.measure == "rate":
        return np.broadcast_to(counted.group_words, shape), np.full(shape[0], counted.group_words.sum())
    if asked.base == "row":
        return np.broadcast_to(row_passages[:, None], shape), row_passages
    whole = np.full(shape[0], table_passages)
    if asked.base == "column":
        return np.broadcast_to(counted.group_passages, shape), whole
    return np.full(shape, table_passages), whole


def _intervals(asked: Comparison, counted: Tally, base: Counts, exposure: Floats) -> tuple[Floats, Floats]:
    if asked.measure == "people":
        return intervals.wilson(counted.people, base)
    if asked.measure in ("rate", "per_person") and asked.permutations and counted.case_group is not None:
        drawn = Groups(asked.groups.names, counted.case_group)
        return permutation.bootstrap_rates(counted.counts, drawn, exposure, RESAMPLES, asked.seed)
    none = np.full(counted.people.shape, np.nan)
    return none, none
