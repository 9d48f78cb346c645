"""Agreement between coders: Cohen's kappa and Krippendorff's alpha."""

from collections.abc import Callable
from typing import Literal

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Level = Literal["nominal", "ordinal", "interval", "ratio"]


def cohen_kappa(table: npt.ArrayLike) -> float:
    """Agreement of two coders beyond chance; ``table`` (categories, categories) counts units by what each said.
    NaN where chance alone would agree always. Source: Cohen 1960, *Educational and Psychological Measurement* 20."""
    count = np.asarray(table, float)
    total = count.sum()
    if not total:
        return float("nan")
    agreed = np.trace(count) / total
    chance = float((count.sum(axis=0) * count.sum(axis=1)).sum() / total**2)
    return float("nan") if chance >= 1 else float((agreed - chance) / (1 - chance))


def krippendorff_alpha(values: npt.ArrayLike, level: Level = "nominal") -> float:
    """Agreement of any number of coders, missing values allowed.

    ``values`` (coders, units), NaN where a coder didn't say. NaN where nothing can be paired or all is one value.
    Source: Krippendorff 2011, *Computing Krippendorff's Alpha-Reliability*.
    """
    said = np.asarray(values, float)
    known = ~np.isnan(said)
    said = said[:, known.sum(axis=0) > 1]
    domain = np.unique(said[~np.isnan(said)])
    if len(domain) < 2:
        return float("nan")
    by_value = (said[:, :, None] == domain).sum(axis=0).astype(float)
    paired = by_value.sum(axis=1) - 1
    met = (by_value / paired[:, None]).T @ by_value - np.diag((by_value / paired[:, None]).sum(axis=0))
    times = met.sum(axis=1)
    apart = _APART[level](domain, times)
    expected = (np.outer(times, times) * apart).sum() / (times.sum() - 1)
    return float(1 - (met * apart).sum() / expected) if expected > 0 else float("nan")


def _nominal(domain: Floats, times: Floats) -> Floats:
    return (domain[:, None] != domain[None, :]).astype(float)


def _ordinal(domain: Floats, times: Floats) -> Floats:
    """How many values lie between, half of the two themselves."""
    reached = np.cumsum(times)
    between = np.abs(reached[:, None] - reached[None, :])
    lower = np.minimum.outer(np.arange(len(domain)), np.arange(len(domain)))
    upper = np.maximum.outer(np.arange(len(domain)), np.arange(len(domain)))
    return np.where(lower == upper, 0.0, between + times[lower] / 2 - times[upper] / 2) ** 2


def _interval(domain: Floats, times: Floats) -> Floats:
    return (domain[:, None] - domain[None, :]) ** 2


def _ratio(domain: Floats, times: Floats) -> Floats:
    total = domain[:, None] + domain[None, :]
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(total == 0, 0.0, ((domain[:, None] - domain[None, :]) / total) ** 2)


_APART: dict[Level, Callable[[Floats, Floats], Floats]] = {
    "nominal": _nominal,
    "ordinal": _ordinal,
    "interval": _interval,
    "ratio": _ratio,
}
