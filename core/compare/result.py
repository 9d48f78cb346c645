"""The answer to a comparison: every part is computed when it is first asked for, from one tally."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from core.compare import tests
from core.compare.asked import counted_rows
from core.compare.counts import LeftOut, left_out
from core.compare.exchanged import Exchanged, exchanged
from core.compare.measures import Inputs, Measure, Measured, measure_of
from core.compare.measures.measure import totals
from core.compare.question import Comparison
from core.compare.rows import Rows
from core.compare.tally import Tally, tally
from core.compare.tests import Difference, RowTrend, Tests, WithinLayers
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics import association, intervals
from core.statistics.paired import Changes
from core.statistics.whole import Whole

SMALL_GROUP = 5
LEVEL = 0.95

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Result:
    """Arrays by row and group, (rows, groups) unless said otherwise; nothing is computed that nobody asks for."""

    snapshot: Snapshot
    asked: Comparison

    @cached_property
    def parts(self) -> "list[tuple[Counts, Result]]":
        """Rows whose figures are of the same people, by their places, with the result that they alone make."""
        return [(np.arange(len(self.asked.rows)), self)]

    def of_row(self, row: int) -> tuple["Result", int]:
        """The result in which a row is counted with its own people, and the row's place there."""
        return self, row

    @cached_property
    def measure(self) -> Measure:
        return measure_of(self.asked.measure)

    @cached_property
    def scope(self) -> Scope:
        return self.asked.counted_in(self.snapshot)

    @cached_property
    def rows(self) -> Rows:
        return counted_rows(self.snapshot, self.asked)

    @cached_property
    def counted(self) -> Tally:
        """What all figures are made of."""
        everyone = self.asked.base == "everyone"
        return tally(self.snapshot, self.rows.incidence, self.rows.chosen, self.asked.groups, self.scope, everyone)

    @cached_property
    def left_out(self) -> LeftOut:
        return left_out(self.snapshot, self.rows.incidence, self.rows.chosen, self.counted.fate)

    @cached_property
    def made(self) -> Measured:
        """The figures and what they are made of."""
        asked = self.asked
        inputs = Inputs(
            self.snapshot, asked.rows, asked.groups, self.scope, asked.roll_up, asked.base,
            self.rows, self.counted, self.left_out, asked.texture,
        )  # fmt: skip
        return self.measure.measured(inputs)

    @property
    def people(self) -> Counts:
        """Distinct people in each cell."""
        return self.counted.people

    @property
    def passages(self) -> Counts:
        """Distinct passages in each cell."""
        return self.counted.passages

    @property
    def figure(self) -> Floats:
        """The share (0–1), the mean (passages a person; ratings) or the rate (passages per 1,000 words); NaN without a
        base."""
        return self.made.figure

    @property
    def count(self) -> Counts:
        """What the figure counts."""
        return self.made.count

    @property
    def base(self) -> Counts:
        """What the figure is over."""
        return self.made.base

    @property
    def median(self) -> Floats:
        """Of passages a person, over the base; else NaN."""
        return self.made.median

    @property
    def deviation(self) -> Floats:
        """Standard deviation of ratings; else NaN."""
        return self.made.deviation

    @cached_property
    def interval(self) -> tuple[Floats, Floats]:
        """95 % interval of the figure: low and high, NaN where none is given."""
        return self.interval_at(LEVEL)

    def interval_at(self, level: float) -> tuple[Floats, Floats]:
        """The same at another level."""
        made, counted = self.made, self.counted
        if made.compared == "shares":
            return intervals.wilson(counted.people, made.base, level)
        low = np.full(counted.people.shape, np.nan)
        high = low.copy()
        if made.compared == "parts" or counted.case_group is None:
            return low, high
        for group in range(self.asked.groups.count):
            members = np.flatnonzero(counted.base[:, group])
            low[:, group], high[:, group] = intervals.studentised(
                made.by_case[:, members], made.exposure[..., members], level
            )
        most = 1.0 if self.measure.share else np.inf
        return low * made.scale, np.minimum(high * made.scale, most)

    @property
    def low(self) -> Floats:
        return self.interval[0]

    @property
    def high(self) -> Floats:
        return self.interval[1]

    @cached_property
    def residual(self) -> Floats:
        """Adjusted residual (people only), expected from the cell's own layer; else NaN."""
        if self.flat:
            return _residuals(self.counted, self.asked.layers)
        return np.full(self.counted.people.shape, np.nan)

    @property
    def most(self) -> Counts:
        """Passages by each cell's most talkative case."""
        return self.counted.most

    @property
    def most_case(self) -> Counts:
        """Who that is, by position; −1 for nobody."""
        return self.counted.most_case

    @property
    def total_people(self) -> Counts:
        """(rows,) people who mention it, in any group shown."""
        return totals(self.counted, self.left_out)[0]

    @property
    def total_passages(self) -> Counts:
        """(rows,) distinct passages in any group shown."""
        return totals(self.counted, self.left_out)[1]

    @property
    def total_figure(self) -> Floats:
        """(rows,) the figure of everyone in the groups shown."""
        return self.made.total_figure

    @property
    def total_count(self) -> Counts:
        return self.made.total_count

    @property
    def total_base(self) -> Counts:
        return self.made.total_base

    @property
    def total_most(self) -> Counts:
        return self.counted.total_most

    @property
    def total_most_case(self) -> Counts:
        return self.counted.total_most_case

    @property
    def group_people(self) -> Counts:
        """(groups,) people in the base."""
        return self.counted.group_people

    @property
    def group_passages(self) -> Counts:
        """(groups,) distinct passages."""
        return self.counted.group_passages

    @property
    def group_words(self) -> Counts:
        return self.counted.group_words

    @property
    def by_case(self) -> Counts:
        """(rows, cases) what each person brings to the figures."""
        return self.made.by_case

    @property
    def of_people(self) -> bool:
        return self.asked.measure == "people"

    @property
    def flat(self) -> bool:
        """Whether people are counted, each in one group."""
        return self.of_people and self.counted.case_group is not None

    @cached_property
    def exchanged(self) -> Exchanged | None:
        """Whose labels may change places; None where somebody is in two groups."""
        return exchanged(self.snapshot, self.scope, self.counted, self.asked.layers)

    @cached_property
    def tests(self) -> Tests:
        """One test a row, over all groups."""
        asked, counted = self.asked, self.counted
        if self.of_people:
            return tests.tests_of_people(counted, asked.groups, asked.layers, asked.seed)
        return tests.tests_by_shuffling(
            self.exchanged, len(asked.rows), asked.groups.count, self.made, asked.permutations, asked.seed
        )

    @cached_property
    def difference(self) -> Difference | None:
        """Between the two groups asked for, of people."""
        if not self.of_people or self.asked.difference is None or self.asked.layers > 1:
            return None
        return tests.difference_of_people(self.counted, self.asked.difference)

    @cached_property
    def trend(self) -> RowTrend | None:
        asked = self.asked
        return tests.trend_of(self.counted, asked.groups, asked.layers, asked.seed) if self.of_people else None

    @cached_property
    def within_layers(self) -> WithinLayers | None:
        if not self.of_people:
            return None
        return tests.within_layers(self.counted, self.asked.layers, self.asked.difference)

    @cached_property
    def changes(self) -> Changes | None:
        return tests.changes_of(self.counted, self.asked.groups) if self.of_people else None

    @cached_property
    def whole(self) -> Whole | None:
        """The whole table as one, where each person mentions one row and no other; else None."""
        return tests.whole_of(self.counted, self.asked.seed) if self.flat and self.asked.layers == 1 else None

    @cached_property
    def shared_people(self) -> int:
        """How many are in the base of two groups or more."""
        return int((self.counted.base.sum(axis=1) > 1).sum())

    @cached_property
    def everyone(self) -> int:
        """How many people are in the base of any group."""
        return int(self.counted.in_base.sum())

    @cached_property
    def who_heard(self) -> npt.NDArray[np.bool_]:
        """People of the base who spoke in one conversation with others of it, (cases,)."""
        talks = self.snapshot.talks
        there = talks.real & talks.mask(self.scope) & self.counted.in_base[talks.case]
        together = np.bincount(talks.document[there], minlength=len(self.snapshot.document_ids)) > 1
        found = np.zeros(len(self.snapshot.case_ids), bool)
        found[talks.case[there][together[talks.document[there]]]] = True
        return found

    @property
    def heard_each_other(self) -> int:
        """How many they are."""
        return int(self.who_heard.sum())

    @property
    def small_groups(self) -> list[int]:
        """Groups of fewer than five people: each deserves a caution in words."""
        return [group for group, size in enumerate(self.group_people) if size < SMALL_GROUP]


def _residuals(counted: Tally, layers: int) -> Floats:
    wide = counted.people.shape[1] // layers
    blocks = [slice(layer * wide, (layer + 1) * wide) for layer in range(layers)]
    return np.concatenate(
        [association.adjusted_residuals(counted.people[:, one], counted.group_people[one]) for one in blocks], axis=1
    )
