"""Fisher–Freeman–Halton tests: counted out where there are few tables, else simulated with their error."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from scipy.special import gammaln

from core.statistics.ranges import expand

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]

EXACT_TABLES = 200_000
"""Above this many possible tables the exact test is simulated."""
SIMULATED_TABLES, FEWEST_TABLES = 20_000, 1_000
_EFFORT = 60_000_000
"""Numbers drawn at most; where that would take more, fewer tables are drawn, and the error says so."""
_AT_ONCE = 4_000_000
_CLOSE = 1e-7
"""Relative tolerance under which two table probabilities count as equal."""


@dataclass(frozen=True)
class ExactTest:
    """``error`` is the standard error of a simulated p, 0 where every table was counted."""

    p: float
    error: float


def exact_test(counts: npt.ArrayLike, bases: npt.ArrayLike, seed: int = 1) -> ExactTest:
    """The test of one 2 × G table. For two groups, Fisher's exact test, two-sided."""
    p, error = exact_tests(np.asarray(counts)[None, :], bases, seed)
    return ExactTest(float(p[0]), float(error[0]))


def exact_tests(counts: npt.ArrayLike, bases: npt.ArrayLike, seed: int = 1) -> tuple[Floats, Floats]:
    """Test every row's 2 × G table: the probability, with the margins as they are, of a table no likelier than this
    one. (p, its standard error), each (rows,); the error is 0 where every table was counted.

    ``counts`` (rows, groups) mentions of ``bases`` (groups,) people. With the bases given, the tables depend on the
    row's number of mentions only, so that rows with as many share them. Up to ``EXACT_TABLES`` they are counted out,
    else drawn with ``seed``. NaN where all or none mention, or where each group is one person: then every table is
    as likely as any other.
    Source: Fisher 1935; Freeman & Halton 1951, *Biometrika* 38.
    """
    count, base = np.asarray(counts, np.int64), np.asarray(bases, np.int64)
    count, base = count[:, base > 0], base[base > 0]
    p, error = np.full(len(count), np.nan), np.zeros(len(count))
    if len(base) < 2 or base.max() < 2:
        return p, error
    ways = _log_ways(base)
    observed, mentions = _likelihood(ways, count), count.sum(axis=1)
    possible = _numbers_of_tables(base)
    drawn = []
    for times in np.unique(mentions[(mentions > 0) & (mentions < base.sum())]).tolist():
        rows = np.flatnonzero(mentions == times)
        if possible[times] > EXACT_TABLES:
            drawn.append(times)
            continue
        found = np.sort(_all_tables(base, times, ways))
        weight = np.cumsum(np.exp(found - found[-1]))
        last = np.searchsorted(found, observed[rows] + _CLOSE, side="right") - 1
        p[rows] = weight[last] / weight[-1]
    if drawn:
        tables, no_likelier = _simulated(base, ways, mentions, observed, drawn, seed)
        rows = np.flatnonzero(np.isin(mentions, drawn))
        # The observed table counts as one of the draws (Davison & Hinkley 1997, 4.2), so p is never 0.
        p[rows] = (no_likelier[rows] + 1) / (tables + 1)
        error[rows] = np.sqrt(p[rows] * (1 - p[rows]) / tables)
    return np.minimum(p, 1), error


@lru_cache(maxsize=128)
def fisher_table(first: int, second: int) -> Floats:
    """Fisher's exact two-sided p of every outcome of two groups, (first + 1, second + 1): the probability, with as many
    mentions in all, of an outcome no likelier than this one. Source: Fisher 1935."""
    ways = _log_ways(np.array([first, second], np.int64))
    p = np.ones((first + 1, second + 1))
    for mentions in range(1, first + second):
        low, high = max(0, mentions - second), min(first, mentions)
        one = np.arange(low, high + 1)
        log = ways[0, one] + ways[1, mentions - one]
        order = np.argsort(log)
        reached = np.cumsum(np.exp(log[order] - log.max()))
        # Outcomes as likely as one another count together.
        last = np.searchsorted(log[order], log + _CLOSE, side="right") - 1
        p[one, mentions - one] = reached[last] / reached[-1]
    p.flags.writeable = False
    return np.minimum(p, 1)


def exact_test_simulated(table: npt.ArrayLike, seed: int = 1, tables: int = SIMULATED_TABLES) -> ExactTest:
    """Fisher–Freeman–Halton test of any r × c table by drawing tables with its margins.

    The observed table counts as one of the draws (Davison & Hinkley 1997, 4.2), so p is never 0.
    Tables drawn after Patefield 1981, *Applied Statistics* 30.
    """
    table = np.asarray(table, np.int64)
    # Loaded when it is asked for: a second of every start, and most have no need of it.
    from scipy.stats import random_table

    draws = random_table(table.sum(axis=1), table.sum(axis=0)).rvs(
        tables, method="patefield", random_state=np.random.default_rng(seed)
    )
    likelihood = -gammaln(draws + 1).sum(axis=(1, 2))
    observed = -gammaln(table + 1).sum()
    at_most = int((likelihood <= observed + _CLOSE).sum())
    p = (at_most + 1) / (tables + 1)
    return ExactTest(p, float(np.sqrt(p * (1 - p) / tables)))


def _log_ways(base: Counts) -> Floats:
    """Log of the ways that k of a group's people mention, (groups, largest + 1); −inf where there are too few."""
    k = np.arange(int(base.max()) + 1)
    with np.errstate(invalid="ignore"):
        ways = gammaln(base + 1)[:, None] - gammaln(k + 1)[None, :] - gammaln(np.maximum(base[:, None] - k, 0) + 1)
    return np.where(k[None, :] <= base[:, None], ways, -np.inf)


def _likelihood(ways: Floats, count: Counts) -> Floats:
    """Log of each table's probability, but for what all with these margins share; (tables,)."""
    found: Floats = ways[np.arange(len(ways)), count].sum(axis=-1)
    return found


def _numbers_of_tables(base: Counts) -> Floats:
    """How many tables there are for every number of mentions, (people + 1,): they are counted by multiplying out."""
    found = np.ones(1)
    for size in base.tolist():
        found = np.convolve(found, np.ones(size + 1))
    return found


def _all_tables(base: Counts, mentions: int, ways: Floats) -> Floats:
    """Log of the probability of each table with these margins, but for what all share."""
    sums, found = np.zeros(1, np.int64), np.zeros(1)
    later = base.sum() - np.cumsum(base)
    for group, (size, room) in enumerate(zip(base.tolist(), later.tolist(), strict=True)):
        # What can be chosen so that the rest still fits: no table is begun that can't be ended.
        low, high = np.maximum(mentions - sums - room, 0), np.minimum(mentions - sums, size)
        from_, choice = expand(low, high + 1)
        found = found[from_] + ways[group, choice]
        sums = sums[from_] + choice
    return found


def _simulated(
    base: Counts, ways: Floats, mentions: Counts, observed: Floats, drawn: list[int], seed: int
) -> tuple[int, Counts]:
    """How many tables were drawn, and for each row how many of them are no likelier than its own.

    One shuffle of who mentions first serves all rows: a row with m mentions has the first m.
    """
    people, groups = int(base.sum()), len(base)
    tables = int(np.clip(_EFFORT // (people + groups * len(drawn)), FEWEST_TABLES, SIMULATED_TABLES))
    labels = np.repeat(np.arange(groups, dtype=np.int16), base)
    generator = np.random.default_rng(seed)
    no_likelier = np.zeros(len(mentions), np.int64)
    size = max(1, _AT_ONCE // (people + groups))
    for start in range(0, tables, size):
        some = min(size, tables - start)
        shuffled = generator.permuted(np.broadcast_to(labels, (some, people)), axis=1)
        cell = np.arange(some)[:, None] * groups + shuffled
        table, done = np.zeros(some * groups, np.int64), 0
        for times in drawn:
            table = table + np.bincount(cell[:, done:times].ravel(), minlength=some * groups)
            done = times
            rows = np.flatnonzero(mentions == times)
            likelihood = np.sort(_likelihood(ways, table.reshape(some, groups)))
            no_likelier[rows] += np.searchsorted(likelihood, observed[rows] + _CLOSE, side="right")
    return tables, no_likelier
