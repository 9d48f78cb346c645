"""The quick reading of large sheets gives what reading them row by row gives, or nothing at all."""

import csv
import io

import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.people.grid import Column, Grid
from server.gather.readers import delimited, sheets
from server.gather.readers.delimited import columns_at_once, rows_of

CELL = st.text(alphabet='ab7 é\n\r",;\t’-', max_size=6)


def written(rows: list[list[str]], separator: str, ends: str) -> str:
    out = io.StringIO(newline="")
    csv.writer(out, delimiter=separator, lineterminator=ends).writerows(rows)
    return out.getvalue()


def as_rows(grid: Grid) -> list[list[str]]:
    return [list(row) for row in zip(*(column.cells() for column in grid.columns), strict=True)]


@given(
    width=st.integers(2, 4),
    height=st.integers(1, 6),
    separator=st.sampled_from(",;\t"),
    ends=st.sampled_from(["\n", "\r\n"]),
    data=st.data(),
)
def test_both_ways_read_the_same_cells(width, height, separator, ends, data):
    rows = data.draw(st.lists(st.lists(CELL, min_size=width, max_size=width), min_size=height, max_size=height))
    text = written(rows, separator, ends)
    quick = columns_at_once(text, separator)
    if quick is not None:
        assert as_rows(quick) == as_rows(Grid.of(rows_of(text, separator)[0]))


@given(text=st.text(alphabet='a1,"\n \r', max_size=30))
def test_any_text_is_read_alike_or_left_to_the_patient_way(text):
    quick = columns_at_once(text, ",")
    if quick is not None:
        patient = Grid.of(rows_of(text, ",")[0])
        assert as_rows(quick) == as_rows(patient)


def test_uneven_rows_are_left_to_the_patient_way():
    assert columns_at_once("A title\nID,age\nP1,40\n", ",") is None
    assert columns_at_once("ID\x00,age\nP1,40\n", ",") is None


def test_a_large_sheet_goes_the_quick_way_and_reads_the_same(tmp_path, monkeypatch):
    frame = pd.DataFrame({"ID": [f"P{n:03}" for n in range(300)], "town": ["Ålby", "N/A", ""] * 100, "n": range(300)})
    path = tmp_path / "people.csv"
    frame.to_csv(path, index=False)
    sheets.read_sheet("people.csv", path, tmp_path)
    patient = sheets.read_grid(tmp_path / "cells")
    monkeypatch.setattr(delimited, "LARGE", 10)
    monkeypatch.setattr(delimited, "rows_of", lambda *_: pytest.fail("read row by row"))
    sheets.read_sheet("people.csv", path, tmp_path)
    quick = sheets.read_grid(tmp_path / "cells")
    assert as_rows(quick) == as_rows(patient)
    assert [column.values for column in quick.columns] == [column.values for column in patient.columns]


def test_values_keep_the_order_of_their_first_row():
    column = Column.ordered(["never seen", "b", "a"], Column.of(["x", "y", "x"]).codes + 1)
    assert column.values == ("b", "a")
    assert column.cells() == ["b", "a", "b"]
