"""The chosen rows document by document, within the groups of those who speak there."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.groups import AnyGroups, Groups
from core.compare.tally import entries_of, in_groups
from core.snapshot.incidence import Incidence
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot

Counts = npt.NDArray[np.int64]
Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class ByDocument:
    """
    counts   (rows, groups, documents)  distinct passages by people of the group
    base     (documents, groups)        where somebody of the group has material in scope
    nobody   (documents,)               in scope, and nobody who has material there is a case
    """

    counts: Counts
    base: Bools
    nobody: Bools


def by_document(snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: AnyGroups, scope: Scope) -> ByDocument:
    """Count the chosen rows (by position) in each document; a document stands in every group that speaks in it."""
    row, entry, group = _placed(snapshot, rows, chosen, groups, scope)
    passage = rows.entry_passage[entry].astype(np.int64)
    high, wide, many = len(chosen), groups.count, len(snapshot.document_ids)
    cell = (row * wide + group) * many + snapshot.passage_document[passage]
    # A passage by two people of a group stands once in it.
    keys = np.unique(cell * max(len(snapshot.passage_ids), 1) + passage)
    counts = np.bincount(keys // max(len(snapshot.passage_ids), 1), minlength=high * wide * many)
    talks = snapshot.talks
    real = talks.real & talks.mask(scope)
    base = np.zeros((many, wide), bool)
    talk, of = np.nonzero(_member(snapshot, groups) & real[:, None])
    base[talks.document[talk], of] = True
    nobody = np.ones(many, bool) if scope.documents is None else scope.documents.copy()
    nobody[talks.document[talks.real]] = False
    return ByDocument(counts.reshape(high, wide, many).astype(np.int64), base, nobody)


def _placed(
    snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: AnyGroups, scope: Scope
) -> tuple[Counts, Counts, Counts]:
    """Row, entry and group of everything counted."""
    if not isinstance(groups, Groups):
        return in_groups(snapshot, rows, chosen, groups, scope)
    row, entry = entries_of(snapshot, rows, chosen, scope)
    label = groups.labels[rows.entry_case[entry]].astype(np.int64)
    kept = label >= 0
    return row[kept], entry[kept], label[kept]


def _member(snapshot: Snapshot, groups: AnyGroups) -> Bools:
    """Which groups each talk belongs to, (talks, groups)."""
    if not isinstance(groups, Groups):
        return groups.member
    member: Bools = np.equal.outer(groups.labels[snapshot.talks.case], np.arange(groups.count))
    return member
