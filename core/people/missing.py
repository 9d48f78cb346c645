"""No value, and why."""

from typing import Literal, get_args

MissingReason = Literal["not_asked", "not_answered", "not_applicable", "unknown"]
REASONS: tuple[MissingReason, ...] = get_args(MissingReason)

IN_WORDS: dict[str, str] = {reason: reason.replace("_", " ") for reason in REASONS}

_WRITTEN: dict[str, MissingReason] = {
    "not asked": "not_asked",
    "not answered": "not_answered",
    "no answer": "not_answered",
    "refused": "not_answered",
    "not applicable": "not_applicable",
    "n/a": "not_applicable",
    "na": "not_applicable",
    "unknown": "unknown",
    "don't know": "unknown",
    "don’t know": "unknown",
    "missing": "unknown",
    ".": "unknown",
    "-": "unknown",
}


def reason_written(cell: str) -> MissingReason | None:
    """The reason that a cell states in words (``not asked``, ``n/a`` …), if it does."""
    return _WRITTEN.get(" ".join(cell.casefold().split()))
