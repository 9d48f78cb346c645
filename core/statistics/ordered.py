"""Groups in order, and numbers: trend over ordered groups, and ranks of those who mention and those who don't."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import chdtrc, ndtr

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]

EXACT_RANKS = 60
"""Up to this many people, rank sums are tested by counting every way to choose who mentions."""


@dataclass(frozen=True)
class Trend:
    """``z`` is above 0 where mentions rise with the scores; NaN where a row has no variation. Each (rows,)."""

    z: Floats
    p: Floats

    @property
    def statistic(self) -> Floats:
        """Chi-square for trend with one degree of freedom."""
        return self.z**2


def cochran_armitage(counts: npt.ArrayLike, bases: npt.ArrayLike, scores: npt.ArrayLike | None = None) -> Trend:
    """Linear trend of the shares over groups in order.

    ``counts`` (rows, groups) mentions of ``bases`` (groups,) people; ``scores`` (groups,) are 0, 1, 2 … unless given.
    Source: Cochran 1954; Armitage 1955, *Biometrics* 11.
    """
    count, base = np.asarray(counts, float), np.asarray(bases, float)
    score = np.arange(len(base), dtype=float) if scores is None else np.asarray(scores, float)
    total = base.sum()
    with np.errstate(invalid="ignore", divide="ignore"):
        pooled = count.sum(axis=1) / total
        moved = (count * score).sum(axis=1) - pooled * (base * score).sum()
        spread = (base * score**2).sum() - (base * score).sum() ** 2 / total
        z = moved / np.sqrt(pooled * (1 - pooled) * spread)
    z = np.where(np.isfinite(z), z, np.nan)
    return Trend(z, np.where(np.isnan(z), np.nan, 2 * ndtr(-np.abs(z))))


def permuted_trend(
    counts: npt.ArrayLike, bases: npt.ArrayLike, scores: npt.ArrayLike, shuffles: int, seed: int
) -> tuple[Floats, Floats]:
    """The same where counts are small: p by dealing the groups out to people anew, and its standard error, (rows,) each.
    p = (b + 1) / (m + 1) (Davison & Hinkley 1997, 4.2)."""
    count, base = np.asarray(counts, np.int64), np.asarray(bases, np.int64)
    score, total = np.asarray(scores, float), int(np.sum(base))
    generator = np.random.default_rng(seed)
    mentions = count.sum(axis=1)
    centre = (base * score).sum() / total
    observed = np.abs((count * (score - centre)).sum(axis=1))
    at_least = np.zeros(len(count), np.int64)
    for some in np.unique(mentions).tolist():
        drawn = generator.multivariate_hypergeometric(base, some, size=shuffles)
        moved = np.sort(np.abs((drawn * (score - centre)).sum(axis=1)))
        rows = np.flatnonzero(mentions == some)
        at_least[rows] = shuffles - np.searchsorted(moved, observed[rows] - 1e-9, side="left")
    p = (at_least + 1) / (shuffles + 1)
    return p, np.sqrt(p * (1 - p) / shuffles)


@dataclass(frozen=True)
class RankTest:
    """``effect`` is the rank-biserial correlation, above 0 where those who mention have the higher numbers: how much
    likelier it is that one of them has the higher number of a pair than the lower. Each (rows,)."""

    u: Floats
    p: Floats
    effect: Floats
    exact: bool


def mann_whitney(mentions: npt.ArrayLike, values: npt.ArrayLike) -> RankTest:
    """Do those who mention differ in a number from those who don't?

    ``mentions`` (rows, people) truth; ``values`` (people,) the number. Up to ``EXACT_RANKS`` people exact, ties and
    all (twice the smaller tail); above, the normal approximation with corrections for ties and continuity.
    Source: Mann & Whitney 1947; Streitberg & Röhmel 1986; effect: Kerby 2014, *Comprehensive Psychology* 3.
    """
    says, number = np.asarray(mentions, bool), np.asarray(values, float)
    people = len(number)
    ranks = _ranked(number) if people else np.zeros(0)
    first = says.sum(axis=1)
    pairs = (first * (people - first)).astype(float)
    rank_sum = says @ ranks
    u = rank_sum - first * (first + 1) / 2
    exact = people <= EXACT_RANKS
    p = _exact_tails(ranks, first, rank_sum) if exact else _normal_tails(ranks, pairs, u)
    with np.errstate(invalid="ignore", divide="ignore"):
        effect = np.where(pairs > 0, 2 * u / pairs - 1, np.nan)
    varied = (pairs > 0) & (np.ptp(number) > 0 if people else False)
    return RankTest(np.where(pairs > 0, u, np.nan), np.where(varied, p, np.nan), effect, exact)


def _normal_tails(ranks: Floats, pairs: Floats, u: Floats) -> Floats:
    people = len(ranks)
    _, tied = np.unique(ranks, return_counts=True)
    with np.errstate(invalid="ignore", divide="ignore"):
        variance = pairs / 12 * (people + 1 - (tied**3 - tied).sum() / (people * (people - 1)))
        z = np.maximum(np.abs(u - pairs / 2) - 0.5, 0) / np.sqrt(variance)
    return np.minimum(2 * ndtr(-z), 1)


def _exact_tails(ranks: Floats, first: npt.NDArray[np.int64], rank_sum: Floats) -> Floats:
    """Ways to choose so many people with each sum of ranks, counted one person at a time."""
    doubled = np.rint(2 * ranks).astype(np.int64)
    most = int(first.max(initial=0))
    ways = np.zeros((most + 1, int(doubled.sum()) + 1))
    ways[0, 0] = 1.0
    for rank in doubled:
        ways[1:, rank:] += ways[:-1, : ways.shape[1] - rank].copy()
    sums = np.rint(2 * rank_sum).astype(np.int64)
    below = np.cumsum(ways, axis=1)
    total = below[first, -1]
    at_most = below[first, sums] / total
    at_least = (total - below[first, sums] + ways[first, sums]) / total
    return np.minimum(2 * np.minimum(at_most, at_least), 1)


@dataclass(frozen=True)
class SpreadTest:
    """``effect`` is epsilon squared: the share of the ranks' variance that the groups account for."""

    statistic: float
    degrees: int
    p: float
    effect: float


def kruskal_wallis(values: npt.ArrayLike, labels: npt.ArrayLike) -> SpreadTest:
    """Do the groups differ in a number? ``values`` and ``labels`` (people,); ties are corrected for.

    Source: Kruskal & Wallis 1952; effect: Tomczak & Tomczak 2014 (from memory).
    """
    number, label = np.asarray(values, float), np.asarray(labels, np.int64)
    groups, place = np.unique(label, return_inverse=True)
    people, degrees = len(number), len(groups) - 1
    none = float("nan")
    if degrees < 1 or people < 3 or np.ptp(number) == 0:
        return SpreadTest(none, max(degrees, 0), none, none)
    ranks = _ranked(number)
    sizes = np.bincount(place)
    sums = np.bincount(place, weights=ranks)
    _, tied = np.unique(ranks, return_counts=True)
    statistic = 12 / (people * (people + 1)) * (sums**2 / sizes).sum() - 3 * (people + 1)
    statistic /= 1 - (tied**3 - tied).sum() / (people**3 - people)
    return SpreadTest(
        float(statistic), degrees, float(chdtrc(degrees, statistic)), float(statistic * (people + 1) / (people**2 - 1))
    )


def _ranked(number: Floats) -> Floats:
    """Ranks from 1, ties at their middle."""
    # Loaded when it is asked for: a second of every start, and most have no need of it.
    from scipy.stats import rankdata

    return np.asarray(rankdata(number), float)
