"""The same people in several groups, as in the waves of a panel: who changed, and which way."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import betainc, chdtrc

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Changes:
    """Of two occasions: who mentions in both, only the first, only the second, neither, and McNemar's exact p;
    each (rows,)."""

    both: Counts
    only_first: Counts
    only_second: Counts
    neither: Counts
    p: Floats


def mcnemar(first: npt.ArrayLike, second: npt.ArrayLike) -> Changes:
    """Exact test of whether as many changed one way as the other.

    ``first`` and ``second`` (rows, people): whether each person mentions it on each occasion. NaN where nobody changed.
    Source: McNemar 1947; exact: two-sided binomial, Agresti 2002, 10.1.
    """
    a, b = np.asarray(first, bool), np.asarray(second, bool)
    away, to = (a & ~b).sum(axis=1), (~a & b).sum(axis=1)
    changed, fewer = away + to, np.minimum(away, to)
    # The binomial tail P(X ≤ fewer) at one half, by the incomplete beta function.
    tail = betainc(np.maximum(changed - fewer, 1), fewer + 1, 0.5)
    p = np.where(changed > 0, np.minimum(2 * tail, 1), np.nan)
    return Changes((a & b).sum(axis=1), away, to, (~a & ~b).sum(axis=1), p)


@dataclass(frozen=True)
class OccasionsTest:
    """``statistic`` (rows,) with ``degrees`` degrees of freedom; NaN where nobody's answer varies."""

    statistic: Floats
    degrees: int
    p: Floats


def cochran_q(mentions: npt.ArrayLike) -> OccasionsTest:
    """Do the shares differ over several occasions on which the same people spoke?

    ``mentions`` (rows, people, occasions). Source: Cochran 1950, *Biometrika* 37.
    """
    says = np.asarray(mentions, float)
    occasions = says.shape[2]
    by_occasion, by_person = says.sum(axis=1), says.sum(axis=2)
    total = by_person.sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        up = (occasions - 1) * (occasions * (by_occasion**2).sum(axis=1) - total**2)
        statistic = up / (occasions * total - (by_person**2).sum(axis=1))
    statistic = np.where(np.isfinite(statistic), statistic, np.nan)
    degrees = occasions - 1
    return OccasionsTest(statistic, degrees, np.where(np.isnan(statistic), np.nan, chdtrc(degrees, statistic)))
