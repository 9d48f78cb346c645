"""Proposing how to read the columns of a participant sheet."""

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from math import isfinite
from typing import Literal, NamedTuple

from core.people.grid import Column, Hint
from core.text.missing import MissingReason, is_missing_code, reason_written

VariableKind = Literal["category", "ordered", "number", "yes_no", "date", "text"]
Role = Literal["case_id", "document_id", "variable", "answer", "leave_out"]

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
_DOCUMENT_WORDS = ("document", "file", "filename", "transcript", "recording", "interview")
_OPEN_WORDS = 4
"""Words in an average cell from which a column of text is taken for answers to code."""
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


def propose_columns(
    names: Sequence[str], columns: Sequence[Column], hints: dict[int, Hint] | None = None
) -> list[ColumnProposal]:
    """One proposal a column; at most one is the case ID (the likeliest), at most one the document ID."""
    hints = hints or {}
    document = propose_document(names, columns)
    identifier = propose_identifier(names, columns, document)
    proposals = []
    for position, (name, column) in enumerate(zip(names, columns, strict=True)):
        counts = column.counts()
        pairs = zip(column.values, column.reasons, counts.tolist(), strict=True)
        there = [(value, n) for value, reason, n in pairs if reason is None and value and not value.isspace()]
        filled, times = [value for value, _ in there], [n for _, n in there]
        hint = hints.get(position, Hint())
        kind = hint.kind or propose_kind(filled, sum(times))
        role: Role = "variable" if filled else "leave_out"
        if position == identifier:
            role = "case_id"
        elif position == document:
            role = "document_id"
        elif kind == "text" and is_open(filled, times):
            role = "answer"
        proposals.append(
            ColumnProposal(
                name,
                role,
                "text" if role in ("case_id", "document_id") else kind,
                _order(filled, times, kind, hint) if kind in ("category", "ordered", "yes_no") else (),
                len(filled),
                len(column) - sum(times),
                tuple(filled[:5]),
            )
        )
    return proposals


def _order(filled: list[str], times: list[int], kind: VariableKind, hint: Hint) -> tuple[str, ...]:
    if not hint.order:
        return category_order(filled, kind, times)
    return (*hint.order, *[value for value in category_order(filled, kind, times) if value not in hint.order])


def is_open(filled: Sequence[str], times: Sequence[int]) -> bool:
    """Whether a column of text holds answers in people's own words."""
    rows = sum(times)
    words = sum(len(value.split()) * count for value, count in zip(filled, times, strict=True))
    return rows > 0 and words / rows >= _OPEN_WORDS


def propose_identifier(names: Sequence[str], columns: Sequence[Column], document: int | None = None) -> int | None:
    """The column whose cells are filled and all different, and whose name says ID; None if none is.
    Where each row is a ``document``, one whose name says ID may repeat."""
    best: tuple[float, int] | None = None
    for position, (name, column) in enumerate(zip(names, columns, strict=True)):
        named = _named(name, _ID_WORDS)
        if position == document or (not named and len(column.values) < column.filled.sum()):
            continue
        values = list(dict.fromkeys(value.strip() for value in column.values if value.strip()))
        rows = int(column.filled.sum())
        if not rows:
            continue
        unique = len(values) / rows
        sample = values[:1000]
        coded = sum(bool(re.fullmatch(r"[A-Za-z]{1,4}[ _-]?\d+|\d{3,}", cell)) for cell in sample) / len(sample)
        figures = not named and coded < 0.8 and all(as_number(cell) is not None for cell in sample)
        if figures and sample != [str(place) for place in range(1, len(sample) + 1)]:
            continue
        score = 3 * (unique == 1) + unique + 2.5 * named + coded - 0.05 * position - 2 * (rows < 0.8 * len(column))
        says_id = document is None and _says_id(name)
        score += 2 * says_id
        repeats = unique > 0.3 if document is not None else unique > (0.4 if says_id else 0.8)
        if (unique == 1 or (named and repeats)) and (best is None or score > best[0]):
            best = (score, position)
    return best[1] if best else None


def _says_id(name: str) -> bool:
    """Whether the heading says that this is the ID, whatever its cells say: IDs that stand twice are to be told, not passed over."""
    return name.casefold().strip() in (
        "id",
        "case",
        "case id",
        "participant",
        "participant id",
        "respondent",
        "respondent id",
        "pseudonym",
    )


def propose_document(names: Sequence[str], columns: Sequence[Column]) -> int | None:
    """The column that names documents: its cells are file names, or its heading says so and each differs."""
    for position, (name, column) in enumerate(zip(names, columns, strict=True)):
        filled = [value for value in column.values if value.strip()]
        if not filled or len(filled) < column.filled.sum():
            continue
        files = sum(bool(re.search(r"\w\.[A-Za-z]\w{1,4}$", value.strip())) for value in filled[:200])
        says_so = _named(name, _DOCUMENT_WORDS) and not _named(name, (*_ID_WORDS, "date", "time", "length", "language"))
        if files > 0.8 * len(filled[:200]) or (says_so and not is_open(filled, [1] * len(filled))):
            return position
    return None


def _named(name: str, words: Sequence[str]) -> bool:
    return any(word in words for word in re.split(r"[\W_]+", name.casefold()))


# No more digits than a number has room for: a longer one would be read as infinite.
_PLAIN_NUMBERS = re.compile(r"(?:[+-]?(?:0|[1-9]\d{0,299})(?:\.\d+)?\n)*")


def all_plain_numbers(values: Sequence[str]) -> bool:
    """Whether every value is written as Python reads it: one look for all of a long column."""
    return _PLAIN_NUMBERS.fullmatch("\n".join([*values, ""])) is not None


def propose_kind(filled: Sequence[str], total: int | None = None) -> VariableKind:
    """The narrowest type that every filled cell fits; ``total`` rows hold them. ``007`` stays text."""
    if not filled:
        return "text"
    total = len(filled) if total is None else total
    if len(filled) > 200 and all_plain_numbers(filled):
        return "number"
    folded = {cell.strip().casefold() for cell in filled}
    if folded <= (_YES | _NO) - {"x"} and len(folded) <= 2 and not folded <= {"0", "1"}:
        return "yes_no"
    if all(as_number(cell) is not None for cell in filled):
        return "number"
    if looks_dated(filled):
        return "date"
    if _scale(folded) or _ranges(folded):
        return "ordered"
    if len(filled) > 0.8 * total and is_open(filled, [1] * len(filled)):
        return "text"
    longest = max(len(cell) for cell in filled)
    if longest <= 60 and len(folded) <= max(2, min(30, total * 0.6)):
        return "category"
    return "text"


def category_order(filled: Sequence[str], kind: VariableKind, times: Sequence[int] | None = None) -> tuple[str, ...]:
    """Values in the order proposed: a known scale's, ranges by their start, else the most frequent first."""
    seen = list(dict.fromkeys(cell.strip() for cell in filled))
    folded = {value.casefold() for value in seen}
    if kind == "ordered":
        scale = _scale(folded)
        if scale:
            return tuple(sorted(seen, key=lambda value: scale.index(value.casefold())))
        return tuple(sorted(seen, key=_range_start))
    if kind == "yes_no":
        return tuple(sorted(seen, key=lambda value: as_yes_no(value) is not True))
    counts: Counter[str] = Counter()
    for place, cell in enumerate(filled):
        counts[cell.strip()] += times[place] if times is not None else 1
    places = {value: place for place, value in enumerate(seen)}
    return tuple(sorted(seen, key=lambda value: (-counts[value], places[value])))


_PLAIN_NUMBER = re.compile(r"[+-]?(?:0|[1-9]\d{0,15})(?:\.\d+)?")
_LEADING_ZERO = re.compile(r"[+-]?0\d+")
_DECIMAL_COMMA = re.compile(r"[+-]?\d+,\d{1,2}|[+-]?\d+,\d{4,}")
_THOUSANDS = re.compile(r"[+-]?\d{1,3}(,\d{3})+(\.\d+)?")
_NUMBER = re.compile(r"[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d{1,2})?")


def as_number(cell: str) -> float | None:
    """A number with a decimal point or comma; None for text, and for IDs like ``007``."""
    if _PLAIN_NUMBER.fullmatch(cell):
        return float(cell)
    plain = cell.strip().replace("−", "-")
    if _LEADING_ZERO.fullmatch(plain):
        return None
    if _DECIMAL_COMMA.fullmatch(plain):
        plain = plain.replace(",", ".")
    elif _THOUSANDS.fullmatch(plain):
        plain = plain.replace(",", "")
    if not _NUMBER.fullmatch(plain):
        return None
    found = float(plain)
    return found if isfinite(found) else None


def as_yes_no(cell: str) -> bool | None:
    plain = cell.strip().casefold()
    return True if plain in _YES else False if plain in _NO else None


_MONTHS = {
    name: number
    for number, names in enumerate(
        ("jan january", "feb february", "mar march", "apr april", "may", "jun june", "jul july", "aug august",
         "sep sept september", "oct october", "nov november", "dec december"), start=1)
    for name in names.split()
}  # fmt: skip
_NAMED_MONTH = (
    re.compile(r"^(?P<day>\d{1,2})\.?[ -](?P<month>[A-Za-z]{3,9})\.?,?[ -](?P<year>\d{4})$"),
    re.compile(r"^(?P<month>[A-Za-z]{3,9})\.? (?P<day>\d{1,2}),? (?P<year>\d{4})$"),
)


def day_first(filled: Sequence[str]) -> bool | None:
    """How a column writes ``03/04/2025``: True for the third of April, False for March, as its other
    dates tell; None where they don't tell, or contradict each other."""
    first = second = False
    for cell in filled:
        slashed = _SLASHED.match(cell.strip())
        if slashed:
            first |= int(slashed[1]) > 12
            second |= int(slashed[2]) > 12
    return first if first != second else None


def looks_dated(filled: Sequence[str]) -> bool:
    """Whether every cell is a date, in however many styles; slashed ones needn't be decided yet."""
    return all(as_date(cell, order) is not None for order in [day_first(filled) is not False] for cell in filled)


def as_date(cell: str, days_first: bool | None = None) -> date | None:
    """``2025-12-31``, ``31.12.2025``, ``31 December 2025``, ``Dec 31, 2025``, or a slashed date: read as
    ``days_first`` says, and without that only where one way of reading it is possible."""
    plain = cell.strip()
    for pattern, (year, month, day) in _DATES:
        found = pattern.match(plain)
        if found:
            parts = found.groups()
            return _date(int(parts[year]), int(parts[month]), int(parts[day]))
    for named in _NAMED_MONTH:
        found = named.match(plain)
        if found and found["month"].casefold() in _MONTHS:
            return _date(int(found["year"]), _MONTHS[found["month"].casefold()], int(found["day"]))
    slashed = _SLASHED.match(plain)
    if slashed:
        first, second, year_said = (int(part) for part in slashed.groups())
        if first > 12 or first == second or (second <= 12 and days_first is True):
            return _date(year_said, second, first)
        if second > 12 or days_first is False:
            return _date(year_said, first, second)
    return None


def _date(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day)
    except ValueError:
        return None


class ReadCell(NamedTuple):
    """A cell as the variable's type: exactly one of ``value`` and ``missing``, or ``problem``."""

    value: str | float | bool | date | None = None
    missing: MissingReason | None = None
    problem: bool = False


def read_cell(
    cell: str, kind: VariableKind, when_empty: MissingReason, days_first: bool | None = None, codes_count: bool = False
) -> ReadCell:
    """Read one cell; a cell that doesn't fit the type is a problem, never silently missing.
    ``codes_count``: numbers such as −99 are values here, not codes for missing ones."""
    if not cell.strip():
        return ReadCell(missing=when_empty)
    reason = reason_written(cell)
    if reason and not (codes_count and is_missing_code(cell)):
        return ReadCell(missing=reason)
    if kind in ("category", "ordered", "text"):
        return ReadCell(value=cell.strip())
    if kind == "date":
        value: float | bool | date | None = as_date(cell, days_first)
    else:
        value = as_number(cell) if kind == "number" else as_yes_no(cell)
    return ReadCell(problem=True) if value is None else ReadCell(value=value)


def read_cells(
    column: Column,
    kind: VariableKind,
    when_empty: MissingReason,
    days_first: bool | None = None,
    codes_count: bool = False,
) -> tuple[ReadCell, ...]:
    """Each different text of a column read once; the commonest sorts of cells without a look at each kind."""
    if kind == "number" and all_plain_numbers(column.values):
        plain: list[ReadCell] = list(map(ReadCell, map(float, column.values)))
    elif kind in ("category", "ordered", "text"):
        plain = [ReadCell(value.strip()) for value in column.values]
    else:
        return tuple(read_cell(value, kind, when_empty, days_first, codes_count) for value in column.values)
    for place, (value, reason) in enumerate(zip(column.values, column.reasons, strict=True)):
        if reason is not None or not value or value.isspace():
            plain[place] = read_cell(value, kind, when_empty, days_first, codes_count)
    return tuple(plain)


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
