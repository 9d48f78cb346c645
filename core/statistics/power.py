"""What could be seen: the smallest difference that groups of these sizes would show, by the very test that is used."""

from functools import lru_cache

import numpy as np
import numpy.typing as npt
from scipy.special import chdtrc, gammaln

from core.statistics.exact import fisher_table

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]

POWER, LEVEL = 0.8, 0.05
_STEPS = 201


@lru_cache(maxsize=64)
def rejected(first: int, second: int) -> Bools:
    """Which outcomes are called a difference at .05, (first + 1, second + 1): by Pearson's chi-square where Cochran's rule
    allows it for that outcome, else by Fisher's exact test, two-sided."""
    a, b = np.arange(first + 1.0)[:, None], np.arange(second + 1.0)[None, :]
    people, mentions = first + second, a + b
    expected = np.stack(
        [
            first * mentions / people,
            second * mentions / people,
            first * (people - mentions) / people,
            second * (people - mentions) / people,
        ]
    )
    allowed = (expected.min(axis=0) >= 1) & ((expected < 5).mean(axis=0) <= 0.2)
    with np.errstate(invalid="ignore", divide="ignore"):
        moved = (a - expected[0]) ** 2
        chi = np.where(mentions % people > 0, (moved / expected).sum(axis=0), 0.0)
    by_chi: Bools = chdtrc(1, chi) <= LEVEL
    found = np.where(allowed, by_chi, fisher_table(first, second) <= LEVEL)
    found.flags.writeable = False
    return found


def power_of(one: npt.ArrayLike, other: npt.ArrayLike, first: int, second: int) -> Floats:
    """Chance that the test calls a difference, counted over every outcome, (shares,).

    ``one`` and ``other`` (shares,) are the true shares in groups of ``first`` and ``second`` people.
    Source: common practice (Fleiss, Levin & Paik 2003, 4.3, for the exact test)."""
    p, q = np.atleast_1d(np.asarray(one, float)), np.atleast_1d(np.asarray(other, float))
    kept = rejected(first, second).astype(float)
    found: Floats = ((_binomial(first, p) @ kept) * _binomial(second, q)).sum(axis=1)
    return found


@lru_cache(maxsize=4096)
def smallest_difference(pooled: float, first: int, second: int) -> float:
    """The smallest difference of two shares that shows with 80 % power, whichever group has the higher share, both lying
    around the pooled one (between 0 and 1, so that its mean over all people stays); NaN where none would, or where the
    pooled share is 0 or 1."""
    if first < 1 or second < 1 or not 0 < pooled < 1:
        return float("nan")
    ways = (_direction(pooled, first, second), _direction(pooled, second, first))
    if not any(found for _, found in ways):
        return float("nan")
    # Where one way round there is no difference so large that it would show, only the other way is left beyond it.
    return max(reached for reached, _ in ways)


def _direction(pooled: float, high: int, low: int) -> tuple[float, bool]:
    """From which difference on the test shows it, where the group of ``high`` people has the higher share; or the largest
    there can be, and False."""
    people = high + low
    most = min((1 - pooled) * people / low, pooled * people / high)
    gap = np.linspace(0, most, _STEPS)
    one, other = np.clip(pooled + gap * low / people, 0, 1), np.clip(pooled - gap * high / people, 0, 1)
    missed = np.flatnonzero(power_of(one, other, high, low) < POWER)
    last = int(missed[-1])
    return (most, False) if last == _STEPS - 1 else (float(gap[last + 1]), True)


def _binomial(people: int, share: Floats) -> Floats:
    """Chance of each count 0 … people, (shares, counts)."""
    count = np.arange(people + 1)
    ways = gammaln(people + 1) - gammaln(count + 1) - gammaln(people - count + 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        log = ways + np.where(count == 0, 0, count * np.log(share[:, None]))
        log = log + np.where(count == people, 0, (people - count) * np.log1p(-share[:, None]))
    return np.exp(log)
