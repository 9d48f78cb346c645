"""One result for all that ask the same of a revision; who is in play; meetings and branches counted once."""

import pytest

from server.coding import actions as coding
from server.coding.models import Code, Coding
from server.compare import answers
from server.people.models import Case
from tests.server.conftest import put


def question(world, crosses, **more):
    rows = Code.objects.filter(project=world.project).order_by("position", "id")
    return {"codes": list(rows.values_list("id", flat=True)), "variable": crosses.pk, **more}


def test_the_table_what_stands_out_and_exports_share_one_result(world, crosses):
    said = question(world, crosses, measure="people", permutations=True)
    one = answers.answer(world.viewer, said)
    assert answers.answer(world.owner, {**said, "row": 1, "group": 0, "limit": 5}).result is one.result
    assert answers.answer(world.owner, {**said, "format": "xlsx", "what": "table", "least": 3}).result is one.result
    # Names are those of whoever asks; another question or revision is another result.
    assert answers.answer(world.owner, said).asked.member == world.owner
    assert answers.answer(world.owner, {**said, "roll_up": False}).result is not one.result
    coding.create_code(world.owner, "Something new", None)
    assert answers.answer(world.owner, said).result is not one.result


def test_results_of_an_older_revision_let_go_of_their_snapshot(world, crosses):
    said = question(world, crosses, measure="people")
    old = answers.answer(world.viewer, said)
    coding.create_code(world.owner, "Something new", None)
    answers.answer(world.viewer, said)
    held = [one for key, one in answers._held.items() if key[0] == world.project.pk]
    assert all(one.asked.snapshot is not old.asked.snapshot for one in held)


def counts(world, **scope):
    answer = world.client(world.viewer.account).post(world.url("/compare/scopes/count"), scope, format="json")
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_the_scope_says_how_many_people_are_really_in_play(world):
    whole = counts(world)
    assert whole["cases"] == whole["of_cases"]
    assert 0 < whole["with_material"] < whole["of_cases"]
    named = [case.pk for case in Case.objects.filter(project=world.project).exclude(speakers=None)]
    assert whole["with_material"] == len(set(named))
    nothing = counts(world, documents=[])
    assert nothing["with_material"] == 0
    one = counts(world, cases=named[:1])
    assert (one["cases"], one["with_material"]) == (1, 1)


@pytest.mark.parametrize(("how", "with_silent"), [("none", True), ("silent", False)])
def test_who_mentions_none_of_a_code_is_asked_with_or_without_material(world, how, with_silent):
    late = Code.objects.get(name="Late").pk
    asked = {"condition": {"join": "all", "parts": [{"codes": [late], "how": how}]}}
    held = world.client(world.viewer.account).post(world.url("/cohorts/count"), asked, format="json").json()
    everybody = Case.objects.filter(project=world.project)
    mention = set(Coding.objects.filter(code=late).values_list("passage__document__speakers__case", flat=True)) - {None}
    without = everybody.filter(speakers=None).count()
    expected = everybody.count() - len(mention) - (0 if with_silent else without)
    assert without > 0
    assert held["count"] == expected


def test_a_condition_of_another_kind_is_refused(world):
    late = Code.objects.get(name="Late").pk
    client = world.client(world.viewer.account)
    wrong = {"condition": {"join": "all", "parts": [{"codes": [late], "how": "quietly"}]}}
    assert client.post(world.url("/cohorts/count"), wrong, format="json").status_code == 400


def test_a_branch_counts_a_passage_with_two_of_its_codes_once(world):
    client = world.client(world.viewer.account)
    top, late = Code.objects.get(name="Getting across"), Code.objects.get(name="Late")
    other = coding.create_code(world.owner, "Waiting", top.pk)
    passage = Coding.objects.filter(code=late).first().passage
    put(world.owner, passage.document, passage.said, other)

    def branch() -> dict[str, int]:
        rows = client.get(world.url("/codebook")).json()["codes"]
        return {row["name"]: row["branch_passages"] for row in rows}

    own = {row["name"]: row["passages"] for row in client.get(world.url("/codebook")).json()["codes"]}
    assert own["Late"] + own["Waiting"] == branch()["Getting across"] + 1
    assert branch()["Waiting"] == own["Waiting"]
    scoped = client.post(world.url("/codebook/counts"), {"documents": []}, format="json").json()
    assert all(row["branch_passages"] == 0 for row in scoped)


def test_meetings_of_people_are_those_of_one_person(world):
    """Two people who each say one of two codes in neighbouring turns meet by passages, not as people."""
    client = world.client(world.viewer.account)
    late, home = (Code.objects.get(name=name).pk for name in ("Late", "Home"))
    asked = {"codes": [late, home], "unit": "turns", "within": 5}
    for measure in ("people", "passages"):
        table = client.post(world.url("/compare/together"), {**asked, "measure": measure}, format="json").json()
        count = table["whole"]["counts"][0][1]
        found = client.post(world.url("/compare/together/meetings"), {**asked, "measure": measure, "row": 0, "column": 1}, format="json").json()  # fmt: skip
        if measure == "people":
            who = {name for one in found["meetings"] for name in one["first"]["people"]}
            assert len(who) == count
            assert all(one["first"]["people"] == one["second"]["people"] for one in found["meetings"])
        else:
            assert len({one["first"]["id"] for one in found["meetings"]}) == count


def test_a_passage_that_carries_both_codes_overlaps_in_queries_as_in_codes_with_codes(world):
    client = world.client(world.viewer.account)
    late, home = (Code.objects.get(name=name) for name in ("Late", "Home"))
    passage = Coding.objects.filter(code=late).first().passage
    put(world.owner, passage.document, passage.said, home)
    table = client.post(
        world.url("/compare/together"), {"codes": [late.pk, home.pk], "measure": "passages"}, format="json"
    )
    met = table.json()["whole"]["counts"][0][1]
    coded = {"what": "coded", "how": "any", "codes": [late.pk]}
    for relation in ("overlaps", "near", "inside", "contains"):
        placed = {"what": "placed", "relation": relation, "codes": [home.pk], "unit": "overlap", "within": 0}
        blocks = {"join": "all", "parts": [coded, placed]}
        found = client.post(world.url("/compare/search"), {"blocks": blocks}, format="json").json()
        assert found["passages"] == met == 1, relation
    for relation in ("before", "after"):
        placed = {"what": "placed", "relation": relation, "codes": [late.pk], "unit": "turns", "within": 9}
        blocks = {"join": "all", "parts": [coded, placed]}
        assert client.post(world.url("/compare/search"), {"blocks": blocks}, format="json").json()["passages"] == 0
