"""Variables made of others: bands, two crossed, a count cut into bands, a cohort. They follow the data."""

from collections.abc import Sequence
from datetime import date
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from core.people.conditions import Held, Mask
from core.text.missing import REASONS, MissingReason

Edge = float | date


def band_names(cuts: Sequence[Edge]) -> list[str]:
    """``under 25``, ``25 to under 35``, ``35 and over``: each edge said exactly."""
    said = [cut.isoformat() if isinstance(cut, date) else f"{cut:g}" for cut in cuts]
    if not said:
        return ["all values"]
    dated = isinstance(cuts[0], date)
    first, last = (
        (f"before {said[0]}", f"{said[-1]} and after") if dated else (f"under {said[0]}", f"{said[-1]} and over")
    )
    between = " to before " if dated else " to under "
    return [first, *[f"{low}{between}{high}" for low, high in pairwise(said)], last]


def banded(source: Sequence[Held], cuts: Sequence[Edge]) -> list[Held]:
    """Each value as the band that it lies in; an edge belongs to the band above it."""
    ordered = sorted(cuts)
    names = band_names(ordered)
    return [
        held if held.value is None else Held(names[sum(held.value >= cut for cut in ordered)])  # type: ignore[operator]
        for held in source
    ]


def equal_width(values: npt.NDArray[np.float64], bands: int) -> list[float]:
    """Cut points for bands of equal width, rounded so that they can be said; fewer where values are few."""
    if not len(values) or values.min() == values.max() or bands < 2:
        return []
    edges = np.linspace(values.min(), values.max(), bands + 1)[1:-1]
    return _rounded(edges, values)


def quantiles(values: npt.NDArray[np.float64], bands: int) -> list[float]:
    """Cut points that put about as many cases into each band: a cut is the least value of the band above."""
    if not len(values) or bands < 2:
        return []
    ordered = np.sort(values)
    places = (np.arange(1, bands) * len(ordered)) // bands
    cuts = sorted({float(ordered[place]) for place in places})
    return [cut for cut in cuts if cut > ordered[0]]


def _rounded(edges: npt.NDArray[np.float64], values: npt.NDArray[np.float64]) -> list[float]:
    step = (values.max() - values.min()) / (len(edges) + 1)
    digits = max(0, int(np.ceil(-np.log10(step)) + 1)) if step < 10 else 0
    whole = bool((values == np.round(values)).all())
    return sorted({float(np.round(edge, 0 if whole and step >= 1 else digits)) for edge in edges})


def crossed(left: Sequence[Held], right: Sequence[Held]) -> list[Held]:
    """Two variables as one: ``Holm · daily``. Missing where either is, for the first one's reason."""
    result = []
    for one, other in zip(left, right, strict=True):
        if one.value is None or other.value is None:
            result.append(Held(missing=_first_reason(one, other)))
        else:
            result.append(Held(f"{in_words(one.value)} · {in_words(other.value)}"))
    return result


def crossed_order(left: Sequence[str], right: Sequence[str], found: set[str]) -> list[str]:
    """Categories of a crossing in the order of its two variables; only those that occur."""
    return [name for one in left for other in right if (name := f"{one} · {other}") in found]


def membership(inside: Mask) -> list[Held]:
    """A cohort as yes and no."""
    return [Held(bool(one)) for one in inside]


def counted(counts: Sequence[int]) -> list[Held]:
    """How many of something each case has, as a number."""
    return [Held(float(count)) for count in counts]


def in_words(value: str | float | bool | date) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.10g}"
    return value.isoformat() if isinstance(value, date) else value


def _first_reason(*held: Held) -> MissingReason:
    reasons = [one.missing for one in held if one.missing is not None]
    return next((reason for reason in reasons if reason in REASONS), "unknown")
