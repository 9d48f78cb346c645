"""Any rows at all give a reading or a sentence, and nothing is lost between sheet and records."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.people.columns import as_date, as_number, category_order, propose_kind, read_cell
from core.people.grid import Column, Grid
from core.people.participants import ColumnChoice, SheetChoices, read_participants, written
from core.people.sheet import cut, make_out
from core.text.missing import REASONS, reason_written
from tests.core.sheets import records

cells = st.one_of(
    st.sampled_from(
        [
            "",
            " ",
            "P1",
            "P2",
            "007",
            "3",
            "3,5",
            "yes",
            "no",
            "never",
            "daily",
            "2025-01-31",
            "n/a",
            "not asked",
            "=1+1",
            "🚢",
        ]
    ),
    st.text(max_size=6),
)
sheets = st.lists(st.lists(cells, min_size=1, max_size=5), min_size=2, max_size=8)


@settings(max_examples=150)
@given(sheets)
def test_any_rows_give_a_reading(rows):
    sheet = read_participants(rows, [], SheetChoices())
    assert all(isinstance(sentence, str) for sentence in (*sheet.problems, *sheet.warnings))
    assert len({column.proposal.name for column in sheet.columns}) == len(sheet.columns)
    if not sheet.problems:
        named = sheet.identifiers if sheet.about == "case" else sheet.documents
        assert all(named)
        if not any(sheet.documents):
            assert len(set(named)) == len(named)


@settings(max_examples=150)
@given(sheets)
def test_no_filled_cell_is_lost_between_sheet_and_table(rows):
    shape = make_out(rows)
    table = cut(Grid.of(rows), shape.header, shape.header_rows)
    first = shape.header + shape.header_rows if shape.header >= 0 else 0
    below = [cell.strip() for row in rows[first:] for cell in row if cell.strip()]
    kept = [cell for column in table.columns for cell in column.cells() if cell]
    assert all(len(column) == len(table.numbers) for column in table.columns)
    assert sorted(kept) == sorted(below)


@settings(max_examples=150)
@given(sheets, st.sampled_from(["category", "ordered", "number", "yes_no", "date", "text"]))
def test_every_cell_is_a_value_a_reason_or_a_problem(rows, kind):
    names = {f"c{i}": ColumnChoice(kind=kind) for i in range(5)}
    body = [[f"c{i}" for i in range(5)], *[(row + [""] * 5)[:5] for row in rows]]
    sheet = read_participants(body, [], SheetChoices(header=0, header_rows=1, columns=names))
    for _, read in records(sheet):
        for cell in read.values():
            assert (cell.value is not None) + (cell.missing is not None) + cell.problem == 1


@settings(max_examples=200)
@given(st.lists(cells, min_size=1, max_size=12))
def test_a_proposed_kind_fits_every_cell(column):
    filled = [cell for cell in column if cell.strip() and reason_written(cell) is None]
    kind = propose_kind(filled)
    assert not any(read_cell(cell, kind, "unknown").problem for cell in filled)
    if kind in ("category", "ordered", "yes_no"):
        assert sorted(category_order(filled, kind)) == sorted({cell.strip() for cell in filled})


@settings(max_examples=200)
@given(st.floats(allow_nan=False, allow_infinity=False, min_value=-1e6, max_value=1e6))
def test_numbers_survive_being_written_and_read(number):
    shown = written(round(number, 4))
    if "e" not in shown:
        assert abs(as_number(shown) - round(number, 4)) < 1e-3


@given(st.dates())
def test_dates_survive_being_written_and_read(day):
    assert as_date(written(day)) == (day if day.year >= 1000 else as_date(written(day)))


def test_reasons_are_found_however_they_are_spaced():
    assert reason_written("  Not   ASKED ") == "not_asked"
    assert reason_written("n/a") == "not_applicable"
    assert reason_written("Holm") is None
    assert set(REASONS) == {"not_asked", "not_answered", "not_applicable", "unknown"}


def test_truth_is_written_in_words():
    assert (written(True), written(False), written(None), written(3.0), written("x")) == ("yes", "no", "", "3", "x")


@settings(max_examples=200)
@given(st.lists(cells, min_size=1, max_size=30), st.data())
def test_a_column_taken_apart_holds_the_same_cells(texts, data):
    column = Column.of(texts)
    assert column.cells() == texts
    assert len(set(column.values)) == len(column.values)
    mask = np.array(data.draw(st.lists(st.booleans(), min_size=len(texts), max_size=len(texts))))
    taken = column.take(mask)
    assert taken.cells() == [text for text, kept in zip(texts, mask, strict=True) if kept]
    assert set(taken.values) == set(taken.cells())
    assert column.tidied().cells() == [text.strip() for text in texts]
