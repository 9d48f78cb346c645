"""Codes with codes, maps, people one by one, a number's spread, and what the codebook holds."""

import io
import zipfile
from datetime import date, timedelta

import openpyxl
import pandas
import pytest

from server.coding.models import Code
from server.gather.models import Document
from server.people import actions as people
from server.people.models import Case
from tests.server.conftest import put


@pytest.fixture
def client(world):
    return world.client(world.owner.account)


def code(name: str) -> int:
    return Code.objects.get(name=name).pk


@pytest.fixture
def post(world, client):
    def ask(path, **body):
        answer = client.post(world.url(f"/compare/{path}"), body, format="json")
        assert answer.status_code == 200, answer.content
        return answer.json()

    return ask


def test_codes_meet_on_the_same_words_and_within_turns(world, post, crosses):
    pier = Document.objects.get(title="P1_pier")
    put(world.coder, pier, "late 🚢 again", Code.objects.get(name="Home"))
    both = {"codes": [code("Late"), code("Home")]}
    table = post("together", **both)
    assert table["whole"]["counts"] == [[1, 1], [1, 2]]
    assert table["whole"]["likeness"][0][1] == 0.5
    assert "counting people who say both" in table["sentence"]
    passages = post("together", **both, measure="passages", unit="turns", within=2)["whole"]["counts"]
    assert passages == [[1, 1], [2, 3]]
    groups = post("together", **both, variable=crosses.pk)["groups"]
    assert {one["name"]: one["counts"][0][1] for one in groups} == {"never": 0, "daily": 1}
    cell = {"row": 0, "column": 1}
    found = post("together/meetings", **both, **cell)
    assert found["total"] == 1
    meeting = found["meetings"][0]
    assert (meeting["first"]["text"], meeting["second"]["text"]) == ("The boat was late 🚢 again.", "late 🚢 again")
    assert meeting["second"]["people"] == ["P1"]
    assert (
        post("together/meetings", **both, **cell, variable=crosses.pk, group=0)["total"]
        + post("together/meetings", **both, **cell, variable=crosses.pk, group=1)["total"]
        == 1
    )
    rolled = post("together", codes=[code("Getting across"), code("Late")], roll_up=True)
    assert rolled["lineage"] == [[1, 0]]
    assert post("together", **both, unit="paragraphs", within=0)["whole"]["counts"][0][1] == 1


def test_codes_with_codes_leave_as_tables(world, client, crosses):
    pier = Document.objects.get(title="P1_pier")
    put(world.coder, pier, "late 🚢 again", Code.objects.get(name="Home"))
    body = {"codes": [code("Late"), code("Home")], "variable": crosses.pk}
    url = world.url("/compare/together/export")
    book = openpyxl.load_workbook(io.BytesIO(client.post(url, {**body, "format": "xlsx"}, format="json").content))
    assert [sheet.title for sheet in book] == ["How often", "Likeness", "Pairs"]
    square = [[cell.value for cell in row] for row in book["How often"].iter_rows(min_row=3, max_row=9)]
    assert square == [
        ["Crosses", "Late", "Home"], ["never", None, None], ["Late", 0, 0], ["Home", 0, 1],
        ["daily", None, None], ["Late", 1, 1], ["Home", 1, 1],
    ]  # fmt: skip
    lines = client.post(url, {**body, "format": "csv"}, format="json").content.decode("utf-8-sig").splitlines()
    assert lines[2:4] == ["Code,With,Crosses,How often,Likeness", "Late,Home,never,0,0.0"]
    assert lines[5] == "Late,Home,daily,1,1.0"
    pasted = client.post(url, {**body, "format": "tsv"}, format="json").content.decode().splitlines()
    assert pasted[:2] == ["Code\tWith\tCrosses\tHow often\tLikeness", "Late\tHome\tnever\t0\t0.0"]
    files = zipfile.ZipFile(io.BytesIO(client.post(url, {**body, "format": "zip"}, format="json").content))
    read = pandas.read_csv(files.open("pairs.csv"))
    assert (list(read.columns)[:3], len(read)) == (["Code", "With", "Crosses"], len(pasted) - 1)
    assert "Late" not in read.columns
    assert files.read("about.txt").decode().strip()


def test_the_overview_leaves_under_one_header(world, client, crosses):
    url, body = world.url("/compare/holdings/export"), {"variable": crosses.pk}
    pasted = client.post(url, {**body, "format": "tsv"}, format="json").content.decode().splitlines()
    assert pasted[0].startswith("Code\tBeneath\tPassages\tPeople\tBranch: passages\tBranch: people")
    files = zipfile.ZipFile(io.BytesIO(client.post(url, {**body, "format": "zip"}, format="json").content))
    read = pandas.read_csv(files.open("codes.csv")).set_index("Code")
    assert read.loc["Late", "Passages"] == 1
    assert len(read) == len(pasted) - 1
    assert "codebook" in files.read("about.txt").decode()


def test_the_overview_leaves_as_a_workbook(world, client, crosses):
    def book(part):
        answer = client.post(world.url(f"/compare/{part}/export"), {"variable": crosses.pk}, format="json")
        return openpyxl.load_workbook(io.BytesIO(answer.content))

    heads, *codes = [
        [cell.value for cell in row] for row in book("holdings")["Codebook"].iter_rows(min_row=3, max_row=6)
    ]
    assert heads[:6] == ["Code", "Beneath", "Passages", "People", "Branch: passages", "Branch: people"]
    assert heads[8:] == ["daily: branch passages", "daily: branch people"]
    by_name = {line[0]: line for line in codes}
    assert by_name["Late"] == ["Late", "Getting across", 1, 1, 1, 1, 0, 0, 1, 1]
    assert by_name["Getting across"][2:6] == [0, 0, 1, 1]
    went = book("progress")
    assert [sheet.title for sheet in went] == ["By document", "By day", "By coder", "Heard enough"]
    assert [row[1].value for row in went["By coder"].iter_rows(min_row=4)] == [2, 1]


def test_cells_that_arent_there_are_refused(world, client):
    body = {"codes": [code("Late"), code("Home")], "row": 0, "column": 5}
    assert client.post(world.url("/compare/together/meetings"), body, format="json").status_code == 404
    assert client.post(world.url("/compare/together"), {"codes": [10**7]}, format="json").status_code == 404
    assert client.post(world.url("/compare/together"), {"codes": [], "within": -1}, format="json").status_code == 400


def test_a_map_an_order_and_everyone_one_by_one(world, post, crosses):
    asked = {"codes": [code("Late"), code("Home")], "variable": crosses.pk}
    found = post("map", **asked)
    assert sorted(found["order"]) == [0, 1]
    assert len(found["inertia"]) == 1
    assert [point["x"] is not None for point in found["rows"]] == [True, True]
    persons = post("one-by-one", **asked)["each"]
    told = {one["name"]: [counts[0] for counts in one["counts"]] for one in persons}
    assert told == {"P1": [1, 1], "P2": [0, 1]}
    papers = post("one-by-one", **asked, each="documents")
    told = {one["name"]: [counts[0] for counts in one["counts"]] for one in papers["each"]}
    assert told == {"P1_pier": [1, 1], "P2_garden": [0, 1]}
    assert post("map", **{**asked, "codes": [code("Late")]})["inertia"] == []


def test_a_number_among_those_who_mention_and_those_who_dont(world, post, crosses):
    age = world.project.variables.get(name="Age")
    found = post("spread", codes=[code("Late")], variable=crosses.pk, number=age.pk)
    row = found["rows"][0]
    assert (row["mention"]["values"], row["silent"]["values"], found["people"]) == ([34.0], [71.0], 2)
    assert (found["exact"], row["effect"]) == (True, -1.0)


def test_a_date_is_spread_by_its_days(world, post, crosses):
    came = people.make_variable(world.owner, "Came", "date")
    for name, day in (("P1", "2001-03-04"), ("P2", "1999-12-31")):
        people.set_value(world.owner, Case.objects.get(identifier=name).pk, came.pk, day)
    found = post("spread", codes=[code("Late")], variable=crosses.pk, number=came.pk)
    row = found["rows"][0]
    days = [[date(1970, 1, 1) + timedelta(days=one) for one in row[which]["values"]] for which in ("mention", "silent")]
    assert (days, found["of_days"]) == ([[date(2001, 3, 4)], [date(1999, 12, 31)]], True)


def test_a_number_that_is_none_is_refused(world, client, crosses):
    body = {"codes": [code("Late")], "variable": crosses.pk, "number": crosses.pk}
    answer = client.post(world.url("/compare/spread"), body, format="json")
    assert (answer.status_code, "neither a number nor a date" in answer.json()["error"]) == (400, True)


def test_what_the_codebook_holds_and_how_it_went(world, post, crosses):
    held = post("holdings", variable=crosses.pk)
    by_name = {one["name"]: one for one in held["codes"]}
    top = by_name["Getting across"]
    assert (top["passages"], top["branch_passages"], top["branch_people"]) == (0, 1, 1)
    assert by_name["Home"]["people"] == 2
    assert [one["people"] for one in by_name["Home"]["by_group"]] == [1, 1]
    went = post("progress", variable=crosses.pk, base=1, run=1, threshold=0.05)
    assert {one["title"]: (one["codings"], one["codes"]) for one in went["documents"]} == {
        "P1_pier": (2, 2),
        "P2_garden": (1, 1),
    }
    assert sum(one["codings"] for one in went["days"]) == 3
    assert sum(one["new_codes"] for one in went["days"]) == 2
    assert {one["name"]: one["codings"] for one in went["coders"]} == {"Owner": 2, "Coder": 1}
    whole = went["saturation"][0]
    assert (whole["fresh"], whole["heard"], whole["reached"]) == ([2, 0], [2, 2], 1)
    assert [one["name"] for one in went["saturation"]] == ["everyone", "never", "daily"]
