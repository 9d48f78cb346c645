"""Files of statistics packages written here by pyreadstat (a general library), from invented people
drawn at random, and what Cohortia finds in them again."""

import pandas as pd
import pyreadstat
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from server.gather.readers.kinds import Unreadable
from server.gather.readers.packages import package_columns

LABELS = {1: "Holm", 2: "Ytter", 3: "Skarv"}
WORDS = st.text(st.characters(codec="utf-8", categories=("L", "N")), min_size=1, max_size=12)
ROWS = st.lists(st.tuples(WORDS, st.sampled_from([1, 2, 3]), st.integers(15, 95)), min_size=1, max_size=25)
WRITERS = {"sav": pyreadstat.write_sav, "dta": pyreadstat.write_dta}


@pytest.fixture(scope="module")
def written(tmp_path_factory):
    """Writes a frame as a package does; the file is there until the next one."""
    folder = tmp_path_factory.mktemp("packages")

    def write(ending, frame, **about):
        path = folder / f"people.{ending}"
        WRITERS[ending](frame, str(path), **about)
        return path

    return write


def columns_of(path):
    names, columns, hints, _, _ = package_columns(path.name, path)
    cells = {name: [column.values[code] for code in column.codes] for name, column in zip(names, columns, strict=True)}
    return cells, dict(zip(names, hints, strict=True))


@pytest.mark.parametrize("ending", ["sav", "dta"])
@settings(max_examples=20)
@given(rows=ROWS)
def test_words_labels_and_numbers_come_back(written, ending, rows):
    frame = pd.DataFrame(rows, columns=["ID", "island", "age"]).astype({"island": float, "age": float})
    path = written(
        ending, frame, variable_value_labels={"island": LABELS}, column_labels=["", "Home island", "Age in years"]
    )
    cells, hints = columns_of(path)
    assert cells["ID"] == [word for word, _, _ in rows]
    assert cells["island"] == [LABELS[code] for _, code, _ in rows]
    assert cells["age"] == [str(age) for _, _, age in rows]
    assert hints["island"].kind == "category"
    assert hints["island"].order == tuple(LABELS.values())
    assert hints["island"].label == "Home island"


def test_a_code_for_missing_says_its_reason_and_is_no_category(written):
    frame = pd.DataFrame({"ID": ["A", "B", "C", "D"], "trust": [1.0, 2.0, 9.0, -8.0]})
    path = written(
        "sav",
        frame,
        variable_value_labels={"trust": {1: "low", 2: "high", 9: "not applicable", -8: "no answer"}},
        missing_ranges={"trust": [9, {"lo": -9, "hi": -1}]},
        variable_measure={"trust": "ordinal"},
    )
    cells, hints = columns_of(path)
    assert cells["trust"] == ["low", "high", "not applicable", "not answered"]
    assert (hints["trust"].kind, hints["trust"].order) == ("ordered", ("low", "high"))


def test_an_empty_cell_is_empty_and_a_number_no_category(written):
    frame = pd.DataFrame({"ID": ["A", "B"], "hours": [7.5, float("nan")]})
    cells, hints = columns_of(written("sav", frame, variable_measure={"hours": "scale"}))
    assert cells["hours"] == ["7.5", ""]
    assert hints["hours"].kind == "number"


@pytest.mark.parametrize("ending", ["sav", "dta"])
def test_a_file_cut_short_is_a_sentence(written, ending):
    path = written(ending, pd.DataFrame({"ID": [f"P{number}" for number in range(200)]}))
    path.write_bytes(path.read_bytes()[:300])
    with pytest.raises(Unreadable, match=r"damaged|no rows"):
        package_columns(path.name, path)


def test_a_file_of_another_kind_is_a_sentence(written):
    path = written("dta", pd.DataFrame({"ID": ["A"]}))
    path = path.rename(path.with_suffix(".sav"))
    with pytest.raises(Unreadable, match="isn’t a file of SPSS"):
        package_columns(path.name, path)
