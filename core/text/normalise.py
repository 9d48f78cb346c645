"""One normal form for every text that comes in, so that positions keep their meaning."""

import re
import unicodedata

_UNPRINTABLE = re.compile("[\x00-\x08\x0b\x0e-\x1f\x7f\ufeff]")


def normalise(text: str) -> str:
    r"""Newlines to ``\n``, Unicode NFC, control characters that no reader sees dropped."""
    text = text.replace("\r\n", "\n").replace("\r", "\n").replace("\x0c", "\n").replace("\u2028", "\n")
    return unicodedata.normalize("NFC", _UNPRINTABLE.sub("", text))


def ink_bounds(text: str, start: int, end: int) -> tuple[int, int]:
    """``[start, end)`` drawn in to its first and last non-space character.

    Positions are code points. An empty or all-space stretch gives ``(start, start)``.
    Stored bounds are always drawn in, so two stretches share a non-space character
    exactly when their bounds overlap.
    """
    stretch = text[start:end]
    if not stretch.strip():
        return start, start
    lead = len(stretch) - len(stretch.lstrip())
    trail = len(stretch) - len(stretch.rstrip())
    return start + lead, end - trail
