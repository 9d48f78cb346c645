"""Proposing how to read the columns of a participant sheet."""

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from core.people.missing import MissingReason, reason_written

VariableKind = Literal["category", "ordered", "number", "yes_no", "date", "text"]
Role = Literal["case_id", "variable", "leave_out"]

_YES = {"yes", "y", "true", "ja", "oui", "sí", "si", "1", "x"}
_NO = {"no", "n", "false", "nein", "non", "nej", "0"}
_SCALES: tuple[tuple[str, ...], ...] = (
    ("never", "rarely", "seldom", "sometimes", "yearly", "monthly", "weekly", "often", "several times a week",
     "usually", "daily", "always"),
    ("none", "very low", "low", "medium", "middle", "moderate", "high", "very high"),
    ("not at all", "a little", "somewhat", "fairly", "mostly", "very", "extremely", "completely"),
    ("strongly disagree", "disagree", "neither", "neutral", "agree", "strongly agree"),
    ("very dissatisfied", "dissatisfied", "neutral", "satisfied", "very satisfied"),
    ("very bad", "bad", "poor", "fair", "good", "very good", "excellent"),
    ("small", "medium", "large"),
    ("none", "primary", "secondary", "vocational", "tertiary", "bachelor", "master", "doctorate"),
    ("first", "second", "third", "fourth", "fifth"),
    ("young", "middle", "old"), ("before", "during", "after"), ("early", "middle", "late"),
)  # fmt: skip
_ID_WORDS = ("id", "case", "participant", "person", "respondent", "code", "pseudonym", "no", "number", "household")
_DATES = (
    (re.compile(r"^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ]00:00(?::00)?)?$"), (0, 1, 2)),
    (re.compile(r"^(\d{1,2})\.(\d{1,2})\.(\d{4})$"), (2, 1, 0)),
)
_SLASHED = re.compile(r"^(\d{1,2})/(\d{1,2})/(\d{4})$")


@dataclass(frozen=True)
class ColumnProposal:
    name: str
    role: Role
    kind: VariableKind
    categories: tuple[str, ...]
    """For a category, yes/no or ordered column: its values, in the order proposed."""
    distinct: int
    missing: int
    first_values: tuple[str, ...]


def propose_columns(names: Sequence[str], columns: Sequence[Sequence[str]]) -> list[ColumnProposal]:
    """One proposal a column; at most one is the case ID (the likeliest), the rest variables."""
    identifier = propose_identifier(names, columns)
    proposals = []
    for position, (name, cells) in enumerate(zip(names, columns, strict=True)):
        filled = [cell for cell in cells if cell.strip() and reason_written(cell) is None]
        kind = propose_kind(filled)
        distinct = list(dict.fromkeys(filled))
        role: Role = "case_id" if position == identifier else ("variable" if filled else "leave_out")
        proposals.append(
            ColumnProposal(
                name,
                role,
                "text" if role == "case_id" else kind,
                category_order(filled, kind) if kind in ("category", "ordered", "yes_no") else (),
                len(distinct),
                len(cells) - len(filled),
                tuple(distinct[:5]),
            )
        )
    return proposals


def propose_identifier(names: Sequence[str], columns: Sequence[Sequence[str]]) -> int | None:
    """The column whose cells are filled and all different, and whose name says ID; None if none is."""
    best: tuple[float, int] | None = None
    for position, (name, cells) in enumerate(zip(names, columns, strict=True)):
        filled = [cell.strip() for cell in cells if cell.strip()]
        if not filled:
            continue
        unique = len(set(filled)) / len(filled)
        named = any(word in re.split(r"[\W_]+", name.casefold()) for word in _ID_WORDS)
        coded = sum(bool(re.fullmatch(r"[A-Za-z]{1,4}[ _-]?\d+|\d{3,}", cell)) for cell in filled) / len(filled)
        score = 3 * (unique == 1) + unique + named + coded - 0.05 * position - 2 * (len(filled) < 0.8 * len(cells))
        if (unique == 1 or (named and unique > 0.8)) and (best is None or score > best[0]):
            best = (score, position)
    return best[1] if best else None


def propose_kind(filled: Sequence[str]) -> VariableKind:
    """The narrowest type that every filled cell fits. ``007`` stays text."""
    if not filled:
        return "text"
    folded = {cell.strip().casefold() for cell in filled}
    if folded <= (_YES | _NO) - {"x"} and len(folded) <= 2 and not folded <= {"0", "1"}:
        return "yes_no"
    if all(as_number(cell) is not None for cell in filled):
        return "number"
    if all(as_date(cell) is not None for cell in filled):
        return "date"
    if _scale(folded) or _ranges(folded):
        return "ordered"
    longest = max(len(cell) for cell in filled)
    if longest <= 60 and len(folded) <= max(2, min(30, len(filled) * 0.6)):
        return "category"
    return "text"


def category_order(filled: Sequence[str], kind: VariableKind) -> tuple[str, ...]:
    """Values in the order proposed: a known scale's, ranges by their start, else as first met."""
    seen = list(dict.fromkeys(cell.strip() for cell in filled))
    folded = {value.casefold() for value in seen}
    if kind == "ordered":
        scale = _scale(folded)
        if scale:
            return tuple(sorted(seen, key=lambda value: scale.index(value.casefold())))
        return tuple(sorted(seen, key=_range_start))
    if kind == "yes_no":
        return tuple(sorted(seen, key=lambda value: as_yes_no(value) is not True))
    counts = Counter(cell.strip() for cell in filled)
    return tuple(sorted(seen, key=lambda value: (-counts[value], seen.index(value))))


def as_number(cell: str) -> float | None:
    """A number with a decimal point or comma; None for text, and for IDs like ``007``."""
    plain = cell.strip().replace("−", "-")
    if re.fullmatch(r"[+-]?0\d+", plain):
        return None
    if re.fullmatch(r"[+-]?\d+,\d{1,2}|[+-]?\d+,\d{4,}", plain):
        plain = plain.replace(",", ".")
    elif re.fullmatch(r"[+-]?\d{1,3}(,\d{3})+(\.\d+)?", plain):
        plain = plain.replace(",", "")
    if not re.fullmatch(r"[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d{1,2})?", plain):
        return None
    return float(plain)


def as_yes_no(cell: str) -> bool | None:
    plain = cell.strip().casefold()
    return True if plain in _YES else False if plain in _NO else None


def as_date(cell: str) -> date | None:
    """An ISO date, ``31.12.2025``, or a slashed date that can be read in one way only."""
    plain = cell.strip()
    for pattern, (year, month, day) in _DATES:
        found = pattern.match(plain)
        if found:
            parts = found.groups()
            return _date(int(parts[year]), int(parts[month]), int(parts[day]))
    slashed = _SLASHED.match(plain)
    if slashed:
        first, second, year_said = (int(part) for part in slashed.groups())
        if first > 12 or first == second:
            return _date(year_said, second, first)
        if second > 12:
            return _date(year_said, first, second)
    return None


def _date(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day)
    except ValueError:
        return None


@dataclass(frozen=True)
class ReadCell:
    """A cell as the variable's type: exactly one of ``value`` and ``missing``, or ``problem``."""

    value: str | float | bool | date | None = None
    missing: MissingReason | None = None
    problem: bool = False


def read_cell(cell: str, kind: VariableKind, when_empty: MissingReason) -> ReadCell:
    """Read one cell; a cell that doesn't fit the type is a problem, never silently missing."""
    if not cell.strip():
        return ReadCell(missing=when_empty)
    reason = reason_written(cell)
    if reason:
        return ReadCell(missing=reason)
    if kind in ("category", "ordered", "text"):
        return ReadCell(value=cell.strip())
    reader = {"number": as_number, "yes_no": as_yes_no, "date": as_date}[kind]
    value = reader(cell)
    return ReadCell(problem=True) if value is None else ReadCell(value=value)


def _scale(folded: set[str]) -> tuple[str, ...] | None:
    if len(folded) < 2:
        return None
    return next((scale for scale in _SCALES if folded <= set(scale)), None)


_RANGE = re.compile(r"^(?:under |below |<|up to )?\s*(\d+)\s*(?:[-–—]|to )?\s*(\d+)?\s*(\+|and over|or more)?$")


def _ranges(folded: set[str]) -> bool:
    return (
        len(folded) >= 2
        and all(_RANGE.match(value) or value == "none" for value in folded)
        and any(not value.isdigit() for value in folded)
    )


def _range_start(value: str) -> float:
    found = _RANGE.match(value.casefold())
    if not found:
        return -1
    return float(found[1]) - (0.5 if re.match(r"under|below|<|up to", value.casefold()) else 0)
