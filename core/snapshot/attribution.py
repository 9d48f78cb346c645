"""Who said what: one row for each (passage, case) pair."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from core.snapshot.columns import INTERVIEWER, PARTICIPANT, REGION, SPAN, Columns
from core.statistics.ranges import distinct, expand

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

    def only_by(self, case: int) -> npt.NDArray[np.int32]:
        """Passages that this case (its position) says and nobody else."""
        theirs = self.passage[self.case == case]
        return theirs[~self.shared[theirs]]


def attribute(columns: Columns) -> Attributions:
    """A passage belongs to the cases of all participant speakers whose turns it overlaps
    in at least one non-space character (docs/methods: *Who said a passage*)."""
    passages = len(columns.passage_ids)
    # One number line for all documents: bounds never reach into the next document.
    stride = int(max(columns.turn_end.max(initial=0), columns.passage_end.max(initial=0))) + 1
    turn_base = columns.turn_document.astype(np.int64) * stride
    passage_base = columns.passage_document.astype(np.int64) * stride
    # A turn without ink can't be overlapped; leaving it out keeps both bounds sorted.
    inked = np.flatnonzero(columns.turn_end > columns.turn_start)
    starts = (turn_base + columns.turn_start)[inked]
    ends = (turn_base + columns.turn_end)[inked]
    first = np.searchsorted(ends, passage_base + columns.passage_start, side="right")
    last = np.searchsorted(starts, passage_base + columns.passage_end, side="left")
    passage, turn = expand(first.astype(np.int64), last.astype(np.int64))
    speaker = columns.turn_speaker[inked[turn]]
    untold = np.zeros(0, np.int64)
    if len(columns.passage_kind):
        drawn, drawer, untold = _regions(columns)
        heard, talker = _spans(columns)
        passage = np.concatenate([passage, drawn, heard])
        speaker = np.concatenate([speaker, drawer, talker])
    role = columns.speaker_role[speaker]
    case = np.where(role == PARTICIPANT, columns.speaker_case[speaker], -1).astype(np.int64)
    cases = max(len(columns.case_ids), 1)
    pairs = distinct(passage[case >= 0] * cases + case[case >= 0])
    owner, who = pairs // cases, pairs % cases

    standing = np.full(passages, OTHER_ONLY, np.int8)
    standing[passage[role == INTERVIEWER]] = INTERVIEWER_ONLY
    standing[passage[role == PARTICIPANT]] = NOT_LINKED
    standing[untold] = NOT_LINKED
    standing[owner] = SPOKEN
    counts = np.bincount(owner, minlength=passages)
    return Attributions(
        owner.astype(np.int32),
        who.astype(np.int32),
        np.concatenate([[0], np.cumsum(counts)]).astype(np.int64),
        standing,
    )


def _regions(
    columns: Columns,
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int32], npt.NDArray[np.int64]]:
    """(passage, speaker) pairs: a region of a picture is of its document's one participant, or, where none takes
    part, of whoever is named. And the regions of documents in which several do: it can't be told whose they are."""
    passages = np.flatnonzero(columns.passage_kind == REGION)
    order = np.argsort(columns.speaker_document, kind="stable")
    owners = columns.speaker_document[order]
    pairs: list[tuple[int, int]] = []
    untold: list[int] = []
    for passage in passages.tolist():
        at = columns.passage_document[passage]
        own = order[np.searchsorted(owners, at) : np.searchsorted(owners, at, side="right")]
        taking_part = own[columns.speaker_role[own] == PARTICIPANT]
        if len(taking_part) > 1:
            untold.append(passage)
        else:
            pairs += [(passage, int(one)) for one in (taking_part if len(taking_part) else own)]
    found = np.array(pairs, np.int64).reshape(-1, 2)
    return found[:, 0], found[:, 1].astype(np.int32), np.array(untold, np.int64)


def _spans(columns: Columns) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int32]]:
    """(passage, speaker) pairs: a span of a recording is of whoever speaks in a turn that overlaps it in time."""
    passages = np.flatnonzero(columns.passage_kind == SPAN)
    found, speakers = [np.zeros(0, np.int64)], [np.zeros(0, np.int32)]
    for document in np.unique(columns.passage_document[passages]).tolist():
        own = passages[columns.passage_document[passages] == document]
        turns = np.flatnonzero((columns.turn_document == document) & ~np.isnan(columns.turn_begin))
        both = (columns.turn_begin[turns][None, :] < columns.passage_finish[own][:, None]) & (
            columns.turn_finish[turns][None, :] > columns.passage_begin[own][:, None]
        )
        at, which = np.nonzero(both)
        found.append(own[at])
        speakers.append(columns.turn_speaker[turns[which]])
    return np.concatenate(found), np.concatenate(speakers)


class Attributed(Columns):
    """The arrays with who said each passage."""

    @cached_property
    def attributions(self) -> Attributions:
        return attribute(self)
