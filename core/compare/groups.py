"""The columns of a comparison: a label on cases."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.people.derived import band_names
from core.text.missing import REASONS, MissingReason

OUTSIDE = -100
"""Label of a case whose group exists but was not chosen."""


@dataclass(frozen=True)
class Groups:
    """``labels`` (cases,): position in ``names``, ``OUTSIDE``, or ``missing_label(reason)``."""

    names: tuple[str, ...]
    labels: npt.NDArray[np.int32]
    ordered: bool = False

    @property
    def count(self) -> int:
        return len(self.names)

    @property
    def sizes(self) -> npt.NDArray[np.int64]:
        """Cases in each group, shape (groups,)."""
        return np.bincount(self.labels[self.labels >= 0], minlength=self.count)

    def indicator(self, keep: npt.NDArray[np.bool_] | None = None) -> npt.NDArray[np.float32]:
        """Shape (cases, groups): 1 where the case is of the group (and kept)."""
        member = self.labels[:, None] == np.arange(self.count)[None, :]
        if keep is not None:
            member &= keep[:, None]
        return member.astype(np.float32)

    def choose(self, chosen: list[int]) -> "Groups":
        """Only these groups, in this order; cases of the others become ``OUTSIDE``."""
        place = np.full(self.count + 1, OUTSIDE, np.int32)
        place[chosen] = np.arange(len(chosen))
        labels = np.where(self.labels >= 0, place[np.maximum(self.labels, 0)], self.labels)
        return Groups(tuple(self.names[i] for i in chosen), labels.astype(np.int32), self.ordered)


def missing_label(reason: MissingReason) -> int:
    """The label of a case without a value, for this reason."""
    return -1 - REASONS.index(reason)


def bands(values: npt.NDArray[np.float64], missing: npt.NDArray[np.int32], cuts: list[float]) -> Groups:
    """Groups of a number variable. ``missing`` (cases,) holds missing labels where a value
    is absent (there ``values`` is ignored); a value on a cut belongs to the band above it."""
    place = np.searchsorted(np.asarray(sorted(set(cuts)), float), values, side="right")
    return Groups(tuple(band_names(sorted(set(cuts)))), np.where(missing < 0, missing, place).astype(np.int32), True)


def proposed_cuts(values: npt.NDArray[np.float64]) -> list[float]:
    """Two round cut points that part the values in about equal thirds."""
    if len(values) < 3:
        return []
    low, high = np.quantile(values, [1 / 3, 2 / 3])
    spread = float(values.max() - values.min())
    step = 10 ** np.floor(np.log10(spread / 5)) if spread > 0 else 1.0
    if np.all(values == np.round(values)):
        step = max(step, 1.0)
    cuts = sorted({float(np.round(cut / step) * step) for cut in (low, high)})
    return [cut for cut in cuts if values.min() < cut <= values.max()]
