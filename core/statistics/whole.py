"""A whole table of rows × groups tested as one: only where each person stands in one cell of it."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import chdtrc

from core.statistics.exact import exact_test_simulated


@dataclass(frozen=True)
class Whole:
    """``statistic`` is Pearson's chi-square of rows × groups with ``degrees``; ``p`` by it, or exact (simulated, with
    its standard ``error``) where Cochran's rule doesn't allow it; ``v`` Cramér's V as it stands, ``effect`` corrected
    as by Bergsma.

    Source: Pearson 1900; Cochran 1954; Cramér 1946; Bergsma 2013."""

    statistic: float
    degrees: int
    p: float
    error: float
    exact: bool
    v: float
    effect: float


def of_table(table: npt.NDArray[np.int64], seed: int = 1) -> Whole:
    """``table`` (rows, groups) of people, each counted once, no row or column empty."""
    count = table.astype(float)
    total = count.sum()
    expected = np.outer(count.sum(axis=1), count.sum(axis=0)) / total
    statistic = float(((count - expected) ** 2 / expected).sum())
    degrees = (count.shape[0] - 1) * (count.shape[1] - 1)
    allowed = bool(expected.min() >= 1 and (expected < 5).mean() <= 0.2)
    p, error, exact = float(chdtrc(degrees, statistic)), 0.0, False
    if not allowed:
        found = exact_test_simulated(table.tolist(), seed=seed)
        p, error, exact = found.p, found.error, True
    return Whole(
        statistic, degrees, p, error, exact, _v(statistic, total, table.shape), _bergsma(statistic, total, table.shape)
    )


def _v(statistic: float, total: float, shape: tuple[int, ...]) -> float:
    return float(np.sqrt(statistic / total / (min(shape) - 1)))


def _bergsma(statistic: float, total: float, shape: tuple[int, ...]) -> float:
    rows, groups = shape
    phi = max(0.0, statistic / total - (rows - 1) * (groups - 1) / (total - 1))
    tall, wide = rows - (rows - 1) ** 2 / (total - 1), groups - (groups - 1) ** 2 / (total - 1)
    return float(np.sqrt(phi / (min(tall, wide) - 1)))
