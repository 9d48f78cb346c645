"""Sheets of every kind, answers to code, facts about documents, updates, and readings that are remembered."""

import io
from pathlib import Path

import openpyxl
import pytest

from server.gather import queries
from server.gather.models import Document, Speaker
from server.imports import actions as imports
from server.people import facts
from server.people.models import Case, Value, Variable
from server.projects import trail
from server.projects.models import JobState
from tests.server.conftest import bring_in, upload

SAMPLES = Path(__file__).resolve().parents[1] / "samples"
SURVEY = "ID;Island;What is hardest here?;What would help?\nH1;Holm;Getting home at night;A later bus than now\nH2;Ytter;;\nP1;Holm;Waiting for the bus again;\n"


def stage(world, name, content, **choices):
    (row,) = imports.stage(world.owner, [upload(name, content)])
    if choices:
        imports.correct_staged(world.owner, row.pk, None, choices)
    return row


def sheet(world, name):
    rows = world.client(world.owner.account).get(world.url("/staged")).json()
    return next(row for row in rows if row["name"] == name)["sheet"]


def values(name):
    """Of each case what is held of it on this variable."""
    row = Variable.objects.prefetch_related("categories").get(name=name)
    ids = facts.case_ids(row.project_id)
    names = dict(Case.objects.values_list("id", "identifier"))
    held = facts.known([row], ids)[row.pk].held
    return {names[pk]: one.value if one.value is not None else one.missing for pk, one in zip(ids, held, strict=True)}


@pytest.mark.parametrize("name", ["pandas.xlsx", "pandas.csv", "libreoffice.ods", "libreoffice.xls", "xlwt.xls"])
def test_a_sheet_reads_the_same_whatever_program_wrote_it(empty, name):
    job = bring_in(empty.owner, (name, (SAMPLES / name).read_bytes()))
    assert job.state == JobState.DONE, job.message
    assert values("Age")["P1"] == 34
    assert values("Island")["P2"] == "Ytter"
    if name != "xlwt.xls":
        assert values("Age")["007"] == "not_answered"
        assert str(values("Since")["P1"]) == "2011-05-01"


@pytest.mark.parametrize("name", ["pyreadstat.sav", "pyreadstat.dta"])
def test_value_labels_missing_codes_and_levels_become_ours(empty, name):
    bring_in(empty.owner, (name, (SAMPLES / name).read_bytes()))
    island = Variable.objects.get(name="island")
    assert island.description == "Which island?"
    assert [row.label for row in island.categories.all()] == ["Holm", "Ytter", "Norrby"], "listed ones too"
    assert values("island") == {"P1": "Holm", "P2": "Ytter", "P3": "Holm"}
    assert values("age")["P3"] == "not_answered"
    trust = Variable.objects.get(name="trust")
    if name.endswith(".sav"):
        assert trust.kind == "ordered"
        assert values("trust") == {"P1": "high", "P2": "not_answered", "P3": "low"}


def test_answers_make_a_document_a_person_linked_at_once(world):
    row = stage(world, "survey.csv", SURVEY)
    found = sheet(world, "survey.csv")
    assert (found["answers"], found["without_text"], found["new_cases"], found["known_cases"]) == (2, 1, 2, 1)
    bring_in(world.owner)
    document = Document.objects.get(title="survey H1")
    assert document.kind == "answers"
    assert [section.title for section in document.sections.all()] == ["What is hardest here?", "What would help?"]
    assert document.speakers.get().case.identifier == "H1"
    assert Document.objects.get(title="survey P1").speakers.get().case.identifier == "P1"
    assert Case.objects.filter(identifier="H2", speakers=None).exists(), "kept, without a document"
    trail.undo(world.owner)
    assert not Case.objects.filter(identifier__startswith="H").exists()
    assert not Document.objects.filter(kind="answers").exists()
    assert row.pk


def test_rows_without_text_are_left_out_by_one_choice(world):
    stage(world, "survey.csv", SURVEY, without_text="leave_out")
    bring_in(world.owner)
    assert not Case.objects.filter(identifier="H2").exists()


def test_whoever_came_with_another_sheet_was_not_asked(world):
    bring_in(world.owner, ("more.csv", "ID,Height\nP9,180\nP8,170\n"))
    assert values("Height") == {"P1": "not_asked", "P2": "not_asked", "P3": "not_asked", "P8": 170, "P9": 180}
    assert values("Island")["P9"] == "not_asked"


def test_a_sheet_of_documents_gives_them_facts_and_links_who_speaks(world):
    text = "File,Person,Wave\nP1_pier.txt,P1,winter\nshed.txt,P3,spring\nmissing.txt,P2,spring\n"
    imports.stage(
        world.owner, [upload("waves.csv", text), upload("shed.txt", "I: Well?\nThe man: Yes.\nI: And?\nThe man: No.")]
    )
    found = sheet(world, "waves.csv")
    assert {column["name"]: (column["role"], column["of"]) for column in found["columns"]} == {
        "File": ("document_id", "case"),
        "Person": ("case_id", "case"),
        "Wave": ("variable", "case"),
    }
    assert found["unknown_documents"] == ["missing.txt", "shed.txt"], "shed.txt waits beside it"
    row = queries.staged(world.owner).get(name="waves.csv")
    imports.correct_staged(world.owner, row.pk, None, {"columns": {"Wave": {"of": "document"}}})
    bring_in(world.owner)
    wave = Variable.objects.get(name="Wave")
    assert wave.of == "document"
    held = dict(Value.objects.filter(variable=wave).values_list("document__title", "category__label"))
    assert held == {"P1_pier": "winter", "shed": "spring"}
    assert Speaker.objects.get(label="The man").case.identifier == "P3"
    shelf = world.client(world.viewer.account).get(world.url("/documents")).json()
    cells = {one["title"]: one["values"][str(wave.pk)] for one in shelf}
    assert cells["shed"] == {"text": "spring", "missing": None}
    assert cells["P2_garden"] == {"text": "", "missing": "not_asked"}


def test_a_second_sheet_overwrites_only_where_told(world):
    row = stage(world, "update.csv", "ID,Age,Crosses\nP1,35,daily\nP4,40,daily")
    found = sheet(world, "update.csv")
    assert (found["conflicts"], found["same"], found["fresh"]) == (1, 1, 2)
    imports.correct_staged(world.owner, row.pk, None, {"on_conflict": "overwrite"})
    bring_in(world.owner)
    assert values("Age")["P1"] == 35
    trail.undo(world.owner)
    assert values("Age")["P1"] == 34


def test_how_a_sheet_was_read_is_remembered_for_the_next_one_like_it(world):
    row = stage(world, "wave1.csv", "ID,Score\nP1,3\nP2,4\n")
    imports.correct_staged(world.owner, row.pk, None, {"columns": {"Score": {"kind": "category", "name": "Mood"}}})
    bring_in(world.owner)
    stage(world, "wave2.csv", "Score,ID\n5,P3\n4,P7\n")
    again = queries.staged(world.owner).get()
    assert again.choices["remembered"]
    assert again.choices["columns"]["Score"] == {"kind": "category", "name": "Mood"}
    stage(world, "other.csv", "ID,Weight\nP1,70\n")
    assert queries.staged(world.owner).get(name="other.csv").choices == {}


def test_discarding_a_sheet_forgets_its_cells(world):
    from server.gather import media

    row = stage(world, "a.csv", "ID,Age\nP1,3\n")
    path = media.path_of(row.stored)
    assert path.exists()
    imports.discard_staged(world.owner, queries.staged(world.owner))
    assert not path.exists()


def test_every_sheet_of_a_workbook_is_offered_and_none_is_left_out_unseen(empty):
    book = openpyxl.Workbook()
    book.active.title = "People"
    for row in (["ID", "Age"], ["P1", 31], ["P2", 47]):
        book.active.append(row)
    book.create_sheet("Nothing")
    visits = book.create_sheet("Sites")
    for row in (["ID", "Site"], ["P1", "North"], ["P2", "South"]):
        visits.append(row)
    out = io.BytesIO()
    book.save(out)
    imports.stage(empty.owner, [upload("study.xlsx", out.getvalue())])
    rows = empty.client(empty.owner.account).get(empty.url("/staged")).json()
    assert [(row["name"], row["included"]) for row in rows] == [
        ("study.xlsx · People", True),
        ("study.xlsx · Sites", False),
    ]
    assert "2 sheets with something in them" in rows[0]["warnings"][0]
    assert [column["name"] for column in rows[1]["sheet"]["columns"]] == ["ID", "Site"]
    imports.correct_staged(empty.owner, rows[1]["id"], True, None)
    assert bring_in(empty.owner).state == JobState.DONE
    assert set(Variable.objects.values_list("name", flat=True)) == {"Age", "Site"}
    assert Case.objects.count() == 2


def test_a_workbook_of_very_many_sheets_says_how_many_are_listed(empty, monkeypatch):
    monkeypatch.setattr("server.imports.actions.staging.MAX_SHEETS", 1)
    book = openpyxl.Workbook()
    for title in ("A", "B", "C"):
        for row in (["ID", "Age"], ["P1", 31]):
            (book[title] if title in book.sheetnames else book.create_sheet(title)).append(row)
    out = io.BytesIO()
    book.save(out)
    rows = imports.stage(empty.owner, [upload("study.xlsx", out.getvalue())])
    assert [row.name for row in rows] == ["study.xlsx · A", "study.xlsx · B"]
    assert rows[0].content["warnings"][:2] == [
        "The workbook has 3 sheets with something in them. Each is listed; only the first is ticked.",
        "Only the first 2 sheets are listed.",
    ]
