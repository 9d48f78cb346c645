"""Comparisons kept by name: live, changed, let go of and taken back, with memos on them."""

import pytest
from django.db import IntegrityError, connection, transaction

from server.coding import actions as coding
from server.coding.models import Code
from server.compare.models import KeptComparison
from server.projects import trail
from server.projects.models import Membership
from server.report.models import Memo


@pytest.fixture
def asked(world, crosses):
    return {"codes": [Code.objects.get(name="Late").pk], "variable": crosses.pk, "measure": "passages"}


@pytest.fixture
def client(world):
    return world.client(world.owner.account)


def keep(world, client, asked, name="Who waits", **more):
    body = {"name": name, "asked": asked, "shown": {"form": "gaps"}, **more}
    return client.post(world.url("/compare/kept"), body, format="json")


def test_a_comparison_is_kept_and_gives_todays_figures_when_opened(world, client, asked):
    question = coding.create_question(world.owner, "Who waits for the boat?")
    assert keep(world, client, asked, question=question.pk).status_code == 200
    kept = client.get(world.url("/compare/kept")).json()[0]
    assert (kept["name"], kept["question"], kept["author"]) == ("Who waits", question.pk, "Owner")
    shown = {"form": "gaps", "order": "codebook", "tint": "expected", "least": 0, "swap": False, "scaled": "all"}
    assert shown.items() <= kept["shown"].items()
    opened = client.post(world.url("/compare"), kept["asked"], format="json").json()
    assert opened["measure"] == "passages"
    trail.undo(world.owner)
    assert client.get(world.url("/compare/kept")).json() == []
    trail.redo(world.owner)
    assert client.get(world.url("/compare/kept")).json()[0]["name"] == "Who waits"


def test_names_are_given_once_and_nonsense_isnt_kept(world, client, asked):
    keep(world, client, asked)
    again = keep(world, client, asked, name=" who  WAITS ")
    assert (again.status_code, "already" in again.json()["error"]) == (409, True)
    assert keep(world, client, {**asked, "codes": [10**6]}, name="Other").status_code == 404
    assert keep(world, client, asked, name="  ").status_code == 400
    assert KeptComparison.objects.count() == 1
    viewer = world.client(world.viewer.account)
    assert keep(world, viewer, asked, name="Mine").status_code == 403
    assert len(viewer.get(world.url("/compare/kept")).json()) == 1


def test_it_is_changed_and_let_go_of_with_its_memos_and_taken_back(world, client, asked):
    keep(world, client, asked)
    pk = KeptComparison.objects.get().pk
    url = world.url(f"/compare/kept/{pk}")
    assert (
        client.patch(url, {"name": "Waiting", "asked": {**asked, "measure": "people"}}, format="json").status_code
        == 204
    )
    half = client.patch(url, {"asked": {"measure": "rate"}}, format="json")
    assert half.status_code == 400
    kept = KeptComparison.objects.get()
    assert (kept.name, kept.asked["measure"], kept.shown["form"]) == ("Waiting", "people", "gaps")
    client.post(world.url("/memos"), {"text": "Few people.", "comparison": pk}, format="json")
    memo = client.get(world.url("/memos")).json()[0]
    assert (memo["on"], memo["on_id"], memo["name"]) == ("comparison", pk, "Waiting")
    assert client.delete(url).status_code == 204
    assert not Memo.objects.exists()
    assert client.delete(url).status_code == 404
    trail.undo(world.owner)
    assert Memo.objects.get().comparison.name == "Waiting"


def test_what_was_kept_before_a_form_knew_of_it_is_shown_as_usual(world, client, asked):
    pk = keep(world, client, asked).json()["count"]
    KeptComparison.objects.filter(pk=pk).update(shown={"form": "matrix"})
    assert client.get(world.url("/compare/kept")).json()[0]["shown"]["figures"] is True
    plain = {"shown": {"form": "matrix", "figures": False}}
    assert client.patch(world.url(f"/compare/kept/{pk}"), plain, format="json").status_code == 204
    assert client.get(world.url("/compare/kept")).json()[0]["shown"]["figures"] is False


def test_a_question_of_another_project_is_refused_by_the_database(world, client, asked):
    keep(world, client, asked)
    elsewhere = Membership.objects.get(account=world.stranger)
    foreign = coding.create_question(elsewhere, "Elsewhere?")
    with pytest.raises(IntegrityError), transaction.atomic():
        KeptComparison.objects.update(question=foreign)
        with connection.cursor() as cursor:
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
