"""One rule for *sure*: all rows × pairs of groups that are shown are one family, tested by dealing labels out anew.

*Sure*: adjusted p ≤ .05 (Westfall & Young's step-down). *Worth a look*: the pair's own interval leaves 0 out, but it isn't
sure. Anything else isn't told. Source: docs/methods.md, *One rule for sure*.
"""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import combinations

import numpy as np
import numpy.typing as npt

from core.compare import exchanged, tests
from core.compare.result import Result
from core.statistics import intervals, layers
from core.statistics.pairwise import LayeredShares, Occasions, Pairwise, Shares, adjusted
from core.statistics.stepdown import LEVEL, StepDown
from core.statistics.studentised import ratios, shares_of_total

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]
Counts = npt.NDArray[np.int64]
Interval = tuple[Floats, Floats, Floats]
SHUFFLES = 10_000
_FOR_CHANCE = 1_000
"""Arrangements from which is counted how many intervals leave 0 out by chance."""
MOST_ORDERS = 4
"""Occasions up to which the same people's orders are dealt anew; beyond, there are too many to hold."""
MOST_TESTED = 60_000
"""Rows × pairs of one family at most."""


@dataclass(frozen=True, eq=False)
class Family:
    """Every row × pair of groups, (rows, pairs); of layered groups, pairs within layers. The first of a pair minus the
    second. ``shuffles`` are made at most."""

    result: Result
    shuffles: int = SHUFFLES

    @cached_property
    def pairs(self) -> tuple[tuple[int, int], ...]:
        return tuple(combinations(range(self.result.asked.groups.count // self.result.asked.layers), 2))

    @property
    def shape(self) -> tuple[int, int]:
        return len(self.result.asked.rows), len(self.pairs)

    @cached_property
    def why_not(self) -> str:
        """Why nothing is tested: ``one_group``, ``no_rows``, ``shared`` (people in several groups, not all in all of
        them), ``single`` (each group one person), ``too_many``, ``few_arrangements``; "" where it is."""
        result, groups = self.result, self.result.asked.groups
        if not self.pairs or not result.asked.rows:
            return "no_rows" if self.pairs else "one_group"
        if result.everyone and result.group_people.max() == 1 and not result.shared_people:
            return "single"
        if len(result.asked.rows) * len(self.pairs) > MOST_TESTED:
            return "too_many"
        if result.counted.case_group is None and not (
            result.of_people and tests.is_panel(groups, result.asked.layers) and groups.count <= MOST_ORDERS
        ):
            return "shared"
        found = self._exchange
        if found is None or not len(found.people):
            return "nobody"
        return "few_arrangements" if found.exchange.too_few(LEVEL) else ""

    @cached_property
    def _exchange(self) -> exchanged.Exchanged | exchanged.Reordered | None:
        result = self.result
        if result.counted.case_group is None:
            return exchanged.reordered(result.snapshot, result.scope, result.counted)
        return result.exchanged

    @property
    def together(self) -> int:
        """How many people are dealt in one block with others they spoke with."""
        return self._exchange.together if self._exchange else 0

    @property
    def sets(self) -> int:
        """Families of rows with people of their own, that are tested apart."""
        return 1

    @property
    def paired(self) -> bool:
        """Whether the same people are compared with themselves."""
        return self.result.counted.case_group is None

    @cached_property
    def _sizes(self) -> Counts:
        """People by layer and group, (layers, groups)."""
        return self.result.group_people.reshape(self.result.asked.layers, -1)

    def _statistics(self) -> Pairwise:
        """Made anew for each computation: what it writes in isn't to be shared between threads."""
        result, made, found = self.result, self.result.made, self._exchange
        assert found is not None
        if isinstance(found, exchanged.Reordered):
            says = tests.mentions_on_all_occasions(result.counted).transpose(0, 2, 1)
            return Occasions(np.ascontiguousarray(says), self.pairs, found.orders)
        amount = made.by_case[:, found.people]
        if made.compared == "shares":
            if result.asked.layers > 1:
                return LayeredShares(amount > 0, self._sizes, self.pairs)
            return Shares(amount > 0, self._sizes[0], self.pairs)
        if made.compared == "parts":
            return shares_of_total(amount, self._sizes, self.pairs)
        return ratios(amount, made.exposure[..., found.people], found.exchange.strata, self._sizes, self.pairs)

    @cached_property
    def _tested(self) -> StepDown:
        if self.why_not:
            return StepDown(np.full(self.shape[0] * self.shape[1], np.nan), 0)
        assert self._exchange is not None
        return adjusted(self._statistics(), self._exchange.exchange, self.shuffles, self.result.asked.seed)

    @property
    def made(self) -> int:
        """How many shuffles were made: fewer where nothing can be sure any more."""
        return self._tested.shuffles

    @cached_property
    def p(self) -> Floats:
        """Adjusted over the family; NaN where nothing is tested."""
        p = self._tested.p.reshape(self.shape).copy()
        p[~np.isfinite(self.difference)] = np.nan
        return p

    @cached_property
    def sure(self) -> Bools:
        return np.nan_to_num(self.p, nan=1.0) <= LEVEL

    @cached_property
    def look(self) -> Bools:
        """Worth a look: the interval leaves 0 out, but it isn't sure."""
        _, low, high = self._plain
        return ((low > 0) | (high < 0)) & ~self.sure

    @cached_property
    def looked_at(self) -> int:
        """How many pairs have a figure on both sides: what was looked at."""
        return int(np.isfinite(self.difference).sum())

    @cached_property
    def by_chance(self) -> float:
        """How many intervals would leave 0 out if nothing differed at all: counted over arrangements for shares of people,
        else by the intervals' own level."""
        _, low, _ = self._plain
        with_interval = int((~np.isnan(low)).sum())
        statistics = None if self.why_not else self._statistics()
        if not isinstance(statistics, Shares):
            return with_interval * LEVEL
        assert isinstance(self._exchange, exchanged.Exchanged)
        leaves_out = [_leaves_out(int(self._sizes[0, a]), int(self._sizes[0, b])) for a, b in self.pairs]
        batches = [
            statistics.clear(labels, leaves_out)
            for labels in self._exchange.exchange.dealt(_FOR_CHANCE, self.result.asked.seed)
        ]
        return float(np.mean(batches))

    @property
    def difference(self) -> Floats:
        """First figure of each pair minus the second (a share, mean or rate); over layers, weighted by people."""
        return self._plain[0]

    @cached_property
    def _plain(self) -> Interval:
        return self.interval(1 - LEVEL)

    def interval(self, level: float) -> Interval:
        """Difference, low and high at a level, (rows, pairs); NaN where no interval covers."""
        found = [self._of_pair(a, b, level) for a, b in self.pairs]
        if not found:
            none = np.zeros(self.shape)
            return none, none, none
        return tuple(np.stack(part, axis=1) for part in zip(*found, strict=True))  # type: ignore[return-value]

    def _of_pair(self, a: int, b: int, level: float) -> Interval:
        result, made = self.result, self.result.made
        if self.paired:
            return self._of_the_same(a, b, level)
        if result.asked.layers > 1:
            return self._within_layers(a, b, level)
        figure = result.figure
        gap, none = figure[:, a] - figure[:, b], np.full(len(figure), np.nan)
        if made.compared == "shares":
            count, base = result.count, result.base
            return intervals.newcombe_difference(count[:, a], base[:, a], count[:, b], base[:, b], level)
        if made.compared == "parts":
            # A group of nobody has no part to compare, though its part would read 0.
            there = result.group_people[a] > 0 and result.group_people[b] > 0
            return (gap if there else none), none, none
        low, high = self._figures_at(level)
        return gap, *intervals.recovered_difference(
            figure[:, a], low[:, a], high[:, a], figure[:, b], low[:, b], high[:, b]
        )

    def _figures_at(self, level: float) -> tuple[Floats, Floats]:
        return self.result.interval if level == 1 - LEVEL else self.result.interval_at(level)

    def _of_the_same(self, a: int, b: int, level: float) -> Interval:
        """Those in both, with themselves: the interval of how many of those who changed did so one way, exact, as a
        difference of shares."""
        counted, none = self.result.counted, np.full(self.shape[0], np.nan)
        there = counted.base[:, a] & counted.base[:, b]
        if counted.said is None or not there.any():
            return none, none, none
        one, other = counted.said[:, a][:, there] > 0, counted.said[:, b][:, there] > 0
        up, down = (one & ~other).sum(axis=1), (~one & other).sum(axis=1)
        changed = (up + down) / there.sum()
        low, high = intervals.clopper_pearson(up, up + down, level)
        return (up - down) / there.sum(), changed * (2 * low - 1), changed * (2 * high - 1)

    def _within_layers(self, a: int, b: int, level: float) -> Interval:
        """Weighted over layers. Of people, the ends are those of the logarithm of the common odds ratio: they leave 0 out
        where the ratio's interval leaves 1 out."""
        result, groups = self.result, len(self._sizes[0])
        at = np.arange(result.asked.layers) * groups
        sizes = self._sizes[:, [a, b]]
        weight = np.where(sizes.min(axis=1) > 0, sizes.prod(axis=1) / np.maximum(sizes.sum(axis=1), 1), 0.0)
        gaps = np.nan_to_num(result.figure[:, at + a] - result.figure[:, at + b])
        total = weight.sum()
        gap = (gaps * weight).sum(axis=1) / total if total else np.full(len(gaps), np.nan)
        none = np.full(len(gaps), np.nan)
        if result.made.compared != "shares":
            return gap, none, none
        says = np.stack([result.count[:, at + a], result.count[:, at + b]], axis=2)
        odds = layers.common_odds_ratio(says, sizes, level)
        with np.errstate(divide="ignore"):
            return gap, np.log(odds.low), np.log(odds.high)


@lru_cache(maxsize=2048)
def _leaves_out(first: int, second: int) -> Bools:
    """Of two groups of these sizes, whether the interval of the difference leaves 0 out, for each pair of counts."""
    one, other = np.arange(first + 1)[:, None], np.arange(second + 1)[None, :]
    _, least, most = intervals.newcombe_difference(one, first, other, second)
    found = ((least > 0) | (most < 0)).ravel()
    found.flags.writeable = False
    return found


def widened(told: int, looked_at: int) -> float:
    """The level of intervals of what was picked to be told: so that of all that are told, one in twenty at most doesn't
    cover. Source: Benjamini & Yekutieli 2005, *JASA* 100 (false coverage rate), definition 1."""
    return 1 - LEVEL * min(told, looked_at) / max(looked_at, 1)
