"""Several things in one sentence."""

from collections.abc import Sequence

from core.language import say


def listed(words: Sequence[str]) -> str:
    """``a``, ``a and b``, ``a, b and c``."""
    if len(words) < 2:
        return "".join(words)
    return say("{first} and {last}", first=", ".join(words[:-1]), last=words[-1])
