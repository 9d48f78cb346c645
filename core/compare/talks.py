"""Who speaks where: what a label of a column stands on, since a fact may be about a person or about a document."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from core.statistics.ranges import distinct

if TYPE_CHECKING:
    from core.compare.scope import Scope
    from core.compare.snapshot import Snapshot

Ints = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Talks:
    """One row for each (case, document) in which the case has material, and one with document −1 for a case that has
    none anywhere; sorted by case, then document.

    case, document   (talks,)
    of_attribution   (attributions,)  the talk that each attribution is part of
    words            (talks,)         words of the case's own turns there
    """

    case: Ints
    document: Ints
    of_attribution: Ints
    words: Ints

    @property
    def real(self) -> npt.NDArray[np.bool_]:
        """Which have material, (talks,)."""
        return self.document >= 0

    def mask(self, scope: Scope) -> npt.NDArray[np.bool_]:
        """Which are in scope, (talks,); those without a document are while no documents are chosen."""
        kept = np.ones(len(self.case), bool)
        if scope.documents is not None:
            kept &= np.append(scope.documents, False)[self.document]
        if scope.cases is not None:
            kept &= scope.cases[self.case]
        return kept


def talks(snapshot: Snapshot) -> Talks:
    """Gather them from turns and from attributions: a person of whom there is only a picture has material too."""
    documents = len(snapshot.document_ids) + 1
    spoken = np.flatnonzero((snapshot.turn_case >= 0) & (snapshot.turn_end > snapshot.turn_start))
    said = snapshot.attributions
    turn_key = snapshot.turn_case[spoken].astype(np.int64) * documents + snapshot.turn_document[spoken] + 1
    said_key = said.case.astype(np.int64) * documents + snapshot.passage_document[said.passage] + 1
    keys = distinct(np.concatenate([turn_key, said_key]))
    silent = np.setdiff1d(np.arange(len(snapshot.case_ids)), keys // documents)
    keys = np.sort(np.concatenate([keys, silent * documents]))
    words = np.bincount(
        np.searchsorted(keys, turn_key), weights=snapshot.turn_words[spoken], minlength=len(keys)
    ).astype(np.int64)
    return Talks(keys // documents, keys % documents - 1, np.searchsorted(keys, said_key), words)
