"""Corrections for testing many rows at once."""

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]


def holm(p_values: npt.ArrayLike) -> Floats:
    """Holm's step-down adjusted p-values, in the order given; NaN (no test) stays NaN and
    isn't counted. Source: Holm 1979, *Scandinavian Journal of Statistics* 6."""
    p = np.asarray(p_values, float)
    tested = np.flatnonzero(~np.isnan(p))
    order = tested[np.argsort(p[tested], kind="stable")]
    factors = np.arange(len(order), 0, -1)
    adjusted = np.full(p.shape, np.nan)
    adjusted[order] = np.minimum(np.maximum.accumulate(p[order] * factors), 1)
    return adjusted


def benjamini_hochberg(p_values: npt.ArrayLike) -> Floats:
    """Adjusted p-values for the false discovery rate, in the order given; NaN stays NaN.
    Source: Benjamini & Hochberg 1995, *Journal of the Royal Statistical Society B* 57."""
    p = np.asarray(p_values, float)
    tested = np.flatnonzero(~np.isnan(p))
    order = tested[np.argsort(p[tested], kind="stable")]
    scaled = p[order] * len(order) / np.arange(1, len(order) + 1)
    adjusted = np.full(p.shape, np.nan)
    adjusted[order] = np.minimum(np.minimum.accumulate(scaled[::-1])[::-1], 1)
    return adjusted
