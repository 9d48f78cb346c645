"""How the values of a variable spread."""

from collections import Counter
from collections.abc import Sequence
from datetime import date
from typing import Any

import numpy as np


def spread(values: Sequence[Any], kind: str, order: Sequence[str] = ()) -> list[tuple[str, int]]:
    """(label, count) for the bars of a small chart: categories in their order, numbers and
    dates in at most twelve bins of equal width, text by how many differ."""
    if kind in ("category", "ordered", "yes_no"):
        counts = Counter(("yes" if value else "no") if isinstance(value, bool) else value for value in values)
        return [(label, counts.get(label, 0)) for label in order]
    if not values:
        return []
    if kind == "text":
        different = len(set(values))
        return [(f"{different} different", different)]
    numbers = np.array([value.toordinal() if isinstance(value, date) else float(value) for value in values])
    bins = int(min(12, max(1, len(set(numbers.tolist())))))
    counts_, edges = np.histogram(numbers, bins=bins)

    def said(edge: float) -> str:
        return date.fromordinal(round(edge)).isoformat() if kind == "date" else f"{edge:.4g}"

    return [(f"{said(low)}–{said(high)}", int(n)) for low, high, n in zip(edges, edges[1:], counts_, strict=False)]
