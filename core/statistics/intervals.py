"""Intervals for shares and their differences."""

import numpy as np
import numpy.typing as npt
from scipy.special import ndtri

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
