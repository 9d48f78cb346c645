"""How the values of a variable spread, for everybody and by group."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from core.language import say
from core.people.conditions import Held
from core.people.derived import in_words
from core.statistics.intervals import wilson
from core.text.missing import IN_WORDS

MOST_BARS = 12


def spread(values: Sequence[object], kind: str, order: Sequence[str] = ()) -> list[tuple[str, int]]:
    """(label, count) for the bars of a small chart: categories in their order, numbers and
    dates in at most twelve bins of equal width, text by how many differ."""
    if kind in ("category", "ordered", "yes_no"):
        counts = Counter(("yes" if value else "no") if isinstance(value, bool) else value for value in values)
        return [(label, counts.get(label, 0)) for label in order]
    if not values:
        return []
    if kind == "text":
        different = len(set(values))
        return [(say("{different} different", different=different), different)]
    numbers = np.array([value.toordinal() if isinstance(value, date) else float(value) for value in values])  # type: ignore[arg-type]
    bins = int(min(MOST_BARS, max(1, len(np.unique(numbers)))))
    counts_, edges = np.histogram(numbers, bins=bins)

    def said(edge: float) -> str:
        return date.fromordinal(round(edge)).isoformat() if kind == "date" else f"{edge:.4g}"

    return [(f"{said(low)}–{said(high)}", int(n)) for low, high, n in zip(edges, edges[1:], counts_, strict=False)]


@dataclass(frozen=True)
class Histogram:
    """Counts between edges, and the values themselves, for drawing and for cutting into bands."""

    edges: list[float]
    counts: list[int]
    values: list[float]


def histogram(values: Sequence[float], most: int = 24) -> Histogram:
    """Bins of one round width, at most about ``most``; each holds its lower edge."""
    if not values:
        return Histogram([], [], [])
    numbers = np.sort(np.asarray(values, float))
    span = float(numbers[-1] - numbers[0])
    # Too small to be parted, or nothing to part: one bin.
    span = span if span > 1e-300 else 1.0
    raw = span / most
    scale = 10.0 ** np.floor(np.log10(raw))
    step = float(next(size * scale for size in (1, 2, 2.5, 5, 10) if size * scale >= raw * 0.999))
    if bool((numbers == np.round(numbers)).all()):
        step = max(1.0, float(np.round(step)))
    first = np.floor(numbers[0] / step) * step
    bins = int(np.floor((numbers[-1] - first) / step)) + 1
    places = np.minimum(((numbers - first) / step + 1e-9).astype(int), bins - 1)
    counts = np.bincount(places, minlength=bins)
    return Histogram([float(first + step * place) for place in range(bins + 1)], counts.tolist(), numbers.tolist())


@dataclass(frozen=True)
class Share:
    """One value in one group: how many, and their share of those with a value, with Wilson's interval."""

    count: int
    share: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True)
class Summary:
    """Of a number in one group: how many, mean, standard deviation, median, least and greatest."""

    count: int
    mean: float
    deviation: float | None
    median: float
    least: float
    greatest: float


@dataclass(frozen=True)
class Crosstab:
    """A variable's values by group. ``shares`` (values, groups); ``missing`` (reasons that occur, groups);
    ``summaries`` (groups,) for a number."""

    values: list[str]
    groups: list[str]
    bases: list[int]
    shares: list[list[Share]]
    missing: list[tuple[str, list[int]]]
    summaries: list[Summary | None]


def distribution(
    held: Sequence[Held],
    order: Sequence[str],
    groups: Sequence[tuple[str, Sequence[bool]]],
    numbers: bool = False,
) -> Crosstab:
    """Count each value of ``order`` in each group. Shares are of those whose value is known;
    missing ones are counted apart, by reason."""
    columns = []
    for _, inside in groups:
        columns.append([one for one, member in zip(held, inside, strict=True) if member])
    counts = [Counter(in_words(one.value) for one in column if one.value is not None) for column in columns]
    bases = [sum(count.values()) for count in counts]
    shares = []
    for value in order:
        found = np.array([count.get(value, 0) for count in counts])
        low, high = wilson(found, np.array(bases))
        shares.append(
            [
                Share(int(n), n / base, float(lower), float(upper)) if base else Share(0, None, None, None)
                for n, base, lower, upper in zip(found, bases, low, high, strict=True)
            ]
        )
    reasons = [(reason, [sum(one.missing == reason for one in column) for column in columns]) for reason in IN_WORDS]
    summaries = [_summary([one.value for one in column if isinstance(one.value, float)]) for column in columns]
    return Crosstab(
        list(order),
        [name for name, _ in groups],
        bases,
        shares,
        [(reason, row) for reason, row in reasons if any(row)],
        summaries if numbers else [None] * len(columns),
    )


def _summary(values: list[float]) -> Summary | None:
    if not values:
        return None
    numbers = np.array(values)
    deviation = float(numbers.std(ddof=1)) if len(values) > 1 else None
    return Summary(
        len(values),
        float(numbers.mean()),
        deviation,
        float(np.median(numbers)),
        float(numbers.min()),
        float(numbers.max()),
    )
