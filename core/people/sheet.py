"""Making out a participant sheet: where its headers are, and what is wrong with it."""

import re
from collections import Counter
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.language import say
from core.people.columns import as_date, as_number
from core.people.grid import Column, Grid, Hint, Rows
from core.people.linking import plain_identifiers
from core.text.lists import listed
from core.text.missing import reason_written

MAX_COLUMNS = 1_000
MAX_ROWS = 200_000
LONGEST_ID = 120


@dataclass(frozen=True)
class SheetShape:
    """``header`` is the row of names (0 first), −1 where there is none; ``header_rows`` 0, 1 or 2."""

    header: int
    header_rows: int
    warnings: tuple[str, ...]


@dataclass(frozen=True)
class SheetTable:
    """Names, and the columns beneath them without rows that hold nothing."""

    names: tuple[str, ...]
    columns: tuple[Column, ...]
    numbers: npt.NDArray[np.int64]
    """Each row's number as a spreadsheet shows it, counted from 1."""
    hints: dict[int, Hint]
    same_names: tuple[str, ...]


def make_out(rows: Rows, merged: list[str] | None = None) -> SheetShape:
    """Find the header rows. ``merged`` names merged ranges as a spreadsheet shows them."""
    warnings = []
    if _begins_with_data(rows):
        said = say(
            "No row of column names was found: the first row looks like those beneath it. Name the columns below, or choose a row of names."
        )
        return SheetShape(-1, 0, (said,))
    filled = [sum(bool(cell.strip()) for cell in row) for row in rows]
    width = max(filled, default=0)
    header = next(
        (place for place, count in enumerate(filled[:20]) if count >= max(2, 0.6 * width) or (width == 1 and count)), 0
    )
    header_rows = 1
    if header and filled[header - 1] >= 2 and _wordy(rows[header - 1]) and _wordy(rows[header]):
        # A row of group names above the names proper, each reaching over several columns.
        header, header_rows = header - 1, 2
    elif len(rows) > header + 2 and _second_header(rows, header):
        header_rows = 2
    if header:
        above = "row 1" if header == 1 else say("rows 1 to {header}", header=header)
        warnings.append(
            say(
                "The column names are read from row {header}; {above} above them left out.",
                header=header + 1,
                above=above,
            )
        )
    if header_rows == 2:
        warnings.append(
            say(
                "Rows {header} and {header2} both look like column names; they are read together. Choose “one row” if the second is a person.",
                header=header + 1,
                header2=header + 2,
            )
        )
    if merged:
        listed = ", ".join(merged[:4]) + (" …" if len(merged) > 4 else "")
        warnings.append(
            say(
                "Merged cells ({listed}): only the first cell of each holds its value, the others are read as empty.",
                listed=listed,
            )
        )
    return SheetShape(header, header_rows, tuple(warnings))


def cut(grid: Grid, header: int, header_rows: int) -> SheetTable:
    """Names and data, empty rows and nameless empty columns dropped."""
    first = header + header_rows if header >= 0 else 0
    names = _names(grid.top(first)[header:first] if header >= 0 else [])
    names += [say("Column {place}", place=place + 1) for place in range(len(names), len(grid.columns))]
    columns = [column.take(slice(first, None)).tidied() for column in grid.columns]
    holding = [column.filled for column in columns]
    used = [place for place, name in enumerate(names) if not name.startswith("Column ") or bool(holding[place].any())]
    kept = np.zeros(max(0, grid.rows - first), bool)
    for place in used:
        kept |= holding[place]
    whole = bool(kept.all())
    said = [names[place] for place in used]
    return SheetTable(
        tuple(_unlike(said)),
        tuple(columns[place] if whole else columns[place].take(kept) for place in used),
        np.flatnonzero(kept) + first + 1,
        {at: grid.hints[place] for at, place in enumerate(used) if place in grid.hints},
        tuple(name for name, count in Counter(name.casefold() for name in said).items() if count > 1),
    )


def _begins_with_data(rows: Rows) -> bool:
    """The first row has an ID shaped as those beneath, and numbers or dates where they have some."""
    if len(rows) < 3 or sum(bool(cell.strip()) for cell in rows[0]) < 2:
        return False
    body = rows[1:40]
    return _like_those_below(rows[0], body) and any(_is_value(cell) for cell in rows[0])


def identifier_problems(identifiers: Column, numbers: npt.NDArray[np.int64]) -> list[str]:
    """Sentences on IDs that stand in several rows."""
    counts = identifiers.counts()
    twice = [place for place, value in enumerate(identifiers.values) if value and counts[place] > 1]
    problems = []
    long = [value for value in identifiers.values if len(value) > LONGEST_ID]
    if long:
        problems.append(
            say(
                "“{long}…” is longer than an ID may be ({longest_id} characters): choose another column as ID.",
                long=long[0][:30],
                longest_id=LONGEST_ID,
            )
        )
    for place in twice[:5]:
        at = [str(number) for number in numbers[identifiers.codes == place][:8]]
        problems.append(
            say(
                "The ID “{values}” stands in rows {at} and {at2}. Each needs a row of its own: correct the sheet, or choose another column as ID.",
                values=identifiers.values[place],
                at=", ".join(at[:-1]),
                at2=at[-1],
            )
        )
    if len(twice) > 5:
        problems.append(say("{twice} more IDs stand twice.", twice=len(twice) - 5))
    return problems


def nearly_alike(identifiers: Column) -> list[str]:
    """Sentences on IDs that differ only in capitals, spaces, signs or leading zeros."""
    alike: dict[str, list[str]] = {}
    values = [value for value in identifiers.values if value]
    for plain, value in zip(plain_identifiers(values), values, strict=True):
        alike.setdefault(plain, []).append(value)
    pairs = [listed([say("“{name}”", name=one) for one in same]) for same in alike.values() if len(same) > 1]
    return [say("{said} differ only in how they are written: the same one, or two?", said=said) for said in pairs[:4]]


def _second_header(rows: Rows, header: int) -> bool:
    first, second, after = (_padded(rows, place) for place in (header, header + 1, header + 2))
    gaps = sum(1 for left, below in zip(first, second, strict=False) if not left.strip() and below.strip())
    if gaps and _wordy(second):
        return True
    both = _wordy(first) and _wordy(second)
    values = sum(_is_value(cell) for cell in after)
    return both and values >= 1 and sum(_is_value(cell) for cell in second) == 0 and _column_alien(rows, header)


def _column_alien(rows: Rows, header: int) -> bool:
    """Some column is all numbers or dates beneath its second row, which holds words."""
    body = rows[header + 2 : header + 40]
    if _like_those_below(_padded(rows, header + 1), body):
        return False
    for place, cell in enumerate(_padded(rows, header + 1)):
        below = [row[place] for row in body if place < len(row) and row[place].strip()]
        word = cell.strip() and not _is_value(cell) and reason_written(cell) is None
        if word and len(below) >= 2 and all(_is_value(value) for value in below):
            return True
    return False


def _like_those_below(row: list[str], body: Rows) -> bool:
    """The row holds an ID of the same shape as those beneath it, or a value that recurs there."""
    for place, cell in enumerate(row):
        below = [other[place] for other in body if place < len(other) and other[place].strip()]
        if not cell.strip() or not below:
            continue
        if cell in below:
            return True
        if any(c.isdigit() for c in cell) and all(_shape(cell) == _shape(value) for value in below):
            return True
    return False


def _shape(cell: str) -> str:
    return re.sub(r"\d+", "9", re.sub(r"[^\W\d_]+", "a", cell))


def _padded(rows: Rows, place: int) -> list[str]:
    width = max(len(row) for row in rows[: place + 3])
    return rows[place] + [""] * (width - len(rows[place]))


def _wordy(row: list[str]) -> bool:
    filled = [cell for cell in row if cell.strip()]
    return bool(filled) and all(not _is_value(cell) for cell in filled)


def _is_value(cell: str) -> bool:
    return as_number(cell) is not None or as_date(cell) is not None


def _names(headers: Rows) -> list[str]:
    width = max((len(row) for row in headers), default=0)
    parts: list[list[str]] = [[] for _ in range(width)]
    for depth, row in enumerate(headers):
        carried = ""
        for place in range(width):
            cell = " ".join(row[place].split()) if place < len(row) else ""
            # Above a second row of names, a name reaches over the empty cells to its right.
            carried = cell or (carried if depth == 0 and len(headers) == 2 else "")
            if carried and carried not in parts[place]:
                parts[place].append(carried)
    return [": ".join(part) or say("Column {place}", place=place + 1) for place, part in enumerate(parts)]


def _unlike(names: list[str]) -> list[str]:
    seen: Counter[str] = Counter()
    result = []
    for name in names:
        seen[name.casefold()] += 1
        result.append(name if seen[name.casefold()] == 1 else f"{name} ({seen[name.casefold()]})")
    return result
