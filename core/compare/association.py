"""Tests and effect sizes on each row's own 2 × G table of people: mention, no mention."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import chdtrc, gammaln
from scipy.stats import random_table

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]

EXACT_TABLES = 200_000
"""Above this many possible tables the exact test is simulated."""
SIMULATED_TABLES = 20_000
_CLOSE = 1e-7
"""Relative tolerance under which two table probabilities count as equal."""


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


@dataclass(frozen=True)
class ExactTest:
    """``error`` is the standard error of a simulated p, 0 where every table was counted."""

    p: float
    error: float


def exact_test(counts: npt.ArrayLike, bases: npt.ArrayLike, seed: int = 1) -> ExactTest:
    """Fisher–Freeman–Halton test of one 2 × G table: the probability, with the margins as they
    are, of a table no likelier than this one. For two groups, Fisher's exact test, two-sided.

    ``counts`` (groups,) mentions of ``bases`` (groups,) people. Counted exactly up to
    ``EXACT_TABLES`` tables, else simulated with ``seed``.
    Source: Fisher 1935; Freeman & Halton 1951, *Biometrika* 38.
    """
    counts, bases = np.asarray(counts, np.int64), np.asarray(bases, np.int64)
    counts, bases = counts[bases > 0], bases[bases > 0]
    mentions = int(counts.sum())
    if len(bases) < 2 or mentions in (0, int(bases.sum())):
        return ExactTest(float("nan"), 0.0)
    observed = _log_ways(bases, counts).sum()
    log_ways = _all_tables(bases, mentions)
    if log_ways is None:
        return exact_test_simulated(np.stack([counts, bases - counts]), seed)
    weights = np.exp(log_ways - observed)
    return ExactTest(float(min(weights[weights <= 1 + _CLOSE].sum() / weights.sum(), 1)), 0.0)


def exact_test_simulated(table: npt.ArrayLike, seed: int = 1, tables: int = SIMULATED_TABLES) -> ExactTest:
    """Fisher–Freeman–Halton test of any r × c table by drawing tables with its margins.

    The observed table counts as one of the draws (Davison & Hinkley 1997, 4.2), so p is never 0.
    Tables drawn after Patefield 1981, *Applied Statistics* 30.
    """
    table = np.asarray(table, np.int64)
    draws = random_table(table.sum(axis=1), table.sum(axis=0)).rvs(
        tables, method="patefield", random_state=np.random.default_rng(seed)
    )
    likelihood = -gammaln(draws + 1).sum(axis=(1, 2))
    observed = -gammaln(table + 1).sum()
    at_most = int((likelihood <= observed + _CLOSE).sum())
    p = (at_most + 1) / (tables + 1)
    return ExactTest(p, float(np.sqrt(p * (1 - p) / tables)))


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


def _log_ways(base: npt.NDArray[np.int64], count: npt.NDArray[np.int64]) -> Floats:
    return gammaln(base + 1) - gammaln(count + 1) - gammaln(base - count + 1)


def _all_tables(bases: npt.NDArray[np.int64], mentions: int) -> Floats | None:
    """Log of the ways to each table with these margins; None where there are too many."""
    sums, ways = np.zeros(1, np.int64), np.zeros(1)
    later = bases.sum() - np.cumsum(bases)
    for base, room in zip(bases, later, strict=True):
        choices = np.arange(min(int(base), mentions) + 1)
        if len(sums) * len(choices) > 8 * EXACT_TABLES:
            return None
        total = sums[:, None] + choices[None, :]
        fits = (total <= mentions) & (total + room >= mentions)
        ways = (ways[:, None] + _log_ways(base, choices)[None, :])[fits]
        sums = total[fits]
        if len(sums) > EXACT_TABLES:
            return None
    return ways
