"""Sentences, as far as signs tell: for widening a stretch to the sentences it touches."""

import regex

_END = regex.compile(r"[.!?…]+[\"'”’»)\]]*(?=\s)|\n+")
_SHORT = regex.compile(r"(?:^|\s)(?:\p{Lu}|Mr|Mrs|Ms|Dr|St|No|e\.g|i\.e|approx|ca)\.$")


def sentences_around(text: str, start: int, end: int, low: int, high: int) -> tuple[int, int]:
    """``[start, end)`` widened to whole sentences inside ``[low, high)``. An abbreviation ends none."""
    first, last = low, high
    for found in _END.finditer(text, low, high):
        if _SHORT.search(text, max(low, found.start() - 8), found.end()):
            continue
        if found.end() <= start:
            first = found.end()
        elif found.end() >= end:
            last = found.end()
            break
    return first, last


def sentence_ends(text: str) -> list[int]:
    """Where each sentence of a text ends, in order; the last may have no sign and isn't among them."""
    return [
        found.end() for found in _END.finditer(text) if not _SHORT.search(text, max(0, found.start() - 8), found.end())
    ]
