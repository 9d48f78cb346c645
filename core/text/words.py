"""Words as Unicode word segments (UAX 29) that hold a letter or a digit."""

import re

import numpy as np
import numpy.typing as npt
import regex

_BOUNDARY = regex.compile(r"(?w)\b", regex.V1)
_HAS_LETTER_OR_DIGIT = regex.compile(r"[\p{L}\p{N}]")

_LETTER = "A-Za-zÀ-ÖØ-öø-ɏ"
_USUAL = re.compile(rf"[\n\t -~{_LETTER}‘’“”–—…€£§«»¿¡°]*")
"""Texts of these characters only, which most are, have a short expression for the same segments: four times as fast."""
_ELISION = re.compile("['‘’][aeiouà-öø-üAEIOUÀ-ÖØ-Ü]")
"""An apostrophe before a vowel is cut by rules of its own, as in French and Italian."""
_USUAL_WORD = re.compile(
    rf"_*[{_LETTER}0-9](?:[{_LETTER}0-9_]|(?<=[{_LETTER}])[.:'‘’](?=[{_LETTER}])|(?<=[0-9])[.,;'‘’](?=[0-9]))*"
)


def words(text: str) -> list[str]:
    """The words of ``text`` in order. Source: Unicode Standard Annex 29, word boundaries."""
    return [text[start:end] for start, end in word_bounds(text)]


def word_bounds(text: str) -> list[tuple[int, int]]:
    """Where each word of ``text`` lies, half-open, in order."""
    if _USUAL.fullmatch(text) and not _ELISION.search(text):
        return [found.span() for found in _USUAL_WORD.finditer(text)]
    bounds, at = [], 0
    for part in _BOUNDARY.split(text):
        if _HAS_LETTER_OR_DIGIT.search(part):
            bounds.append((at, at + len(part)))
        at += len(part)
    return bounds


_TABLE = 0x2100
_IS_LETTER, _IS_DIGIT, _IS_LINE, _IS_QUOTE, _IS_COLON, _IS_COMMA, _IS_DOT, _IS_VOWEL, _IS_USUAL = (
    1 << n for n in range(9)
)


def _classes() -> npt.NDArray[np.int16]:
    """What each usual character is, by code point."""
    found = np.zeros(_TABLE + 1, np.int16)
    for code in range(_TABLE):
        letter = chr(code)
        found[code] = (
            _IS_LETTER * bool(re.match(f"[{_LETTER}]", letter))
            | _IS_DIGIT * (letter in "0123456789")
            | _IS_LINE * (letter == "_")
            | _IS_QUOTE * (letter in "'‘’")
            | _IS_COLON * (letter == ":")
            | _IS_COMMA * (letter in ",;")
            | _IS_DOT * (letter == ".")
            | _IS_VOWEL * bool(_ELISION.match("'" + letter))
            | _IS_USUAL * bool(_USUAL.fullmatch(letter))
        )
    return found


_CLASS = _classes()


def bounds_in_turns(text: str, turns: list[tuple[int, int]]) -> npt.NDArray[np.int32]:
    """The bounds of all words of the turns (each in order, none across two), (words, 2): as ``word_bounds`` finds them
    turn by turn, for all usual turns at once."""
    code = np.frombuffer(text.encode("utf-32-le"), np.uint32)
    kind = _CLASS[np.minimum(code, _TABLE)]
    turn = np.full(len(code) + 1, -1, np.int64)
    for place, (first, last) in enumerate(turns):
        turn[first:last] = place
    turn = turn[:-1]
    together = turn[1:] == turn[:-1]
    follows = (kind[:-1] & _IS_QUOTE > 0) & (kind[1:] & _IS_VOWEL > 0) & together
    odd = np.zeros(len(turns) + 1, bool)
    odd[turn[kind & _IS_USUAL == 0]] = True
    odd[turn[:-1][follows]] = True
    odd[-1] = True
    held = (kind & (_IS_LETTER | _IS_DIGIT | _IS_LINE) > 0) & ~odd[turn]
    if len(code) > 2:
        held[1:-1] |= _joins(kind) & together[:-1] & together[1:] & ~odd[turn[1:-1]]
    begins = held.copy()
    begins[1:] &= ~(held[:-1] & together)
    ends = held.copy()
    ends[:-1] &= ~(held[1:] & together)
    start, end = np.flatnonzero(begins), np.flatnonzero(ends) + 1
    said = np.concatenate([[0], np.cumsum(kind & (_IS_LETTER | _IS_DIGIT) > 0)])
    real = said[end] > said[start]
    bounds = np.stack([start[real], end[real]], axis=1).astype(np.int32)
    more = [
        (turns[place][0] + first, turns[place][0] + last)
        for place in np.flatnonzero(odd[:-1]).tolist()
        for first, last in word_bounds(text[slice(*turns[place])])
    ]
    if more:
        bounds = np.concatenate([bounds, np.array(more, np.int32)])
        bounds = bounds[np.argsort(bounds[:, 0], kind="stable")]
    return bounds


def _joins(kind: npt.NDArray[np.int16]) -> npt.NDArray[np.bool_]:
    """Marks between two letters, or between two digits, that don't part a word; (characters − 2,)."""
    before, mark, after = kind[:-2], kind[1:-1], kind[2:]
    letters = (before & after & _IS_LETTER > 0) & (mark & (_IS_QUOTE | _IS_COLON | _IS_DOT) > 0)
    digits = (before & after & _IS_DIGIT > 0) & (mark & (_IS_QUOTE | _IS_COMMA | _IS_DOT) > 0)
    joined: npt.NDArray[np.bool_] = letters | digits
    return joined


def count_words(text: str) -> int:
    """How many words ``text`` holds."""
    return len(word_bounds(text))


def word_at(text: str, position: int) -> tuple[int, int] | None:
    """The bounds of the word at ``position``, or of the nearest one before or after it; None without any."""
    best: tuple[int, tuple[int, int]] | None = None
    start = max(0, position - 400)
    at = start
    for part in _BOUNDARY.split(text[start : position + 400]):
        end = at + len(part)
        if _HAS_LETTER_OR_DIGIT.search(part):
            away = max(at - position, position - end, 0)
            if best is None or away < best[0]:
                best = (away, (at, end))
        at = end
    return best[1] if best else None
