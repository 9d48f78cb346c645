"""Reading participant sheets and linking speakers."""

import numpy as np
import pytest

from core.coding.tree import TreeError, depths, lineage, would_loop
from core.people.columns import as_date, as_number, propose_columns, propose_kind, read_cell
from core.people.distribution import spread
from core.people.linking import UnlinkedSpeaker, propose_links
from core.people.participants import ColumnChoice, SheetChoices, read_participants

SHEET = [
    ["Participant", "Island", "Age", "Crosses", "Vehicle", "Since", "Remark"],
    ["P01", "Holm", "34", "daily", "no", "2011-05-01", "spoke of her brother, at length and twice"],
    ["P02", "Ytter", "71", "never", "yes", "1954-01-01", "gave us soup; recorder failed once"],
    ["P03", "Holm", "", "weekly", "no", "2013-09-30", "not asked"],
    ["P04", "Holm", "29", "daily", "yes", "2022-03-15", "asked to see the text before use"],
]


def test_columns_are_proposed():
    found = {c.proposal.name: c.proposal for c in read_participants(SHEET, [], SheetChoices()).columns}
    assert found["Participant"].role == "case_id"
    assert {name: column.kind for name, column in found.items() if column.role == "variable"} == {
        "Island": "category", "Age": "number", "Crosses": "ordered", "Vehicle": "yes_no", "Since": "date", "Remark": "text",
    }  # fmt: skip
    assert found["Crosses"].categories == ("never", "weekly", "daily")


def test_missing_cells_have_reasons():
    sheet = read_participants(SHEET, [], SheetChoices(columns={"Age": ColumnChoice(when_empty="unknown")}))
    assert sheet.records[2].cells["Age"].missing == "unknown"
    assert sheet.records[2].cells["Remark"].missing == "not_asked"
    assert sheet.missing_values == 2
    assert sheet.problems == ()


def test_ids_that_stand_twice_or_not_at_all_stop_the_sheet():
    rows = [
        *SHEET,
        ["P02", "Holm", "40", "daily", "no", "2000-01-01", ""],
        ["", "Ytter", "41", "daily", "no", "2000-01-01", ""],
    ]
    # Two columns are left as ID candidates otherwise; the researcher says which.
    choices = {"Participant": ColumnChoice(role="case_id")}
    problems = read_participants(rows, [], SheetChoices(columns=choices)).problems
    assert any("“P02” stands in rows 3 and 6" in problem for problem in problems)
    assert any("Row 7 has values but no ID" in problem for problem in problems)
    skipped = read_participants(rows, [], SheetChoices(columns=choices, skip_without_id=True))
    assert not any("no ID" in problem for problem in skipped.problems)
    assert len(skipped.records) == 5


def test_two_header_rows_are_read_together_and_said():
    rows = [
        ["", "Place", "", "Work"],
        ["ID", "Island", "Village", "Crossings"],
        ["P01", "Holm", "Vik", "5"],
        ["P02", "Ytter", "Nes", "0"],
    ]
    sheet = read_participants(rows, ["B1:C1"], SheetChoices())
    assert [column.proposal.name for column in sheet.columns] == [
        "ID",
        "Place: Island",
        "Place: Village",
        "Work: Crossings",
    ]
    assert any("both look like column names" in warning for warning in sheet.warnings)
    assert any("Merged cells (B1:C1)" in warning for warning in sheet.warnings)


def test_a_title_row_above_the_names_is_left_out_and_said():
    rows = [["Participants, winter", "", ""], *[row[:3] for row in SHEET]]
    sheet = read_participants(rows, [], SheetChoices())
    assert sheet.header == 1
    assert len(sheet.records) == 4
    assert "read from row 2" in sheet.warnings[0]


def test_a_cell_that_does_not_fit_is_never_silently_missing():
    rows = [row[:3] for row in SHEET]
    rows[1][2] = "about forty"
    sheet = read_participants(rows, [], SheetChoices(columns={"Age": ColumnChoice(kind="number")}))
    assert "row 2: about forty" in sheet.problems[0]


def test_two_columns_of_one_name_stay_two():
    rows = [["ID", "Age", "Age"], ["P1", "3", "4"], ["P2", "5", "6"]]
    assert [c.proposal.name for c in read_participants(rows, [], SheetChoices()).columns] == ["ID", "Age", "Age (2)"]


@pytest.mark.parametrize(
    ("cell", "value"),
    [
        ("3", 3),
        ("3.5", 3.5),
        ("3,5", 3.5),
        ("1,200", 1200),
        ("−4", -4),
        ("007", None),
        ("1e3", 1000),
        ("3 km", None),
        ("", None),
        ("=1+1", None),
    ],
)
def test_numbers(cell, value):
    assert as_number(cell) == value


def test_dates_that_can_be_read_two_ways_are_not_guessed():
    assert str(as_date("31/12/2025")) == "2025-12-31"
    assert str(as_date("12/31/2025")) == "2025-12-31"
    assert as_date("03/04/2025") is None
    assert as_date("31.02.2025") is None


def test_kinds():
    assert propose_kind(["007", "008"]) != "number"
    assert propose_kind(["yes", "No"]) == "yes_no"
    assert propose_kind(["1–2", "3–4", "5+"]) == "ordered"
    assert read_cell("maybe", "yes_no", "unknown").problem
    assert propose_columns(["a"], [[""]])[0].role == "leave_out"


def test_sure_links_only():
    cases = {1: "P01", 2: "P02", 3: "P10", 4: "P12", 5: "P13"}
    speakers = [
        UnlinkedSpeaker(1, "P01", "group.docx", False),
        UnlinkedSpeaker(2, "Maren", "P02_garden.md", True),
        UnlinkedSpeaker(3, "p-10", "talk.txt", True),
        UnlinkedSpeaker(4, "P01", "P02_talk.txt", True),
        UnlinkedSpeaker(5, "Whole document", "P12_P13_home.txt", True),
        UnlinkedSpeaker(6, "Man with dog", "P02_group.txt", False),
    ]
    found = {link.speaker: link for link in propose_links(speakers, cases)}
    assert {key: link.case for key, link in found.items()} == {1: 1, 2: 2, 3: 3, 4: None, 5: None, 6: None}
    assert found[4].conflict
    assert "P02" in found[4].reason
    assert found[5].conflict


def test_ids_alike_but_for_zeros_are_not_guessed_between():
    links = propose_links([UnlinkedSpeaker(1, "P-7", "a.txt", True)], {1: "P07", 2: "P7"})
    assert links[0].case is None
    exact = propose_links([UnlinkedSpeaker(1, "P07", "a.txt", True)], {1: "P07", 2: "P7"})
    assert exact[0].case == 1


def test_tree():
    parents = np.array([-1, 0, 1, -1], np.int32)
    assert depths(parents).tolist() == [0, 1, 2, 0]
    codes, above = lineage(parents)
    assert sorted(zip(codes.tolist(), above.tolist(), strict=True)) == [
        (0, 0),
        (1, 0),
        (1, 1),
        (2, 0),
        (2, 1),
        (2, 2),
        (3, 3),
    ]
    assert would_loop({1: None, 2: 1, 3: 2}, 1, 3)
    assert not would_loop({1: None, 2: 1, 3: 2}, 3, 1)
    with pytest.raises(TreeError):
        depths(np.array([1, 0], np.int32))


def test_distributions():
    assert spread(["a", "b", "a"], "category", ["b", "a", "c"]) == [("b", 1), ("a", 2), ("c", 0)]
    assert sum(count for _, count in spread([1.0, 2.0, 9.0, 9.5], "number")) == 4
