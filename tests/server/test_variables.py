"""Variables made and remade, cases merged, blocks pasted, cohorts; each undone whole."""

import pytest

from server.coding import actions as coding
from server.coding.models import Code
from server.common.errors import Conflict, NotFound, Refusal
from server.gather.models import Speaker
from server.people import actions as people
from server.people import facts, queries
from server.people.models import Case, Variable
from server.projects import steps, trail
from server.projects.models import Project


def variable(name):
    return Variable.objects.prefetch_related("categories").get(name=name)


def held(name):
    row = variable(name)
    ids = facts.case_ids(row.project_id)
    names = dict(Case.objects.values_list("id", "identifier"))
    found = facts.known([row], ids)[row.pk]
    return {
        names[pk]: one.value if one.value is not None else one.missing for pk, one in zip(ids, found.held, strict=True)
    }


def case(name):
    return Case.objects.get(identifier=name).pk


def bands(world, cuts, name="Age, bands"):
    return people.make_variable(world.owner, name, definition={"kind": "bands", "of": variable("Age").pk, "cuts": cuts})


def test_bands_follow_the_data_and_compare(world):
    made = bands(world, [40])
    assert held("Age, bands") == {"P1": "under 40", "P2": "40 and over", "P3": "not_answered"}
    people.set_value(world.owner, case("P1"), variable("Age").pk, "44")
    assert held("Age, bands")["P1"] == "40 and over"
    people.change_variable(world.owner, made.pk, definition={"kind": "bands", "of": variable("Age").pk, "cuts": [50]})
    assert held("Age, bands")["P1"] == "under 50"
    answer = world.client(world.viewer.account).post(
        world.url("/compare"), {"codes": [], "variable": made.pk}, format="json"
    )
    assert answer.json()["all_groups"] == ["under 50", "50 and over"]


def test_what_cannot_be_cut_crossed_or_changed_is_refused_in_words(world):
    with pytest.raises(Refusal, match="only numbers and dates"):
        people.make_variable(world.owner, "x", definition={"kind": "bands", "of": variable("Island").pk, "cuts": [1]})
    with pytest.raises(Refusal, match="different cut points"):
        bands(world, [])
    with pytest.raises(Refusal, match="has to be a number"):
        bands(world, ["2020-01-01"])
    with pytest.raises(Refusal, match="into bands first"):
        people.make_variable(
            world.owner, "x", definition={"kind": "crossing", "of": [variable("Age").pk, variable("Island").pk]}
        )
    made = bands(world, [40])
    with pytest.raises(Refusal, match="made of other variables"):
        people.set_value(world.owner, case("P1"), made.pk, "under 40")
    with pytest.raises(Refusal, match="type follows"):
        people.change_variable(world.owner, made.pk, kind="number")
    with pytest.raises(Conflict, match="“Age, bands” is made of “Age”"):
        people.delete_variable(world.owner, variable("Age").pk)


def test_a_crossing_and_counts(world):
    pair = [variable("Island").pk, variable("Crosses").pk]
    people.make_variable(world.owner, "Island × Crosses", definition={"kind": "crossing", "of": pair})
    assert held("Island × Crosses")["P1"] == "Holm · daily"
    for what, expected in (("documents", {"P1": 1, "P2": 1, "P3": 0}), ("passages", {"P1": 2, "P2": 1, "P3": 0})):
        people.make_variable(world.owner, what, definition={"kind": "count", "what": what, "code": None})
        assert held(what) == expected
    people.make_variable(world.owner, "words", definition={"kind": "count", "what": "words"})
    assert held("words")["P3"] == 0
    assert held("words")["P1"] > 5


def test_categories_are_renamed_merged_split_and_made_missing(world):
    row = variable("Crosses")
    people.rename_category(world.owner, row.pk, "never", "not at all")
    assert held("Crosses")["P2"] == "not at all"
    people.merge_categories(world.owner, row.pk, ["not at all", "daily"], "either")
    assert set(held("Crosses").values()) == {"either"}
    people.split_category(world.owner, row.pk, "either", "rarely", [case("P3")])
    assert held("Crosses") == {"P1": "either", "P2": "either", "P3": "rarely"}
    people.category_to_missing(world.owner, row.pk, "rarely", "not_applicable")
    assert held("Crosses")["P3"] == "not_applicable"
    for _ in range(4):
        trail.undo(world.owner)
    assert held("Crosses") == {"P1": "daily", "P2": "never", "P3": "never"}
    with pytest.raises(NotFound):
        people.rename_category(world.owner, row.pk, "often", "x")
    with pytest.raises(Refusal, match="None of those"):
        people.split_category(world.owner, row.pk, "daily", "x", [case("P2")])


def test_a_block_is_pasted_whole_or_not_at_all(world):
    ages = variable("Age").pk
    cells = [people.Typed(case("P1"), ages, "35"), people.Typed(case("P3"), ages, "about forty")]
    with pytest.raises(Refusal, match=r"“about forty” isn’t a number.*P3; nothing was pasted"):
        people.set_values(world.owner, cells)
    assert held("Age")["P1"] == 34
    good = [
        people.Typed(case("P1"), ages, "35"),
        people.Typed(case("P3"), ages, "41"),
        people.Typed(case("P2"), variable("Island").pk, "New"),
    ]
    assert people.set_values(world.owner, good) == 3
    assert (held("Age")["P3"], held("Island")["P2"]) == (41, "New")
    trail.undo(world.owner)
    assert (held("Age")["P3"], held("Island")["P2"]) == ("not_answered", "Ytter")


def test_two_cases_that_are_one(world):
    people.merge_cases(world.owner, case("P3"), case("P1"))
    assert not Case.objects.filter(identifier="P1").exists()
    assert Speaker.objects.get(label="P1").case.identifier == "P3"
    assert held("Age")["P3"] == 34, "what it lacked"
    assert held("Crosses")["P3"] == "never", "its own stays"
    trail.undo(world.owner)
    assert Speaker.objects.get(label="P1").case.identifier == "P1"
    assert held("Age") == {"P1": 34, "P2": 71, "P3": "not_answered"}


def daily(world):
    return {"variable": variable("Crosses").pk, "operator": "is", "values": ["daily"]}


def test_a_cohort_follows_the_data_or_stays_as_picked(world):
    row = people.make_cohort(world.owner, "Daily", {"join": "all", "parts": [daily(world)]})
    picked = people.make_cohort(world.owner, "Mine", None, [case("P2")])
    assert queries.cohort_members(world.owner, row) == [case("P1")]
    people.set_value(world.owner, case("P2"), variable("Crosses").pk, "daily")
    assert queries.cohort_members(world.owner, row) == [case("P1"), case("P2")]
    assert queries.cohort_members(world.owner, picked) == [case("P2")]
    people.make_variable(world.owner, "In Daily", definition={"kind": "cohort", "cohort": row.pk})
    assert held("In Daily") == {"P1": True, "P2": True, "P3": False}
    with pytest.raises(Conflict, match="made of this cohort"):
        people.delete_cohort(world.owner, row.pk)
    changed = people.change_cohort(world.owner, row.pk, picked=[case("P3")])
    assert queries.cohort_members(world.owner, changed) == [case("P3")]
    trail.undo(world.owner)
    assert queries.cohort_members(world.owner, queries.cohort(world.owner, row.pk)) == [case("P1"), case("P2")]


def test_cohorts_tell_who_is_in_none_and_in_several(world):
    people.make_cohort(world.owner, "A", None, [case("P1"), case("P2")])
    people.make_cohort(world.owner, "B", None, [case("P2")])
    found = world.client(world.viewer.account).get(world.url("/cohorts")).json()
    assert (found["in_none"], found["in_several"]) == ([case("P3")], [case("P2")])


def test_live_counts_of_every_part_over_the_api(world):
    client = world.client(world.viewer.account)
    old = {"variable": variable("Age").pk, "operator": "at_least", "values": [60]}
    condition = {"join": "all", "parts": [daily(world), {"join": "any", "parts": [old]}]}
    found = client.post(world.url("/cohorts/count"), {"condition": condition}, format="json").json()
    assert found == {
        "count": 0,
        "parts": [{"count": 1, "parts": []}, {"count": 1, "parts": [{"count": 1, "parts": []}]}],
    }
    for bad in (
        {"variable": "x"},
        {"join": "most", "parts": []},
        {"variable": 1, "operator": "at_least", "values": []},
        7,
    ):
        assert client.post(world.url("/cohorts/count"), {"condition": bad}, format="json").status_code == 400
    wrong = {"variable": variable("Age").pk, "operator": "below", "values": ["old"]}
    assert (
        "compares a number"
        in client.post(world.url("/cohorts/count"), {"condition": wrong}, format="json").json()["error"]
    )


def test_the_distribution_by_group_and_its_export(world):
    client = world.client(world.viewer.account)
    path = world.url(f"/variables/{variable('Island').pk}/distribution")
    by = {"by": variable("Crosses").pk}
    found = client.post(path, by, format="json").json()
    assert found["groups"] == ["Everyone", "never", "daily"]
    assert [[one["count"] for one in row] for row in found["shares"]] == [[2, 1, 1], [1, 1, 0]]
    text = client.post(f"{path}/export", by, format="json").content.decode("utf-8-sig")
    assert text.splitlines()[2].startswith("Island,Everyone: count,Everyone: share,never: count")
    assert "Holm,2,0.666" in text


def test_distributions_of_those_in_scope_only(world):
    client = world.client(world.viewer.account)
    first, other = list(Case.objects.filter(project=world.project).order_by("identifier")[:2])
    island = variable("Island")
    among = {"cases": [first.pk, other.pk]}
    spreads = {
        one["variable"]: one for one in client.post(world.url("/variables/spreads"), among, format="json").json()
    }
    values = held("Island")
    wanted = {label: [values[first.identifier], values[other.identifier]].count(label) for label in ("Holm", "Ytter")}
    found = {bar["label"]: bar["count"] for bar in spreads[island.pk]["bars"]}
    assert {label: found.get(label, 0) for label in wanted} == wanted
    assert sum(found.values()) == sum(wanted.values())
    path = world.url(f"/variables/{island.pk}/distribution")
    assert client.post(path, among, format="json").json()["bases"] == [2]
    said = client.post(f"{path}/export", among, format="json").content.decode("utf-8-sig")
    assert ", 2 people in scope, as counts" in said
    assert client.post(path, {"cases": []}, format="json").json()["bases"] == [0]


def test_a_histogram_with_proposed_cuts(world):
    found = world.client(world.viewer.account).get(world.url(f"/variables/{variable('Age').pk}/histogram")).json()
    assert found["values"] == [34, 71]
    assert sum(found["counts"]) == 2
    assert set(found["quantiles"]) == {"2", "3", "4", "5", "6"}


def test_the_check_page(world):
    found = world.client(world.viewer.account).get(world.url("/check")).json()
    assert [row["identifier"] for row in found["cases_without_material"]] == ["P3"]
    assert found["documents_without_case"] == []
    assert found["silent_speakers"] == []


def test_chosen_links_are_made_at_once_or_not_at_all(world):
    from server.gather import actions as gather

    speaker = Speaker.objects.get(label="P1").pk
    with pytest.raises(NotFound):
        gather.link_chosen(world.owner, {speaker: case("P3"), 10**9: case("P2")})
    assert Speaker.objects.get(pk=speaker).case.identifier == "P1"
    assert gather.link_chosen(world.owner, {speaker: case("P3")}) == 1
    assert Speaker.objects.get(pk=speaker).case.identifier == "P3"


def test_the_database_keeps_values_and_what_they_belong_to_together(world):
    """Without foreign keys row by row, the triggers refuse what can't be true."""
    from django.db import IntegrityError, connection, transaction

    island, crosses = variable("Island"), variable("Crosses")
    foreign = crosses.categories.first().pk
    elsewhere = Project.objects.get(name="Elsewhere")
    theirs = Variable.objects.create(project=elsewhere, name="Length", kind="number", position=0).pk
    stranger = Case.objects.create(project=elsewhere, identifier="S1").pk
    ours = Variable.objects.create(project=world.project, name="Length", kind="number", position=9).pk
    pair = "INSERT INTO people_value (variable_id, case_id, number) VALUES (%s, %s, 1), (%s, %s, 1)"
    wrong = [
        (pair, [ours, case("P1"), ours, stranger]),
        (pair, [ours, stranger, theirs, case("P1")]),
        (pair, [ours, case("P1"), theirs, case("P2")]),
        ("INSERT INTO people_value (variable_id, case_id, number) VALUES (%s, %s, 1)", [island.pk, 10**9]),
        ("INSERT INTO people_value (variable_id, case_id, number) VALUES (%s, %s, 1)", [10**9, case("P1")]),
        ("UPDATE people_value SET category_id = %s WHERE variable_id = %s", [foreign, island.pk]),
        ("UPDATE people_value SET number = 'Infinity' WHERE variable_id = %s AND number > 0", [variable("Age").pk]),
        ("UPDATE people_value SET number = 'NaN' WHERE variable_id = %s AND number > 0", [variable("Age").pk]),
        ("DELETE FROM people_case WHERE id = %s", [case("P3")]),
        ("DELETE FROM people_category WHERE id = %s", [island.categories.first().pk]),
    ]
    for statement, values in wrong:
        with pytest.raises(IntegrityError), transaction.atomic(), connection.cursor() as cursor:
            cursor.execute(statement, values)
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
    with connection.cursor() as cursor:
        cursor.execute(pair, [ours, case("P1"), theirs, stranger])
        assert cursor.rowcount == 2


def test_more_rows_than_can_be_kept_are_undone_but_not_done_again(world, monkeypatch):
    from tests.server.conftest import bring_in

    monkeypatch.setattr(steps, "MOST_KEPT", 3)
    bring_in(world.owner, ("big.csv", "ID,Height\nP7,180\nP8,170\nP9,175\nP10,181\nP11,182\n"))
    trail.undo(world.owner)
    assert not Variable.objects.filter(name="Height").exists()
    assert not Case.objects.filter(identifier="P7").exists()
    assert trail.redo(world.owner) is None


def test_a_variable_whose_source_is_gone_takes_no_other_along(world):
    """Deleting a code once took the whole roster, the evidence and what stands out away from everybody."""
    code = coding.create_code(world.owner, "Soon gone", None)
    people.make_variable(world.owner, "How often", definition={"kind": "count", "what": "passages", "code": code.pk})
    condition = {"join": "all", "parts": [{"codes": [code.pk], "how": "any"}]}
    cohort = people.make_cohort(world.owner, "Those who do", condition)
    people.make_variable(world.owner, "Does", definition={"kind": "cohort", "cohort": cohort.pk})
    coding.delete_code(world.owner, code.pk)
    client = world.client(world.owner.account)
    roster = client.get(world.url("/roster")).json()
    said = {one["name"]: one["problem"] for one in roster["variables"]}
    assert said["Island"] == ""
    assert said["How often"].startswith("The code that this variable counts is gone")
    assert said["Does"] == "A code that this asks about isn’t in the codebook any more."
    asked = {
        "codes": list(Code.objects.values_list("id", flat=True)),
        "variable": Variable.objects.get(name="Island").pk,
    }
    assert client.post(world.url("/compare/stands-out"), asked, format="json").status_code == 200
    evidence = client.post(world.url("/compare/evidence"), {**asked, "row": 0}, format="json")
    assert evidence.status_code == 200, evidence.json()
