"""Several things in one sentence."""

from collections.abc import Sequence


def listed(words: Sequence[str]) -> str:
    """``a``, ``a and b``, ``a, b and c``."""
    return "".join(words) if len(words) < 2 else f"{', '.join(words[:-1])} and {words[-1]}"
