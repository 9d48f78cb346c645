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
