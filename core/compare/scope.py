"""What is in play: a mask over documents, cases, coders and codings."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.incidence import Incidence, incidence
from core.compare.snapshot import Snapshot

Mask = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Scope:
    """``None`` means everything; otherwise one truth value a document, case, coder, coding (those of certain codes, or
    made on certain days) or passage (those that a query finds)."""

    documents: Mask | None = None
    cases: Mask | None = None
    coders: Mask | None = None
    codings: Mask | None = None
    passages: Mask | None = None

    @property
    def whole(self) -> bool:
        """Whether nothing is left out."""
        return all(part is None for part in (self.documents, self.cases, self.coders, self.codings, self.passages))

    def coding_mask(self, snapshot: Snapshot) -> Mask | None:
        """Which codings are in play, (codings,); None where all are."""
        if self.coders is None:
            return self.codings
        by_coder = self.coders[snapshot.coding_coder]
        return by_coder if self.codings is None else by_coder & self.codings


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


def _entries(snapshot: Snapshot, scope: Scope, passage: npt.NDArray[np.int32], case: npt.NDArray[np.int32]) -> Mask:
    mask = np.ones(len(passage), bool) if scope.passages is None else scope.passages[passage]
    if scope.documents is not None:
        mask &= scope.documents[snapshot.passage_document[passage]]
    if scope.cases is not None:
        mask &= scope.cases[case]
    return mask
