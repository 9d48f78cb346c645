"""What is counted in each cell, what it is a share of, and what the groups are shuffled by: one function a measure."""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

import numpy as np
import numpy.typing as npt

from core.compare.counts import LeftOut
from core.compare.measured import Ratings, Words
from core.compare.tally import Tally
from core.snapshot.masks import case_words
from core.snapshot.snapshot import Snapshot

if TYPE_CHECKING:
    from core.compare.comparison import Comparison

Measure = Literal["people", "passages", "words", "per_person", "rate", "rating"]
Base = Literal["with_material", "everyone", "row", "column", "table", "talk", "words", "ratings"]
BASES: dict[Measure, tuple[Base, ...]] = {
    "people": ("with_material", "everyone"),
    "passages": ("column", "row", "table"),
    "words": ("talk", "column", "row"),
    "per_person": ("with_material", "everyone"),
    "rate": ("words",),
    "rating": ("ratings",),
}
"""Every base that fits a measure; the first is the usual one."""
PER_WORDS = 1000

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Measured:
    """figure (a share 0–1, a mean or a rate; NaN without a base), count, base, median, deviation: (rows, groups), the
    last two NaN where the measure has none; total_figure, total_count, total_base (rows,) in all groups; ``by_case``
    (rows, cases) over ``exposure`` (cases,) or (rows, cases) is what the groups' figures are made of, times ``scale``."""

    figure: Floats
    count: Counts
    base: Counts
    median: Floats
    deviation: Floats
    total_figure: Floats
    total_count: Counts
    total_base: Counts
    by_case: Counts
    exposure: Floats
    scale: int = 1


def measured(
    snapshot: Snapshot, asked: "Comparison", counted: Tally, lost: LeftOut, words: Words | None, ratings: Ratings | None
) -> Measured:
    """The figures of the measure asked for."""
    if words is not None:
        return _of_words(snapshot, asked, counted, words)
    if ratings is not None:
        return _of_ratings(ratings)
    total_people, total_passages = totals(counted, lost)
    if asked.measure == "people":
        return _over_people(counted, counted.people, total_people)
    if asked.measure == "per_person":
        total = counted.counts[:, counted.in_base].sum(axis=1)
        return _over_people(counted, _summed(counted), total, _medians(counted))
    shape = counted.passages.shape
    if asked.measure == "rate":
        base = np.broadcast_to(counted.group_words, shape)
        total_base = np.full(shape[0], counted.group_words.sum())
        exposure = case_words(snapshot, asked.scope).astype(float)
        return _made(counted.passages, base, total_passages, total_base, counted.counts, exposure, PER_WORDS)
    base, total_base = _of_passages(asked.base, counted, total_passages, int(lost.overall[0]))
    return _made(counted.passages, base, total_passages, total_base, counted.counts, counted.in_base.astype(float))


def totals(counted: Tally, lost: LeftOut) -> tuple[Counts, Counts]:
    """Distinct people and passages of each row in the groups shown."""
    if counted.said is None:
        return counted.people.sum(axis=1), lost.by_row[:, 0]
    return (counted.said.sum(axis=1) > 0).sum(axis=1), lost.by_row[:, 0]


def share(count: Counts, base: Counts) -> Floats:
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(base > 0, count / base, np.nan)


def _made(
    count: Counts, base: Counts, total: Counts, total_base: Counts, by_case: Counts, exposure: Floats, scale: int = 1
) -> Measured:
    none = np.full(count.shape, np.nan)
    figure, total_figure = share(count, base) * scale, share(total, total_base) * scale
    return Measured(figure, count, base, none, none, total_figure, total, total_base, by_case, exposure, scale)


def _over_people(counted: Tally, count: Counts, total: Counts, median: Floats | None = None) -> Measured:
    base = np.broadcast_to(counted.group_people, count.shape)
    everyone = np.full(len(count), counted.in_base.sum())
    found = _made(count, base, total, everyone, counted.counts, counted.in_base.astype(float))
    return found if median is None else Measured(**{**vars(found), "median": median})


def _of_passages(base: Base, counted: Tally, row_passages: Counts, table_passages: int) -> tuple[Counts, Counts]:
    shape = counted.passages.shape
    if base == "row":
        return np.broadcast_to(row_passages[:, None], shape), row_passages
    whole = np.full(shape[0], table_passages)
    if base == "column":
        return np.broadcast_to(counted.group_passages, shape), whole
    return np.full(shape, table_passages), whole


def _of_words(snapshot: Snapshot, asked: "Comparison", counted: Tally, words: Words) -> Measured:
    shape, exposure = words.by_group.shape, counted.in_base.astype(float)
    if asked.base == "row":
        base, total_base = np.broadcast_to(words.total[:, None], shape), words.total
    elif asked.base == "column":
        base, total_base = np.broadcast_to(words.of_group, shape), np.full(shape[0], words.of_all)
    else:
        base = np.broadcast_to(counted.group_words, shape)
        exposure = case_words(snapshot, asked.scope).astype(float)
        total_base = np.full(shape[0], int(exposure[counted.in_base].sum()))
    return _made(words.by_group, base, words.total, total_base, words.by_case, exposure)


def _of_ratings(found: Ratings) -> Measured:
    none = np.full(found.mean.shape, np.nan)
    return Measured(
        found.mean, found.count, found.count, none, found.deviation, found.total_mean, found.total_count,
        found.total_count, found.sums, found.times.astype(float),
    )  # fmt: skip


def _summed(counted: Tally) -> Counts:
    """Passages of each person of the base, added up by group: one that two people said counts for each."""
    if counted.said is None:
        return np.rint(counted.counts.astype(float) @ counted.base.astype(float)).astype(np.int64)
    return np.einsum("rgc,cg->rg", counted.said, counted.base.astype(np.int64))


def _medians(counted: Tally) -> Floats:
    """Median passages of a person of the base, (rows, groups)."""
    found = np.full(counted.people.shape, np.nan)
    for group in range(counted.base.shape[-1]):
        members = counted.base[:, group]
        said = counted.counts if counted.said is None else counted.said[:, group]
        if members.any():
            found[:, group] = np.median(said[:, members], axis=1)
    return found
