"""Frozen results and what has changed since; notes on cells; what kept comparisons ask about and is gone."""

import io

import openpyxl
import pytest
from django.db import IntegrityError, transaction

from server.coding import actions as coding
from server.coding.models import Code, Coding
from server.compare.models import CellNote, FrozenResult
from server.gather.models import Document
from server.people import actions as people
from server.projects import trail
from tests.server.conftest import put


@pytest.fixture
def client(world):
    return world.client(world.owner.account)


def code(name: str) -> int:
    return Code.objects.get(name=name).pk


@pytest.fixture
def asked(world, crosses):
    return {"codes": [code("Late"), code("Home")], "variable": crosses.pk}


def freeze(world, client, asked, **more):
    body = {"name": "March", "asked": asked, "shown": {}, **more}
    return client.post(world.url("/compare/frozen"), body, format="json")


def opened(world, client, pk):
    return client.get(world.url(f"/compare/frozen/{pk}")).json()


def test_a_frozen_result_never_changes_and_says_what_did(world, client, asked):
    pk = freeze(world, client, asked).json()["count"]
    before = opened(world, client, pk)
    assert before["changes"]["cells"] == []
    assert [row["name"] for row in before["result"]["rows"]] == ["Late", "Home"]
    garden = Document.objects.get(title="P2_garden")
    put(world.coder, garden, "Fine, really.", Code.objects.get(name="Late"))
    coding.remove_coding(world.owner, Coding.objects.get(code__name="Home", coder=world.owner.account).pk)
    after = opened(world, client, pk)
    assert after["result"] == before["result"]
    cells = {(cell["id"], cell["group"]): cell for cell in after["changes"]["cells"]}
    assert (cells[code("Late"), "never"]["gained"], cells[code("Late"), "never"]["now"]["people"]) == (1, 1)
    assert (cells[code("Home"), "daily"]["lost"], cells[code("Home"), "daily"]["before"]["people"]) == (1, 1)
    assert len(cells) == 2
    url = world.url(f"/compare/frozen/{pk}/cell")
    gained = client.post(url, {"kind": "code", "id": code("Late"), "group": "never"}, format="json").json()["gained"]
    assert (gained[0]["text"], gained[0]["people"]) == ("Fine, really.", ["P2"])
    assert gained[0]["why"].startswith("Late, by Coder on ")
    lost = client.post(url, {"kind": "code", "id": code("Home"), "group": "daily"}, format="json").json()["lost"]
    assert (lost[0]["text"], lost[0]["people"], lost[0]["why"]) == (
        "I walked home",
        ["P1"],
        "the passage was taken away",
    )
    then = client.post(url, {"kind": "code", "id": code("Home"), "group": "never"}, format="json").json()["as_it_was"]
    assert [(one["text"], one["people"]) for one in then] == [("I stayed at home", ["P2"])]


def test_a_frozen_result_leaves_as_it_was(world, client, asked):
    pk = freeze(world, client, asked).json()["count"]
    coding.delete_code(world.owner, code("Late"))
    book = openpyxl.load_workbook(io.BytesIO(client.get(world.url(f"/compare/frozen/{pk}/file/xlsx")).content))
    assert [row[0].value for row in book["Comparison"].iter_rows(min_row=4, max_row=5)] == ["Late", "Home"]
    notes = [cell.value for (cell,) in book["Comparison"].iter_rows(min_row=6, max_col=1) if cell.value]
    assert any(note.startswith("Frozen on ") and "“March”" in note for note in notes)
    assert client.get(world.url(f"/compare/frozen/{pk}/file/pdf")).status_code == 404


def test_passages_found_by_conditions_are_frozen_with_their_words(world, client, asked):
    blocks = {"join": "all", "parts": [{"what": "coded", "codes": [code("Home")]}]}
    body = {"name": "At home, March", "asked": {"blocks": blocks}}
    pk = client.post(world.url("/compare/frozen/passages"), body, format="json").json()["count"]
    url = world.url(f"/compare/frozen/{pk}/found")
    before = client.get(url).json()
    assert before["sentence"] == "Passages coded with “Home” or a code beneath."
    assert (before["passages"], before["people"], before["now"]) == (2, 2, {"passages": 2, "people": 2})
    assert [(one["text"], one["people"]) for one in before["as_it_was"]] == [
        ("I walked home", ["P1"]),
        ("I stayed at home", ["P2"]),
    ]
    put(world.coder, Document.objects.get(title="P2_garden"), "Fine, really.", Code.objects.get(name="Home"))
    walked = Coding.objects.get(code__name="Home", coder=world.owner.account)
    coding.remove_coding(world.owner, walked.pk)
    after = client.get(url).json()
    assert ([one["text"] for one in after["gained"]], [one["text"] for one in after["lost"]]) == (
        ["Fine, really."],
        ["I walked home"],
    )
    assert after["as_it_was"] == before["as_it_was"]
    coding.delete_code(world.owner, code("Home"))
    last = client.get(url).json()
    assert (last["now"], last["lost"]) == (None, [])
    assert "isn’t in the codebook any more" in last["problem"]
    # Each kind has an address of its own.
    assert client.get(world.url(f"/compare/frozen/{pk}")).status_code == 404
    with pytest.raises(IntegrityError), transaction.atomic():
        FrozenResult.objects.update(kind="other")


def test_a_group_that_somebody_left_is_a_change_too(world, client, asked, crosses):
    pk = freeze(world, client, asked).json()["count"]
    case = world.project.cases.get(identifier="P1")
    people.set_value(world.owner, case.pk, crosses.pk, "never")
    cells = {(cell["id"], cell["group"]): cell for cell in opened(world, client, pk)["changes"]["cells"]}
    assert (cells[code("Late"), "never"]["joined"], cells[code("Late"), "daily"]["left"]) == (1, 1)
    lost = client.post(
        world.url(f"/compare/frozen/{pk}/cell"), {"kind": "code", "id": code("Late"), "group": "daily"}, format="json"
    ).json()["lost"]
    assert lost[0]["why"] == "still coded, but no longer in this group or scope"


def test_what_is_gone_is_said_and_a_frozen_result_outlives_it(world, client, asked):
    pk = freeze(world, client, asked).json()["count"]
    coding.delete_code(world.owner, code("Late"))
    changes = opened(world, client, pk)["changes"]
    assert (len(changes["gone"]), changes["problem"]) == (1, "")
    people.delete_variable(world.owner, asked["variable"])
    assert opened(world, client, pk)["changes"]["problem"]
    assert opened(world, client, pk)["result"]["rows"][0]["name"] == "Late"
    assert client.delete(world.url(f"/compare/frozen/{pk}")).status_code == 204
    trail.undo(world.owner)
    assert FrozenResult.objects.get().name == "March"
    assert opened(world, client, pk)["result"]["rows"][0]["name"] == "Late"
    assert freeze(world, world.client(world.viewer.account), asked).status_code == 403


def keep(world, client, asked):
    return client.post(
        world.url("/compare/kept"), {"name": "Who waits", "asked": asked, "shown": {}}, format="json"
    ).json()["count"]


def test_notes_stand_on_cells_and_are_taken_back(world, client, asked):
    kept = keep(world, client, asked)
    url = world.url(f"/compare/kept/{kept}/notes")
    note = {"kind": "code", "row": code("Late"), "group": "daily", "text": " One person only "}
    assert client.post(url, note, format="json").json()["text"] == "One person only"
    pk = CellNote.objects.get().pk
    assert client.patch(f"{url}/{pk}", {"text": "Two"}, format="json").json()["text"] == "Two"
    shown = client.get(world.url("/compare/kept")).json()[0]["notes"]
    assert [(one["text"], one["author"], one["group"]) for one in shown] == [("Two", "Owner", "daily")]
    assert client.delete(f"{url}/{pk}").status_code == 204
    trail.undo(world.owner)
    assert CellNote.objects.get().text == "Two"
    assert client.post(url, {**note, "text": "  "}, format="json").status_code == 400


def gone(world, client):
    return [
        (one["what"], one["name"], one["now"], one["became"])
        for one in client.get(world.url("/compare/kept")).json()[0]["gone"]
    ]


def test_a_kept_comparison_says_what_a_code_and_a_category_became(world, client, asked, crosses):
    keep(world, client, {**asked, "groups": ["never", "daily"]})
    assert gone(world, client) == []
    coding.merge_codes(world.owner, code("Home"), [code("Late")])
    assert gone(world, client) == [("code", "Late", code("Home"), "Home")]
    people.rename_category(world.owner, crosses.pk, "never", "hardly ever")
    assert gone(world, client)[1:] == [("category", "never", None, "hardly ever")]
    people.merge_categories(world.owner, crosses.pk, ["hardly ever", "daily"], "at all")
    assert gone(world, client)[1:] == [("category", "never", None, "at all"), ("category", "daily", None, "at all")]
    for _ in range(3):
        trail.undo(world.owner)
    assert gone(world, client) == []
    coding.delete_code(world.owner, code("Late"))
    assert gone(world, client) == [("code", "Late", None, "")]
