"""Text files of rows and columns: which sign separates them, and their cells."""

import csv
import io
import itertools
import re
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np

from core.language import message, say
from core.people.grid import Column, Grid
from core.people.sheet import MAX_ROWS
from server.gather.readers.kinds import Unreadable
from server.gather.readers.letters import read_letters

MAX_CELL = 20_000
_WORD = "\x01word"
LARGE = 2_000_000
"""Characters from which the quick way is worth loading its library."""
_SAID = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}


def read_delimited(path: Path, encoding: str | None = None) -> tuple[list[list[str]] | Grid, dict[str, Any]]:
    """The rows, or for a large even sheet its columns at once, and how they were read."""
    letters = read_letters(path.read_bytes(), encoding)
    separator = separator_of(letters.text)
    text = _unguarded(letters.text, separator)
    found: dict[str, Any] = {"merged": [], "format": f"{_SAID[separator]}, {letters.words}", "sheets": []}
    found |= {"warnings": list(letters.warnings), "encoding": letters.said}
    grid = columns_at_once(text, separator) if len(text) >= LARGE else None
    if grid is not None:
        # Each different text once, with the row that it is first in: those that hold lines are few.
        first = set(grid.columns[0].values[:_LOOKED_AT])
        cells = [
            (int(np.argmax(column.codes == code)) + 1, value)
            for column in grid.columns
            for code, value in enumerate(column.values)
            if "\n" in value
        ]
        found["warnings"] += swallowed(sorted(cells), first, len(grid.columns), separator)
        return grid, found
    rows, lines = rows_of(text, separator)
    width = Counter(map(len, rows)).most_common(1)[0][0] if rows else 0
    cells = [(line, cell) for row, line in zip(rows, lines, strict=True) for cell in row if "\n" in cell]
    found["warnings"] += uneven(rows, lines, width)
    found["warnings"] += swallowed(cells, {row[0] for row in rows[:_LOOKED_AT] if row}, width, separator)
    return rows, found


def _unguarded(text: str, separator: str) -> str:
    """Without the apostrophe that keeps a spreadsheet from taking a cell for a formula: it is no part of what it says."""
    if "'" not in text:
        return text
    return re.sub(rf"(^|\n|{re.escape(separator)})(\"?)'(?=[=+\-@])", r"\1\2", text)


_END = "\x03end"


def rows_of(text: str, separator: str) -> tuple[list[list[str]], list[int]]:
    """Row by row, however uneven; and the line that each begins in. Refused where a quotation mark opens and never closes:
    all that follows would be one cell."""
    csv.field_size_limit(MAX_CELL * 10)
    rows: list[list[str]] = []
    lines: list[int] = []
    before = 0
    # A line of our own at the end is a row by itself, unless a cell is still open there.
    given = itertools.chain(io.StringIO(text if text.endswith(("\n", "\r")) else f"{text}\n", newline=""), [_END])
    reader = csv.reader(given, delimiter=separator)
    try:
        for row in itertools.islice(reader, MAX_ROWS + 20):
            rows.append(row)
            lines.append(before + 1)
            before = reader.line_num
    except csv.Error as error:
        raise Unreadable(
            say(
                "A cell in line {before, number} is longer than {max_cell, number} characters: a quotation mark is probably left open there. Close it or take it out, then add the file again.",
                before=before + 1,
                max_cell=MAX_CELL * 10,
            )
        ) from error
    if rows and rows[-1] == [_END]:
        return rows[:-1], lines[:-1]
    if rows and rows[-1] and rows[-1][-1].endswith(_END):
        raise Unreadable(_left_open(text, lines[-1], separator))
    return rows, lines


def _left_open(text: str, line: int, separator: str) -> str:
    """Where the quotation mark is that never closes, in the row that begins in this line."""
    start = 0
    for _ in range(line - 1):
        start = text.index("\n", start) + 1 if "\n" in text else start
    sign = re.escape(separator)
    # Cells one after the other, as they are read: quoted ones whole, with quotes doubled inside.
    cell = re.compile(rf'"(?:[^"]|"")*"[^{sign}\r\n]*|[^{sign}\r\n"][^{sign}\r\n]*|(?P<open>")|[{sign}\r\n]')
    at = next((found.start() for found in cell.finditer(text, start) if found["open"]), start)
    line, start = text.count("\n", 0, at) + 1, text.rfind("\n", 0, at) + 1
    return say(
        "In line {line, number}, column {at, number}, a quotation mark opens a cell and never closes. Close it or take it out, then add the file again.",
        line=line,
        at=at - start + 1,
    )


_LISTED = 6
_LOOKED_AT = 1000


def uneven(rows: list[list[str]], lines: list[int], usual: int) -> list[str]:
    """Sentences on rows that have more or fewer cells than the usual ones."""
    said = []
    for which, told in (
        (
            [at for at, row in enumerate(rows) if len(row) > usual and any(cell.strip() for cell in row[usual:])],
            message(
                "{lines, plural, one {Line {some} has} other {# lines ({some}) have}} more than the usual {usual} cells; what is beyond stands in columns of its own. A sign that separates cells may stand inside one."
            ),
        ),
        (
            [at for at, row in enumerate(rows) if 1 < len(row) < usual],
            message(
                "{lines, plural, one {Line {some} has} other {# lines ({some}) have}} fewer than the usual {usual} cells; what lacks is read as empty. A sign that separates cells may stand inside one."
            ),
        ),
    ):
        if which:
            some = ", ".join(f"{lines[at]:,}" for at in which[:_LISTED]) + (" …" if len(which) > _LISTED else "")
            said.append(say(told, lines=len(which), some=some, usual=usual))
    return said


def swallowed(cells: list[tuple[int, str]], first: set[str], width: int, separator: str) -> list[str]:
    """Sentences on cells (each with where it begins) that seem to have taken in whole rows: a quotation mark left open, and
    closed by a later one. ``first`` are cells of the first column: a row begins with one shaped like them."""
    shapes = {_shape(one) for one in first if any(letter.isdigit() for letter in one)}
    said = []
    for line, cell in cells:
        _, *more = cell.splitlines() or [""]
        if any(one.count(separator) == width - 1 > 0 and _shape(one.split(separator)[0]) in shapes for one in more):
            said.append(
                say(
                    "A cell that begins in line {line, number} goes over {more} lines that look like rows of their own: is a quotation mark left open there?",
                    line=line,
                    more=len(more) + 1,
                )
            )
    return said[:_LISTED]


def _shape(cell: str) -> str:
    return re.sub(r"\d+", "9", re.sub(r"[^\W\d_]+", "a", cell.strip()))


def columns_at_once(text: str, separator: str) -> Grid | None:
    """The same cells several times as fast, where all rows are of one width; None where they aren't."""
    import pandas as pd

    width = len(next(csv.reader(io.StringIO(text, newline=""), delimiter=separator), []))
    if "\x00" in text or not width:
        return None
    # A first row that is neither number nor truth: without it 007 would be read as 7.
    text = separator.join([_WORD] * width) + "\n" + text
    try:
        frame = pd.read_csv(
            io.StringIO(text, newline=""), sep=separator, header=None, dtype="category", keep_default_na=False,
            na_filter=False, skip_blank_lines=False, low_memory=False, engine="c", nrows=MAX_ROWS + 21,
        )  # fmt: skip
    except (pd.errors.ParserError, pd.errors.EmptyDataError):
        return None
    columns = []
    for name in frame.columns:
        held = frame[name].cat
        codes = held.codes.to_numpy().astype(np.int32)
        if codes.min() < 0:
            return None
        columns.append(Column.ordered(held.categories.astype(object).tolist(), codes[1:]))
    return Grid(tuple(columns), len(frame) - 1)


def separator_of(text: str) -> str:
    """The separator that cuts the first rows into most columns, alike in each."""
    best = (0.0, ",")
    sample = text[:50_000]
    for separator in _SAID:
        widths = [len(row) for row in csv.reader(io.StringIO(sample, newline=""), delimiter=separator) if row][:50]
        if not widths or max(widths) < 2:
            continue
        usual = max(set(widths), key=widths.count)
        score = widths.count(usual) / len(widths) * min(usual, 50) if usual > 1 else 0
        best = max(best, (score, separator), key=lambda pair: pair[0])
    return best[1]
