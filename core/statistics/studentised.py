"""Differences of two groups' means, rates or parts of a total, each over its own error, for any arrangement of labels."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.statistics.sums import Labels, Room, Singles, Sums

Floats = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int64]
PRIOR = 1.0
"""How many people's worth of the spread of all is mixed into each group's own: a group of three alike isn't certain."""
_NOTHING = 1e-6
"""An exposure that is no more than this of everybody's is what rounding left of none."""


@dataclass(frozen=True)
class Stratum:
    """Where a pair of groups stands in one layer, and how much it weighs."""

    first: int
    second: int
    weight: float


class Studentised:
    """The square of each pair's difference over its variance, weighted over layers (maxT). Not to be shared between threads.

    ``parts`` (rows, people) is what each person adds; ``exposure`` (1 or rows, people) what a group's sum is taken over,
    None where it is taken as it stands; ``sizes`` (layers, groups), labels run layer by layer: layer × groups + group;
    ``strata`` the layers of each pair. A group's variance is that of its people's parts, with ``PRIOR`` people's worth of
    everybody's mixed in.
    """

    def __init__(self, parts: Floats, exposure: Floats | None, sizes: Ints, strata: list[list[Stratum]]) -> None:
        self.rows, self.strata = len(parts), strata
        self._sizes = sizes.ravel().tolist()
        spread = ((parts - parts.mean(axis=1, keepdims=True)) ** 2).sum(axis=1) / max(parts.shape[1] - 1, 1)
        # Where everybody adds the same, nothing differs: 0 over anything.
        self._spread = np.where(spread > 0, PRIOR * spread, 1).astype(np.float32)
        parts = np.where(spread[:, None] > 0, parts, 0)
        held = [parts, parts**2] if exposure is None else [parts, parts**2, exposure]
        self._sums = Sums(np.concatenate(held), sizes.size)
        self._none = None if exposure is None else (exposure.sum(axis=1) * _NOTHING).astype(np.float32)
        self._room = Room()

    @property
    def numbers(self) -> int:
        """Held for one arrangement."""
        return self._sums.numbers + self.rows * (2 * self._sums.groups + len(self.strata))

    def of(self, labels: Labels) -> Singles:
        """(pairs, arrangements, rows), NaN where no layer has both; until asked again."""
        shape = len(labels), self.rows
        figures = self._room.singles("figures", len(self._sizes), *shape)
        variances = self._room.singles("variances", len(self._sizes), *shape)
        found = self._room.singles("found", len(self.strata), *shape)
        for group, summed in enumerate(self._sums.of(labels)):
            self._one_group(summed, self._sizes[group], figures[group], variances[group])
        with np.errstate(invalid="ignore", divide="ignore"):
            for place, strata in enumerate(self.strata):
                self._one_pair(strata, figures, variances, found[place])
        return found

    def _one_group(self, summed: Singles, size: int, figure: Singles, variance: Singles) -> None:
        """Write a group's figure (from the rate of all) and its variance."""
        added, squared = summed[:, : self.rows], summed[:, self.rows : 2 * self.rows]
        np.multiply(added, added, out=variance)
        variance *= np.float32(-1 / max(size, 1))
        variance += squared
        np.maximum(variance, 0, out=variance)
        variance += self._spread
        weight = np.float32(size / (max(size - 1, 0) + PRIOR))
        if self._none is None:
            figure[:] = added
            variance *= weight
            return
        over = summed[:, 2 * self.rows :]
        with np.errstate(divide="ignore"):
            inverse = np.where(over > self._none, 1 / over, np.float32(np.nan))
        np.multiply(added, inverse, out=figure)
        variance *= inverse * inverse * weight

    def _one_pair(self, strata: list[Stratum], figures: Singles, variances: Singles, found: Singles) -> None:
        step = self._room.singles("step", *found.shape)
        if len(strata) == 1:
            one = strata[0]
            np.subtract(figures[one.first], figures[one.second], out=found)
            np.add(variances[one.first], variances[one.second], out=step)
        else:
            gap, other = found, self._room.singles("other", *found.shape)
            gap[:], step[:] = (0, 0) if strata else (np.nan, np.nan)
            for one in strata:
                np.subtract(figures[one.first], figures[one.second], out=other)
                gap += np.multiply(other, np.float32(one.weight), out=other)
                np.add(variances[one.first], variances[one.second], out=other)
                step += np.multiply(other, np.float32(one.weight**2), out=other)
        np.multiply(found, found, out=found)
        np.divide(found, step, out=found)


def ratios(
    amount: npt.ArrayLike, over: npt.ArrayLike, layer: Ints | None, sizes: Ints, pairs: tuple[tuple[int, int], ...]
) -> Studentised:
    """Differences of means or rates: ``amount`` (rows, people) over ``over`` (people,) or (rows, people). What a person
    adds is what they say beyond the rate of all in their ``layer`` (people,): to first order the error of a ratio.

    Source: Cochran 1977, *Sampling Techniques*, 6.4, with the rate of all, as under the null hypothesis; layers weighted
    as Mantel & Haenszel weigh them.
    """
    x, e = np.asarray(amount, float), np.atleast_2d(np.asarray(over, float))
    parts = np.empty_like(x)
    layer = np.zeros(x.shape[1], np.int64) if layer is None else layer
    for one in np.unique(layer):
        here = layer == one
        rate = x[:, here].sum(axis=1, keepdims=True) / np.maximum(e[:, here].sum(axis=1, keepdims=True), 1e-12)
        parts[:, here] = x[:, here] - rate * e[:, here]
    # What rounding leaves of nothing.
    parts[np.abs(parts) < 1e-9 * np.abs(x).max(axis=1, keepdims=True, initial=0)] = 0
    groups, layered = sizes.shape[1], len(sizes) > 1
    strata = [
        [
            Stratum(at * groups + a, at * groups + b, own[a] * own[b] / (own[a] + own[b]) if layered else 1)
            for at, own in enumerate(sizes.tolist())
            if own[a] and own[b]
        ]
        for a, b in pairs
    ]
    return Studentised(parts, e, sizes, strata)


def shares_of_total(amount: npt.ArrayLike, sizes: Ints, pairs: tuple[tuple[int, int], ...]) -> Studentised:
    """Differences of two groups' parts of one total (of a row's passages, of the table's), all layers added up: it is the
    part that is compared, however many people a group has. ``amount`` (rows, people)."""
    layers, groups = sizes.shape
    strata = [[Stratum(at * groups + a, at * groups + b, 1) for at in range(layers)] for a, b in pairs]
    return Studentised(np.asarray(amount, float), None, sizes, strata)
