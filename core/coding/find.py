"""Finding words in texts: as written, as a phrase, letter for letter, in all their forms, near each other, by a pattern."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import regex
import snowballstemmer

from core.language import say
from core.text.words import words

How = Literal["words", "phrase", "exact", "forms", "near", "pattern"]
LANGUAGES: tuple[str, ...] = tuple(sorted(snowballstemmer.algorithms()))
SECONDS = 2.0
"""Longest that a pattern may search in one text."""
_RUN = regex.compile(r"[\p{L}\p{N}]+")
_USUAL, _USUAL_RUN = re.compile("[\\x00-\\u052f\\u2000-\\u206f]*"), re.compile(r"[^\W_]+")
"""Texts in Latin, Greek and Cyrillic letters, which most are, have a plainer expression for the same runs: three times as fast."""
_EDGES = {True: (r"(?<![\p{L}\p{N}])", r"(?![\p{L}\p{N}])"), False: ("", "")}
_FLAGS = regex.IGNORECASE | regex.V1 | regex.WORD


class BadQuery(ValueError):
    """What was asked can't be searched for; the message is a sentence for the user."""


@dataclass(frozen=True)
class Query:
    """How to find; made by ``query``. ``within``: words between two that are near each other."""

    how: How
    patterns: tuple[regex.Pattern[str], ...]
    words: tuple[str, ...]
    """The words that a text must hold to be looked at (folded), as typed; empty for a pattern."""
    language: str = ""
    within: int = 10
    pieces: tuple[tuple[str, ...], ...] = ()
    """Of each word the runs of letters and digits that a text with it must hold (folded); of a word in all its
    forms what the first begins with. None for a pattern."""


def query(text: str, how: How, language: str = "english", within: int = 10) -> Query:
    """Raises ``BadQuery`` with a sentence."""
    text = text.strip()
    if not text:
        raise BadQuery(say("Type what to look for."))
    if how == "pattern":
        try:
            return Query(how, (regex.compile(text, regex.IGNORECASE | regex.V1 | regex.MULTILINE),), ())
        except regex.error as error:
            raise BadQuery(
                say("The pattern can’t be read: {msg} at place {n}.", msg=error.msg, n=(error.pos or 0) + 1)
            ) from error
    wanted = [word.casefold() for word in words(text)]
    if not wanted:
        raise BadQuery(say("There is no word in this; to look for signs, use a pattern."))
    if how == "exact":
        # Letters, signs and spaces as typed; a letter or digit at an end belongs to no longer word.
        first, last = (_EDGES[bool(_RUN.match(sign))] for sign in (text[0], text[-1]))
        exact = regex.compile(rf"{first[0]}{regex.escape(text)}{last[1]}", regex.V1)
        return Query(how, (exact,), tuple(wanted), pieces=_pieces(wanted))
    if how == "phrase":
        return Query(how, (_compiled(r"\W+".join(map(_word, wanted))),), tuple(wanted), pieces=_pieces(wanted))
    if how == "near" and len(wanted) < 2:
        raise BadQuery(say("Near needs two words or more."))
    if how == "forms":
        if language not in LANGUAGES:
            raise BadQuery(say("Word forms are known for: {languages}.", languages=", ".join(LANGUAGES)))
        begin = [_shared(word, language) for word in wanted]
        patterns = tuple(_compiled(rf"{regex.escape(start)}[\p{{L}}\p{{N}}'’]*") for start in begin)
        pieces = tuple((runs(start) or [""])[:1] for start in begin)
        return Query(how, patterns, tuple(wanted), language, pieces=tuple(map(tuple, pieces)))
    return Query(how, tuple(map(_compiled, map(_word, wanted))), tuple(wanted), within=within, pieces=_pieces(wanted))


def runs(text: str) -> list[str]:
    """The runs of letters and digits of a text, folded: what words are found by (between any other signs)."""
    folded = text.casefold()
    return (_USUAL_RUN if _USUAL.fullmatch(folded) else _RUN).findall(folded)


def _pieces(wanted: Sequence[str]) -> tuple[tuple[str, ...], ...]:
    return tuple(tuple(runs(word)) for word in wanted)


def find(text: str, asked: Query, seconds: float = SECONDS) -> Iterator[tuple[int, int]]:
    """Stretches ``[start, end)`` of ``text`` (code points) that answer, in order, none within another.
    A pattern has ``seconds`` of time.

    words, forms   each of the words; phrase: the words one after the other, whatever signs and line breaks stand between;
    exact: letter for letter, capitals, signs and spaces as typed; near: from the first to the last of words that stand together
    Raises ``BadQuery`` where a pattern takes too long.
    """
    if asked.how == "pattern":
        yield from _by_pattern(text, asked.patterns[0], seconds)
    elif asked.how == "near":
        yield from _near(text, asked)
    else:
        hits = sorted({span for number, span in _spans(text, asked)})
        end = -1
        for start, stop in hits:
            if start >= end:
                yield start, stop
                end = stop


@lru_cache(maxsize=50_000)
def stem(word: str, language: str) -> str:
    """The stem of a word (snowball algorithms, Porter 2001)."""
    return str(_stemmer(language).stemWord(word.casefold()))


@lru_cache(maxsize=40)
def _stemmer(language: str) -> "snowballstemmer.stemmer":
    return snowballstemmer.stemmer(language)


def _compiled(pattern: str) -> regex.Pattern[str]:
    return regex.compile(rf"(?<![\p{{L}}\p{{N}}]){pattern}(?![\p{{L}}\p{{N}}])", _FLAGS)


def _word(word: str) -> str:
    """``word*`` in a query isn't special: a word is itself, with either apostrophe."""
    return regex.escape(word).replace("’", "['’]").replace("'", "['’]")


def _shared(word: str, language: str) -> str:
    """What all forms of a word begin with, as far as the stem is part of it."""
    own = stem(word, language)
    shared = 0
    while shared < min(len(own), len(word)) and own[shared] == word[shared]:
        shared += 1
    # A stem may end in another letter than some forms do (carry, carried: carri).
    shared -= shared > 2 and word[shared - 1] in "iy"
    return word[: max(1, shared)]


def _spans(text: str, asked: Query) -> Iterator[tuple[int, tuple[int, int]]]:
    """(which word, stretch) of each occurrence."""
    for number, pattern in enumerate(asked.patterns):
        wanted = stem(asked.words[number], asked.language) if asked.how == "forms" else ""
        for found in pattern.finditer(text):
            if not wanted or stem(found[0].replace("’", "'").rstrip("'"), asked.language) == wanted:
                yield number, found.span()


def _near(text: str, asked: Query) -> Iterator[tuple[int, int]]:
    """The shortest stretches that hold all words, at most ``within`` words from first to last."""
    spans = sorted((span, number) for number, span in _spans(text, asked))
    every, end = len(asked.patterns), -1
    last: dict[int, tuple[int, int]] = {}
    for span, number in spans:
        last[number] = span
        if len(last) < every:
            continue
        start = min(one[0] for one in last.values())
        if start >= end and len(words(text[start : span[1]])) <= asked.within + every:
            yield start, span[1]
            end = span[1]
            last = {}


def _by_pattern(text: str, pattern: regex.Pattern[str], seconds: float) -> Iterator[tuple[int, int]]:
    try:
        for found in pattern.finditer(text, timeout=max(0.001, seconds)):
            if found.end() > found.start():
                yield found.span()
    except TimeoutError as error:
        raise BadQuery(
            say("This pattern takes too long: parts of it can match the same words in very many ways. Make it plainer.")
        ) from error
