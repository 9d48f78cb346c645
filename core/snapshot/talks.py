"""Who speaks where: what a label of a column stands on, since a fact may be about a person or about a document."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.snapshot.attribution import Attributed
from core.snapshot.scope import Scope
from core.statistics.ranges import distinct

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


def talks(held: Attributed) -> Talks:
    """Gather them from turns and from attributions: a person of whom there is only a picture has material too."""
    documents = len(held.document_ids) + 1
    spoken = np.flatnonzero((held.turn_case >= 0) & (held.turn_end > held.turn_start))
    said = held.attributions
    turn_key = held.turn_case[spoken].astype(np.int64) * documents + held.turn_document[spoken] + 1
    said_key = said.case.astype(np.int64) * documents + held.passage_document[said.passage] + 1
    keys = distinct(np.concatenate([turn_key, said_key]))
    silent = np.setdiff1d(np.arange(len(held.case_ids)), keys // documents)
    keys = np.sort(np.concatenate([keys, silent * documents]))
    words = np.bincount(np.searchsorted(keys, turn_key), weights=held.turn_words[spoken], minlength=len(keys)).astype(
        np.int64
    )
    return Talks(keys // documents, keys % documents - 1, np.searchsorted(keys, said_key), words)
