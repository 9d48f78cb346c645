"""Maps and likeness of rows: correspondence analysis, and an order in which like rows stand together."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Correspondence:
    """Principal coordinates of rows and groups on the axes, largest inertia first.

    rows (rows, axes), groups (groups, axes)   NaN for an empty row or group
    inertia (axes,)                            of each axis; ``total`` of the table
    row_contributions, group_contributions     share of an axis's inertia that each makes; columns add up to 1
    row_quality, group_quality (…, axes)       squared cosines: how much of a point's distance an axis shows
    row_mass, group_mass                       their share of all
    """

    rows: Floats
    groups: Floats
    inertia: Floats
    row_contributions: Floats
    group_contributions: Floats
    row_quality: Floats
    group_quality: Floats
    row_mass: Floats
    group_mass: Floats

    @property
    def total(self) -> float:
        return float(self.inertia.sum())


def correspondence(table: npt.ArrayLike) -> Correspondence | None:
    """Analyse a table of counts (rows, groups). None where fewer than two rows or groups hold anything.
    Source: Greenacre 1984, *Theory and Applications of Correspondence Analysis*, 4.1."""
    count = np.asarray(table, float)
    row, group = np.flatnonzero(count.sum(axis=1) > 0), np.flatnonzero(count.sum(axis=0) > 0)
    if len(row) < 2 or len(group) < 2:
        return None
    share = count[np.ix_(row, group)] / count.sum()
    tall, wide = share.sum(axis=1), share.sum(axis=0)
    residual = (share - np.outer(tall, wide)) / np.sqrt(np.outer(tall, wide))
    left, singular, right = np.linalg.svd(residual, full_matrices=False)
    axes = min(len(row), len(group)) - 1
    left, singular, right = left[:, :axes], singular[:axes], right.T[:, :axes]
    # The sign of an axis is arbitrary: the largest row stands to the right, so that a map doesn't flip by itself.
    sign = np.where(left[np.abs(left).argmax(axis=0), np.arange(axes)] < 0, -1.0, 1.0)
    left, right = left * sign, right * sign
    rows, groups = left * singular / np.sqrt(tall)[:, None], right * singular / np.sqrt(wide)[:, None]
    return Correspondence(
        _back(rows, row, len(count)),
        _back(groups, group, count.shape[1]),
        singular**2,
        _back(left**2, row, len(count)),
        _back(right**2, group, count.shape[1]),
        _back(_quality(rows), row, len(count)),
        _back(_quality(groups), group, count.shape[1]),
        _back(tall[:, None], row, len(count))[:, 0],
        _back(wide[:, None], group, count.shape[1])[:, 0],
    )


def _quality(points: Floats) -> Floats:
    distance = (points**2).sum(axis=1, keepdims=True)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(distance > 0, points**2 / distance, 0.0)


def _back(values: Floats, places: npt.NDArray[np.int64], size: int) -> Floats:
    """Where empty rows stood, NaN."""
    found = np.full((size, values.shape[1]), np.nan)
    found[places] = values
    return found


MOST_ORDERED = 500
"""Rows that are put in order of likeness at most: it takes time with their cube."""


def by_likeness(figures: npt.ArrayLike) -> list[int]:
    """An order of rows in which like ones stand together: average linkage, leaves in the order that makes neighbours
    most alike. ``figures`` (rows, groups); a missing figure is taken as 0.
    Source: Bar-Joseph, Gifford & Jaakkola 2001, *Bioinformatics* 17."""
    figure = np.nan_to_num(np.asarray(figures, float))
    if len(figure) < 3 or len(figure) > MOST_ORDERED:
        return list(range(len(figure)))
    from scipy.cluster.hierarchy import leaves_list, linkage, optimal_leaf_ordering
    from scipy.spatial.distance import pdist

    away = pdist(figure)
    order: list[int] = leaves_list(optimal_leaf_ordering(linkage(away, "average"), away)).tolist()
    # Either end may come first: the larger one does.
    return order if figure[order[0]].sum() >= figure[order[-1]].sum() else order[::-1]
