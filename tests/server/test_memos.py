"""Memos: their kinds, what they are on, what they speak of, and as files."""

import io

import docx
import openpyxl
import pytest
from django.db import IntegrityError, connection, transaction

from server.coding import actions as coding
from server.coding.models import Code, Passage
from server.people import actions as people
from server.people.models import Case
from server.projects import trail
from server.projects.models import Membership, Project
from server.report import actions as report
from server.report.models import Memo, MemoLink, MemoOfKind, OwnMemoKind


@pytest.fixture
def client(world):
    return world.client(world.owner.account)


@pytest.fixture
def memos(client, world):
    """Reads all memos by the first word of what they say."""
    return lambda: {one["text"].split()[0]: one for one in client.get(world.url("/memos")).json()}


def code(name: str) -> Code:
    return Code.objects.get(name=name)


def write(client, world, text: str, **more) -> int:
    answer = client.post(world.url("/memos"), {"text": text, **more}, format="json")
    assert answer.status_code == 200, answer.json()
    return answer.json()["count"]


def test_a_memo_is_of_several_kinds_the_project_s_own_among_them(client, world, memos):
    doubts = client.post(world.url("/memos/kinds"), {"name": " Doubts  here "}, format="json").json()["count"]
    write(client, world, "Odd that nobody waits.", kinds=[doubts, "team", doubts])
    write(client, world, "Plain as before.", kinds=["method"])
    write(client, world, "None at all.", kinds=[])
    assert {name: one["kinds"] for name, one in memos().items()} == {
        "Odd": [doubts, "team"], "Plain": ["method"], "None": [],
    }  # fmt: skip
    assert client.get(world.url("/memos/kinds")).json() == [{"id": doubts, "name": "Doubts here", "memos": 1}]
    at = world.url(f"/memos/{memos()['Plain']['id']}")
    assert client.patch(at, {"kinds": ["method", "analytic"]}, format="json").status_code == 204
    assert memos()["Plain"]["kinds"] == ["method", "analytic"]
    trail.undo(world.owner)
    assert memos()["Plain"]["kinds"] == ["method"]
    trail.redo(world.owner)
    assert memos()["Plain"]["kinds"] == ["method", "analytic"]


def test_kinds_of_one_s_own_are_renamed_and_deleted_and_the_memos_stay(client, world, memos):
    doubts = report.make_memo_kind(world.owner, "Doubts").pk
    write(client, world, "Odd.", kinds=["team", doubts])
    at = world.url(f"/memos/kinds/{doubts}")
    assert client.patch(at, {"name": "Second thoughts"}, format="json").status_code == 204
    assert (
        "already" in client.post(world.url("/memos/kinds"), {"name": "second THOUGHTS"}, format="json").json()["error"]
    )
    assert "name" in client.post(world.url("/memos/kinds"), {"name": "  "}, format="json").json()["error"]
    assert "60" in client.post(world.url("/memos/kinds"), {"name": "x" * 61}, format="json").json()["error"]
    assert client.delete(at).status_code == 204
    assert memos()["Odd."]["kinds"] == ["team"]
    assert client.delete(at).status_code == 404
    trail.undo(world.owner)
    assert memos()["Odd."]["kinds"] == ["team", doubts]
    stranger = world.client(world.stranger)
    assert stranger.get(world.url("/memos/kinds")).status_code == 404
    assert world.client(world.viewer.account).delete(at).status_code == 403


def test_a_kind_of_another_project_is_none_here(client, world):
    elsewhere = Membership.objects.get(account=world.stranger)
    theirs = report.make_memo_kind(elsewhere, "Theirs").pk
    answer = client.post(world.url("/memos"), {"text": "Mine.", "kinds": [theirs]}, format="json")
    assert answer.status_code == 404
    assert not Memo.objects.exists()
    assert client.post(world.url("/memos"), {"text": "Mine.", "kinds": ["odd"]}, format="json").status_code == 400
    memo = report.write_memo(world.owner, "Mine.")
    with pytest.raises(IntegrityError, match="different projects"), transaction.atomic():
        MemoOfKind.objects.create(memo=memo, own_id=theirs)
        connection.check_constraints()


def test_many_memos_are_given_kinds_and_put_on_something_in_one_step(client, world, memos):
    pier = Passage.objects.get(document__title="P1_pier", codings__code__name="Late")
    first = write(client, world, "First.", kinds=["team"], passage=pier.pk)
    start = pier.document.text.index("How was")
    second = write(
        client, world, "Second.", kinds=["analytic", "method"], document=pier.document_id, start=start, end=start + 7
    )
    alone = Memo.objects.get(pk=second).passage
    asked = {
        "memos": [first, second],
        "give": ["codebook"],
        "take": ["team", "method"],
        "put_on": "code",
        "put_on_id": code("Home").pk,
    }
    assert client.patch(world.url("/memos"), asked, format="json").json() == {"count": 2}
    found = memos()
    assert [found[name]["kinds"] for name in ("First.", "Second.")] == [["codebook"], ["analytic", "codebook"]]
    assert {(one["on"], one["name"]) for one in found.values()} == {("code", "Home")}
    assert not Passage.objects.filter(pk=alone.pk).exists()
    assert Passage.objects.filter(pk=pier.pk).exists()
    trail.undo(world.owner)
    found = memos()
    assert (found["First."]["kinds"], found["First."]["on_id"]) == (["team"], pier.pk)
    assert (found["Second."]["kinds"], found["Second."]["name"]) == (["analytic", "method"], "How was")
    asked = {"memos": [first], "put_on": "project"}
    client.patch(world.url("/memos"), asked, format="json")
    assert memos()["First."]["on"] == "project"


def test_others_memos_stay_as_they_are(world):
    mine, hers = report.write_memo(world.coder, "Mine."), report.write_memo(world.owner, "Hers.")
    coder = world.client(world.coder.account)
    answer = coder.patch(world.url("/memos"), {"memos": [mine.pk, hers.pk], "give": ["team"]}, format="json")
    assert "1 memo of these is somebody else’s" in answer.json()["error"]
    assert not MemoOfKind.objects.exists()
    assert (
        coder.patch(world.url("/memos"), {"memos": [mine.pk, 9999], "give": ["team"]}, format="json").status_code == 404
    )
    assert (
        world.client(world.viewer.account).patch(world.url("/memos"), {"memos": []}, format="json").status_code == 403
    )


def links(memo: int) -> list[tuple[str, str]]:
    return [
        (one.said, str(one.code or one.case or one.document or one.other)) for one in MemoLink.objects.filter(memo=memo)
    ]


def test_words_in_double_brackets_mean_the_one_thing_that_is_called_so(client, world, memos):
    other = write(client, world, "Earlier thoughts.")
    memo = write(
        client, world, "Sure: [[home]] against [[P1]] in [[P1_pier]], not [[Nothing]]; see [[before]].",
        links=[{"said": "before", "thing": "memo", "id": other}, {"said": "unsaid", "thing": "code", "id": code("Late").pk}],
    )  # fmt: skip
    assert [(one["said"], one["thing"], one["name"]) for one in memos()["Sure:"]["links"]] == [
        ("home", "code", "Home"), ("P1", "case", "P1"), ("P1_pier", "document", "P1_pier"),
        ("before", "memo", "Earlier thoughts."),
    ]  # fmt: skip
    coding.change_code(world.owner, code("Home").pk, name="At home")
    assert memos()["Sure:"]["links"][0]["name"] == "At home"
    client.patch(world.url(f"/memos/{memo}"), {"text": "Sure: only [[home]]."}, format="json")
    assert [(one["said"], one["name"]) for one in memos()["Sure:"]["links"]] == [("home", "At home")]
    trail.undo(world.owner)
    assert len(memos()["Sure:"]["links"]) == 4


def test_a_link_follows_a_code_that_is_merged_and_goes_with_what_is_deleted(client, world, memos):
    write(client, world, "Sure: [[Late]] and [[P3]].")
    coding.merge_codes(world.owner, code("Home").pk, [code("Late").pk])
    assert [one["name"] for one in memos()["Sure:"]["links"]] == ["Home", "P3"]
    people.delete_case(world.owner, Case.objects.get(identifier="P3").pk)
    found = memos()["Sure:"]
    assert (found["text"], [one["name"] for one in found["links"]]) == ("Sure: [[Late]] and [[P3]].", ["Home"])


def test_two_things_of_one_name_are_told_apart_by_a_click_only(client, world):
    report.write_memo(world.owner, "x")
    coding.create_theme(world.owner, "Home")
    assert links(write(client, world, "On [[Home]].")) == []
    memo = write(client, world, "On [[Home]].", links=[{"said": "Home", "thing": "code", "id": code("Home").pk}])
    assert MemoLink.objects.get(memo=memo).code == code("Home")
    elsewhere = Membership.objects.get(account=world.stranger)
    theirs = coding.create_code(elsewhere, "Theirs", None)
    said = {"text": "On [[Home]].", "links": [{"said": "Home", "thing": "code", "id": theirs.pk}]}
    assert client.post(world.url("/memos"), said, format="json").status_code == 404
    with pytest.raises(IntegrityError, match="different projects"), transaction.atomic():
        MemoLink.objects.create(memo_id=memo, said="Theirs", code=theirs)
        connection.check_constraints()


def test_memos_leave_as_files_in_the_order_asked_for(client, world):
    doubts = report.make_memo_kind(world.owner, "Doubts").pk
    pier = Passage.objects.get(document__title="P1_pier", codings__code__name="Late")
    first = write(client, world, "=Why?\nSee [[home]] and [[nothing]].", kinds=["team", doubts], passage=pier.pk)
    second = write(client, world, "On all of it.", kinds=["reflexive"])

    def file(ending: str) -> bytes:
        answer = world.client(world.viewer.account).post(
            world.url(f"/memos/file/{ending}"), {"memos": [second, first, 9999]}, format="json"
        )
        assert answer.status_code == 200
        assert f"memos.{ending}" in answer["Content-Disposition"]
        return answer.content

    text = file("md").decode()
    assert text.index("On all of it.") < text.index("> The boat was late 🚢 again.") < text.index("=Why?")
    assert "— P1 (P1_pier); Late" in text
    assert "*Team, Doubts · Owner" in text
    assert "Speaks of: Home" in text
    written = [one.text for one in docx.Document(io.BytesIO(file("docx"))).paragraphs]
    assert "“The boat was late 🚢 again.”" in written
    assert "On the project" in written
    sheet = openpyxl.load_workbook(io.BytesIO(file("xlsx"))).active
    rows = list(sheet.iter_rows(min_row=3, values_only=True))
    assert rows[0][:6] == ("Written", "By", "Kinds", "On", "Name", "The memo")
    assert rows[1][2:6] == ("Reflexive", "the project", "the project", "On all of it.")
    assert rows[2][5:] == ("=Why?\nSee Home and nothing.", "The boat was late 🚢 again.", "P1", "Late", "Home")
    assert client.post(world.url("/memos/file/pdf"), {"memos": [first]}, format="json").status_code == 404
    stranger = world.client(world.stranger)
    assert stranger.post(world.url("/memos/file/md"), {"memos": [first]}, format="json").status_code == 404


def test_there_are_only_so_many_kinds(world):
    OwnMemoKind.objects.bulk_create(OwnMemoKind(project=world.project, name=f"Kind {n}") for n in range(40))
    answer = world.client(world.owner.account).post(world.url("/memos/kinds"), {"name": "One more"}, format="json")
    assert "40 kinds already" in answer.json()["error"]
    assert Project.objects.get(pk=world.project.pk).memo_kinds.count() == 40
