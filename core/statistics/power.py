"""What could be seen: the smallest difference that groups of these sizes would show."""

from functools import lru_cache

import numpy as np
import numpy.typing as npt
from scipy.special import gammaln, ndtr, ndtri

Floats = npt.NDArray[np.float64]

POWER, LEVEL = 0.8, 0.05
_CLOSE = 1e-7


def chi_square_power(pooled: npt.ArrayLike, difference: npt.ArrayLike, first: int, second: int) -> Floats:
    """Power of the two-sided chi-square test of two shares that lie ``difference`` apart around ``pooled``.

    Normal approximation; shares and power between 0 and 1. Source: Fleiss, Levin & Paik 2003, 4.2.
    """
    one, other, pool = _shares(pooled, difference, first, second)
    null = np.sqrt(pool * (1 - pool) * (1 / first + 1 / second))
    spread = np.sqrt(one * (1 - one) / first + other * (1 - other) / second)
    z, gap = ndtri(1 - LEVEL / 2), np.asarray(difference, float)
    with np.errstate(invalid="ignore", divide="ignore"):
        power = ndtr((gap - z * null) / spread) + ndtr((-gap - z * null) / spread)
    return np.where(spread > 0, power, (np.abs(gap) > z * null).astype(float))


def exact_power(pooled: npt.ArrayLike, difference: npt.ArrayLike, first: int, second: int) -> Floats:
    """Power of Fisher's exact test, two-sided, counted over every outcome."""
    one, other, _ = _shares(pooled, difference, first, second)
    rejected = _rejected(first, second)
    chance = _binomial(first, np.atleast_1d(one)), _binomial(second, np.atleast_1d(other))
    return np.einsum("sa,ab,sb->s", chance[0], rejected.astype(float), chance[1]).reshape(np.shape(one))


@lru_cache(maxsize=4096)
def smallest_difference(pooled: float, first: int, second: int, exact: bool) -> float:
    """The smallest difference of two shares that would be shown with 80 % power, two-sided at .05, both shares lying
    around the pooled one; NaN where none would. Shares between 0 and 1; ``first`` and ``second`` are people."""
    if first < 1 or second < 1 or not 0 < pooled < 1:
        return float("nan")
    return float(np.fmin(_smallest(pooled, first, second, exact), _smallest(pooled, second, first, exact)))


def _smallest(pooled: float, high: int, low: int, exact: bool) -> float:
    """The same where the group of ``high`` people has the higher share."""
    # Beyond this one of the two shares would leave 0 to 1.
    most = min((1 - pooled) * (high + low) / low, pooled * (high + low) / high)
    steps = np.linspace(0, most, 201)
    power = (exact_power if exact else chi_square_power)(pooled, steps, high, low)
    enough = np.flatnonzero(power >= POWER)
    return float(steps[enough[0]]) if len(enough) else float("nan")


def _shares(pooled: npt.ArrayLike, difference: npt.ArrayLike, first: int, second: int) -> tuple[Floats, Floats, Floats]:
    """Two shares so far apart whose mean, weighted by people, is the pooled one."""
    pool, gap = np.broadcast_arrays(np.asarray(pooled, float), np.asarray(difference, float))
    people = first + second
    one, other = pool + gap * second / people, pool - gap * first / people
    return np.clip(one, 0, 1), np.clip(other, 0, 1), pool


def _binomial(people: int, share: Floats) -> Floats:
    """Chance of each count 0 … people, (shares, counts)."""
    count = np.arange(people + 1)
    ways = gammaln(people + 1) - gammaln(count + 1) - gammaln(people - count + 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        log = ways + np.where(count == 0, 0, count * np.log(share[:, None]))
        log = log + np.where(count == people, 0, (people - count) * np.log1p(-share[:, None]))
    return np.exp(log)


@lru_cache(maxsize=64)
def _rejected(first: int, second: int) -> npt.NDArray[np.bool_]:
    """Which outcomes Fisher's test calls a difference, (first + 1, second + 1)."""
    a, b = np.arange(first + 1)[:, None], np.arange(second + 1)[None, :]
    log_ways = (
        gammaln(first + 1) - gammaln(a + 1) - gammaln(first - a + 1)
        + gammaln(second + 1) - gammaln(b + 1) - gammaln(second - b + 1)
    )  # fmt: skip
    rejected = np.zeros(log_ways.shape, bool)
    total = a + b
    for mentions in range(first + second + 1):
        here = total == mentions
        ways = np.exp(log_ways[here] - log_ways[here].max())
        order = np.argsort(ways)
        sums = np.cumsum(ways[order]) / ways.sum()
        # Outcomes as likely as one another are rejected together or not at all.
        last = np.searchsorted(ways[order], ways * (1 + _CLOSE), side="right") - 1
        rejected[here] = sums[last] <= LEVEL
    return rejected
