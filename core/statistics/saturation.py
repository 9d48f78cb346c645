"""Whether one has heard enough: how many codes each further interview brings that none before it had."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]
Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Saturation:
    """Over interviews in their order, (interviews,) each.

    fresh       codes heard for the first time
    heard       codes heard so far
    ratio       codes that the run ending here brought, as a share of those of the base; NaN before the first run ends
    base_codes  codes of the base; ``reached`` the first interview at which the ratio is at or under the threshold
                (position), None if none is
    """

    fresh: Ints
    heard: Ints
    ratio: Floats
    base_codes: int
    reached: int | None


def saturation(says: Bools, base: int = 4, run: int = 2, threshold: float = 0.05) -> Saturation:
    """``says`` (interviews, codes): which codes each interview has, in the order they came.

    Source: Guest, Namey & Chen 2020, *PLOS ONE* 15(5): base size, run length, new-information threshold.
    """
    before = np.logical_or.accumulate(says, axis=0) if len(says) else says
    first = says.copy()
    first[1:] &= ~before[:-1]
    fresh = first.sum(axis=1).astype(np.int64)
    heard = np.cumsum(fresh)
    base_codes = int(heard[base - 1]) if len(fresh) >= base else 0
    ratio = np.full(len(fresh), np.nan)
    if base_codes:
        for last in range(base + run - 1, len(fresh)):
            ratio[last] = fresh[last - run + 1 : last + 1].sum() / base_codes
    under = np.flatnonzero(ratio <= threshold + 1e-12)
    return Saturation(fresh, heard, ratio, base_codes, int(under[0]) if len(under) else None)
