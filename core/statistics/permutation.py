"""How sure one can be of passages and rates: shuffle and resample cases, never passages."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]

_BATCH = 500
"""Shuffles worked on at once: bounds memory to batch × cases × groups numbers."""


@dataclass(frozen=True)
class PermutationTest:
    """``p`` and its standard error ``error``, each (rows,)."""

    p: Floats
    error: Floats


def permute_cases(
    counts: npt.NDArray[np.int64],
    labels: npt.NDArray[np.int32],
    groups: int,
    exposure: Floats,
    permutations: int,
    seed: int,
) -> PermutationTest:
    """Do the groups' rates differ more than when the group labels are dealt out to cases anew?

    counts    (rows, cases)  passages of each case
    labels    (cases,)       the group of each, below 0 for none, of ``groups``
    exposure  (cases,)       what a rate is taken over: 1 a case, or its words; (rows, cases) where rows differ in it
    The statistic is Σ over groups of S²/E, S the group's passages and E its exposure: with the
    totals fixed, it grows with the spread of the groups' rates. Cases without a group or without
    exposure take no part. The observed labelling counts as one permutation.
    Source: Pitman 1937; Davison & Hinkley 1997, *Bootstrap Methods*, 4.3.
    """
    exposure = np.atleast_2d(exposure)
    part = (labels >= 0) & (exposure > 0).any(axis=0)
    said = counts[:, part].astype(np.float32)
    dealt = labels[part].astype(np.int16)
    over = exposure[:, part].astype(np.float32)
    rows = len(said)
    if rows == 0 or len(np.unique(dealt)) < 2:
        return PermutationTest(np.full(rows, np.nan), np.full(rows, np.nan))
    observed = _spread(said, over, dealt[None, :], groups)[:, 0]
    generator = np.random.default_rng(seed)
    at_least = np.zeros(rows, np.int64)
    for start in range(0, permutations, _BATCH):
        size = min(_BATCH, permutations - start)
        shuffled = generator.permuted(np.broadcast_to(dealt, (size, len(dealt))), axis=1)
        at_least += (_spread(said, over, shuffled, groups) >= observed[:, None] * (1 - 1e-5)).sum(axis=1)
    p = (at_least + 1) / (permutations + 1)
    p = np.where(said.sum(axis=1) > 0, p, np.nan)
    return PermutationTest(p, np.sqrt(p * (1 - p) / permutations))


def _spread(
    said: npt.NDArray[np.float32], over: npt.NDArray[np.float32], labels: npt.NDArray[np.int16], groups: int
) -> npt.NDArray[np.float32]:
    """Σ S²/E for each labelling, (rows, labellings). The last group follows from the totals."""
    spread = np.zeros((len(said), len(labels)), np.float32)
    rest, rest_over = said.sum(axis=1)[:, None], np.broadcast_to(over.sum(axis=1)[:, None], (len(over), len(labels)))
    for group in range(groups):
        if group < groups - 1:
            member = (labels == group).astype(np.float32)
            sums, exposure = said @ member.T, over @ member.T
            rest, rest_over = rest - sums, rest_over - exposure
        else:
            sums, exposure = rest, rest_over
        with np.errstate(invalid="ignore", divide="ignore"):
            spread += np.where(exposure > 0, sums**2 / exposure, 0)
    return spread


def bootstrap_rates(
    counts: npt.NDArray[np.int64],
    labels: npt.NDArray[np.int32],
    groups: int,
    exposure: Floats,
    resamples: int,
    seed: int,
    level: float = 0.95,
) -> tuple[Floats, Floats]:
    """Percentile intervals for each group's passages per unit of exposure: low and high,
    each (rows, groups); ``exposure`` as for ``permute_cases``. Cases are drawn again with replacement inside their group; a group of
    fewer than two cases gets NaN. Source: Efron & Tibshirani 1993, chapter 13.
    """
    low = np.full((len(counts), groups), np.nan)
    high = low.copy()
    generator = np.random.default_rng(seed)
    tails = [(1 - level) / 2, (1 + level) / 2]
    exposure = np.atleast_2d(exposure)
    for group in range(groups):
        members = np.flatnonzero((labels == group) & (exposure > 0).any(axis=0))
        if len(members) < 2:
            continue
        drawn = generator.multinomial(len(members), np.full(len(members), 1 / len(members)), size=resamples)
        weights = drawn.astype(np.float32)
        sums = counts[:, members].astype(np.float32) @ weights.T
        over = exposure[:, members].astype(np.float32) @ weights.T
        low[:, group], high[:, group] = _tails(sums, over, tails)
    return low, high


def _tails(
    sums: npt.NDArray[np.float32], over: npt.NDArray[np.float32], tails: list[float]
) -> tuple[npt.NDArray[np.float32], npt.NDArray[np.float32]]:
    """Quantiles of the rates, each (rows,); resamples without exposure say nothing."""
    if over.all():
        low, high = np.quantile(sums / over, tails, axis=1)
        return low, high
    found = np.full((2, len(sums)), np.nan, np.float32)
    for row in np.flatnonzero(over.any(axis=1)):
        drawn = over[row] > 0
        found[:, row] = np.quantile(sums[row, drawn] / over[row, drawn], tails)
    return found[0], found[1]
