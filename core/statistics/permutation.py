"""Does a row differ among groups at all? Labels are dealt out to people anew, never to passages."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.statistics.dealing import Exchange
from core.statistics.sums import Labels, Singles, Sums, at_once

Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class PermutationTest:
    """``p`` and its standard error ``error``, each (rows,)."""

    p: Floats
    error: Floats


def permute_cases(
    amount: npt.ArrayLike,
    exposure: npt.ArrayLike | None,
    exchange: Exchange,
    groups: int,
    permutations: int,
    seed: int,
) -> PermutationTest:
    """Do the groups' figures differ more than when the group labels are dealt out anew, as ``exchange`` allows?

    amount    (rows, people)  what each person adds
    exposure  (people,)       what a rate is taken over: 1 a person, or their words; (rows, people) where rows differ in
                              it; None where figures are parts of one total, whatever the groups' sizes
    The statistic is Σ over groups of S²/E, S the group's amount and E its exposure (1 where there is none): with the
    totals fixed, it grows with the spread of the groups' figures. The observed labelling counts as one permutation.
    Source: Pitman 1937; Davison & Hinkley 1997, *Bootstrap Methods*, 4.3.
    """
    said = np.asarray(amount, np.float32)
    rows = len(said)
    if rows == 0 or len(np.unique(exchange.labels)) < 2:
        return PermutationTest(np.full(rows, np.nan), np.full(rows, np.nan))
    added = Sums(said, groups)
    over = None if exposure is None else Sums(np.atleast_2d(np.asarray(exposure, np.float32)), groups)
    observed = _spread(added, over, exchange.labels[None, :])
    at_least = np.zeros(rows, np.int64)
    for labels in exchange.dealt(permutations, seed, at_once(added.numbers)):
        at_least += (_spread(added, over, labels) >= observed * (1 - 1e-5)).sum(axis=0)
    p = (at_least + 1) / (permutations + 1)
    p = np.where(said.sum(axis=1) > 0, p, np.nan)
    return PermutationTest(p, np.sqrt(p * (1 - p) / permutations))


def _spread(added: Sums, over: Sums | None, labels: Labels) -> Singles:
    """Σ S²/E for each labelling, (labellings, rows)."""
    spread = np.zeros((len(labels), added.values.shape[1]), np.float32)
    exposures = [None] * added.groups if over is None else over.of(labels)
    for amount, exposure in zip(added.of(labels), exposures, strict=True):
        with np.errstate(invalid="ignore", divide="ignore"):
            spread += amount**2 if exposure is None else np.where(exposure > 0, amount**2 / exposure, 0)
    return spread
