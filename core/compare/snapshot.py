"""A project at one revision as plain arrays: what every count, query and drawer reads."""

from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from core.compare.attribution import PARTICIPANT, Attributions, attribute
from core.compare.incidence import Incidence, incidence
from core.compare.talks import Talks, talks

Ints = npt.NDArray[np.int32]


def _none() -> npt.NDArray[Any]:
    return np.zeros(0, np.int32)


@dataclass(frozen=True)
class Snapshot:
    """Positions ("which one") are indexes into the ``*_ids`` arrays; −1 is none.

    speaker_role is PARTICIPANT, INTERVIEWER or OTHER (core.compare.attribution)
    turn_*      (turns,)     sorted by document and start; bounds drawn in to non-space characters
    passage_*   (passages,)  sorted by document and start; bounds drawn in, code points
    coding_*    (codings,)   one code on one passage by one coder; its rating (0: none) and the day it was made (days
                             since 1970-01-01), empty where neither was asked for

    Passages that are no text have their bounds at 0 and are told apart by ``passage_kind`` (TEXT, REGION, SPAN of
    core.compare.attribution); a span has seconds in ``passage_begin`` and ``passage_finish``, as turns of recordings
    have in ``turn_begin`` and ``turn_finish`` (NaN elsewhere). These arrays are empty where all is text.
    """

    revision: int
    document_ids: npt.NDArray[np.int64]
    turn_document: Ints
    turn_start: Ints
    turn_end: Ints
    turn_speaker: Ints
    turn_words: Ints
    speaker_role: npt.NDArray[np.int8]
    speaker_case: Ints
    case_ids: npt.NDArray[np.int64]
    passage_ids: npt.NDArray[np.int64]
    passage_document: Ints
    passage_start: Ints
    passage_end: Ints
    coding_passage: Ints
    coding_code: Ints
    coding_coder: Ints
    code_ids: npt.NDArray[np.int64]
    code_parent: Ints
    coder_ids: npt.NDArray[np.int64]
    speaker_document: Ints = field(default_factory=_none)
    passage_kind: npt.NDArray[np.int8] = field(default_factory=_none)
    passage_begin: npt.NDArray[np.float64] = field(default_factory=_none)
    passage_finish: npt.NDArray[np.float64] = field(default_factory=_none)
    turn_begin: npt.NDArray[np.float64] = field(default_factory=_none)
    turn_finish: npt.NDArray[np.float64] = field(default_factory=_none)
    coding_rating: npt.NDArray[np.int8] = field(default_factory=_none)
    coding_day: Ints = field(default_factory=_none)

    @cached_property
    def attributions(self) -> Attributions:
        """Who said each passage."""
        return attribute(self)

    @cached_property
    def talks(self) -> Talks:
        """Who speaks where."""
        return talks(self)

    @cached_property
    def own_rows(self) -> Incidence:
        """Each code's own passages, all coders."""
        return incidence(self, roll_up=False)

    @cached_property
    def branch_rows(self) -> Incidence:
        """Each code's passages with those of all codes beneath it, all coders."""
        return incidence(self, roll_up=True)

    @cached_property
    def codings_by_code(self) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
        """Codings in the order of their codes, and where each code’s begin, (codes + 1,)."""
        order = np.argsort(self.coding_code, kind="stable")
        first = np.searchsorted(self.coding_code[order], np.arange(len(self.code_ids) + 1))
        return order, first.astype(np.int64)

    @cached_property
    def turn_case(self) -> Ints:
        """The case that speaks each turn, −1 for none, shape (turns,)."""
        if not len(self.speaker_role):
            return np.full(len(self.turn_speaker), -1, np.int32)
        speaks = np.where(self.speaker_role == PARTICIPANT, self.speaker_case, -1)
        return np.where(self.turn_speaker >= 0, speaks[self.turn_speaker], -1).astype(np.int32)

    @property
    def memory(self) -> int:
        """Bytes held by the arrays, with what has been derived so far."""
        held = list(vars(self).values())
        for derived in ("attributions", "talks", "own_rows", "branch_rows"):
            if derived in vars(self):
                held.extend(vars(vars(self)[derived]).values())
        return sum(value.nbytes for value in held if isinstance(value, np.ndarray))
