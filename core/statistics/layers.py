"""One table a layer: is there a difference within layers, and is it the same in each?"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import chdtrc, ndtri

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


@dataclass(frozen=True)
class CommonOdds:
    """The odds ratio of the first of two groups over the second, taken over all layers, with its interval; (rows,)."""

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
    return CommonOdds(*(np.where(known, end, np.nan) for end in (ratio, low, high)))


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
    return a, base[None, :, 0] - a, c, base[None, :, 1] - c, np.broadcast_to(base.sum(axis=1), a.shape)
