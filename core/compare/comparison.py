"""A comparison: rows × groups, with a measure, a base, intervals and tests."""

from dataclasses import dataclass, field, replace

import numpy as np
import numpy.typing as npt

from core.compare import sureness
from core.compare.counts import LeftOut, left_out
from core.compare.measured import rated, ratings_of, words_of
from core.compare.measures import BASES, PER_WORDS, Base, Measure, Measured, measured, totals
from core.compare.rows import Row, rows_of
from core.compare.shared import AnyGroups
from core.compare.sureness import Difference, Tests, WithinLayers
from core.compare.tally import Tally, tally
from core.compare.whole import Whole, whole_of
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture
from core.statistics import association, intervals, permutation
from core.statistics.ordered import Trend
from core.statistics.paired import Changes

__all__ = ["BASES", "PER_WORDS", "Base", "Comparison", "ComparisonError", "ComparisonResult", "Measure", "compare"]
SMALL_GROUP = 5
RESAMPLES = 1000

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]


class ComparisonError(ValueError):
    """The comparison asked for makes no sense; the message says why."""


@dataclass(frozen=True)
class Comparison:
    """What is asked. ``rows`` are codes by position or other sets of passages, ``difference`` two groups (first minus
    second) by position, within each layer where there are layers; ``permutations`` 0 leaves the tests of all but people
    out. With ``layers`` above 1 the groups stand layer after layer, as many in each: tests then hold the layers apart.
    ``woven`` is needed to count words."""

    rows: tuple[Row, ...]
    groups: AnyGroups
    roll_up: bool = True
    measure: Measure = "people"
    base: Base = "with_material"
    scope: Scope = field(default_factory=Scope)
    difference: tuple[int, int] | None = None
    layers: int = 1
    permutations: int = 0
    seed: int = 1
    woven: Texture | None = None

    def __post_init__(self) -> None:
        if self.base not in BASES[self.measure]:
            raise ComparisonError(f"{self.measure} can't be taken as a share of {self.base}.")
        if self.difference and max(self.difference) >= self.groups.count // self.layers:
            raise ComparisonError("The difference asked for is between groups that aren't shown.")
        if self.measure == "words" and self.woven is None:
            raise ComparisonError("Words can't be counted without the texts.")

    def counted_in(self, snapshot: Snapshot) -> Scope:
        """What is counted: of ratings, only codings that carry one."""
        if self.measure != "rating":
            return self.scope
        return replace(self.scope, coders=None, codings=rated(snapshot, self.scope))


@dataclass(frozen=True)
class ComparisonResult:
    """Arrays by row and group, (rows, groups) unless said otherwise.

    counted           what all figures were made of
    people, passages  distinct people and passages in each cell
    figure            the share (0–1), the mean (passages a person; ratings) or the rate (passages per 1,000 words);
                      NaN without a base
    count, base       what the figure is made of
    median            of passages a person, over the base; else NaN
    deviation         standard deviation of ratings; else NaN
    low, high         95 % interval of the figure, NaN where none is given
    residual          adjusted residual (people only), else NaN
    most, most_case   passages by, and position of, each cell's most talkative case
    by_case           (rows, cases) what each person brings to the figures
    heard_each_other  how many people of the base spoke in one conversation with others of it
    whole             the whole table as one, where each person mentions one row and no other; else None
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
    deviation: Floats
    low: Floats
    high: Floats
    residual: Floats
    most: Counts
    most_case: Counts
    total_people: Counts
    total_passages: Counts
    total_figure: Floats
    total_count: Counts
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
    by_case: Counts
    whole: Whole | None
    heard_each_other: int

    @property
    def small_groups(self) -> list[int]:
        """Groups of fewer than five people: each deserves a caution in words."""
        return [group for group, size in enumerate(self.group_people) if size < SMALL_GROUP]


def compare(snapshot: Snapshot, asked: Comparison) -> ComparisonResult:
    """Answer a comparison from the snapshot. Source of each figure: ``docs/methods.md``."""
    scope, groups, measure = asked.counted_in(snapshot), asked.groups, asked.measure
    rows = rows_of(snapshot, asked.rows, scope, asked.roll_up)
    counted = tally(snapshot, rows.incidence, rows.chosen, groups, scope, asked.base == "everyone")
    lost = left_out(snapshot, rows.incidence, rows.chosen, counted.fate)
    words = (
        words_of(snapshot, asked.woven, rows, groups, scope, asked.base == "column")
        if asked.woven and measure == "words"
        else None
    )
    ratings = ratings_of(snapshot, asked.rows, groups, scope, asked.roll_up) if measure == "rating" else None
    made = measured(snapshot, asked, counted, lost, words, ratings)
    total_people, total_passages = totals(counted, lost)
    low, high = _intervals(asked, counted, made)
    of_people = measure == "people"
    tests = (
        sureness.tests_of_people(counted, groups, asked.layers, asked.seed)
        if of_people
        else sureness.tests_by_shuffling(counted, groups, made.by_case, made.exposure, asked.permutations, asked.seed)
    )
    flat = of_people and counted.case_group is not None
    return ComparisonResult(
        asked=asked,
        counted=counted,
        people=counted.people,
        passages=counted.passages,
        figure=made.figure,
        count=made.count,
        base=made.base,
        median=made.median,
        deviation=made.deviation,
        low=low,
        high=high,
        residual=_residuals(counted, asked.layers) if flat else np.full(made.count.shape, np.nan),
        most=counted.most,
        most_case=counted.most_case,
        total_people=total_people,
        total_passages=total_passages,
        total_figure=made.total_figure,
        total_count=made.total_count,
        total_base=made.total_base,
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
        everyone=int(counted.in_base.sum()),
        by_case=made.by_case,
        whole=whole_of(counted, asked.seed) if flat and asked.layers == 1 else None,
        heard_each_other=_heard_each_other(snapshot, scope, counted),
    )


def _heard_each_other(snapshot: Snapshot, scope: Scope, counted: Tally) -> int:
    talks = snapshot.talks
    there = talks.real & talks.mask(scope) & counted.in_base[talks.case]
    together = np.bincount(talks.document[there], minlength=len(snapshot.document_ids)) > 1
    return len(np.unique(talks.case[there][together[talks.document[there]]]))


def _residuals(counted: Tally, layers: int) -> Floats:
    """Adjusted residuals of the people in each cell, expected from its own layer."""
    wide = counted.people.shape[1] // layers
    blocks = [slice(layer * wide, (layer + 1) * wide) for layer in range(layers)]
    return np.concatenate(
        [association.adjusted_residuals(counted.people[:, one], counted.group_people[one]) for one in blocks], axis=1
    )


def _intervals(asked: Comparison, counted: Tally, made: Measured) -> tuple[Floats, Floats]:
    if asked.measure == "people":
        return intervals.wilson(counted.people, made.base)
    drawn = asked.measure in ("rate", "per_person", "rating") or asked.base == "talk"
    if drawn and asked.permutations and counted.case_group is not None:
        low, high = permutation.bootstrap_rates(
            made.by_case, counted.case_group, asked.groups.count, made.exposure, RESAMPLES, asked.seed
        )
        return low * made.scale, high * made.scale
    none = np.full(counted.people.shape, np.nan)
    return none, none
