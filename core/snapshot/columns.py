"""A project's rows as plain arrays, as they were read: what everything else is derived from."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

Ints = npt.NDArray[np.int32]

PARTICIPANT, INTERVIEWER, OTHER = 0, 1, 2
"""Roles of a speaker."""
ROLES = ("participant", "interviewer", "other")
"""The same by name, each at its own place."""

DAY_ZERO = date(1970, 1, 1)
"""Days are counted from it."""

TEXT, REGION, SPAN = 0, 1, 2
"""Kinds of passages."""


def _none() -> npt.NDArray[Any]:
    return np.zeros(0, np.int32)


@dataclass(frozen=True)
class Columns:
    """Positions ("which one") are indexes into the ``*_ids`` arrays; −1 is none.

    speaker_*   (speakers,)  sorted by number; speaker_role is PARTICIPANT, INTERVIEWER or OTHER
    turn_*      (turns,)     sorted by document and start; bounds drawn in to non-space characters
    passage_*   (passages,)  sorted by document and start; bounds drawn in, code points
    coding_*    (codings,)   sorted by number: one code on one passage by one coder; its rating (0: none) and the day it was made (days
                             since ``DAY_ZERO``), empty where neither was asked for

    Passages that are no text have their bounds at 0 and are told apart by ``passage_kind`` (TEXT, REGION, SPAN); a span
    has seconds in ``passage_begin`` and ``passage_finish``, as turns of recordings have in ``turn_begin`` and
    ``turn_finish`` (NaN elsewhere). These arrays are empty where all is text.
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
    speaker_ids: npt.NDArray[np.int64] = field(default_factory=_none)
    coding_ids: npt.NDArray[np.int64] = field(default_factory=_none)
    speaker_document: Ints = field(default_factory=_none)
    passage_kind: npt.NDArray[np.int8] = field(default_factory=_none)
    passage_begin: npt.NDArray[np.float64] = field(default_factory=_none)
    passage_finish: npt.NDArray[np.float64] = field(default_factory=_none)
    turn_begin: npt.NDArray[np.float64] = field(default_factory=_none)
    turn_finish: npt.NDArray[np.float64] = field(default_factory=_none)
    coding_rating: npt.NDArray[np.int8] = field(default_factory=_none)
    coding_day: Ints = field(default_factory=_none)
    moved: Mapping[str, int] = field(default_factory=dict)
    """The revision at which the rows of each kind were last touched, as far as that was seen; "" for all others."""
    past: str = ""
    """What it was carried on from: a name of the one reading of the whole that it goes back to."""

    def since(self, *kinds: str) -> tuple[str, int]:
        """The past, and the revision from which on no row of kinds that begin so was touched: what is made of those rows
        alone is the same in every snapshot that answers the same."""
        seen = [revision for kind, revision in self.moved.items() if kind and kind.startswith(kinds)]
        return self.past, max([self.moved.get("", self.revision), *seen])

    @cached_property
    def turn_case(self) -> Ints:
        """The case that speaks each turn, −1 for none, shape (turns,)."""
        if not len(self.speaker_role):
            return np.full(len(self.turn_speaker), -1, np.int32)
        speaks = np.where(self.speaker_role == PARTICIPANT, self.speaker_case, -1)
        return np.where(self.turn_speaker >= 0, speaks[self.turn_speaker], -1).astype(np.int32)
