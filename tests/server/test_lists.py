"""Lists as they leave a project: read by other programs, and brought in again equal."""

import csv
import io

import openpyxl
import pandas as pd
import pyreadstat
import pytest

from core.people.derived import in_words
from server.imports.actions import staging
from server.people import actions as people
from server.people import queries
from server.people.models import Case, Variable
from server.projects.actions import create_project
from server.projects.models import Membership
from server.report import lists
from tests.server.conftest import bring_in, read_here

PEOPLE = (
    "ID,Island,Crosses,Age,Confident,Since,Note\n"
    "P01,Holm,never,34,yes,2011-05-03,=not a formula\n"
    'P02,Ytter,daily,not asked,no,not answered,Ünüsual "words"\n'
    "P03,Holm,not applicable,-5.5,not asked,1999-12-31,not answered\n"
    "P04,not answered,weekly,71,yes,2020-01-01,another\n"
    "P05,Ytter,never,28,no,2015-07-07,a fifth one\n"
)


def known(member: Membership) -> dict[str, dict[str, tuple[str, str, str | None]]]:
    """All that is known of everybody: variable → kind, value in words, reason."""
    found = queries.roster(member)
    return {
        case.identifier: {
            variable.name: (
                variable.kind,
                "" if (held := found.known[variable.pk].held[place]).value is None else in_words(held.value),
                held.missing,
            )
            for variable in found.variables
        }
        for place, case in enumerate(found.cases)
    }


@pytest.fixture
def filled(empty, monkeypatch):
    monkeypatch.setattr(staging, "read_files", read_here)
    bring_in(empty.owner, ("people.csv", PEOPLE))
    crosses = Variable.objects.get(name="Crosses")
    people.change_variable(empty.owner, crosses.pk, kind="ordered", order=["never", "weekly", "daily"])
    return empty


def file(world, what: str, ending: str, account=None) -> bytes:
    answer = world.client(account or world.viewer.account).get(world.url(f"/lists/{what}/{ending}"))
    assert answer.status_code == 200, answer.content
    return bytes(answer.content)


@pytest.mark.parametrize("ending", ["csv", "xlsx", "sav"])
def test_a_roster_that_goes_out_comes_in_again_equal(filled, ending):
    data = file(filled, "roster", ending)
    other = create_project(filled.owner.account, "Again")
    member = Membership.objects.get(project=other, account=filled.owner.account)
    job = bring_in(member, (f"roster.{ending}", data))
    assert job.state == "done", job.message
    before, after = known(filled.owner), known(member)
    assert before["P02"]["Age"] == ("number", "", "not_asked")
    if ending != "sav":
        # A sheet has no order of categories: which are ordered is read from their words.
        for row in (*before.values(), *after.values()):
            row["Crosses"] = ("", *row["Crosses"][1:])
    assert after == before
    if ending == "sav":
        order = [one.label for one in Variable.objects.get(project=other, name="Crosses").categories.all()]
        assert order == ["never", "weekly", "daily"]


def test_other_programs_read_what_goes_out(filled):
    frame = pd.read_csv(io.BytesIO(file(filled, "roster", "csv")))
    assert list(frame.columns) == ["ID", "Island", "Crosses", "Age", "Confident", "Since", "Note"]
    assert frame["Age"].tolist() == ["34.0", "not asked", "-5.5", "71.0", "28.0"]
    assert frame["Note"][0] == "'=not a formula"
    sheet = openpyxl.load_workbook(io.BytesIO(file(filled, "roster", "xlsx"))).active
    assert [cell.value for cell in sheet[2]] == ["P01", "Holm", "never", 34, "yes", "2011-05-03", "=not a formula"]
    assert sheet["G2"].data_type == "s"


def test_a_statistics_package_finds_labels_and_reasons(filled, tmp_path):
    path = tmp_path / "roster.sav"
    path.write_bytes(file(filled, "roster", "sav"))
    frame, about = pyreadstat.read_sav(str(path))
    assert about.column_names_to_labels["Crosses"] == "Crosses"
    assert about.variable_measure["Crosses"] == "ordinal"
    # Missing codes are missing to the package, and labelled where they are asked for.
    assert frame["Age"].isna().tolist() == [False, True, False, False, False]
    coded, about = pyreadstat.read_sav(str(path), user_missing=True)
    labels = about.variable_value_labels["Age"]
    assert labels[coded["Age"][1]] == "not asked"
    assert about.variable_value_labels["Crosses"][coded["Crosses"][2]] == "not applicable"


def test_names_that_a_package_cant_take_are_written_otherwise_and_none_twice(filled, tmp_path):
    for name in ("2nd wave", "Island?", "Åland?"):
        age = Variable.objects.get(name="Age").pk
        people.make_variable(filled.owner, name, definition={"kind": "bands", "of": age, "cuts": [40]})
    path = tmp_path / "roster.sav"
    path.write_bytes(lists.as_sav(filled.owner))
    _, about = pyreadstat.read_sav(str(path))
    assert {"v_2nd_wave", "Island_2", "land"} <= set(about.column_names)
    assert {"2nd wave", "Island?", "Åland?"} <= set(about.column_labels)


def test_documents_speakers_and_cohorts_are_listed(world):
    rows = {what: list(csv.reader(io.StringIO(file(world, what, "csv").decode("utf-8-sig")))) for what in lists.LISTS}
    assert [row[0] for row in rows["documents"]] == ["Document", "P1_pier", "P2_garden"]
    assert rows["documents"][0][:4] == ["Document", "File", "Kind", "Words"]
    linked = {(row[0], row[1]): row[2:] for row in rows["speakers"][1:]}
    assert linked["P1_pier", "P1"] == ["participant", "P1"]
    assert all(row[3] == "" for row in rows["speakers"][1:] if row[2] != "participant")
    case = Case.objects.get(project=world.project, identifier="P1")
    people.make_cohort(world.owner, "Chosen", picked=[case.pk])
    assert list(csv.reader(io.StringIO(file(world, "cohorts", "csv").decode("utf-8-sig"))))[1:] == [
        ["Chosen", "", "P1"]
    ]


def test_lists_go_to_members_and_where_small_groups_are_hidden_to_owners(world):
    url = world.url("/lists/roster/csv")
    assert world.client(world.stranger).get(url).status_code == 404
    assert world.client(None).get(url).status_code in (401, 403)
    for odd in ("/lists/roster/exe", "/lists/nothing/csv", "/lists/documents/sav"):
        assert world.client(world.owner.account).get(world.url(odd)).status_code == 404
    world.project.hide_below = 5
    world.project.save()
    assert world.client(world.viewer.account).get(url).status_code == 403
    assert world.client(world.owner.account).get(url).status_code == 200
    assert world.client(world.viewer.account).get(world.url("/lists/documents/csv")).status_code == 200
