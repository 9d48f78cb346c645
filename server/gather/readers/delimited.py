"""Text files of rows and columns: which sign separates them, and their cells."""

import csv
import io
import itertools
from pathlib import Path
from typing import Any

import numpy as np

from core.gather.plain import NotText, decode
from core.people.grid import Column, Grid
from core.people.sheet import MAX_ROWS
from server.gather.readers.kinds import Unreadable

MAX_CELL = 20_000
_WORD = "\x01word"
LARGE = 2_000_000
"""Characters from which the quick way is worth loading its library."""
_SAID = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}


def read_delimited(path: Path) -> tuple[list[list[str]] | Grid, dict[str, Any]]:
    """The rows, or for a large even sheet its columns at once, and how they were read."""
    try:
        text, encoding = decode(path.read_bytes())
    except NotText as error:
        raise Unreadable(
            "The file isn’t text in any encoding Cohortia knows. Save the sheet as .xlsx or as .csv in UTF-8."
        ) from error
    separator = separator_of(text)
    found = {"merged": [], "format": f"{_SAID[separator]}, {encoding}", "sheets": []}
    grid = columns_at_once(text, separator) if len(text) >= LARGE else None
    return (rows_of(text, separator) if grid is None else grid), found


def rows_of(text: str, separator: str) -> list[list[str]]:
    """Row by row, however uneven."""
    csv.field_size_limit(MAX_CELL * 10)
    try:
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
        return list(itertools.islice(reader, MAX_ROWS + 20))
    except csv.Error as error:
        raise Unreadable("The rows can’t be told apart: a quotation mark is probably left open somewhere.") from error


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
