"""What can make the columns of a comparison: facts about documents, two facts, cohorts, people and documents."""

import pytest

from server.coding.models import Code
from server.gather.models import Document
from server.people import actions as people
from server.people.models import Case, Category, Variable
from tests.server.conftest import put


@pytest.fixture
def ask(world, crosses):
    client = world.client(world.viewer.account)
    codes = list(Code.objects.filter(project=world.project).order_by("position", "id").values_list("id", flat=True))

    def asking(path="/compare", **said):
        return client.post(world.url(path), {"codes": codes, "variable": crosses.pk, **said}, format="json")

    return asking


@pytest.fixture
def wave(world):
    """A fact about documents: the pier talk is of winter, the garden talk of spring."""
    made = of_categories(world, "Wave", ["winter", "spring"], "document")
    cells = [
        people.Typed(Document.objects.get(title=title).pk, made.pk, value)
        for title, value in (("P1_pier", "winter"), ("P2_garden", "spring"))
    ]
    people.set_values(world.owner, cells, of="document")
    return made


def of_categories(world, name, labels, of="case"):
    made = people.make_variable(world.owner, name, "category", of=of)
    Category.objects.bulk_create(Category(variable=made, label=label, position=at) for at, label in enumerate(labels))
    return made


def cells(answer, name):
    row = next(row for row in answer.json()["rows"] if row["name"] == name)
    return [(cell["count"], cell["base"]) for cell in row["cells"]]


def test_a_fact_about_documents_makes_groups_of_those_who_speak_in_them(world, ask, wave):
    answer = ask(variable=wave.pk)
    assert [group["name"] for group in answer.json()["groups"]] == ["winter", "spring"]
    assert cells(answer, "Late") == [(1, 1), (0, 1)]
    assert "across Wave, counting" in "".join(part["text"] for part in answer.json()["sentence"])
    opened = ask("/compare/evidence", variable=wave.pk, row=2, group=0).json()
    assert (opened["people"], opened["persons"][0]["passages"][0]["title"]) == (1, "P1_pier")


def test_two_facts_nested_and_one_held_apart(ask, crosses, wave):
    nested = ask(second=wave.pk).json()
    assert [group["name"] for group in nested["groups"]] == [
        "never · winter",
        "never · spring",
        "daily · winter",
        "daily · spring",
    ]
    assert [(group["label"], group["outer"], group["mark"]) for group in nested["groups"]][1] == ("spring", "never", 1)
    assert "across Crosses and, within each, Wave" in "".join(part["text"] for part in nested["sentence"])
    apart = ask(variable=wave.pk, second=crosses.pk, second_as="layers").json()
    assert (apart["layered"], apart["outer"], apart["difference"]) == (True, ["never", "daily"], None)
    assert {row["test"]["kind"] for row in apart["rows"]} <= {"layered", "none"}
    assert "held apart by Crosses" in "".join(part["text"] for part in apart["sentence"])
    assert ask(second=crosses.pk).status_code == 400


def test_cohorts_people_and_documents_are_columns(world, ask):
    refused = ask(columns="cohorts")
    assert (refused.status_code, "no cohorts yet" in refused.json()["error"]) == (400, True)
    everyone = list(Case.objects.filter(project=world.project).values_list("id", flat=True))
    first = people.make_cohort(world.owner, "First", None, everyone[:1])
    both = people.make_cohort(world.owner, "Both", None, everyone[:2])
    answer = ask(columns="cohorts", cohorts=[first.pk, both.pk]).json()
    assert [group["name"] for group in answer["groups"]] == ["First", "Both"]
    assert answer["shared_people"] == 1
    assert {row["test"]["kind"] for row in answer["rows"]} == {"none"}
    assert any("1 person is in more than one group" in one["text"] for one in answer["cautions"])
    names = [group["name"] for group in ask(columns="cases").json()["groups"]]
    assert names == list(Case.objects.filter(project=world.project).values_list("identifier", flat=True))
    papers = ask(columns="documents", measure="passages").json()
    counts = {group["name"]: group["passages"] for group in papers["groups"]}
    assert counts["P1_pier"] > 0
    assert ask(columns="cohorts", cohorts=[10**6]).status_code == 404
    assert ask(variable=None).status_code == 400


def test_too_many_groups_show_the_first_and_say_so(world, ask):
    labels = [f"Town {number:04}" for number in range(70)]
    many = of_categories(world, "Town", labels)
    answer = ask(variable=many.pk).json()
    assert (len(answer["groups"]), len(answer["all_groups"])) == (60, 70)
    assert answer["cautions"][0]["text"].startswith("10 more groups are not shown")
    assert [group["name"] for group in ask(variable=many.pk, groups=labels[-1:]).json()["groups"]] == labels[-1:]
    crossed = ask(variable=many.pk, second=Variable.objects.get(name="Crosses").pk, groups=labels).json()
    assert len(crossed["groups"]) == 140
    third = of_categories(world, "Boat", labels[:4])
    refused = ask(variable=many.pk, second=third.pk, groups=labels)
    assert (refused.status_code, "make 280 groups together" in refused.json()["error"]) == (400, True)


def test_passages_a_person_have_a_mean_a_median_and_the_most(world, ask):
    pier = Document.objects.get(title="P1_pier")
    put(world.owner, pier, "I waited", Code.objects.get(name="Late"))
    answer = ask(measure="per_person", permutations=False).json()
    late = next(row for row in answer["rows"] if row["name"] == "Late")["cells"][1]
    assert (late["figure"], late["count"], late["base"], late["median"], late["most"]) == (2, 2, 1, 2, 2)
    assert "passages a person, over each group’s people with material" in "".join(
        part["text"] for part in answer["sentence"]
    )


def test_what_tells_a_difference_is_exported_with_its_kind_of_columns(ask, wave):
    def head(**said):
        answer = ask("/compare/export", format="csv", **said)
        return answer.content.decode("utf-8-sig").splitlines()[2]

    assert "Difference daily − never" in head()
    layered = head(second=wave.pk, second_as="layers")
    assert "Common odds ratio daily over never" in layered
    assert "Difference" not in layered
    assert "winter · daily: share" in layered
    assert ask("/compare/export", format="xlsx", columns="cases").content[:2] == b"PK"
