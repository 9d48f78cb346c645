"""Questions of the interview guide: which turn asks which, who was asked, and what came when asked or of their own accord."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from core.coding.likeness import vectors
from core.snapshot.columns import INTERVIEWER
from core.snapshot.masks import passage_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot

LIKE = 0.34
"""Cosine of stems from which a turn is taken to ask a question; below, nobody is sure."""
PERHAPS = 0.2
"""From which one is offered to be read."""
WITHIN = 4
"""Turns after a question in which what is said is said when asked."""
EVERYTHING = Scope()
Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]


def likenesses(turns: Sequence[str], questions: Sequence[str], language: str = "english") -> npt.NDArray[np.float64]:
    """How like each turn is to each question, 0 to 1: the largest cosine (tf–idf of stems) of any run of its sentences of about
    the question's length, since questions come after a word on what was said. Shape (turns, questions)."""
    if not turns or not questions:
        return np.zeros((len(turns), len(questions)))
    pieces, owner = [], []
    for number, turn in enumerate(turns):
        for piece in _pieces(turn):
            pieces.append(piece)
            owner.append(number)
    held = vectors([*questions, *pieces], language)
    alike = (held[len(questions) :] @ held[: len(questions)].T).toarray()
    found = np.zeros((len(turns), len(questions)))
    np.maximum.at(found, np.array(owner), alike)
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
    """Of one question's codes: ``when_asked`` and ``own_accord`` (cases,): who mentions them so at least once; ``passages``
    (positions) and ``prompted`` of them whether the question was put shortly before."""

    when_asked: Bools
    own_accord: Bools
    passages: Ints
    prompted: Bools


def mentions(
    held: Snapshot, put: Put, question: int, codes: Sequence[int], within: int = WITHIN, scope: Scope = EVERYTHING
) -> Mentions:
    """What was coded in scope with any of ``codes`` (positions): said within so many turns after the question, or not."""
    coded = np.isin(held.coding_code, np.asarray(codes, np.int64))
    if (kept := scope.coding_mask(held)) is not None:
        coded &= kept
    passages = np.unique(held.coding_passage[coded]).astype(np.int64)
    passages = passages[passage_mask(held, scope)[passages]]
    turn = _first_turns(held, passages)
    asking = np.sort(put.turn[put.question == question])
    # The last turn that asks it, before the passage's own or that turn itself.
    last = np.searchsorted(asking, turn, side="right") - 1
    before = np.where(last >= 0, asking[np.maximum(last, 0)] if len(asking) else -1, -1)
    same = (before >= 0) & (turn >= 0)
    same[same] = held.turn_document[before[same]] == held.turn_document[turn[same]]
    prompted = same & (turn - before <= within)
    attributions = held.attributions
    inside = np.isin(attributions.passage, passages)
    if scope.cases is not None:
        inside &= scope.cases[attributions.case]
    cases, at = attributions.case[inside], np.searchsorted(passages, attributions.passage[inside])
    size = len(held.case_ids)
    found = [np.bincount(cases[which[at]], minlength=size).astype(bool) for which in (prompted, ~prompted)]
    return Mentions(found[0], found[1], passages, prompted)


def _first_turns(held: Snapshot, passages: Ints) -> Ints:
    """The participant's turn in which each passage begins (its position), −1 where there is none."""
    found = np.full(len(passages), -1, np.int64)
    for place, passage in enumerate(passages.tolist()):
        first, last = np.searchsorted(
            held.turn_document, [held.passage_document[passage], held.passage_document[passage] + 1]
        )
        own = np.arange(first, last)
        over = (held.turn_start[own] < held.passage_end[passage]) & (held.turn_end[own] > held.passage_start[passage])
        speaks = held.speaker_role[np.maximum(held.turn_speaker[own], 0)] != INTERVIEWER
        hit = own[over & speaks]
        if len(hit):
            found[place] = hit[0]
    return found
