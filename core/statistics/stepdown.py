"""Many differences tested at once by shuffling: step-down, so that among all of them together at most one in twenty
projects in which nothing differs has one that is called sure."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Singles = npt.NDArray[np.float32]

LEVEL = 0.05
_CLOSE = 1e-4
"""Relative tolerance under which two statistics count as equal: they are sums of single-precision numbers."""
_FIRST, _ENOUGH = 2000, 0.1
"""After so many shuffles, no more are made where the surest of all comes up by chance this often."""
TOLD_APART = 256
"""The most extreme hypotheses that are followed one by one at first; more where all of these are sure."""


@dataclass(frozen=True)
class StepDown:
    """``p`` (hypotheses,) adjusted over all of them, 1 for those that weren't followed one by one, NaN where there is no
    statistic; ``shuffles`` how many were made."""

    p: Floats
    shuffles: int


def step_down(
    observed: Singles, shuffled: Callable[[npt.NDArray[np.int64]], Iterator[tuple[Singles, Singles]]]
) -> StepDown:
    """Westfall & Young's step-down procedure, p = (b + 1) / (m + 1).

    ``observed`` (hypotheses,) statistics, larger is more extreme (maxT; for minP, −p), NaN where there is none.
    ``shuffled`` takes the hypotheses to be followed one by one (most extreme first) and yields, batch by batch, their
    statistics (followed, shuffles) and the largest of all the others (shuffles,).
    Source: Westfall & Young 1993, *Resampling-Based Multiple Testing*, algorithms 2.8 and 4.1; Ge, Dudoit & Speed 2003,
    *Test* 12, box 2; p after Davison & Hinkley 1997, 4.2.
    """
    p = np.full(len(observed), np.nan)
    known = np.flatnonzero(~np.isnan(observed))
    if not len(known):
        return StepDown(p, 0)
    order = known[np.argsort(-observed[known], kind="stable")]
    p[known] = 1.0
    follow = TOLD_APART
    while True:
        some = order[:follow]
        adjusted, made = _adjusted(observed[some], shuffled(some))
        if len(some) == len(order) or not (adjusted <= LEVEL).all():
            p[some] = adjusted
            return StepDown(p, made)
        follow *= 4


def _adjusted(observed: Singles, batches: Iterator[tuple[Singles, Singles]]) -> tuple[Floats, int]:
    least = observed - np.abs(observed) * np.float32(_CLOSE)
    at_least, made = np.zeros(len(observed), np.int64), 0
    for own, rest in batches:
        # The largest of a hypothesis and of all that are less extreme than it.
        reached = np.concatenate([rest[None, :], own[::-1]])
        reached = np.maximum.accumulate(reached, axis=0)[:0:-1]
        at_least += (reached >= least[:, None]).sum(axis=1)
        before, made = made, made + own.shape[1]
        if before < _FIRST <= made and at_least[0] > _ENOUGH * made:
            break
    return np.maximum.accumulate((at_least + 1) / (made + 1)), made
