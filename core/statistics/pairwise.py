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
        return [
            np.rint(one).astype(np.int32)
            for one in sums(self.says.astype(np.float32), members_of(labels, len(self.sizes)))
        ]

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


def members_of(labels: Labels, groups: int) -> list[Singles]:
    """Who is in each group but the last, (people, arrangements) of 0 and 1 each."""
    return [(labels == group).astype(np.float32).T for group in range(groups - 1)]


def sums(values: Singles, members: list[Singles]) -> list[Singles]:
    """Sum of ``values`` (rows, people) over each group's people, groups times (rows, arrangements); the last group's
    follows from the total."""
    found = [values @ member for member in members]
    rest = np.broadcast_to(values.sum(axis=1)[:, None], (len(values), members[0].shape[1] if members else 1)).copy()
    for one in found:
        rest -= one
    return [*found, rest]


@dataclass(frozen=True)
class LayeredShares:
    """Two groups' shares within layers, by Mantel & Haenszel's test. ``sizes`` (layers, groups); labels run layer by
    layer: layer × groups + group."""

    says: Bools
    sizes: Ints
    pairs: tuple[tuple[int, int], ...]

    def of(self, labels: Labels) -> Singles:
        layers, groups = self.sizes.shape
        counts = sums(self.says.astype(np.float32), members_of(labels, layers * groups))
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
    def _squared(self) -> Singles:
        return self.amount * self.amount

    @cached_property
    def _product(self) -> Singles:
        return self.amount * self._exposure

    @cached_property
    def _spread(self) -> Singles:
        """Variance of what one person adds beyond the rate of all, (rows, 1)."""
        x, e = self.amount.astype(float), self._exposure.astype(float)
        rate = x.sum(axis=1, keepdims=True) / np.maximum(e.sum(axis=1, keepdims=True), 1e-12)
        left = x - rate * e
        return (left**2).sum(axis=1, keepdims=True).astype(np.float32) / max(x.shape[1] - 1, 1)

    def of(self, labels: Labels) -> Singles:
        layers, groups = self.sizes.shape
        members, x, e = members_of(labels, layers * groups), self.amount, self._exposure
        amount, squared, over = (sums(part, members) for part in (x, self._squared, e))
        both = amount if self._even else sums(self._product, members)
        over2 = over if self._even else sums(e * e, members)
        rates, variances = [], []
        for group, size in enumerate(self.sizes.ravel().tolist()):
            with np.errstate(invalid="ignore", divide="ignore"):
                rate = np.where(over[group] > 0, amount[group] / over[group], np.nan).astype(np.float32)
                left = np.maximum(squared[group] - rate * (2 * both[group] - rate * over2[group]), 0)
                own = (left + np.float32(PRIOR) * self._spread) / np.float32(max(size - 1, 0) + PRIOR)
                variances.append(own * np.float32(size) / over[group] ** 2)
            rates.append(rate)
        if layers == 1:
            return self._apart(rates, variances, len(labels))
        return self._differences(rates, variances, len(labels))

    def _apart(self, rates: list[Singles], variances: list[Singles], size: int) -> Singles:
        """Without layers there is nothing to weigh, and what is in between is written over: a quarter of the time less."""
        found = np.zeros((len(self.amount), len(self.pairs), size), np.float32)
        gap, deviation = np.empty(rates[0].shape, np.float32), np.empty(rates[0].shape, np.float32)
        sizes, even = self.sizes[0], ~(self._spread[:, 0] > 0)
        for place, (a, b) in enumerate(self.pairs):
            if not sizes[a] or not sizes[b]:
                continue
            np.abs(np.subtract(rates[a], rates[b], out=gap), out=gap)
            np.sqrt(np.add(variances[a], variances[b], out=deviation), out=deviation)
            with np.errstate(invalid="ignore", divide="ignore"):
                np.divide(gap, deviation, out=found[:, place])
            # Where nobody adds anything beyond the rate of all, nothing differs.
            found[even, place] = 0 * gap[even]
        return found.reshape(-1, size)

    def _differences(self, rates: list[Singles], variances: list[Singles], size: int) -> Singles:
        groups = self.sizes.shape[1]
        found = np.empty((len(self.amount), len(self.pairs), size), np.float32)
        for place, (a, b) in enumerate(self.pairs):
            gap, variance = np.zeros(rates[0].shape, np.float32), np.zeros(rates[0].shape, np.float32)
            for layer, (first, second) in enumerate(zip(self.sizes[:, a], self.sizes[:, b], strict=True)):
                if not first or not second:
                    continue
                weight = np.float32(first * second / (first + second))
                one, other = layer * groups + a, layer * groups + b
                gap += weight * (rates[one] - rates[other])
                variance += weight**2 * (variances[one] + variances[other])
            with np.errstate(invalid="ignore", divide="ignore"):
                found[:, place] = np.where(variance > 0, np.abs(gap) / np.sqrt(variance), 0 * gap)
        return found.reshape(-1, size)


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

    def of(self, labels: Labels) -> Singles:
        layers, groups = self.sizes.shape
        members = members_of(labels, layers * groups)
        amount, squared = (sums(part, members) for part in (self.amount, self.amount * self.amount))
        variances = []
        for group, size in enumerate(self.sizes.ravel().tolist()):
            left = np.maximum(squared[group] - amount[group] ** 2 / max(size, 1), 0)
            own = (left + np.float32(PRIOR) * self._spread) / np.float32(max(size - 1, 0) + PRIOR)
            variances.append(own * np.float32(size))
        found = np.empty((len(self.amount), len(self.pairs), len(labels)), np.float32)
        for place, (a, b) in enumerate(self.pairs):
            at = [(layer * groups + a, layer * groups + b) for layer in range(layers)]
            gap = sum(amount[one] - amount[other] for one, other in at)
            variance = sum(variances[one] + variances[other] for one, other in at)
            with np.errstate(invalid="ignore", divide="ignore"):
                found[:, place] = np.where(variance > 0, np.abs(gap) / np.sqrt(variance), 0)
        return found.reshape(-1, len(labels))


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
