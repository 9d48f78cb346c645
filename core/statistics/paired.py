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


FEWEST_VARYING = 24
"""People whose answers vary × occasions from which on chi-square is read for Cochran's Q (Tate & Brown 1970, *JASA* 65)."""


def too_small(mentions: npt.ArrayLike) -> npt.NDArray[np.bool_]:
    """Whether too few people's answers vary for chi-square, (rows,); ``mentions`` (rows, people, occasions)."""
    says = np.asarray(mentions, bool)
    varies = says.any(axis=2) & ~says.all(axis=2)
    found: npt.NDArray[np.bool_] = varies.sum(axis=1) * says.shape[2] < FEWEST_VARYING
    return found


def permuted_q(mentions: npt.ArrayLike, shuffles: int, seed: int) -> tuple[Floats, Floats]:
    """Cochran's Q where it is small: p by dealing each person's answers out to occasions anew, and its standard error."""
    says = np.asarray(mentions, bool)
    generator = np.random.default_rng(seed)
    observed = (says.sum(axis=1).astype(float) ** 2).sum(axis=1)
    at_least = np.zeros(len(says), np.int64)
    for row, answers in enumerate(says):
        varying = answers[answers.any(axis=1) & ~answers.all(axis=1)]
        constant = answers.all(axis=1).sum()
        dealt = generator.permuted(np.broadcast_to(varying, (shuffles, *varying.shape)), axis=2)
        sums = dealt.sum(axis=1) + constant
        at_least[row] = int(((sums.astype(float) ** 2).sum(axis=1) >= observed[row] - 1e-9).sum())
    p = (at_least + 1) / (shuffles + 1)
    return p, np.sqrt(p * (1 - p) / shuffles)
