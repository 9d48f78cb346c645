"""What a scope leaves of the snapshot's parts: rows, attributions, passages, words, people with material."""

import numpy as np
import numpy.typing as npt

from core.snapshot.incidence import Incidence, incidence
from core.snapshot.scope import Mask, Scope
from core.snapshot.snapshot import Snapshot


def rows_in(snapshot: Snapshot, scope: Scope, roll_up: bool) -> Incidence:
    """The rows of all codes as far as their codings are in scope."""
    kept = scope.coding_mask(snapshot)
    if kept is None:
        return snapshot.branch_rows if roll_up else snapshot.own_rows
    return incidence(snapshot, roll_up, kept)


def attribution_mask(snapshot: Snapshot, scope: Scope) -> Mask:
    """Which attributions are in scope, shape (attributions,)."""
    said = snapshot.attributions
    return _entries(snapshot, scope, said.passage, said.case)


def passage_mask(snapshot: Snapshot, scope: Scope) -> Mask:
    """Which passages are in scope, shape (passages,): in its documents, and said by one of
    its cases or by no case at all."""
    mask = np.ones(len(snapshot.passage_ids), bool) if scope.passages is None else scope.passages.copy()
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
    if scope.documents is None and scope.cases is None and scope.passages is None:
        return None
    return _entries(snapshot, scope, rows.entry_passage, rows.entry_case)


def case_words(snapshot: Snapshot, scope: Scope) -> npt.NDArray[np.int64]:
    """Words of each case's own turns in scope, shape (cases,)."""
    talks = snapshot.talks
    kept = talks.mask(scope)
    return np.bincount(talks.case[kept], weights=talks.words[kept], minlength=len(snapshot.case_ids)).astype(np.int64)


def has_material(snapshot: Snapshot, scope: Scope) -> Mask:
    """Which cases have material in scope, shape (cases,)."""
    talks = snapshot.talks
    material = np.zeros(len(snapshot.case_ids), bool)
    material[talks.case[talks.real & talks.mask(scope)]] = True
    return material


def cases_in_play(snapshot: Snapshot, scope: Scope) -> Mask | None:
    """Which cases a list shows, (cases,): those in scope, and with documents chosen, of those who have material there;
    ``None`` where all are."""
    if scope.documents is None:
        return scope.cases
    return has_material(snapshot, scope)


def documents_in_play(snapshot: Snapshot, scope: Scope) -> Mask | None:
    """Which documents a list shows, (documents,): those in scope in which one of its cases has material, or nobody who is a
    case; ``None`` where all are."""
    if scope.cases is None:
        return scope.documents
    talks = snapshot.talks
    somebody, wanted = (np.zeros(len(snapshot.document_ids), bool) for _ in range(2))
    somebody[talks.document[talks.real]] = True
    wanted[talks.document[talks.real & talks.mask(scope)]] = True
    kept = wanted | ~somebody
    return kept if scope.documents is None else kept & scope.documents


def coded_in_play(snapshot: Snapshot, scope: Scope) -> Mask:
    """Which passages are in scope and carry a coding that is, (passages,)."""
    kept = scope.coding_mask(snapshot)
    mask = np.zeros(len(snapshot.passage_ids), bool)
    mask[snapshot.coding_passage if kept is None else snapshot.coding_passage[kept]] = True
    return mask & passage_mask(snapshot, scope)


def _entries(snapshot: Snapshot, scope: Scope, passage: npt.NDArray[np.int32], case: npt.NDArray[np.int32]) -> Mask:
    mask = np.ones(len(passage), bool) if scope.passages is None else scope.passages[passage]
    if scope.documents is not None:
        mask &= scope.documents[snapshot.passage_document[passage]]
    if scope.cases is not None:
        mask &= scope.cases[case]
    return mask
