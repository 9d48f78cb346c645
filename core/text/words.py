"""Words as Unicode word segments (UAX 29) that hold a letter or a digit."""

import regex

_BOUNDARY = regex.compile(r"(?w)\b", regex.V1)
_HAS_LETTER_OR_DIGIT = regex.compile(r"[\p{L}\p{N}]")


def words(text: str) -> list[str]:
    """The words of ``text`` in order. Source: Unicode Standard Annex 29, word boundaries."""
    return [part for part in _BOUNDARY.split(text) if _HAS_LETTER_OR_DIGIT.search(part)]


def count_words(text: str) -> int:
    """How many words ``text`` holds."""
    return len(words(text))
