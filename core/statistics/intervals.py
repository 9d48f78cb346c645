"""Intervals for shares and their differences."""

import numpy as np
import numpy.typing as npt
from scipy.special import betaincinv, ndtri, stdtrit

Floats = npt.NDArray[np.float64]


def wilson(count: npt.ArrayLike, base: npt.ArrayLike, level: float = 0.95) -> tuple[Floats, Floats]:
    """Wilson's score interval for a share, without continuity correction.

    ``count`` and ``base`` broadcast; shares between 0 and 1. Where the base is 0 both ends are NaN.
    Source: Wilson 1927; Newcombe 1998a, *Statistics in Medicine* 17, method 3.
    """
    count, base = np.broadcast_arrays(np.asarray(count, float), np.asarray(base, float))
    z = ndtri((1 + level) / 2)
    with np.errstate(invalid="ignore", divide="ignore"):
        share = count / base
        middle = 2 * count + z**2
        reach = z * np.sqrt(z**2 + 4 * count * (1 - share))
        low = (middle - reach) / (2 * (base + z**2))
        high = (middle + reach) / (2 * (base + z**2))
    low = np.where(count == 0, 0.0, low)
    high = np.where(count == base, 1.0, high)
    return np.where(base > 0, low, np.nan), np.where(base > 0, high, np.nan)


def newcombe_difference(
    count_a: npt.ArrayLike,
    base_a: npt.ArrayLike,
    count_b: npt.ArrayLike,
    base_b: npt.ArrayLike,
    level: float = 0.95,
) -> tuple[Floats, Floats, Floats]:
    """Difference of two independent shares, a − b, with the hybrid score interval.

    Returns difference, low, high, each broadcast; NaN where a base is 0.
    Source: Newcombe 1998b, *Statistics in Medicine* 17, method 10.
    """
    a, n_a = np.asarray(count_a, float), np.asarray(base_a, float)
    b, n_b = np.asarray(count_b, float), np.asarray(base_b, float)
    low_a, high_a = wilson(a, n_a, level)
    low_b, high_b = wilson(b, n_b, level)
    with np.errstate(invalid="ignore", divide="ignore"):
        share_a, share_b = a / n_a, b / n_b
        difference = share_a - share_b
        low = difference - np.hypot(share_a - low_a, high_b - share_b)
        high = difference + np.hypot(high_a - share_a, share_b - low_b)
    return difference, low, high


FEWEST_PEOPLE, FEWEST_MENTIONS = 8, 3
"""People in a group, and people of it who add anything, from which on ``studentised`` covers (bench/calibration.py)."""


def studentised(amount: npt.ArrayLike, over: npt.ArrayLike, level: float = 0.95) -> tuple[Floats, Floats]:
    """Interval of one group's mean or rate, Σ amount / Σ over, on the logarithm's scale: low and high, (rows,).

    ``amount`` (rows, people) what each adds; ``over`` (people,) or (rows, people) what it is over: 1 each, or words.
    NaN where fewer than ``FEWEST_PEOPLE`` people have exposure or fewer than ``FEWEST_MENTIONS`` add anything (there it
    doesn't cover), or where all are alike. The spread is that of the linearised ratio, the quantile Student's.
    Source: Cochran 1977, *Sampling Techniques*, 6.3 (ratio); log scale: Efron & Tibshirani 1993, 12.6 (transformed).
    """
    x = np.atleast_2d(np.asarray(amount, float))
    e = np.broadcast_to(np.atleast_2d(np.asarray(over, float)), x.shape)
    there = e > 0
    people, total = there.sum(axis=1), e.sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        rate = x.sum(axis=1) / total
        left = np.where(there, x - rate[:, None] * e, 0)
        error = np.sqrt((left**2).sum(axis=1) * people / (people - 1)) / total
        reach = stdtrit(np.maximum(people - 1, 1), (1 + level) / 2) * error / rate
        low, high = rate * np.exp(-reach), rate * np.exp(reach)
    told = (people >= FEWEST_PEOPLE) & ((x > 0).sum(axis=1) >= FEWEST_MENTIONS) & (error > 1e-9 * np.abs(rate))
    return np.where(told, low, np.nan), np.where(told, high, np.nan)


def recovered_difference(
    one: Floats, one_low: Floats, one_high: Floats, other: Floats, other_low: Floats, other_high: Floats
) -> tuple[Floats, Floats]:
    """Interval of a difference of two independent figures from the intervals of each, any shape; NaN where one has none.
    Source: method of variance estimates recovery, Zou & Donner 2008, *Statistics in Medicine* 27."""
    gap = one - other
    low = gap - np.hypot(one - one_low, other_high - other)
    high = gap + np.hypot(one_high - one, other - other_low)
    return low, high


def clopper_pearson(count: npt.ArrayLike, base: npt.ArrayLike, level: float = 0.95) -> tuple[Floats, Floats]:
    """Exact interval of a share; 0–1 where the base is 0. Source: Clopper & Pearson 1934, *Biometrika* 26."""
    count, base = np.broadcast_arrays(np.asarray(count, float), np.asarray(base, float))
    tail = (1 - level) / 2
    low = np.where(count > 0, betaincinv(np.maximum(count, 1), base - count + 1, tail), 0.0)
    high = np.where(count < base, betaincinv(count + 1, np.maximum(base - count, 1), 1 - tail), 1.0)
    return low, high
