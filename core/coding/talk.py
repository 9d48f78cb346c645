"""What participants say, word by word, as arrays: the words' stems, who says them, and in which sentence and stretch they stand."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.coding.everyday import EVERYDAY
from core.coding.find import stem
from core.text.sentences import sentence_ends
from core.text.words import bounds_in_turns

Ints = npt.NDArray[np.int64]
STRETCH = 50
"""Words from which a new stretch begins at the next sentence."""
SHORTEST = 3
"""Letters of a word that says something."""
NOTHING, WITHIN, ALONE = 0, 1, 2
"""What a word can be part of: no phrase, a phrase with others, or a phrase of its own."""
_A_STEP = 20


@dataclass(frozen=True)
class Talk:
    """A document's text, the turns of its participants, in order, and who speaks each: any number that tells people apart."""

    document: int
    text: str
    turns: tuple[tuple[int, int], ...]
    people: tuple[int, ...]


@dataclass(frozen=True)
class Spoken:
    """All words in order, each (words,): ``form`` its place in ``forms``, the words as written; ``stem`` a number that its forms
    share; ``worth`` what it can be part of; ``run`` a number shared by words between which no sign stands; ``person`` and
    ``sentence``.

    Sentences that hold a word, each (sentences,): ``document`` its place among the talks, ``start`` and ``end``, drawn in to what
    is no space, ``turn`` and ``stretch``, counted through all talks, and ``speaker``, who says it.
    """

    forms: tuple[str, ...]
    form: Ints
    stem: Ints
    worth: Ints
    run: Ints
    person: Ints
    sentence: Ints
    document: Ints
    start: Ints
    end: Ints
    turn: Ints
    stretch: Ints
    speaker: Ints


def spoken_in(
    talks: Sequence[Talk], language: str, idle: Callable[[set[str]], set[str]], told: Callable[[float], None]
) -> Spoken:
    """The words of the talks. ``idle`` answers which of these folded words say nothing; ``told`` hears how far it is, 0 to 1."""
    forms: dict[str, int] = {}
    parts: list[dict[str, Ints]] = []
    counted = dict.fromkeys(("run", "sentence", "turn", "stretch"), 0)
    for number, talk in enumerate(talks):
        part = _part(talk, forms, number)
        for name, before in counted.items():
            part[name] += before
            counted[name] = int(part[name].max(initial=before - 1)) + 1
        parts.append(part)
        if number % _A_STEP == 0:
            told(number / len(talks))
    nothing = np.zeros(0, np.int64)
    whole = {name: np.concatenate([part[name] for part in parts] or [nothing]) for name in _COLUMNS}
    folded = [form.casefold().replace("’", "'") for form in forms]
    worth = _worth(folded, idle(set(folded)), EVERYDAY.get(language, frozenset()))
    stems: dict[str, int] = {}
    numbers = np.array([stems.setdefault(stem(word, language), len(stems)) for word in folded], np.int64)
    form = whole.pop("form")
    return Spoken(tuple(forms), form, numbers[form], worth[form], **whole)


def _worth(folded: Sequence[str], idle: set[str], everyday: frozenset[str]) -> Ints:
    found = []
    for word in folded:
        if len(word) < SHORTEST or word in idle or any(sign.isdigit() for sign in word):
            found.append(NOTHING)
        else:
            found.append(WITHIN if word in everyday else ALONE)
    return np.array(found, np.int64)


_COLUMNS = ("form", "run", "person", "sentence", "document", "start", "end", "turn", "stretch", "speaker")
_JOINS = np.zeros(0x2100, bool)
"""Signs that may stand between two words of a phrase, by code point."""
_JOINS[[ord(sign) for sign in " '’-‐‑\u00a0"]] = True
_SPACES = np.array([ord(sign) for sign in " \n\t\u00a0\u2028"], np.uint32)


def _part(talk: Talk, forms: dict[str, int], number: int) -> dict[str, Ints]:
    """The columns of one talk, counted from 0."""
    bounds = bounds_in_turns(talk.text, list(talk.turns)).astype(np.int64)
    if not len(bounds):
        return {name: np.zeros(0, np.int64) for name in _COLUMNS}
    text, number_of = talk.text, forms.setdefault
    form = np.array([number_of(text[start:end], len(forms)) for start, end in bounds.tolist()], np.int64)
    code = np.frombuffer(text.encode("utf-32-le", "surrogatepass"), np.uint32)
    first = np.array([start for start, _ in talk.turns], np.int64)
    turn = np.searchsorted(first, bounds[:, 0], side="right") - 1
    ends = np.unique(np.array([*sentence_ends(text), *(end for _, end in talk.turns)], np.int64))
    which, sentence = np.unique(np.searchsorted(ends, bounds[:, 0], side="right"), return_inverse=True)
    begins = np.flatnonzero(np.diff(sentence, prepend=-1))
    own = turn[begins]
    ink = np.flatnonzero(~np.isin(code, _SPACES))
    opens = np.maximum(np.where(which > 0, ends[which - 1], 0), first[own])
    return {
        "form": form,
        "run": np.cumsum(_parted(code, bounds, turn)),
        "person": np.array(talk.people, np.int64)[turn],
        "sentence": sentence,
        "document": np.full(len(which), number, np.int64),
        "start": ink[np.searchsorted(ink, opens)],
        "end": ink[np.searchsorted(ink, ends[which]) - 1] + 1,
        "turn": own,
        "stretch": _stretches(turn, begins),
        "speaker": np.array(talk.people, np.int64)[own],
    }


def _parted(code: npt.NDArray[np.uint32], bounds: Ints, turn: Ints) -> npt.NDArray[np.bool_]:
    """Of each word, whether a sign that parts stands before it, or another turn begins with it."""
    parting = np.concatenate([[0], np.cumsum(~_JOINS[np.minimum(code, len(_JOINS) - 1)])])
    parted = np.zeros(len(bounds), bool)
    parted[1:] = (parting[bounds[1:, 0]] > parting[bounds[:-1, 1]]) | (turn[1:] != turn[:-1])
    return parted


def _stretches(turn: Ints, begins: Ints) -> Ints:
    """Of each sentence its stretch: some sentences of one turn, by how many words of the turn stand before them."""
    own = turn[begins]
    opening = np.searchsorted(turn, own)
    _, found = np.unique(own * (len(turn) + 1) + (begins - opening) // STRETCH, return_inverse=True)
    return found.astype(np.int64)
