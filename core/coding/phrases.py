"""Phrases in what people say: a word alone, or two or three near each other."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.coding.talk import ALONE, NOTHING, Spoken

Ints = npt.NDArray[np.int64]
Marks = npt.NDArray[np.bool_]
BETWEEN = 2
"""Words that say nothing between the first and the last of a phrase."""
ITS_OWN = 1.1
"""How many times as often as a longer one that it is part of a phrase is said, to be one of its own: a phrase that is always part
of another isn't (as Frantzi, Ananiadou & Mima 2000 judge nested terms)."""


@dataclass(frozen=True)
class Phrases:
    """Occurrences, each (occurrences,): ``phrase`` which one, ``at`` the word it begins with. Of each phrase: ``people`` who say
    it (phrases,), ``said`` its commonest form, ``stems`` of its words that say something."""

    phrase: Ints
    at: Ints
    people: Ints
    said: tuple[str, ...]
    stems: tuple[tuple[int, ...], ...]


@dataclass(frozen=True)
class _Found:
    """Occurrences of phrases of so many words: where they begin and end among all words, and what tells them apart, from 0.
    ``parts``: the keys of the shorter phrases that each is made of."""

    first: Ints
    last: Ints
    key: Ints
    parts: tuple[Ints, ...] = ()


def phrases_of(spoken: Spoken, least: int, told: Callable[[float], None] = lambda far: None) -> Phrases:
    """All phrases that at least so many people say, whatever forms their words have. ``told`` hears how far it is, 0 to 1."""
    phrase, first, last, people = [], [], [], []
    count = 0
    found_of = _of_each_length(spoken)
    for found, longer in zip(found_of, (*found_of[1:], None), strict=True):
        own = np.ones(int(found.key.max(initial=-1)) + 1, bool) if longer is None else _of_its_own(found, longer)
        kept, number, persons = _said_by(found.key, spoken.person[found.first], least, own)
        phrase.append(number[kept] + count)
        first.append(found.first[kept])
        last.append(found.last[kept])
        people.append(persons)
        count += len(persons)
        told(0.15 * len(people))
    which, begins, ends = (np.concatenate(parts) for parts in (phrase, first, last))
    _, one = np.unique(which, return_index=True)
    stems = tuple(_stems(spoken, int(begins[at]), int(ends[at])) for at in one)
    told(0.7)
    return Phrases(which, begins, np.concatenate(people), _commonest(spoken, which, begins, ends), stems)


def _of_each_length(spoken: Spoken) -> tuple[_Found, _Found, _Found]:
    word = np.flatnonzero(spoken.worth > NOTHING)
    stem, alone = spoken.stem[word], spoken.worth[word] == ALONE
    wide = int(spoken.stem.max(initial=0)) + 1
    gap = np.diff(word) - 1
    joined = (gap <= BETWEEN) & (spoken.run[word[1:]] == spoken.run[word[:-1]])
    pairs = np.flatnonzero(joined)
    pair = np.full(len(word), -1, np.int64)
    pair[pairs] = _numbered(stem[pairs] * wide + stem[pairs + 1])
    two = pairs[alone[pairs] | alone[pairs + 1]]
    three = np.flatnonzero(joined[:-1] & joined[1:])
    three = three[(gap[three] + gap[three + 1] <= BETWEEN) & (alone[three] | alone[three + 1] | alone[three + 2])]
    one = np.flatnonzero(alone)
    return (
        _Found(word[one], word[one], stem[one]),
        _Found(word[two], word[two + 1], pair[two], (stem[two], stem[two + 1])),
        _Found(
            word[three],
            word[three + 2],
            _numbered(pair[three] * wide + stem[three + 2]),
            (pair[three], pair[three + 1]),
        ),
    )


def _numbered(key: Ints) -> Ints:
    return np.unique(key, return_inverse=True)[1].astype(np.int64)


def _of_its_own(found: _Found, longer: _Found) -> Marks:
    """By key: whether a phrase is said often enough without what makes a longer one of it."""
    size = int(max([found.key.max(initial=-1), *(part.max(initial=-1) for part in longer.parts)])) + 1
    times, most = np.bincount(found.key, minlength=size), np.zeros(size, np.int64)
    if len(longer.key):
        of_longer = np.bincount(longer.key)
        for part in longer.parts:
            np.maximum.at(most, part, of_longer[longer.key])
    return (most < 2) | (times >= ITS_OWN * most)


def _said_by(key: Ints, person: Ints, least: int, own: Marks) -> tuple[Marks, Ints, Ints]:
    """Of occurrences: which are of phrases of their own (by key) that so many people say, and their numbers among these; people of
    each of these."""
    if not len(key):
        return np.zeros(0, bool), np.zeros(0, np.int64), np.zeros(0, np.int64)
    _, who = np.unique(person, return_inverse=True)
    everybody = int(who.max()) + 1
    people = np.bincount(np.unique(key * everybody + who) // everybody, minlength=len(own))
    enough = (people >= least) & own
    place = np.cumsum(enough) - 1
    return enough[key], place[key], people[enough]


def _stems(spoken: Spoken, first: int, last: int) -> tuple[int, ...]:
    words = slice(first, last + 1)
    return tuple(spoken.stem[words][spoken.worth[words] > NOTHING].tolist())


def _commonest(spoken: Spoken, phrase: Ints, first: Ints, last: Ints) -> tuple[str, ...]:
    """Each phrase as it is said most, or, where two ways are, as it is said first; a capital that only begins a sentence isn't one."""
    words = len(spoken.forms)
    way = phrase
    for place in range(int((last - first).max(initial=-1)) + 1):
        within = first + place <= last
        # The number of a way so far and its next word: the same for the same words only.
        form = np.where(within, spoken.form[np.minimum(first + place, len(spoken.form) - 1)], words)
        way = _numbered(way * (words + 1) + form)
    _, one, times = np.unique(way, return_index=True, return_counts=True)
    best = one[np.lexsort((first[one], -times, phrase[one]))]
    best = best[np.flatnonzero(np.diff(phrase[best], prepend=-1))]
    known = frozenset(spoken.forms)
    every = spoken.forms
    return tuple(
        _plain(" ".join([every[at] for at in spoken.form[start : end + 1].tolist()]), known)
        for start, end in zip(first[best].tolist(), last[best].tolist(), strict=True)
    )


def _plain(said: str, known: frozenset[str]) -> str:
    small = said[:1].lower() + said[1:]
    return small if small.split(" ")[0] in known else said
