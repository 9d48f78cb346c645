"""Cohorts of documents: by conditions on what is known of them or coded in them, or by hand; as groups, in scope, out as a list."""

import csv
import io

import pytest

from server.coding.models import Code
from server.common.errors import Conflict, NotFound, Refusal
from server.gather.actions import delete_documents
from server.gather.models import Document
from server.people import actions as people
from server.people import queries
from server.people.models import Case, Category, Cohort, CohortDocument, Subject
from server.projects import trail
from tests.server.conftest import bring_in


@pytest.fixture
def waves(world):
    """A fact about documents: the wave, of two talks; a third has none."""
    bring_in(world.owner, ("P3_quay.txt", "I: And you?\nP3: I was late for the boat, and late again.\n"))
    wave = people.make_variable(world.owner, "Wave", "category", of="document")
    Category.objects.bulk_create(
        Category(variable=wave, label=label, position=at) for at, label in enumerate(["winter", "spring"])
    )
    cells = [
        people.Typed(pk(title), wave.pk, value) for title, value in (("P1_pier", "winter"), ("P2_garden", "spring"))
    ]
    people.set_values(world.owner, cells, of="document")
    return wave


def pk(title):
    return Document.objects.get(title=title).pk


def winter(wave):
    return {"join": "all", "parts": [{"variable": wave.pk, "operator": "is", "values": ["winter"]}]}


def titles(world, row):
    named = dict(Document.objects.values_list("id", "title"))
    return {named[one] for one in queries.cohort_members(world.owner, row)}


def test_one_by_conditions_follows_what_is_known_of_documents_and_coded_in_them(world, waves):
    client = world.client(world.owner.account)
    made = client.post(
        world.url("/cohorts"), {"name": "In winter", "of": "document", "condition": winter(waves)}, format="json"
    )
    assert made.status_code == 200, made.content
    assert (made.data["documents"], made.data["cases"]) == ([pk("P1_pier")], [])
    late = Code.objects.get(name="Late")
    coded = people.make_cohort(
        world.owner,
        "With late",
        {"join": "all", "parts": [{"codes": [late.parent_id], "how": "any"}]},
        of=Subject.DOCUMENT,
    )
    assert titles(world, coded) == {"P1_pier"}
    neither = {"join": "all", "parts": [{"cohorts": [coded.pk], "how": "none"}, {"codes": [late.pk], "how": "none"}]}
    counted = client.post(world.url("/cohorts/count"), {"condition": neither, "of": "document"}, format="json").data
    assert (counted["count"], [part["count"] for part in counted["parts"]]) == (2, [2, 2])
    listed = client.get(world.url("/cohorts")).data
    assert [one["name"] for one in listed["of_documents"]] == ["In winter", "With late"]
    assert listed["cohorts"] == []
    # A cohort of people isn't one of documents, nor the other way round.
    with pytest.raises(Refusal, match="A cohort that this asks about"):
        queries.condition_counts(world.owner, {"join": "all", "parts": [{"cohorts": [coded.pk]}]})
    with pytest.raises(NotFound):
        people.make_variable(world.owner, "Late ones", definition={"kind": "cohort", "cohort": coded.pk})
    with pytest.raises(Conflict, match="already"):
        people.make_cohort(world.owner, "in WINTER", None, [])


def test_one_by_hand_is_changed_and_taken_back_and_goes_with_its_documents(world, waves):
    row = people.make_cohort(world.owner, "Two", None, [pk("P1_pier"), pk("P2_garden")], Subject.DOCUMENT)
    people.change_cohort(world.owner, row.pk, picked=[pk("P2_garden"), pk("P3_quay")])
    assert titles(world, row) == {"P2_garden", "P3_quay"}
    trail.undo(world.owner)
    assert titles(world, row) == {"P1_pier", "P2_garden"}
    people.change_cohort(world.owner, row.pk, condition=winter(waves))
    assert not CohortDocument.objects.exists()
    trail.undo(world.owner)
    delete_documents(world.owner, [pk("P1_pier")])
    assert titles(world, row) == {"P2_garden"}
    trail.undo(world.owner)
    assert titles(world, row) == {"P1_pier", "P2_garden"}
    with pytest.raises(Refusal, match="isn’t in the project any more"):
        people.change_cohort(world.owner, row.pk, picked=[10**6])
    # A case is no document.
    with pytest.raises(Refusal, match="isn’t in the project any more"):
        people.make_cohort(
            world.owner, "Odd", None, [max(Case.objects.values_list("id", flat=True)) + 10**6], Subject.DOCUMENT
        )
    people.delete_cohort(world.owner, row.pk)
    assert not Cohort.objects.exists()


def compare(world, **asked):
    answer = world.client(world.owner.account).post(
        world.url("/compare"), {"columns": "document_cohorts", "codes": list(Code.objects.values_list("id", flat=True)), **asked}, format="json"
    )  # fmt: skip
    return answer


def test_they_make_groups_of_those_who_talk_in_them_and_overlapping_ones_arent_tested(world, waves):
    assert "no cohorts of documents yet" in compare(world).json()["error"]
    first = people.make_cohort(world.owner, "Winter", winter(waves), of=Subject.DOCUMENT)
    second = people.make_cohort(world.owner, "Others", None, [pk("P2_garden"), pk("P3_quay")], Subject.DOCUMENT)
    found = compare(world)
    assert found.status_code == 200, found.content
    assert [(group["name"], group["people"]) for group in found.data["groups"]] == [("Others", 2), ("Winter", 1)]
    row = next(one for one in found.data["rows"] if one["name"] == "Late")
    assert [cell["count"] for cell in row["cells"]] == [0, 1]
    chosen = compare(world, cohorts=[first.pk])
    assert [group["name"] for group in chosen.data["groups"]] == ["Winter"]
    third = people.make_cohort(world.owner, "All", {"join": "all", "parts": []}, of=Subject.DOCUMENT)
    overlapping = compare(world, cohorts=[first.pk, third.pk])
    assert [group["people"] for group in overlapping.data["groups"]] == [1, 3]
    assert {one["test"]["kind"] for one in overlapping.data["rows"]} == {"none"}
    people.delete_cohort(world.owner, second.pk)
    assert compare(world, cohorts=[second.pk]).status_code == 404


def test_they_narrow_what_is_looked_at_and_follow_the_data(world, waves):
    client = world.client(world.viewer.account)
    row = people.make_cohort(world.owner, "Winter", winter(waves), of=Subject.DOCUMENT)
    count = lambda: client.post(world.url("/compare/scopes/count"), {"document_cohorts": [row.pk]}, format="json").data  # noqa: E731
    assert count()["play_documents"] == [pk("P1_pier")]
    people.change_cohort(world.owner, row.pk, picked=[pk("P2_garden"), pk("P3_quay")])
    assert sorted(count()["play_documents"]) == sorted([pk("P2_garden"), pk("P3_quay")])
    people.delete_cohort(world.owner, row.pk)
    assert count()["play_documents"] == []


def test_they_leave_as_a_list(world, waves):
    people.make_cohort(world.owner, "Winter", winter(waves), of=Subject.DOCUMENT)
    people.make_cohort(world.owner, "People", None, [])
    answer = world.client(world.viewer.account).get(world.url("/lists/document-cohorts/csv"))
    rows = list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))
    assert rows == [["Cohort", "Description", "Document"], ["Winter", "", "P1_pier"]]
