"""Questions of the interview guide: which turn asks which, who was asked, and what came when asked or of their own accord."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from core.coding.likeness import vectors
from core.snapshot.columns import INTERVIEWER, SPAN
from core.snapshot.incidence import Incidence
from core.snapshot.lineage import lineage
from core.snapshot.masks import passage_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot

LIKE = 0.34
"""Cosine of stems from which a turn is taken to ask a question; below, nobody is sure."""
PERHAPS = 0.2
"""From which one is offered to be read."""
_AT_ONCE = 2_000
"""Turns that are held against all questions at once: bounds memory."""
WITHIN = 4
"""Turns after a question in which what is said is said when asked."""
EVERYTHING = Scope()
Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]


def likenesses(turns: Sequence[str], questions: Sequence[str], language: str = "english") -> npt.NDArray[np.float64]:
    """How like each turn is to each question, 0 to 1: the largest cosine (tf–idf of stems) of the turn, of one of its sentences or
    of two that follow each other, since questions come after a word on what was said. Shape (turns, questions)."""
    found = np.zeros((len(turns), len(questions)))
    if not turns or not questions:
        return found
    cut = [_pieces(turn) for turn in turns]
    held = vectors([*questions, *(piece for pieces in cut for piece in pieces)], language)
    asked, said = held[: len(questions)].T, held[len(questions) :]
    first = np.concatenate([[0], np.cumsum([len(pieces) for pieces in cut])])
    for at in range(0, len(turns), _AT_ONCE):
        ends = first[at : at + _AT_ONCE + 1]
        alike = (said[ends[0] : ends[-1]] @ asked).toarray()
        found[at : at + _AT_ONCE] = np.maximum.reduceat(alike, ends[:-1] - ends[0], axis=0)
    return found


def _pieces(turn: str) -> list[str]:
    """A turn whole, each of its sentences, and each two that follow each other."""
    ends = [at + 1 for at, letter in enumerate(turn) if letter in ".?!…\n？。"]
    cuts = [0, *ends, len(turn)]
    sentences = [turn[first:last] for first, last in pairwise(cuts) if turn[first:last].strip()]
    return [turn, *sentences, *(f"{one} {two}" for one, two in pairwise(sentences))]


@dataclass(frozen=True)
class Put:
    """Questions that were put: ``turn`` (positions in the snapshot) asks ``question`` (a place in the guide). Shapes (put,)."""

    turn: Ints
    question: Ints


@dataclass(frozen=True)
class Guide:
    """What was put, and ``about`` (questions,): the codes, by position, that each question asks about, with all beneath them."""

    put: Put
    about: tuple[tuple[int, ...], ...]
    within: int = WITHIN

    def questions_on(self, held: Snapshot, codes: Ints, roll_up: bool) -> Ints:
        """Questions on any of these codes or on what lies above them; rolled up, on what lies beneath them too."""
        below, above = lineage(held.code_parent)
        wanted = np.zeros(len(held.code_ids), bool)
        wanted[above[np.isin(below, codes)]] = True
        if roll_up:
            wanted[below[np.isin(above, codes)]] = True
        return np.array([at for at, about in enumerate(self.about) if wanted[list(about)].any()], np.int64)

    def asked_in(self, held: Snapshot, questions: Ints) -> Bools:
        """Documents in which any of these questions was put, (documents,)."""
        found = np.zeros(len(held.document_ids), bool)
        found[held.turn_document[self.put.turn[np.isin(self.put.question, questions)]]] = True
        return found

    def when_asked(self, held: Snapshot, questions: Ints, passages: Ints) -> Bools:
        """Which passages begin within the turns after one of these questions, (passages,)."""
        asking = np.sort(self.put.turn[np.isin(self.put.question, questions)])
        return said_when_asked(held, asking, passages, self.within)


def interviewed(held: Snapshot, scope: Scope = EVERYTHING) -> Scope:
    """The same scope without documents in which no interviewer says a word: in a survey nobody could be asked."""
    asks = (held.speaker_role[np.maximum(held.turn_speaker, 0)] == INTERVIEWER) & (held.turn_words > 0)
    found = np.zeros(len(held.document_ids), bool)
    found[held.turn_document[asks]] = True
    return replace(scope, documents=found if scope.documents is None else found & scope.documents)


def present(held: Snapshot, scope: Scope = EVERYTHING) -> Bools:
    """Where each case in scope speaks as a participant, in documents in scope; shape (documents, cases)."""
    found = np.zeros((len(held.document_ids), len(held.case_ids)), bool)
    case = held.turn_case
    speaks = case >= 0
    found[held.turn_document[speaks], case[speaks]] = True
    if scope.documents is not None:
        found &= scope.documents[:, None]
    return found if scope.cases is None else found & scope.cases[None, :]


def asked(held: Snapshot, put: Put, questions: int, speaking: Bools) -> Bools:
    """Whether each question was put where the case speaks (:func:`present`); shape (questions, cases)."""
    found = np.zeros((questions, len(held.case_ids)), bool)
    for question in range(questions):
        documents = np.unique(held.turn_document[put.turn[put.question == question]])
        found[question] = speaking[documents].any(axis=0) if len(documents) else False
    return found


@dataclass(frozen=True)
class Mentions:
    """Of one question's codes: ``when_asked`` and ``own_accord`` (cases,): who mentions them so at least once."""

    when_asked: Bools
    own_accord: Bools


def mentions(
    held: Snapshot,
    put: Put,
    question: int,
    rows: Incidence,
    codes: Ints,
    within: int = WITHIN,
    scope: Scope = EVERYTHING,
) -> Mentions:
    """What is in any of the ``rows`` of ``codes`` (places) and in scope: said within so many turns after the question, or not."""
    passages = np.unique(rows.cut(codes)[1]).astype(np.int64)
    passages = passages[passage_mask(held, scope)[passages]]
    prompted = said_when_asked(held, np.sort(put.turn[put.question == question]), passages, within)
    said = held.attributions
    inside = np.isin(said.passage, passages)
    if scope.cases is not None:
        inside &= scope.cases[said.case]
    cases, at = said.case[inside], np.searchsorted(passages, said.passage[inside])
    size = len(held.case_ids)
    found = [np.bincount(cases[which[at]], minlength=size).astype(bool) for which in (prompted, ~prompted)]
    return Mentions(found[0], found[1])


def said_when_asked(held: Snapshot, asking: Ints, passages: Ints, within: int) -> Bools:
    """Which passages begin at most so many turns after one of the turns ``asking`` (positions, ascending), in its document."""
    turn = begins_in(held, passages)
    # The last turn that asks before the passage's own.
    last = np.searchsorted(asking, turn, side="right") - 1
    before = np.where(last >= 0, asking[np.maximum(last, 0)] if len(asking) else -1, -1)
    same = (before >= 0) & (turn >= 0)
    same[same] = held.turn_document[before[same]] == held.turn_document[turn[same]]
    found: Bools = same & (turn - before <= within)
    return found


def begins_in(held: Snapshot, passages: Ints) -> Ints:
    """The first turn (its position) that anybody but an interviewer says in each passage, by its words, or of a span by its time;
    −1 where there is none. Shape (passages,)."""
    own = np.flatnonzero(held.speaker_role[np.maximum(held.turn_speaker, 0)] != INTERVIEWER)
    stride = int(max(held.turn_end.max(initial=0), held.passage_end.max(initial=0))) + 1
    document = held.passage_document[passages].astype(np.int64)
    ends = held.turn_document[own].astype(np.int64) * stride + held.turn_end[own]
    place = np.searchsorted(ends, document * stride + held.passage_start[passages], side="right")
    turn = np.append(own, -1)[place]
    hit = (turn >= 0) & (held.turn_document[turn] == document) & (held.turn_start[turn] < held.passage_end[passages])
    found = np.where(hit, turn, -1)
    kinds = held.passage_kind[passages] if len(held.passage_kind) else np.zeros(len(passages), np.int8)
    for one in np.flatnonzero(kinds == SPAN).tolist():
        during = (held.turn_finish[own] > held.passage_begin[passages[one]]) & (
            held.turn_begin[own] < held.passage_finish[passages[one]]
        )
        there = own[during & (held.turn_document[own] == document[one])]
        found[one] = there[0] if len(there) else -1
    return found


@dataclass(frozen=True)
class Told:
    """Of one question, (groups,) each: people to whom it was put, those of them who mention what it asks about, people who do
    within the turns after it, and people who do of their own accord."""

    asked: Ints
    asked_mention: Ints
    when_asked: Ints
    own_accord: Ints


def told(labels: npt.NDArray[np.int32], groups: int, people: Bools, asked: Bools, found: Mentions) -> Told:
    """Counted by group: ``labels`` (cases,) are places among so many groups, negative outside; only ``people`` count."""
    mention = found.when_asked | found.own_accord
    return Told(
        *(
            in_groups(labels, groups, people & who)
            for who in (asked, asked & mention, found.when_asked, found.own_accord)
        )
    )


def in_groups(labels: npt.NDArray[np.int32], groups: int, who: Bools) -> Ints:
    """How many of these cases are in each group; shape (groups,)."""
    return np.bincount(labels[who & (labels >= 0)], minlength=groups).astype(np.int64)
