"""One table a layer: is there a difference within layers, and is it the same in each?"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import chdtrc, gammaln, ndtri

Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class LayeredTest:
    """``statistic`` has ``degrees`` degrees of freedom; each (rows,), NaN where nothing varies within a layer."""

    statistic: Floats
    degrees: int
    p: Floats


def cochran_mantel_haenszel(counts: npt.ArrayLike, bases: npt.ArrayLike, continuity: bool = False) -> LayeredTest:
    """Are mentions and groups associated once layers are held apart?

    ``counts`` (rows, layers, groups) mentions of ``bases`` (layers, groups) people. Any number of groups; the
    correction for continuity is for two.
    Source: Mantel & Haenszel 1959; Landis, Heyman & Koch 1978 (general association); Agresti 2002, 6.3 and 7.5.
    """
    count, base = np.asarray(counts, float), np.asarray(bases, float)
    people = base.sum(axis=1)
    kept, groups = people > 1, base.sum(axis=0) > 0
    count, base, people = count[:, kept][:, :, groups], base[kept][:, groups], people[kept]
    degrees = max(base.shape[1] - 1, 0)
    none = np.full(len(count), np.nan)
    if not degrees or not len(base):
        return LayeredTest(none, degrees, none)
    says = count.sum(axis=2)
    moved = (count - says[:, :, None] * (base / people[:, None])).sum(axis=1)[:, :-1]
    weight = says * (people - says) / (people**2 * (people - 1))
    within = (
        people[:, None, None] * np.eye(base.shape[1])[None] * base[:, None, :] - base[:, :, None] * base[:, None, :]
    )
    variance = np.einsum("rl,lab->rab", weight, within)[:, :-1, :-1]
    if continuity and degrees == 1:
        moved = np.maximum(np.abs(moved) - 0.5, 0)
    possible = np.linalg.matrix_rank(variance) == degrees
    variance[~possible] = np.eye(degrees)
    statistic = np.einsum("ra,ra->r", moved, np.linalg.solve(variance, moved[:, :, None])[:, :, 0])
    statistic = np.where(possible, statistic, np.nan)
    return LayeredTest(statistic, degrees, np.where(possible, chdtrc(degrees, statistic), np.nan))


def effect_within(counts: npt.ArrayLike, bases: npt.ArrayLike) -> Floats:
    """Cramér's V within layers, (rows,): √(φ² / 1) of the test above over the people who could differ, corrected for the
    bias that groups alike would have. One layer gives V of a 2 × G table but for N − 1 in place of N.

    ``counts`` (rows, layers, groups) mentions of ``bases`` (layers, groups) people.
    Source: common practice (φ² as chi-square over people); correction after Bergsma 2013.
    """
    base = np.asarray(bases, float)
    found = cochran_mantel_haenszel(counts, bases)
    people = np.maximum(base.sum(axis=1) - 1, 0).sum()
    if not people:
        return found.statistic
    return np.sqrt(np.maximum(found.statistic / people - found.degrees / people, 0))


def too_small(counts: npt.ArrayLike, bases: npt.ArrayLike) -> npt.NDArray[np.bool_]:
    """Whether the test above shouldn't be read by chi-square, (rows,): some group's expected mentions, or silences, summed
    over layers, are under 5. Source: Mantel & Fleiss 1980, *American Journal of Epidemiology* 112, in its plain form."""
    count, base = np.asarray(counts, float), np.asarray(bases, float)
    people = base.sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        share = np.where(people > 0, count.sum(axis=2) / people, 0)
    varies = (share > 0) & (share < 1)
    says = (np.where(varies, share, 0)[:, :, None] * base[None]).sum(axis=1)
    silent = (np.where(varies, 1 - share, 0)[:, :, None] * base[None]).sum(axis=1)
    some = base.sum(axis=0) > 0
    found: npt.NDArray[np.bool_] = np.minimum(says, silent)[:, some].min(axis=1, initial=np.inf) < 5
    return found


def permuted(counts: npt.ArrayLike, bases: npt.ArrayLike, shuffles: int, seed: int) -> tuple[Floats, Floats]:
    """p of Cochran, Mantel & Haenszel's statistic by dealing the groups out to people anew inside each layer, and its
    standard error, (rows,) each. p = (b + 1) / (m + 1) (Davison & Hinkley 1997, 4.2)."""
    count, base = np.asarray(counts, np.int64), np.asarray(bases, np.int64)
    generator = np.random.default_rng(seed)
    observed = cochran_mantel_haenszel(count, base).statistic
    at_least = np.zeros(len(count), np.int64)
    for row, says in enumerate(count):
        drawn = np.stack(
            [
                generator.multivariate_hypergeometric(base[layer], int(says[layer].sum()), size=shuffles)
                for layer in range(len(base))
            ],
            axis=1,
        )
        found = cochran_mantel_haenszel(drawn, base).statistic
        at_least[row] = int((found >= observed[row] * (1 - 1e-9)).sum())
    p = (at_least + 1) / (shuffles + 1)
    return p, np.sqrt(p * (1 - p) / shuffles)


@dataclass(frozen=True)
class CommonOdds:
    """The odds ratio of the first of two groups over the second, taken over all layers, with its interval; (rows,). A
    ratio of 0 has a low end of 0, an infinite one a high end of infinity: their other end is one-sided, exact."""

    ratio: Floats
    low: Floats
    high: Floats


def common_odds_ratio(counts: npt.ArrayLike, bases: npt.ArrayLike, level: float = 0.95) -> CommonOdds:
    """Mantel–Haenszel's common odds ratio of two groups.

    ``counts`` (rows, layers, 2) mentions of ``bases`` (layers, 2) people; NaN where it isn't defined.
    Source: Mantel & Haenszel 1959; variance: Robins, Breslow & Greenland 1986, *Biometrics* 42.
    """
    a, b, c, d, people = _fourfold(counts, bases)
    with np.errstate(invalid="ignore", divide="ignore"):
        up, down = a * d / people, b * c / people
        agree, differ = (a + d) / people, (b + c) / people
        ups, downs = up.sum(axis=1), down.sum(axis=1)
        ratio = ups / downs
        variance = (
            (agree * up).sum(axis=1) / (2 * ups**2)
            + (agree * down + differ * up).sum(axis=1) / (2 * ups * downs)
            + (differ * down).sum(axis=1) / (2 * downs**2)
        )
        reach = ndtri((1 + level) / 2) * np.sqrt(variance)
        low, high = ratio * np.exp(-reach), ratio * np.exp(reach)
    known = np.isfinite(ratio) & (ratio > 0)
    low, high = np.where(known, low, np.nan), np.where(known, high, np.nan)
    for row in np.flatnonzero((ups == 0) != (downs == 0)).tolist():
        end = _one_sided(np.asarray(counts, np.int64)[row], np.asarray(bases, np.int64), bool(downs[row] == 0), level)
        low[row], high[row] = (end, np.inf) if downs[row] == 0 else (0.0, end)
    return CommonOdds(np.where((ups == 0) & (downs == 0), np.nan, ratio), low, high)


def _one_sided(says: npt.NDArray[np.int64], base: npt.NDArray[np.int64], infinite: bool, level: float) -> float:
    """The other end of a ratio of 0 or infinity: the ratio under which so extreme a table comes up in 1 − ``level`` of
    times, all layers' margins being as they are. Source: Gart 1970, *Biometrika* 57 (exact conditional limits)."""
    first, mentions, people = base[:, 0], says.sum(axis=1), base.sum(axis=1)
    weights = np.zeros(1)
    lowest = 0
    for layer in range(len(base)):
        low = max(0, int(mentions[layer] - base[layer, 1]))
        high = int(min(first[layer], mentions[layer]))
        count = np.arange(low, high + 1)
        ways = _log_choose(first[layer], count) + _log_choose(people[layer] - first[layer], mentions[layer] - count)
        weights = _added_logs(weights, ways)
        lowest += low
    count = lowest + np.arange(len(weights))

    def beyond(log_ratio: float) -> float:
        log = weights + count * log_ratio
        shares = np.exp(log - log.max())
        extreme = shares[-1] if infinite else shares[0]
        return float(extreme / shares.sum() - (1 - level))

    from scipy.optimize import brentq

    return float(np.exp(brentq(beyond, -60, 60)))


def _log_choose(n: npt.ArrayLike, k: npt.ArrayLike) -> Floats:
    many, some = np.asarray(n, float), np.asarray(k, float)
    return np.asarray(gammaln(many + 1) - gammaln(some + 1) - gammaln(many - some + 1), float)


def _added_logs(one: Floats, other: Floats) -> Floats:
    """Log of the convolution of two distributions given by their logs."""
    table = one[:, None] + other[None, :]
    place = np.arange(len(one))[:, None] + np.arange(len(other))[None, :]
    most = table.max()
    summed = np.bincount(place.ravel(), weights=np.exp(table - most).ravel())
    with np.errstate(divide="ignore"):
        return np.log(summed) + most


def breslow_day(counts: npt.ArrayLike, bases: npt.ArrayLike) -> LayeredTest:
    """Do the odds ratios of two groups differ from layer to layer? With Tarone's correction.

    ``counts`` (rows, layers, 2) mentions of ``bases`` (layers, 2) people. Layers in which nobody, or everybody,
    mentions say nothing and don't count.
    Source: Breslow & Day 1980; Tarone 1985, *Biometrika* 72.
    """
    a, b, c, _, people = _fourfold(counts, bases)
    ratio = common_odds_ratio(counts, bases).ratio[:, None]
    first, mentions = a + b, a + c
    informative = (first > 0) & (first < people) & (mentions > 0) & (mentions < people)
    with np.errstate(invalid="ignore", divide="ignore"):
        # The count that has the common odds ratio with these margins: the root of a quadratic.
        square = 1 - ratio
        linear = people - first - mentions + ratio * (first + mentions)
        constant = -ratio * first * mentions
        root = np.sqrt(linear**2 - 4 * square * constant)
        expected = np.where(np.abs(square) < 1e-12, first * mentions / people, (root - linear) / (2 * square))
        cells = (expected, first - expected, mentions - expected, people - first - mentions + expected)
        variance = 1 / sum(1 / cell for cell in cells)
        plain = np.where(informative, (a - expected) ** 2 / variance, 0).sum(axis=1)
        moved = np.where(informative, a - expected, 0).sum(axis=1)
        statistic = plain - moved**2 / np.where(informative, variance, 0).sum(axis=1)
    layers = informative.sum(axis=1)
    statistic = np.where((layers > 1) & np.isfinite(ratio[:, 0]), statistic, np.nan)
    degrees = int(layers.max(initial=1)) - 1
    p = np.where(np.isnan(statistic), np.nan, chdtrc(np.maximum(layers - 1, 1), np.maximum(statistic, 0)))
    return LayeredTest(statistic, degrees, p)


def _fourfold(counts: npt.ArrayLike, bases: npt.ArrayLike) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    """Mention and no mention in the first group, then in the second, and all; each (rows, layers)."""
    count, base = np.asarray(counts, float), np.asarray(bases, float)
    a, c = count[:, :, 0], count[:, :, 1]
    # A layer of nobody adds nothing.
    people = np.maximum(base.sum(axis=1), 1)
    return a, base[None, :, 0] - a, c, base[None, :, 1] - c, np.broadcast_to(people, a.shape)
