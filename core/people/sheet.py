"""Making out a participant sheet: where its headers are, and what is wrong with it."""

import re
from collections import Counter
from dataclasses import dataclass

from core.people.columns import as_date, as_number
from core.people.missing import reason_written

MAX_COLUMNS = 1_000
MAX_ROWS = 200_000

Rows = list[list[str]]


@dataclass(frozen=True)
class SheetShape:
    """``header`` is the row of names (0 first), ``header_rows`` 1 or 2, −1 header for none."""

    header: int
    header_rows: int
    warnings: tuple[str, ...]


@dataclass(frozen=True)
class SheetTable:
    names: tuple[str, ...]
    rows: Rows
    first_row: int
    """Number of the first data row as a spreadsheet shows it, counted from 1."""


def make_out(rows: Rows, merged: list[str] | None = None) -> SheetShape:
    """Find the header rows. ``merged`` names merged ranges as a spreadsheet shows them."""
    warnings = []
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
        above = "row 1" if header == 1 else f"rows 1 to {header}"
        warnings.append(f"The column names are read from row {header + 1}; {above} above them left out.")
    if header_rows == 2:
        warnings.append(
            f"Rows {header + 1} and {header + 2} both look like column names; they are read together. "
            "Choose “one row” if the second is a person."
        )
    if merged:
        listed = ", ".join(merged[:4]) + (" …" if len(merged) > 4 else "")
        warnings.append(
            f"Merged cells ({listed}): only the first cell of each holds its value, the others are read as empty."
        )
    return SheetShape(header, header_rows, tuple(warnings))


def cut(rows: Rows, header: int, header_rows: int) -> SheetTable:
    """Names and data rows, empty rows and nameless empty columns dropped."""
    names = _names(rows[header : header + header_rows])
    width = max([len(names), *(len(row) for row in rows[header + header_rows :])], default=0)
    names += [f"Column {place + 1}" for place in range(len(names), width)]
    data = [[cell.strip() for cell in row] + [""] * (width - len(row)) for row in rows[header + header_rows :]]
    used = [
        place for place in range(width) if not names[place].startswith("Column ") or any(row[place] for row in data)
    ]
    kept = [[row[place] for place in used] for row in data]
    return SheetTable(tuple(_unlike([names[place] for place in used])), kept, header + header_rows + 1)


def filled_rows(table: SheetTable) -> list[tuple[int, list[str]]]:
    """The rows that hold anything, with their number as a spreadsheet shows it."""
    return [(table.first_row + place, row) for place, row in enumerate(table.rows) if any(row)]


def identifier_problems(identifiers: list[tuple[int, str]]) -> list[str]:
    """Sentences on IDs that stand twice or not at all; ``identifiers``: (row number, ID)."""
    problems = []
    times = Counter(identifier for _, identifier in identifiers if identifier)
    twice = [identifier for identifier, count in times.items() if count > 1]
    for identifier in twice[:5]:
        at = [str(row) for row, value in identifiers if value == identifier]
        problems.append(
            f"The ID “{identifier}” stands in rows {', '.join(at[:-1])} and {at[-1]}. Each needs a row of its own: "
            "correct the sheet, or choose another column as ID."
        )
    if len(twice) > 5:
        problems.append(f"{len(twice) - 5} more IDs stand twice.")
    return problems


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
    return [": ".join(part) or f"Column {place + 1}" for place, part in enumerate(parts)]


def _unlike(names: list[str]) -> list[str]:
    seen: Counter[str] = Counter()
    result = []
    for name in names:
        seen[name.casefold()] += 1
        result.append(name if seen[name.casefold()] == 1 else f"{name} ({seen[name.casefold()]})")
    return result
