"""What is tested between two groups, row by row, for any arrangement of labels: the statistics that step-down compares."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
import numpy.typing as npt
from scipy.special import betainc, chdtrc

from core.statistics.dealing import Exchange, Labels, Reorder
from core.statistics.exact import fisher_table
from core.statistics.stepdown import StepDown, step_down

Floats = npt.NDArray[np.float64]
Singles = npt.NDArray[np.float32]
Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]
BLOCK = 100
"""Rows compared at once."""
PRIOR = 1.0
"""How many people's worth of the spread of all is mixed into each group's own: a group of three alike isn't certain."""


class Pairwise(Protocol):
    """Differences between pairs of groups. ``of`` gives, for each arrangement of labels (arrangements, people), the
    statistics of (rows × pairs, arrangements), larger is more extreme, NaN where there is none."""

    def of(self, labels: Labels) -> Singles: ...


def adjusted(pairwise: Pairwise, exchange: Exchange | Reorder, shuffles: int, seed: int) -> StepDown:
    """Test all pairs of all rows together."""
    observed = pairwise.of(exchange.labels[None, :])[:, 0]

    def shuffled(followed: Ints) -> Iterator[tuple[Singles, Singles]]:
        for labels in exchange.dealt(shuffles, seed):
            found = pairwise.of(labels)
            own = found[followed]
            own[np.isnan(own)] = -np.inf
            found[followed] = -np.inf
            # ``fmax`` passes over NaN, where there is no statistic.
            yield own, np.fmax.reduce(found, axis=0, initial=-np.inf)

    return step_down(observed, shuffled)


@dataclass(frozen=True)
class Shares:
    """Two groups' shares of people, by Fisher's exact p (minP). ``says`` (rows, people); ``sizes`` (groups,), as many
    labels of each in every arrangement; ``pairs`` of groups."""

    says: Bools
    sizes: Ints
    pairs: tuple[tuple[int, int], ...]

    @cached_property
    def _tables(self) -> list[Singles]:
        """−p of every outcome of each pair, flat."""
        return [
            np.negative(fisher_table(int(self.sizes[a]), int(self.sizes[b]))).astype(np.float32).ravel()
            for a, b in self.pairs
        ]

    def counts(self, labels: Labels) -> list[npt.NDArray[np.int32]]:
        """Mentions of each group, groups times (rows, arrangements)."""
        return [np.rint(one).astype(np.int32) for one in sums(self.says.astype(np.float32), labels, len(self.sizes))]

    def of(self, labels: Labels) -> Singles:
        counts = self.counts(labels)
        found = np.empty((len(self.says), len(self.pairs), len(labels)), np.float32)
        for place, (a, b) in enumerate(self.pairs):
            outcome = counts[a] * np.int32(self.sizes[b] + 1) + counts[b]
            np.take(self._tables[place], outcome, out=found[:, place], mode="clip")
        return found.reshape(-1, len(labels))

    def clear(self, labels: Labels, leaves_out: list[Bools]) -> float:
        """How many (row, pair) of an arrangement are clear, on average; ``leaves_out`` says of every outcome of a pair,
        flat, whether its interval leaves 0 out."""
        counts, found = self.counts(labels), 0
        for place, (a, b) in enumerate(self.pairs):
            found += int(leaves_out[place][counts[a] * (int(self.sizes[b]) + 1) + counts[b]].sum())
        return found / len(labels)


def sums(values: Singles, labels: Labels, groups: int) -> list[Singles]:
    """Sum of ``values`` (rows, people) over each group's people, groups times (rows, arrangements); the last group's
    follows from the total. One product of large matrices: many small ones take longer."""
    size = len(labels)
    rest = np.repeat(values.sum(axis=1)[:, None], size, axis=1)
    if groups == 1:
        return [rest]
    members = np.concatenate([labels == group for group in range(groups - 1)]).astype(np.float32)
    every = values @ members.T
    found = [every[:, group * size : (group + 1) * size] for group in range(groups - 1)]
    for one in found:
        rest -= one
    return [*found, rest]


def in_blocks(rows: int) -> Iterator[slice]:
    """Rows a block at a time: what is worked out between two passes stays in the processor's cache."""
    return (slice(start, start + BLOCK) for start in range(0, rows, BLOCK))


@dataclass(frozen=True)
class Stratum:
    """Where a pair of groups stands in one layer, and how much it weighs."""

    first: int
    second: int
    weight: float


def studentised(
    figures: list[Singles], variances: list[Singles], even: Bools, pairs: list[list[Stratum]], found: Singles
) -> None:
    """Write each pair's difference over its deviation, weighted over layers, into ``found`` (rows, pairs, arrangements);
    NaN where no layer has both. ``figures`` and ``variances`` by group, (rows, arrangements) each; ``even`` (rows,) where
    nobody adds anything beyond the rate of all: there nothing differs."""
    gap, variance, step = (np.empty(found.shape[::2], np.float32) for _ in range(3))
    with np.errstate(invalid="ignore", divide="ignore"):
        for place, strata in enumerate(pairs):
            gap[:], variance[:] = (0, 0) if strata else (np.nan, np.nan)
            for one in strata:
                np.subtract(figures[one.first], figures[one.second], out=step)
                gap += np.multiply(step, np.float32(one.weight), out=step)
                np.add(variances[one.first], variances[one.second], out=step)
                variance += np.multiply(step, np.float32(one.weight**2), out=step)
            gap[even] *= 0
            variance[even] = 1
            np.divide(np.abs(gap, out=gap), np.sqrt(variance, out=variance), out=found[:, place])


@dataclass(frozen=True)
class LayeredShares:
    """Two groups' shares within layers, by Mantel & Haenszel's test. ``sizes`` (layers, groups); labels run layer by
    layer: layer × groups + group."""

    says: Bools
    sizes: Ints
    pairs: tuple[tuple[int, int], ...]

    def of(self, labels: Labels) -> Singles:
        layers, groups = self.sizes.shape
        counts = sums(self.says.astype(np.float32), labels, layers * groups)
        found = np.full((len(self.says), len(self.pairs), len(labels)), np.nan, np.float32)
        for place, (a, b) in enumerate(self.pairs):
            moved, variance = np.zeros_like(counts[0]), np.zeros_like(counts[0])
            for layer in range(layers):
                first, second = float(self.sizes[layer, a]), float(self.sizes[layer, b])
                people = first + second
                if not first or not second:
                    continue
                one = counts[layer * groups + a]
                mentions = one + counts[layer * groups + b]
                moved += one - mentions * np.float32(first / people)
                variance += mentions * (people - mentions) * np.float32(first * second / people**2 / (people - 1))
            with np.errstate(invalid="ignore", divide="ignore"):
                found[:, place] = np.where(variance > 1e-6, moved**2 / variance, 0)
        # As −p, so that rows compare as they do without layers.
        return np.negative(chdtrc(1, found)).reshape(-1, len(labels)).astype(np.float32)


@dataclass(frozen=True)
class Ratios:
    """Differences of two groups' means or rates, studentised (maxT). ``amount`` (rows, people) over ``over`` (people,) or
    (rows, people); ``sizes`` (layers, groups) as in ``LayeredShares`` (one layer where none are held apart)."""

    amount: Singles
    over: Singles
    sizes: Ints
    pairs: tuple[tuple[int, int], ...]

    @cached_property
    def _even(self) -> bool:
        """Whether everybody counts once."""
        return self.over.ndim == 1 and bool((self.over == 1).all())

    @cached_property
    def _exposure(self) -> Singles:
        return np.atleast_2d(self.over).astype(np.float32)

    @cached_property
    def _moments(self) -> tuple[Singles, list[slice]]:
        """What is summed over groups, one under the other, and where each is: amounts, their squares, exposures, and
        where these are uneven, products with the exposure and its squares."""
        x, e = self.amount, self._exposure
        parts = [x, x * x, e] if self._even else [x, x * x, e, x * e, e * e]
        ends = np.cumsum([len(part) for part in parts]).tolist()
        return np.concatenate(parts), [slice(end - len(part), end) for part, end in zip(parts, ends, strict=True)]

    @cached_property
    def _spread(self) -> Singles:
        """Variance of what one person adds beyond the rate of all, (rows, 1)."""
        x, e = self.amount.astype(float), self._exposure.astype(float)
        rate = x.sum(axis=1, keepdims=True) / np.maximum(e.sum(axis=1, keepdims=True), 1e-12)
        left = x - rate * e
        return (left**2).sum(axis=1, keepdims=True).astype(np.float32) / max(x.shape[1] - 1, 1)

    @cached_property
    def _strata(self) -> list[list[Stratum]]:
        """Layers that have both groups of a pair, weighted as Mantel & Haenszel weigh them."""
        groups, layered = self.sizes.shape[1], len(self.sizes) > 1
        return [
            [
                Stratum(
                    layer * groups + a,
                    layer * groups + b,
                    sizes[a] * sizes[b] / (sizes[a] + sizes[b]) if layered else 1,
                )
                for layer, sizes in enumerate(self.sizes.tolist())
                if sizes[a] and sizes[b]
            ]
            for a, b in self.pairs
        ]

    def of(self, labels: Labels) -> Singles:
        found = np.empty((len(self.amount), len(self.pairs), len(labels)), np.float32)
        moments, at = self._moments
        summed = sums(moments, labels, self.sizes.size)
        moments_of = [[one[part] for part in at] for one in summed]
        for some in in_blocks(len(found)):
            self._compare(moments_of, some, found[some])
        return found.reshape(-1, len(labels))

    def _compare(self, summed: list[list[Singles]], some: slice, found: Singles) -> None:
        """For some of the rows, with the moments of each group."""
        rates, variances, spread = [], [], self._spread[some]
        for size, moments in zip(self.sizes.ravel().tolist(), summed, strict=True):
            amount, squared, over, *uneven = (one if len(one) == 1 else one[some] for one in moments)
            with np.errstate(invalid="ignore", divide="ignore"):
                rate = np.where(over > 0, amount / over, np.nan).astype(np.float32)
                both, over2 = uneven or (amount, over)
                left = np.maximum(squared - rate * (2 * both - rate * over2), 0)
                own = (left + np.float32(PRIOR) * spread) / np.float32(max(size - 1, 0) + PRIOR)
                variances.append(own * np.float32(size) / over**2)
            rates.append(rate)
        studentised(rates, variances, ~(spread[:, 0] > 0), self._strata, found)


@dataclass(frozen=True)
class Parts:
    """Differences of two groups' shares of one total (of a row's passages, of the table's), studentised: it is the share
    that is compared, however many people a group has. ``amount`` (rows, people); ``sizes`` as in ``Ratios``."""

    amount: Singles
    sizes: Ints
    pairs: tuple[tuple[int, int], ...]

    @cached_property
    def _spread(self) -> Singles:
        return (
            self.amount.astype(float).var(axis=1, ddof=1 if self.amount.shape[1] > 1 else 0)[:, None].astype(np.float32)
        )

    @cached_property
    def _strata(self) -> list[list[Stratum]]:
        """Every layer's amounts, added up."""
        layers, groups = self.sizes.shape
        return [[Stratum(layer * groups + a, layer * groups + b, 1) for layer in range(layers)] for a, b in self.pairs]

    def of(self, labels: Labels) -> Singles:
        found = np.empty((len(self.amount), len(self.pairs), len(labels)), np.float32)
        amount = sums(np.concatenate([self.amount, self.amount * self.amount]), labels, self.sizes.size)
        moments = [np.split(one, 2) for one in amount]
        for some in in_blocks(len(found)):
            self._compare(moments, some, found[some])
        return found.reshape(-1, len(labels))

    def _compare(self, summed: list[list[Singles]], some: slice, found: Singles) -> None:
        """For some of the rows, with each group's amounts and their squares."""
        variances, spread = [], self._spread[some]
        for size, (amount, squared) in zip(self.sizes.ravel().tolist(), summed, strict=True):
            left = np.maximum(squared[some] - amount[some] ** 2 / max(size, 1), 0)
            own = (left + np.float32(PRIOR) * spread) / np.float32(max(size - 1, 0) + PRIOR)
            variances.append(own * np.float32(size))
        studentised([amount[some] for amount, _ in summed], variances, ~(spread[:, 0] > 0), self._strata, found)


@dataclass(frozen=True)
class Occasions:
    """Two occasions' shares of the same people, by McNemar's exact p (minP). ``says`` (rows, people, occasions). Here a
    label is a number of the order in which a person's occasions are dealt, of ``orders``."""

    says: Bools
    pairs: tuple[tuple[int, int], ...]
    orders: tuple[tuple[int, ...], ...]

    def of(self, labels: Labels) -> Singles:
        rows, _, occasions = self.says.shape
        placed = np.array(self.orders, np.int16)[labels]
        found = np.empty((rows, len(self.pairs), len(labels)), np.float32)
        for place, (a, b) in enumerate(self.pairs):
            only_first, only_second = (np.zeros((rows, len(labels)), np.float32) for _ in range(2))
            for one in range(occasions):
                for other in range(occasions):
                    if one == other:
                        continue
                    dealt = ((placed[:, :, a] == one) & (placed[:, :, b] == other)).astype(np.float32).T
                    only_first += (self.says[:, :, one] & ~self.says[:, :, other]).astype(np.float32) @ dealt
                    only_second += (~self.says[:, :, one] & self.says[:, :, other]).astype(np.float32) @ dealt
            changed, fewer = only_first + only_second, np.minimum(only_first, only_second)
            tail = betainc(np.maximum(changed - fewer, 1), fewer + 1, 0.5)
            found[:, place] = -np.where(changed > 0, np.minimum(2 * tail, 1), 1)
        return found.reshape(-1, len(labels))
