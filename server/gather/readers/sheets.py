"""Columns of a sheet, every cell as the text a researcher sees."""

from datetime import date, datetime, time, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import orjson
from python_calamine import CalamineWorkbook

from core.language import say
from core.people.grid import Column, Grid, Hint
from core.people.sheet import MAX_COLUMNS, MAX_ROWS
from server.gather.readers.archive import check_archive
from server.gather.readers.delimited import MAX_CELL, read_delimited
from server.gather.readers.formulas import without_value
from server.gather.readers.kinds import PACKAGES, WORKBOOKS, Unreadable, extension

_WANTED_PART = {"xlsx": "xl/workbook.xml", "ods": "content.xml"}


def read_sheet(name: str, path: Path, out: Path, title: str = "", encoding: str | None = None) -> dict[str, Any]:
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
        rows, found = workbook_rows(path, ending, title) if ending in WORKBOOKS else read_delimited(path, encoding)
        grid = rows if isinstance(rows, Grid) else _grid(rows)
        found["warnings"] += _too_long(grid)
        grid = _checked(grid)
    write_grid(grid, out / "cells")
    return found


def _too_long(grid: Grid) -> list[str]:
    """A sentence on cells of which the end is left out."""
    long = [
        (int(np.argmax(column.codes == code)) + 1, place)
        for place, column in enumerate(grid.columns)
        for code, value in enumerate(column.values)
        if len(value) > MAX_CELL
    ]
    if not long:
        return []
    row, place = min(long)
    return [
        say(
            "{cells, plural, one {A cell holds} other {# cells hold}} more than {max_cell, number} characters; what is beyond is left out: {cells, plural, one {it is} other {the first is}} {at}.",
            cells=len(long),
            max_cell=MAX_CELL,
            at=_at(row - 1, place),
        )
    ]


def _once(column: Column) -> Column:
    """A heading may be written like one of the values."""
    if len(set(column.values)) == len(column.values):
        return column
    again = Column.of(column.values)
    return Column(again.values, again.codes[column.codes])


def _grid(rows: list[list[str]]) -> Grid:
    if len(rows) > MAX_ROWS + 10:
        _check_size(len(rows), 0)
    return Grid.of(rows)


def _checked(grid: Grid) -> Grid:
    """Cells cleaned, empty rows at the end left off; refused where it is no sheet of people."""
    holding = np.zeros(grid.rows, bool)
    for column in grid.columns:
        holding |= column.filled
    if not holding.any():
        raise Unreadable(say("The sheet is empty."))
    rows = int(np.flatnonzero(holding)[-1]) + 1
    _check_size(rows, len(grid.columns))
    if rows < 2:
        raise Unreadable(say("The sheet has a single row: it needs a row of column names and a row for each person."))
    kept = [column if rows == grid.rows else column.take(slice(0, rows)) for column in grid.columns]
    return Grid(tuple(_cleaned(column) for column in kept), rows)


def _check_size(rows: int, width: int) -> None:
    if width > MAX_COLUMNS:
        raise Unreadable(
            say(
                "The sheet has {width, number} columns; Cohortia takes up to {max_columns, number}. Is it the right file?",
                width=width,
                max_columns=MAX_COLUMNS,
            )
        )
    if rows > MAX_ROWS:
        raise Unreadable(
            say(
                "The sheet has {rows, number} rows; Cohortia takes up to {max_rows, number}.",
                rows=rows,
                max_rows=MAX_ROWS,
            )
        )


def _cleaned(column: Column) -> Column:
    """Each different text cleaned once; those that become alike become one."""
    together = "".join(column.values)
    odd = "\x00" in together or "\xa0" in together
    clean = [_clean(value) if odd else value.strip()[:MAX_CELL] for value in column.values]
    if tuple(clean) == column.values:
        return column
    once = Column.of(clean)
    return Column(once.values, once.codes[column.codes])


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


def workbook_rows(path: Path, ending: str, title: str) -> tuple[list[list[str]], dict[str, Any]]:
    """The cells of a workbook's sheet (``title``, or the first that holds any) with what was seen of it."""
    if ending in _WANTED_PART:
        check_archive(path.read_bytes(), _WANTED_PART[ending])
    try:
        workbook = CalamineWorkbook.from_path(str(path))
        filled = []
        for one in workbook.sheet_names:
            sheet = workbook.get_sheet_by_name(one)
            if sheet.width > MAX_COLUMNS * 4:
                raise Unreadable(
                    say(
                        "The sheet has {width, number} columns; Cohortia takes up to {max_columns, number}. Is it the right file?",
                        width=sheet.width,
                        max_columns=MAX_COLUMNS,
                    )
                )
            if sheet.height and sheet.width:
                filled.append((one, sheet))
        if not filled:
            raise Unreadable(say("The workbook is empty."))
        chosen, sheet = next(((one, sheet) for one, sheet in filled if one == title), filled[0])
        rows = [[cell_text(value) for value in row] for row in sheet.to_python(skip_empty_area=False)]
        merged = [f"{_at(*first)}:{_at(*last)}" for first, last in (_merged(sheet) or [])]
    except Unreadable:
        raise
    except Exception as error:
        if "password" in str(error).casefold() or "encrypt" in str(error).casefold():
            raise Unreadable(
                say("The workbook is protected by a password. Save it without one, then add it again.")
            ) from error
        raise Unreadable(say("The workbook is damaged: no sheet can be read from it.")) from error
    odd = without_value(path, chosen) if ending == "xlsx" else ""
    found = {"merged": merged, "format": say("sheet “{chosen}”", chosen=chosen), "sheets": [one for one, _ in filled]}
    return rows, {**found, "warnings": [odd] if odd else []}


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
