"""Tests and effect sizes on each row's own 2 × G table of people: mention, no mention."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import chdtrc

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class ChiSquare:
    """Each field has shape (rows,); NaN where a row has no variation."""

    statistic: Floats
    degrees: npt.NDArray[np.int64]
    p: Floats


def expected(counts: npt.ArrayLike, bases: npt.ArrayLike) -> Floats:
    """Mentions expected in each group were the rows independent of the groups, (rows, groups)."""
    counts, bases = np.asarray(counts, float), np.asarray(bases, float)
    total = bases.sum()
    pooled = counts.sum(axis=1, keepdims=True) / total if total else np.zeros((len(counts), 1))
    return pooled * bases[None, :]


def chi_square(counts: npt.ArrayLike, bases: npt.ArrayLike) -> ChiSquare:
    """Pearson's chi-square of every row's 2 × G table, without continuity correction.

    ``counts`` (rows, groups) mentions; ``bases`` (groups,) people. Empty groups are left out.
    Source: Pearson 1900; Agresti 2007, *An Introduction to Categorical Data Analysis*, 2.4.
    """
    counts, bases = _filled(counts, bases)
    says = expected(counts, bases)
    silent = bases[None, :] - says
    with np.errstate(invalid="ignore", divide="ignore"):
        statistic = ((counts - says) ** 2 * (1 / says + 1 / silent)).sum(axis=1)
    degrees = max(len(bases) - 1, 0)
    p = chdtrc(degrees, statistic) if degrees else np.full(len(counts), np.nan)
    return ChiSquare(np.where(np.isnan(p), np.nan, statistic), np.full(len(counts), degrees), p)


def cochran_allows(counts: npt.ArrayLike, bases: npt.ArrayLike) -> Bools:
    """Whether chi-square may be read for each row: no expected count under 1 and at most a
    fifth of them under 5. Source: Cochran 1954, *Biometrics* 10."""
    counts, bases = _filled(counts, bases)
    says = expected(counts, bases)
    cells = np.concatenate([says, bases[None, :] - says], axis=1)
    if not cells.shape[1]:
        return np.zeros(len(counts), bool)
    return (cells.min(axis=1, initial=np.inf) >= 1) & ((cells < 5).mean(axis=1) <= 0.2)


def adjusted_residuals(counts: npt.ArrayLike, bases: npt.ArrayLike) -> Floats:
    """Haberman's adjusted residual of the mentions in each cell, (rows, groups); NaN where
    it isn't defined. Source: Haberman 1973, *Biometrics* 29; Agresti 2007, 2.4.5."""
    counts, bases = np.asarray(counts, float), np.asarray(bases, float)
    says = expected(counts, bases)
    with np.errstate(invalid="ignore", divide="ignore"):
        pooled = counts.sum(axis=1, keepdims=True) / bases.sum()
        spread = np.sqrt(says * (1 - pooled) * (1 - bases / bases.sum())[None, :])
        return np.where(spread > 0, (counts - says) / spread, np.nan)


def cramers_v(counts: npt.ArrayLike, bases: npt.ArrayLike, corrected: bool = True) -> Floats:
    """Cramér's V of each row's 2 × G table, by default with Bergsma's bias correction, (rows,).
    Source: Bergsma 2013, *Journal of the Korean Statistical Society* 42."""
    counts, bases = _filled(counts, bases)
    n, groups = bases.sum(), len(bases)
    with np.errstate(invalid="ignore", divide="ignore"):
        phi_squared = chi_square(counts, bases).statistic / n
        if not corrected:
            return np.sqrt(phi_squared)
        shrunk = np.maximum(phi_squared - (groups - 1) / (n - 1), 0)
        columns = groups - (groups - 1) ** 2 / (n - 1)
        lines = 2 - 1 / (n - 1)
        return np.sqrt(shrunk / np.minimum(columns - 1, lines - 1))


def odds_ratio(counts: npt.ArrayLike, bases: npt.ArrayLike) -> Floats:
    """Odds of a mention in the first of two groups over the second, (rows,); NaN for 0/0."""
    counts, bases = np.asarray(counts, float), np.asarray(bases, float)
    silent = bases[None, :] - counts
    with np.errstate(invalid="ignore", divide="ignore"):
        return (counts[:, 0] * silent[:, 1]) / (silent[:, 0] * counts[:, 1])


def relative_risk(counts: npt.ArrayLike, bases: npt.ArrayLike) -> Floats:
    """Share of the first of two groups over the share of the second, (rows,)."""
    counts, bases = np.asarray(counts, float), np.asarray(bases, float)
    with np.errstate(invalid="ignore", divide="ignore"):
        return (counts[:, 0] / bases[0]) / (counts[:, 1] / bases[1])


def _filled(counts: npt.ArrayLike, bases: npt.ArrayLike) -> tuple[Floats, Floats]:
    counts, bases = np.asarray(counts, float), np.asarray(bases, float)
    return counts[:, bases > 0], bases[bases > 0]
