"""Agreement between coders: Cohen's kappa and Krippendorff's alpha."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

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


@dataclass(frozen=True)
class Spans:
    """Units of one code by document. ``by_readers``: how many coders read each document, (documents,), and how many of its
    units so many of them coded, (documents, readers + 1). ``by_pair`` (documents, pairs, 4): coded by neither, only the
    second, only the first, both."""

    by_readers: tuple[npt.NDArray[np.int64], Floats]
    by_pair: Floats


def alpha_of(counted: tuple[npt.NDArray[np.int64], Floats], weights: Floats) -> Floats:
    """Krippendorff's alpha of yes and no from counts of units, for each weighting of documents (weightings, documents).
    Source: Krippendorff 2011, D (binary, from coincidences)."""
    readers, units = counted
    coded = np.arange(units.shape[1])[None, :]
    silent = np.maximum(readers[:, None] - coded, 0)
    apart = weights @ (units * coded * silent / np.maximum(readers[:, None] - 1, 1)).sum(axis=1)
    yes, no = weights @ (units * coded).sum(axis=1), weights @ (units * silent).sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        found: Floats = np.where((yes > 0) & (no > 0), 1 - apart * (yes + no - 1) / (yes * no), np.nan)
    return found


def kappa_of(counted: Floats, weights: Floats) -> Floats:
    """Cohen's kappa, the mean over pairs of coders weighted by the units both read, for each weighting of documents."""
    table = np.einsum("wd,dpc->wpc", weights, counted)
    total = table.sum(axis=2)
    with np.errstate(invalid="ignore", divide="ignore"):
        agreed = (table[:, :, 0] + table[:, :, 3]) / total
        first, second = (table[:, :, 2] + table[:, :, 3]) / total, (table[:, :, 1] + table[:, :, 3]) / total
        chance = first * second + (1 - first) * (1 - second)
        each = np.where(chance < 1, (agreed - chance) / (1 - chance), np.nan)
        known = np.isfinite(each)
        weight = np.where(known, total, 0)
        found: Floats = (np.where(known, each, 0) * weight).sum(axis=1) / weight.sum(axis=1)
    return found


def resampled(
    codes: list[Any],
    measure: Callable[[Any, Floats], Floats],
    weights: npt.NDArray[np.int64] | None,
    level: float = 0.95,
) -> tuple[Floats, Floats, Floats]:
    """A measure of each code with its percentile interval over resampled documents, (codes,) each; NaN without ``weights``
    (resamples, documents). Source: Efron & Tibshirani 1993, 13; units of one document aren't independent, documents are."""
    found, low, high = (np.full(len(codes), np.nan) for _ in range(3))
    for place, counted in enumerate(codes):
        documents = len(counted[1] if isinstance(counted, tuple) else counted)
        found[place] = measure(counted, np.ones((1, documents)))[0]
        if weights is None:
            continue
        drawn = measure(counted, weights.astype(float))
        drawn = drawn[np.isfinite(drawn)]
        if len(drawn) and np.isfinite(found[place]):
            low[place], high[place] = np.quantile(drawn, [(1 - level) / 2, (1 + level) / 2])
    return found, low, high
