"""Words that are nearly what was typed: offered where little is found."""

from collections.abc import Mapping, Sequence

from rapidfuzz import fuzz, process

LIKE, OFFERED = 75.0, 6
"""Likeness of letters (0 to 100) from which a word is offered, and how many are."""
_SHORTEST = 3


def near_misses(wanted: Sequence[str], said: Mapping[str, int]) -> list[tuple[str, int]]:
    """Words of ``said`` (word → how often) that are written much like one that was wanted, or begin with it, the likest
    first and of these the most frequent; what was wanted itself isn't among them."""
    found: dict[str, float] = {}
    for word in wanted:
        if len(word) < _SHORTEST:
            continue
        for other, likeness, _ in process.extract(word, list(said), scorer=fuzz.ratio, score_cutoff=LIKE, limit=50):
            found[other] = max(found.get(other, 0.0), likeness)
        for other in said:
            if other.startswith(word):
                found[other] = max(found.get(other, 0.0), LIKE)
    left = [word for word in found if word not in wanted]
    left.sort(key=lambda word: (-found[word], -said[word], word))
    return [(word, said[word]) for word in left[:OFFERED]]
