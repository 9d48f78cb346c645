"""No value, and why."""

from typing import Literal, get_args

from core.language import message

MissingReason = Literal["not_asked", "not_answered", "not_applicable", "unknown"]
REASONS: tuple[MissingReason, ...] = get_args(MissingReason)

IN_WORDS: dict[str, str] = {
    "not_asked": message("not asked"),
    "not_answered": message("not answered"),
    "not_applicable": message("not applicable"),
    "unknown": message("unknown"),
}

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
    "—": "unknown",
    "?": "unknown",
    "#n/a": "unknown",
    # What a spreadsheet writes where a formula can't be worked out (common practice).
    "#div/0!": "unknown",
    "#ref!": "unknown",
    "#value!": "unknown",
    "#name?": "unknown",
    "#num!": "unknown",
    "#null!": "unknown",
    "#error!": "unknown",
    "null": "unknown",
    "prefer not to say": "not_answered",
    "skipped": "not_answered",
    "does not apply": "not_applicable",
    # Codes that surveys keep for missing values (common practice).
    "-9": "not_answered",
    "-99": "not_answered",
    "-999": "not_answered",
    "-98": "not_applicable",
    "-998": "not_applicable",
    "-97": "unknown",
    "-88": "unknown",
    "-77": "unknown",
}
_CODES = {code for code in _WRITTEN if code.lstrip("-").isdigit()}


def is_error(cell: str) -> bool:
    """Whether the cell holds a spreadsheet's word for a formula that failed."""
    return cell.startswith("#") and cell.strip().casefold() != "#n/a" and reason_written(cell) == "unknown"


def is_missing_code(cell: str) -> bool:
    """Whether the reason is written as a number such as −99, which could be a real value elsewhere."""
    return cell.strip().replace("−", "-") in _CODES


_LONGEST = max(len(text) for text in _WRITTEN)


def reason_written(cell: str) -> MissingReason | None:
    """The reason that a cell states in words (``not asked``, ``n/a`` …), if it does."""
    # Most cells are numbers, names or IDs: none of these begins with a digit, only codes end with one, none is long.
    if cell[:1].isdigit() or len(cell) > _LONGEST + 12 or (cell[-1:].isdigit() and cell[:1].isalpha()):
        return None
    return _WRITTEN.get(" ".join(cell.casefold().replace("−", "-").split()))
