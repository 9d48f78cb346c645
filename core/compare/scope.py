"""What is in play: a mask over documents, cases and coders."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.incidence import Incidence, incidence
from core.compare.snapshot import Snapshot

Mask = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Scope:
    """``None`` means everything; otherwise one truth value a document, case or coder."""

    documents: Mask | None = None
    cases: Mask | None = None
    coders: Mask | None = None

    @property
    def whole(self) -> bool:
        """Whether nothing is left out."""
        return self.documents is None and self.cases is None and self.coders is None


def rows_in(snapshot: Snapshot, scope: Scope, roll_up: bool) -> Incidence:
    """The rows of all codes as far as the scope's coders made them."""
    if scope.coders is None:
        return snapshot.branch_rows if roll_up else snapshot.own_rows
    return incidence(snapshot, roll_up, scope.coders)


def attribution_mask(snapshot: Snapshot, scope: Scope) -> Mask:
    """Which attributions are in scope, shape (attributions,)."""
    said = snapshot.attributions
    return _entries(snapshot, scope, said.passage, said.case)


def passage_mask(snapshot: Snapshot, scope: Scope) -> Mask:
    """Which passages are in scope, shape (passages,): in its documents, and said by one of
    its cases or by no case at all."""
    mask = np.ones(len(snapshot.passage_ids), bool)
    if scope.documents is not None:
        mask &= scope.documents[snapshot.passage_document]
    if scope.cases is not None:
        said = snapshot.attributions
        by_some = np.zeros(len(mask), bool)
        by_some[said.passage[scope.cases[said.case]]] = True
        mask &= by_some | (np.diff(said.first) == 0)
    return mask


def entry_mask(snapshot: Snapshot, scope: Scope, rows: Incidence) -> Mask | None:
    """Which entries of ``rows`` are in scope; ``None`` where all are."""
    if scope.documents is None and scope.cases is None:
        return None
    return _entries(snapshot, scope, rows.entry_passage, rows.entry_case)


def case_words(snapshot: Snapshot, scope: Scope) -> npt.NDArray[np.int64]:
    """Words of each case's own turns in scope, shape (cases,)."""
    spoken = _turns(snapshot, scope)
    return np.bincount(
        snapshot.turn_case[spoken], weights=snapshot.turn_words[spoken], minlength=len(snapshot.case_ids)
    ).astype(np.int64)


def has_material(snapshot: Snapshot, scope: Scope) -> Mask:
    """Which cases speak a turn in scope, shape (cases,)."""
    material = np.zeros(len(snapshot.case_ids), bool)
    material[snapshot.turn_case[_turns(snapshot, scope)]] = True
    return material


def _turns(snapshot: Snapshot, scope: Scope) -> Mask:
    """Turns in scope that some case speaks, shape (turns,)."""
    spoken = (snapshot.turn_case >= 0) & (snapshot.turn_end > snapshot.turn_start)
    if scope.documents is not None:
        spoken &= scope.documents[snapshot.turn_document]
    if scope.cases is not None and len(scope.cases):
        spoken &= scope.cases[np.maximum(snapshot.turn_case, 0)]
    return spoken


def _entries(snapshot: Snapshot, scope: Scope, passage: npt.NDArray[np.int32], case: npt.NDArray[np.int32]) -> Mask:
    mask = np.ones(len(passage), bool)
    if scope.documents is not None:
        mask &= scope.documents[snapshot.passage_document[passage]]
    if scope.cases is not None:
        mask &= scope.cases[case]
    return mask
