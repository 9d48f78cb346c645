"""Where each word stands in the texts: how often single words are said, and by whom, without going through the texts.

A word here is a run of letters and digits, folded as ``str.casefold`` does; it is kept as a number made of its letters. Two
words of a project of 100,000 different ones have the same number once in some 4 thousand million such projects.
"""

from dataclasses import dataclass
from functools import cache

import numpy as np
import numpy.typing as npt
import regex

from core.snapshot.columns import PARTICIPANT
from core.snapshot.snapshot import Snapshot

Ints = npt.NDArray[np.int64]
Keys = npt.NDArray[np.uint64]
_RUN = regex.compile(r"[\p{L}\p{N}]+")
_STEP = np.uint64(0x9E3779B97F4A7C15)
_LAST = 0x110000


@dataclass(frozen=True)
class Places:
    """Words of one text in order: their numbers, and where they begin (code points), both (words,)."""

    key: Keys
    start: npt.NDArray[np.int32]


@dataclass(frozen=True)
class WordPlaces:
    """Words of many texts: text d's are ``first[d]:first[d + 1]`` of ``key`` and ``start``; first is (documents + 1,)."""

    first: Ints
    key: Keys
    start: npt.NDArray[np.int32]

    def of(self, document: int) -> Places:
        words = slice(int(self.first[document]), int(self.first[document + 1]))
        return Places(self.key[words], self.start[words])


@dataclass(frozen=True)
class Hits:
    """Places of words that were looked for, by document and start: positions of the snapshot, and of the text; (hits,)."""

    document: Ints
    start: Ints
    turn: Ints


def places_in(text: str) -> Places:
    """All words of one text."""
    said = _codes(text)
    letter = _letters()[said]
    folded, origin = _folded(text, said)
    held = letter[origin]
    opens = held & ~np.concatenate([[False], held[:-1]])[: len(held)]
    begins = np.flatnonzero(opens)
    if not len(begins):
        return Places(np.zeros(0, np.uint64), np.zeros(0, np.int32))
    at = np.arange(len(folded))
    place = np.where(held, at - np.maximum.accumulate(np.where(opens, at, 0)), 0)
    powers = np.cumprod(np.concatenate([[1], np.full(int(place.max()), _STEP)]).astype(np.uint64))
    worth = np.where(held, _signs()[folded] * powers[place], np.uint64(0))
    length = np.add.reduceat(held, begins, dtype=np.uint64)
    return Places(_mixed(np.add.reduceat(worth, begins) + length), origin[begins].astype(np.int32))


def key_of(word: str) -> int | None:
    """The number of a word; None where it isn't one run of letters and digits."""
    found = places_in(word)
    if len(found.key) != 1 or not _RUN.fullmatch(word):
        return None
    return int(found.key[0])


def run_at(text: str, start: int) -> int:
    """How long the word is that begins there."""
    found = _RUN.match(text, start)
    return len(found[0]) if found else 0


def together(texts: list[Places]) -> WordPlaces:
    """Many texts, in order."""
    first = np.concatenate([[0], np.cumsum([len(one.key) for one in texts])]).astype(np.int64)
    key = np.concatenate([one.key for one in texts] or [np.zeros(0, np.uint64)])
    return WordPlaces(first, key, np.concatenate([one.start for one in texts] or [np.zeros(0, np.int32)]))


def hits_of(places: WordPlaces, snapshot: Snapshot, keys: list[int]) -> Hits:
    """Where any of the words is said within a turn; ``places`` of the snapshot's documents."""
    found = np.zeros(len(places.key), bool)
    for key in keys:
        found |= places.key == np.uint64(key)
    at = np.flatnonzero(found)
    document = np.searchsorted(places.first, at, side="right") - 1
    start = places.start[at].astype(np.int64)
    turn = turns_at(snapshot, document, start)
    inside = turn >= 0
    return Hits(document[inside].astype(np.int64), start[inside], turn[inside])


def turns_at(snapshot: Snapshot, document: Ints, start: Ints) -> Ints:
    """The turn that stands at each place of a text; −1 for none. ``document`` as places among the snapshot's, −1 for none."""
    stride = int(max(snapshot.turn_end.max(initial=0), start.max(initial=0))) + 1
    begins = snapshot.turn_document.astype(np.int64) * stride + snapshot.turn_start
    turn = np.searchsorted(begins, document * stride + start, side="right") - 1
    inside = (turn >= 0) & (document >= 0)
    inside[inside] = (snapshot.turn_document[turn[inside]] == document[inside]) & (
        start[inside] < snapshot.turn_end[turn[inside]]
    )
    return np.where(inside, turn, -1).astype(np.int64)


def by_participants(snapshot: Snapshot, turn: Ints) -> npt.NDArray[np.bool_]:
    """Of turns, whether a participant speaks, linked or not."""
    if not len(snapshot.speaker_role):
        return np.zeros(len(turn), bool)
    speaker = snapshot.turn_speaker[turn]
    found: npt.NDArray[np.bool_] = (speaker >= 0) & (snapshot.speaker_role[speaker] == PARTICIPANT)
    return found


def _codes(text: str) -> npt.NDArray[np.uint32]:
    return np.frombuffer(text.encode("utf-32-le", "surrogatepass"), np.uint32)


def _folded(text: str, said: npt.NDArray[np.uint32]) -> tuple[npt.NDArray[np.uint32], Ints]:
    """The text folded, and which character each of its code points comes from: ß becomes two."""
    whole = text.casefold()
    if len(whole) == len(text):
        return _codes(whole), np.arange(len(said))
    return _codes(whole), np.repeat(np.arange(len(said)), [len(letter.casefold()) for letter in text])


@cache
def _letters() -> npt.NDArray[np.bool_]:
    """Of every code point, whether it is a letter or digit as what finds words takes it."""
    found = np.zeros(_LAST, bool)
    every = "".join(map(chr, range(0xD800))) + "".join(map(chr, range(0xE000, _LAST)))
    for run in _RUN.finditer(every):
        # The codes left out lie between the two parts.
        first, last = (place if place < 0xD800 else place + 0x800 for place in (run.start(), run.end() - 1))
        found[first : last + 1] = True
    found[0xD800:0xE000] = False
    return found


@cache
def _signs() -> Keys:
    """Of every code point a number without any likeness to the next one's."""
    return _mixed(np.arange(1, _LAST + 1, dtype=np.uint64) * _STEP)


def _mixed(value: Keys) -> Keys:
    """Spread over all 64 bits. Source: the finishing steps of SplitMix64 (Steele, Lea & Flood 2014)."""
    value = (value ^ (value >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    value = (value ^ (value >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return value ^ (value >> np.uint64(31))
