"""Reading participant sheets and linking speakers."""

import numpy as np
import pytest

from core.people.columns import as_date, as_number, propose_columns, propose_kind, read_cell
from core.people.distribution import spread
from core.people.grid import Column, Grid, Hint
from core.people.linking import UnlinkedSpeaker, propose_links
from core.people.participants import ColumnChoice, SheetChoices, read_participants
from core.snapshot.lineage import TreeError, depths, lineage, would_loop
from tests.core.sheets import records

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
        "Island": "category", "Age": "number", "Crosses": "ordered", "Vehicle": "yes_no", "Since": "date",
    }  # fmt: skip
    assert found["Remark"].role == "answer"
    assert found["Crosses"].categories == ("never", "weekly", "daily")


def test_missing_cells_have_reasons():
    sheet = read_participants(
        SHEET,
        [],
        SheetChoices(columns={"Age": ColumnChoice(when_empty="unknown"), "Remark": ColumnChoice(role="variable")}),
    )
    assert records(sheet)[2][1]["Age"].missing == "unknown"
    assert records(sheet)[2][1]["Remark"].missing == "not_asked"
    assert sum(column.proposal.missing for column in sheet.columns) == 2
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
    assert len(skipped.identifiers) == 5


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
    assert len(sheet.identifiers) == 4
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
        ("9" * 400, None),
        ("inf", None),
        ("nan", None),
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
    assert propose_columns(["a"], [Column.of([""])])[0].role == "leave_out"


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


GIVEN = [
    ["ID", "File", "Wave", "Age", "Site"],
    ["P1", "P1_winter.txt", "winter", "34", "pier"],
    ["P2", "P2_winter.txt", "winter", "71", "home"],
    ["P1", "P1_spring.txt", "spring", "34", "home"],
]


def test_a_sheet_of_interviews_tells_facts_about_documents_from_facts_about_people():
    sheet = read_participants(GIVEN, [], SheetChoices())
    assert sheet.problems == ()
    assert {column.name: column.of for column in sheet.variables} == {
        "Wave": "document",
        "Age": "case",
        "Site": "document",
    }
    assert sheet.documents == ("P1_winter.txt", "P2_winter.txt", "P1_spring.txt")


def test_two_values_of_one_person_are_a_problem_with_both_rows_named():
    rows = [*GIVEN[:3], ["P1", "P1_spring.txt", "spring", "35", "home"]]
    choices = SheetChoices(columns={"Age": ColumnChoice(of="case")})
    (problem,) = read_participants(rows, [], choices).problems
    assert problem.startswith("“Age” of P1 is “34” in row 2 and “35” in row 4.")


def test_a_sheet_of_documents_alone_is_about_documents():
    sheet = read_participants([row[1:3] for row in GIVEN], [], SheetChoices())
    assert (sheet.about, sheet.problems) == ("document", ())
    assert [column.of for column in sheet.variables] == ["document"]


SURVEY = [
    ["ID", "Island", "What is hardest?", "What would help?"],
    ["H1", "Holm", "Getting home after a late shift", "A later bus, simply that"],
    ["H2", "Ytter", "", "  "],
    ["H3", "Holm", "n/a", "Somebody who answers the telephone"],
]


def test_questions_in_peoples_own_words_are_answers_to_code():
    sheet = read_participants(SURVEY, [], SheetChoices())
    assert [column.name for column in sheet.answers] == ["What is hardest?", "What would help?"]
    assert sheet.without_text == 1
    assert sheet.identifiers == ("H1", "H2", "H3")


def test_rows_without_any_text_are_left_out_by_one_choice():
    sheet = read_participants(SURVEY, [], SheetChoices(without_text="leave_out"))
    assert sheet.identifiers == ("H1", "H3")
    assert sheet.without_text == 1


def test_answers_need_somebody_who_gave_them():
    choices = SheetChoices(columns={"ID": ColumnChoice(role="leave_out"), "Island": ColumnChoice(role="document_id")})
    assert any("who gave them" in problem for problem in read_participants(SURVEY, [], choices).problems)


def test_a_sheet_without_names_of_columns_is_noticed():
    rows = [["P1", "Holm", "34"], ["P2", "Ytter", "71"], ["P3", "Holm", "50"]]
    sheet = read_participants(rows, [], SheetChoices())
    assert sheet.header == -1
    assert len(sheet.identifiers) == 3
    assert "No row of column names" in sheet.warnings[0]
    named = SheetChoices(columns={"Column 3": ColumnChoice(name="Age")})
    assert "Age" in [column.name for column in read_participants(rows, [], named).columns]


def test_codes_for_missing_values_are_read_as_such_said_and_can_be_values():
    rows = [["ID", "Score"], ["P1", "3"], ["P2", "-99"], ["P3", "N/A"], ["P4", "."], ["P5", ""]]
    sheet = read_participants(rows, [], SheetChoices())
    reasons = [cells["Score"].missing for _, cells in records(sheet)]
    assert reasons == [None, "not_answered", "not_applicable", "unknown", "not_answered"]
    assert any("-99 as not answered" in warning for warning in sheet.warnings)
    kept = read_participants(rows, [], SheetChoices(columns={"Score": ColumnChoice(codes_count=True)}))
    assert records(kept)[1][1]["Score"].value == -99


def test_ids_that_differ_only_in_writing_are_said_not_merged():
    rows = [["ID", "Age"], ["P1", "3"], ["p01", "4"], ["007", "5"], ["7", "6"]]
    sheet = read_participants(rows, [], SheetChoices())
    assert sheet.identifiers == ("P1", "p01", "007", "7")
    assert sum("differ only in how they are written" in warning for warning in sheet.warnings) == 2


def test_dates_in_three_styles_in_one_column():
    rows = [
        ["ID", "Seen"],
        ["P1", "2025-03-01"],
        ["P2", "31.12.2024"],
        ["P3", "Mar 4, 2025"],
        ["P4", "25/12/2024"],
        ["P5", "03/04/2025"],
    ]
    sheet = read_participants(rows, [], SheetChoices())
    days = [str(cells["Seen"].value) for _, cells in records(sheet)]
    # 25/12 can only have its day first, so 03/04 is the third of April.
    assert days == ["2025-03-01", "2024-12-31", "2025-03-04", "2024-12-25", "2025-04-03"]
    assert not any("day first" in warning for warning in sheet.warnings)


def test_a_column_that_never_decides_how_dates_are_written_says_so():
    rows = [["ID", "Seen"], ["P1", "03/04/2025"], ["P2", "05/06/2025"]]
    sheet = read_participants(rows, [], SheetChoices())
    assert any("“03/04/2025” in “Seen” is read with the day first" in warning for warning in sheet.warnings)
    other = read_participants(rows, [], SheetChoices(columns={"Seen": ColumnChoice(days_first=False)}))
    assert str(records(other)[0][1]["Seen"].value) == "2025-03-04"


def test_what_a_statistics_package_says_of_a_column_goes_first():
    grid = Grid.of([["ID", "q1"], ["P1", "often"], ["P2", "never"]])
    hint = Hint("How often do you cross?", "ordered", ("never", "sometimes", "often"))
    sheet = read_participants(Grid(grid.columns, grid.rows, {1: hint}), [], SheetChoices())
    (variable,) = sheet.variables
    assert variable.proposal.kind == "ordered"
    assert variable.proposal.categories == ("never", "sometimes", "often")
    assert variable.description == "How often do you cross?"


def test_columns_hold_each_text_once_and_give_every_cell_back():
    cells = ["b", "a", "", "b", " a", "a"]
    column = Column.of(cells)
    assert column.values == ("b", "a", "", " a")
    assert column.cells() == cells
    assert column.tidied().values == ("b", "a", "")
    assert column.take(column.filled).cells() == ["b", "a", "b", " a", "a"]
    assert column.take(slice(4, None)).values == (" a", "a")
    assert column.counts().tolist() == [2, 2, 1, 1]
