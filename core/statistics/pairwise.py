"""What is tested between two groups, row by row, for any arrangement of labels: the statistics that step-down compares."""

from collections.abc import Iterator
from itertools import permutations
from typing import Protocol

import numpy as np
import numpy.typing as npt
from scipy.special import betainc

from core.statistics.dealing import Exchange, Reorder
from core.statistics.exact import fisher_table
from core.statistics.stepdown import StepDown, step_down
from core.statistics.sums import Labels, Room, Singles, Sums, at_once

Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]
Pairs = tuple[tuple[int, int], ...]


class Pairwise(Protocol):
    """Differences between ``pairs`` of groups. ``of`` gives, for each arrangement of labels (arrangements, people), the
    statistics (pairs, arrangements, rows), until asked again: larger is more extreme, NaN where there is none."""

    @property
    def numbers(self) -> int:
        """Held for one arrangement."""
        ...

    def of(self, labels: Labels) -> Singles: ...


def adjusted(pairwise: Pairwise, exchange: Exchange | Reorder, shuffles: int, seed: int) -> StepDown:
    """Test all pairs of all rows together: hypotheses run row by row, pair by pair."""
    observed = pairwise.of(exchange.labels[None, :])[:, 0].T
    pairs, flat = observed.shape[1], observed.ravel().copy()

    def shuffled(followed: Ints) -> Iterator[tuple[Singles, Singles]]:
        row, pair = np.divmod(followed, pairs)
        for labels in exchange.dealt(shuffles, seed, at_once(pairwise.numbers)):
            found = pairwise.of(labels)
            own = found[pair, :, row]
            own[np.isnan(own)] = -np.inf
            found[pair, :, row] = -np.inf
            # ``fmax`` passes over NaN, where there is no statistic.
            yield own, np.fmax.reduce(np.fmax.reduce(found, axis=0), axis=1, initial=-np.inf)

    return step_down(flat, shuffled)


class Shares:
    """Two groups' shares of people, by Fisher's exact p (minP). ``says`` (rows, people); ``sizes`` (groups,), as many
    labels of each in every arrangement. Not to be shared between threads."""

    def __init__(self, says: Bools, sizes: Ints, pairs: Pairs) -> None:
        self.sizes, self.pairs = sizes, pairs
        self._sums, self._room = Sums(says, len(sizes)), Room()
        # −p of every outcome of each pair, flat.
        self._tables = [
            np.negative(fisher_table(int(sizes[a]), int(sizes[b]))).astype(np.float32).ravel() for a, b in pairs
        ]

    @property
    def numbers(self) -> int:
        return self._sums.numbers + self._sums.values.shape[1] * (len(self.sizes) + len(self.pairs))

    def of(self, labels: Labels) -> Singles:
        found = self._room.singles("found", len(self.pairs), len(labels), self._sums.values.shape[1])
        for place, outcome in enumerate(self._outcomes(labels)):
            np.take(self._tables[place], outcome, out=found[place], mode="clip")
        return found

    def clear(self, labels: Labels, leaves_out: list[Bools]) -> float:
        """How many (row, pair) of an arrangement are clear, on average; ``leaves_out`` says of every outcome of a pair,
        flat, whether its interval leaves 0 out."""
        outcomes = enumerate(self._outcomes(labels))
        return sum(int(leaves_out[place][outcome].sum()) for place, outcome in outcomes) / len(labels)

    def _outcomes(self, labels: Labels) -> Iterator[npt.NDArray[np.int32]]:
        """Which outcome of each pair's table comes up, (arrangements, rows), until the next pair's."""
        summed = self._sums.of(labels)
        counts = self._room.counts("counts", *summed.shape)
        # Sums of noughts and ones are whole numbers.
        np.copyto(counts, summed, casting="unsafe")
        outcome = self._room.counts("outcome", *summed.shape[1:])
        for a, b in self.pairs:
            np.multiply(counts[a], np.int32(self.sizes[b] + 1), out=outcome)
            outcome += counts[b]
            yield outcome


class LayeredShares:
    """Two groups' shares within layers, by Mantel & Haenszel's statistic: of one degree of freedom for every pair, so that
    rows compare by it as by its p. ``says`` (rows, people); ``sizes`` (layers, groups); labels run layer by layer:
    layer × groups + group. Not to be shared between threads."""

    def __init__(self, says: Bools, sizes: Ints, pairs: Pairs) -> None:
        self.sizes, self.pairs = sizes, pairs
        self._sums, self._room = Sums(says, sizes.size), Room()

    @property
    def numbers(self) -> int:
        return self._sums.numbers + self._sums.values.shape[1] * len(self.pairs)

    def of(self, labels: Labels) -> Singles:
        counts = self._sums.of(labels)
        found = self._room.singles("found", len(self.pairs), *counts.shape[1:])
        for place, (a, b) in enumerate(self.pairs):
            self._one_pair(counts, a, b, found[place])
        return found

    def _one_pair(self, counts: Singles, a: int, b: int, found: Singles) -> None:
        groups = self.sizes.shape[1]
        moved, variance = np.zeros_like(found), np.zeros_like(found)
        for layer, sizes in enumerate(self.sizes.tolist()):
            first, second = sizes[a], sizes[b]
            people = first + second
            if not first or not second:
                continue
            one = counts[layer * groups + a]
            mentions = one + counts[layer * groups + b]
            moved += one - mentions * np.float32(first / people)
            variance += mentions * (people - mentions) * np.float32(first * second / people**2 / (people - 1))
        with np.errstate(invalid="ignore", divide="ignore"):
            found[:] = np.where(variance > 1e-6, moved**2 / variance, 0)


class Occasions:
    """Two occasions' shares of the same people, by McNemar's exact p (minP). ``says`` (rows, people, occasions). Here a
    label is a number of the order in which a person's occasions are dealt, of ``orders``."""

    def __init__(self, says: Bools, pairs: Pairs, orders: tuple[tuple[int, ...], ...]) -> None:
        self.says, self.pairs, self._orders = says, pairs, np.array(orders, np.int16)

    @property
    def numbers(self) -> int:
        rows, people, occasions = self.says.shape
        return people * occasions + rows * (len(self.pairs) + 4)

    def of(self, labels: Labels) -> Singles:
        placed = self._orders[labels]
        return np.stack([self._one_pair(placed[:, :, a], placed[:, :, b]) for a, b in self.pairs])

    def _one_pair(self, first: Labels, second: Labels) -> Singles:
        """``first`` and ``second`` (arrangements, people) say which occasion stands in each place."""
        rows, _, occasions = self.says.shape
        only_first, only_second = (np.zeros((len(first), rows), np.float32) for _ in range(2))
        for one, other in permutations(range(occasions), 2):
            dealt = ((first == one) & (second == other)).astype(np.float32)
            only_first += dealt @ (self.says[:, :, one] & ~self.says[:, :, other]).astype(np.float32).T
            only_second += dealt @ (~self.says[:, :, one] & self.says[:, :, other]).astype(np.float32).T
        changed, fewer = only_first + only_second, np.minimum(only_first, only_second)
        tail = betainc(np.maximum(changed - fewer, 1), fewer + 1, 0.5)
        return -np.where(changed > 0, np.minimum(2 * tail, 1), 1).astype(np.float32)
