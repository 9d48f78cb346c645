"""Who said what: one row for each (passage, case) pair."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

if TYPE_CHECKING:
    from core.compare.snapshot import Snapshot

PARTICIPANT, INTERVIEWER, OTHER = 0, 1, 2
"""Roles of a speaker."""

SPOKEN, INTERVIEWER_ONLY, NOT_LINKED, OTHER_ONLY = 0, 1, 2, 3
"""What becomes of a passage: some case said it, or why none did."""


@dataclass(frozen=True)
class Attributions:
    """Sorted by passage.

    passage, case   (attributions,)  positions in the snapshot
    first           (passages + 1,)  passage p's rows are first[p]:first[p + 1]
    standing        (passages,)      SPOKEN, INTERVIEWER_ONLY, NOT_LINKED or OTHER_ONLY
    """

    passage: npt.NDArray[np.int32]
    case: npt.NDArray[np.int32]
    first: npt.NDArray[np.int64]
    standing: npt.NDArray[np.int8]

    @cached_property
    def shared(self) -> npt.NDArray[np.bool_]:
        """Which passages belong to two cases or more, shape (passages,)."""
        return np.diff(self.first) > 1


def expand(
    first: npt.NDArray[np.int64], last: npt.NDArray[np.int64]
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """All integers of the ranges first[i]:last[i], with the i each came from."""
    lengths = np.maximum(last - first, 0)
    owner = np.repeat(np.arange(len(first)), lengths)
    offset = np.arange(lengths.sum()) - np.repeat(np.cumsum(lengths) - lengths, lengths)
    return owner, first[owner] + offset


def distinct(keys: npt.NDArray[np.int64]) -> npt.NDArray[np.int64]:
    """The different values, ascending. By sorting: several times as fast as hashing here."""
    ordered = np.sort(keys)
    fresh = np.ones(len(ordered), bool)
    np.not_equal(ordered[1:], ordered[:-1], out=fresh[1:])
    return ordered[fresh]


def attribute(snapshot: Snapshot) -> Attributions:
    """A passage belongs to the cases of all participant speakers whose turns it overlaps
    in at least one non-space character (docs/methods: *Who said a passage*)."""
    passages = len(snapshot.passage_ids)
    # One number line for all documents: bounds never reach into the next document.
    stride = int(max(snapshot.turn_end.max(initial=0), snapshot.passage_end.max(initial=0))) + 1
    turn_base = snapshot.turn_document.astype(np.int64) * stride
    passage_base = snapshot.passage_document.astype(np.int64) * stride
    # A turn without ink can't be overlapped; leaving it out keeps both bounds sorted.
    inked = np.flatnonzero(snapshot.turn_end > snapshot.turn_start)
    starts = (turn_base + snapshot.turn_start)[inked]
    ends = (turn_base + snapshot.turn_end)[inked]
    first = np.searchsorted(ends, passage_base + snapshot.passage_start, side="right")
    last = np.searchsorted(starts, passage_base + snapshot.passage_end, side="left")
    passage, turn = expand(first.astype(np.int64), last.astype(np.int64))
    turn = inked[turn]

    speaker = snapshot.turn_speaker[turn]
    role = snapshot.speaker_role[speaker]
    case = snapshot.turn_case[turn].astype(np.int64)
    cases = max(len(snapshot.case_ids), 1)
    pairs = distinct(passage[case >= 0] * cases + case[case >= 0])
    owner, who = pairs // cases, pairs % cases

    standing = np.full(passages, OTHER_ONLY, np.int8)
    standing[passage[role == INTERVIEWER]] = INTERVIEWER_ONLY
    standing[passage[role == PARTICIPANT]] = NOT_LINKED
    standing[owner] = SPOKEN
    counts = np.bincount(owner, minlength=passages)
    return Attributions(
        owner.astype(np.int32),
        who.astype(np.int32),
        np.concatenate([[0], np.cumsum(counts)]).astype(np.int64),
        standing,
    )
