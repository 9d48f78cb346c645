"""Rows of a .csv, .tsv or .xlsx sheet, every cell as the text a researcher sees."""

import csv
import io
from datetime import date, datetime, time, timedelta
from typing import Any

from python_calamine import CalamineWorkbook

from core.gather.plain import NotText, decode
from core.people.sheet import MAX_COLUMNS, MAX_ROWS
from server.gather.readers.archive import check_archive
from server.gather.readers.kinds import Unreadable, extension

MAX_CELL = 20_000


def read_rows(name: str, data: bytes) -> dict[str, Any]:
    """``rows`` of text cells, ``merged`` ranges, ``format`` in words, and ``sheets`` with content."""
    found = _workbook(data) if extension(name) == "xlsx" else _delimited(data)
    rows = found["rows"]
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
    return found


def _delimited(data: bytes) -> dict[str, Any]:
    try:
        text, encoding = decode(data)
    except NotText as error:
        raise Unreadable(
            "The file isn’t text in any encoding Cohortia knows. Save the sheet as .xlsx or as .csv in UTF-8."
        ) from error
    separator = _separator(text)
    csv.field_size_limit(MAX_CELL * 10)
    try:
        rows = [
            [_clean(cell) for cell in row] for row in csv.reader(io.StringIO(text, newline=""), delimiter=separator)
        ]
    except csv.Error as error:
        raise Unreadable("The rows can’t be told apart: a quotation mark is probably left open somewhere.") from error
    said = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}[separator]
    return {"rows": rows, "merged": [], "format": f"{said}, {encoding}", "sheets": []}


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


def _workbook(data: bytes) -> dict[str, Any]:
    check_archive(data, "xl/workbook.xml")
    try:
        workbook = CalamineWorkbook.from_filelike(io.BytesIO(data))
        filled = []
        for title in workbook.sheet_names:
            sheet = workbook.get_sheet_by_name(title)
            if sheet.width > MAX_COLUMNS * 4:
                raise Unreadable(
                    f"The sheet has {sheet.width:,} columns; Cohortia takes up to {MAX_COLUMNS:,}. Is it the right file?"
                )
            if sheet.height and sheet.width:
                filled.append((title, sheet))
        if not filled:
            raise Unreadable("The workbook is empty.")
        title, sheet = filled[0]
        rows = [[_cell(value) for value in row] for row in sheet.to_python(skip_empty_area=False)]
        merged = [f"{_at(*first)}:{_at(*last)}" for first, last in (sheet.merged_cell_ranges or [])]
    except Unreadable:
        raise
    except Exception as error:
        raise Unreadable("The workbook is damaged: no sheet can be read from it.") from error
    return {"rows": rows, "merged": merged, "format": f"sheet “{title}”", "sheets": [name for name, _ in filled]}


def _cell(value: Any) -> str:
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
    return _clean(str(value))


def _clean(cell: str) -> str:
    return cell.replace("\x00", "").replace("\xa0", " ").strip()[:MAX_CELL]


def _at(row: int, column: int) -> str:
    letters = ""
    column += 1
    while column:
        column, rest = divmod(column - 1, 26)
        letters = chr(65 + rest) + letters
    return f"{letters}{row + 1}"
