"""Columns of a sheet, every cell as the text a researcher sees."""

import csv
import io
import itertools
from datetime import date, datetime, time, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import orjson
from python_calamine import CalamineWorkbook

from core.gather.plain import NotText, decode
from core.people.grid import Column, Grid, Hint
from core.people.sheet import MAX_COLUMNS, MAX_ROWS
from server.gather.readers.archive import check_archive
from server.gather.readers.kinds import PACKAGES, WORKBOOKS, Unreadable, extension

MAX_CELL = 20_000
_WANTED_PART = {"xlsx": "xl/workbook.xml", "ods": "content.xml"}


def read_sheet(name: str, path: Path, out: Path, title: str = "") -> dict[str, Any]:
    """What was found, for the staged file's ``content``; the cells are written to ``out/cells``."""
    ending = extension(name)
    if ending in PACKAGES:
        from server.gather.readers.packages import package_columns

        names, columns, hints, said, warnings = package_columns(name, path)
        # Its names of columns stand where a sheet has them, so that all is read alike.
        headed = tuple(
            Column((head, *column.values), np.concatenate([[0], column.codes + 1]).astype(np.int32))
            for head, column in zip(names, columns, strict=True)
        )
        grid = Grid(tuple(_once(column) for column in headed), len(columns[0]) + 1, dict(enumerate(hints)))
        found: dict[str, Any] = {"format": said, "merged": [], "sheets": [], "warnings": warnings}
    else:
        rows, found = _workbook(path, ending, title) if ending in WORKBOOKS else _delimited(path)
        grid = _grid(rows)
    write_grid(grid, out / "cells")
    return found


def _once(column: Column) -> Column:
    """A heading may be written like one of the values."""
    if len(set(column.values)) == len(column.values):
        return column
    again = Column.of(column.values)
    return Column(again.values, again.codes[column.codes])


def _grid(rows: list[list[str]]) -> Grid:
    while rows and not any(cell.strip() for cell in rows[-1]):
        rows.pop()
    if not rows:
        raise Unreadable("The sheet is empty.")
    width = max(len(row) for row in rows)
    if width > MAX_COLUMNS:
        raise Unreadable(
            f"The sheet has {width:,} columns; Cohortia takes up to {MAX_COLUMNS:,}. Is it the right file?"
        )
    if len(rows) > MAX_ROWS:
        raise Unreadable(f"The sheet has {len(rows):,} rows; Cohortia takes up to {MAX_ROWS:,}.")
    if len(rows) < 2 or width < 1:
        raise Unreadable("The sheet has a single row: it needs a row of column names and a row for each person.")
    grid = Grid.of(rows)
    return Grid(tuple(_cleaned(column) for column in grid.columns), grid.rows)


def _cleaned(column: Column) -> Column:
    """Each different text cleaned once; those that become alike become one."""
    once = Column.of([_clean(value) for value in column.values])
    return Column(once.values, once.codes[column.codes]) if column.values else column


def write_grid(grid: Grid, path: Path) -> None:
    """Values as a line of JSON, then the codes of each column as 32-bit integers."""
    head = {
        "rows": grid.rows,
        "values": [column.values for column in grid.columns],
        "hints": {str(place): [hint.label, hint.kind, hint.order] for place, hint in grid.hints.items()},
    }
    with path.open("wb") as file:
        file.write(orjson.dumps(head) + b"\n")
        for column in grid.columns:
            file.write(np.ascontiguousarray(column.codes, "<i4").tobytes())


def read_grid(path: Path) -> Grid:
    """A grid as ``write_grid`` wrote it."""
    with path.open("rb") as file:
        head = orjson.loads(file.readline())
        codes = np.frombuffer(file.read(), "<i4").reshape(len(head["values"]), head["rows"])
    columns = tuple(Column(tuple(values), row) for values, row in zip(head["values"], codes, strict=True))
    hints = {int(place): Hint(label, kind, tuple(order)) for place, (label, kind, order) in head["hints"].items()}
    return Grid(columns, head["rows"], hints)


def _delimited(path: Path) -> tuple[list[list[str]], dict[str, Any]]:
    try:
        text, encoding = decode(path.read_bytes())
    except NotText as error:
        raise Unreadable(
            "The file isn’t text in any encoding Cohortia knows. Save the sheet as .xlsx or as .csv in UTF-8."
        ) from error
    separator = _separator(text)
    csv.field_size_limit(MAX_CELL * 10)
    try:
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
        rows = list(itertools.islice(reader, MAX_ROWS + 20))
    except csv.Error as error:
        raise Unreadable("The rows can’t be told apart: a quotation mark is probably left open somewhere.") from error
    said = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}[separator]
    return rows, {"merged": [], "format": f"{said}, {encoding}", "sheets": []}


def _separator(text: str) -> str:
    """The separator that cuts the first rows into most columns, alike in each."""
    best = (0.0, ",")
    sample = text[:50_000]
    for separator in (",", ";", "\t", "|"):
        widths = [len(row) for row in csv.reader(io.StringIO(sample, newline=""), delimiter=separator) if row][:50]
        if not widths or max(widths) < 2:
            continue
        usual = max(set(widths), key=widths.count)
        score = widths.count(usual) / len(widths) * min(usual, 50) if usual > 1 else 0
        best = max(best, (score, separator), key=lambda pair: pair[0])
    return best[1]


def _workbook(path: Path, ending: str, title: str) -> tuple[list[list[str]], dict[str, Any]]:
    if ending in _WANTED_PART:
        check_archive(path.read_bytes(), _WANTED_PART[ending])
    try:
        workbook = CalamineWorkbook.from_path(str(path))
        filled = []
        for one in workbook.sheet_names:
            sheet = workbook.get_sheet_by_name(one)
            if sheet.width > MAX_COLUMNS * 4:
                raise Unreadable(
                    f"The sheet has {sheet.width:,} columns; Cohortia takes up to {MAX_COLUMNS:,}. Is it the right file?"
                )
            if sheet.height and sheet.width:
                filled.append((one, sheet))
        if not filled:
            raise Unreadable("The workbook is empty.")
        chosen, sheet = next(((one, sheet) for one, sheet in filled if one == title), filled[0])
        rows = [[cell_text(value) for value in row] for row in sheet.to_python(skip_empty_area=False)]
        merged = [f"{_at(*first)}:{_at(*last)}" for first, last in (_merged(sheet) or [])]
    except Unreadable:
        raise
    except Exception as error:
        if "password" in str(error).casefold() or "encrypt" in str(error).casefold():
            raise Unreadable(
                "The workbook is protected by a password. Save it without one, then add it again."
            ) from error
        raise Unreadable("The workbook is damaged: no sheet can be read from it.") from error
    return rows, {"merged": merged, "format": f"sheet “{chosen}”", "sheets": [one for one, _ in filled]}


def _merged(sheet: Any) -> Any:
    try:
        return sheet.merged_cell_ranges
    except Exception:
        return []


def cell_text(value: Any) -> str:
    """A cell's value as it is written in a sheet."""
    if value is None or value == "":
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == time(0) else value.isoformat(" ")
    if isinstance(value, date | time):
        return value.isoformat()
    if isinstance(value, timedelta):
        return str(value)
    return str(value)


def _clean(cell: str) -> str:
    return cell.replace("\x00", "").replace("\xa0", " ").strip()[:MAX_CELL]


def _at(row: int, column: int) -> str:
    letters = ""
    column += 1
    while column:
        column, rest = divmod(column - 1, 26)
        letters = chr(65 + rest) + letters
    return f"{letters}{row + 1}"
