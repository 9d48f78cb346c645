"""Several people at once, and what each may still do: nothing half-changed, nobody locked out, no error without a sentence."""

import threading

import psycopg
import pytest
from django.db import IntegrityError, connection, transaction

from server.coding import actions as coding
from server.coding import finding
from server.coding.models import Code, Coding, Passage
from server.common.database import Moved, of_one_state
from server.common.errors import Conflict, NotAllowed, NotFound, Refusal
from server.compare import evidence
from server.compare.actions import keep_comparison
from server.people.models import Variable
from server.projects import actions
from server.projects.models import Membership, TrailEntry
from server.projects.trail import last_done, redo, undo
from tests.server.conftest import World


def second_owner(world: World) -> Membership:
    actions.change_member(world.owner, world.coder.pk, "owner")
    world.coder.refresh_from_db()
    return world.coder


def test_a_demoted_owner_takes_back_nothing_that_takes_an_owner(empty: World):
    actions.change_project(empty.owner, name="Crossings in winter")
    other = second_owner(empty)
    actions.change_member(other, empty.owner.pk, "coder")
    # The membership as this request read it, a moment before.
    assert empty.owner.role == "owner"
    with pytest.raises(Conflict, match="that takes an owner, and your role is now coder"):
        undo(empty.owner)
    empty.project.refresh_from_db()
    assert empty.project.name == "Crossings in winter"


def test_a_role_that_was_taken_away_meanwhile_counts(empty: World):
    other = second_owner(empty)
    stale = Membership.objects.select_related("account", "project").get(pk=empty.owner.pk)
    actions.change_member(other, empty.owner.pk, "viewer")
    with pytest.raises(NotAllowed, match=r"Your role in this project is viewer"):
        coding.create_code(stale, "Too late", None)
    assert not Code.objects.exists()


def test_who_was_removed_meanwhile_is_told_so(empty: World):
    stale = Membership.objects.select_related("account", "project").get(pk=empty.coder.pk)
    actions.remove_member(empty.owner, empty.coder.pk)
    with pytest.raises(NotFound, match="aren’t a member"):
        coding.create_code(stale, "Too late", None)
    with pytest.raises(NotFound, match="aren’t a member"):
        undo(stale)


def test_membership_is_in_the_trail_and_can_be_taken_back(empty: World):
    actions.change_member(empty.owner, empty.viewer.pk, "coder")
    actions.remove_member(empty.owner, empty.coder.pk)
    said = list(TrailEntry.objects.filter(verb__startswith="member.").values_list("summary", "needs"))
    assert said == [("Removed Coder", "owner"), ("Made Viewer coder", "owner")]
    undo(empty.owner)
    assert Membership.objects.get(pk=empty.coder.pk).role == "coder"
    redo(empty.owner)
    assert not Membership.objects.filter(pk=empty.coder.pk).exists()


def test_the_last_owner_stays(empty: World):
    for change in (
        lambda: actions.change_member(empty.owner, empty.owner.pk, "coder"),
        lambda: actions.remove_member(empty.owner, empty.owner.pk),
    ):
        with pytest.raises(Refusal, match="needs an owner"):
            change()
    assert Membership.objects.get(pk=empty.owner.pk).role == "owner"
    with pytest.raises(IntegrityError, match="no owner any more"), transaction.atomic():
        Membership.objects.filter(pk=empty.owner.pk).update(role="viewer")
        with connection.cursor() as cursor:
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")


@pytest.mark.django_db(transaction=True)
def test_two_owners_who_demote_each_other_at_once_leave_one():
    owners = [actions.Account.objects.create(username=name, display_name=name) for name in ("one", "other")]
    project = actions.create_project(owners[0], "Shared")
    Membership.objects.create(project=project, account=owners[1], role="owner")
    at = connection.settings_dict
    reach = {
        "host": at["HOST"],
        "port": at["PORT"],
        "user": at["USER"],
        "password": at["PASSWORD"],
        "dbname": at["NAME"],
    }
    with psycopg.connect(**reach) as first, psycopg.connect(**reach) as second:
        statement = "UPDATE projects_membership SET role = 'coder' WHERE account_id = %s"
        first.execute(statement, [owners[0].pk])
        second.execute(statement, [owners[1].pk])
        problems: list[Exception] = []

        def commit(one: psycopg.Connection) -> None:
            try:
                one.commit()
            except psycopg.errors.CheckViolation as problem:
                problems.append(problem)

        both = [threading.Thread(target=commit, args=(one,)) for one in (first, second)]
        for one in both:
            one.start()
        for one in both:
            one.join()
    assert len(problems) == 1
    assert Membership.objects.filter(project=project, role="owner").count() == 1


def test_what_cant_be_taken_back_doesnt_stand_in_the_way_of_what_came_before(empty: World):
    first = coding.create_code(empty.owner, "Kept apart", None)
    named = coding.create_code(empty.owner, "Named twice", None)
    coding.change_code(empty.owner, named.pk, name="Named by one")
    coding.change_code(empty.coder, named.pk, name="Named by another")
    with pytest.raises(Conflict, match=r"changed again since.*undo once more takes back what you did before"):
        undo(empty.owner)
    assert Code.objects.get(pk=named.pk).name == "Named by another"
    # The making of the code comes next; the one before it after that.
    undo(empty.owner)
    assert not Code.objects.filter(pk=named.pk).exists()
    undo(empty.owner)
    assert not Code.objects.filter(pk=first.pk).exists()
    assert last_done(empty.owner) is None
    stays = TrailEntry.objects.get(state="stays")
    assert stays.inverse == []
    shown = empty.client(empty.owner.account).get(empty.url("/trail")).json()
    assert [one["undone"] for one in shown if one["revision"] == stays.revision] == [False]


def test_a_theme_is_changed_wholly_or_not_at_all(world: World):
    codes = list(Code.objects.filter(project=world.project).order_by("id"))
    coding.create_theme(world.owner, "Taken")
    theme = coding.create_theme(world.owner, "Mine", code_ids=[codes[0].pk])
    client = world.client(world.coder.account)
    asked = {"name": "Taken", "codes": [codes[1].pk]}
    answer = client.patch(world.url(f"/themes/{theme.pk}"), asked, format="json")
    assert answer.status_code == 409
    assert [row.code_id for row in theme.placings.all()] == [codes[0].pk]
    revision = world.project.__class__.objects.get(pk=world.project.pk).revision
    assert client.patch(world.url(f"/themes/{theme.pk}"), {**asked, "name": "Ours"}, format="json").status_code == 200
    assert [row.code_id for row in theme.placings.all()] == [codes[1].pk]
    # One action, and one undoing.
    assert world.project.__class__.objects.get(pk=world.project.pk).revision == revision + 1
    undo(world.coder)
    theme.refresh_from_db()
    assert (theme.name, [row.code_id for row in theme.placings.all()]) == ("Mine", [codes[0].pk])


def test_a_kept_comparison_gets_another_question_and_loses_it_again(world: World, crosses: Variable):
    code = Code.objects.get(project=world.project, name="Late")
    asked = {
        "codes": [code.pk],
        "columns": "variable",
        "variable": crosses.pk,
        "measure": "people",
        "permutations": False,
    }
    kept = keep_comparison(
        world.owner, "Who is late", asked, {"form": "table", "order": "codebook", "tint": "expected", "least": 0}
    )
    question = coding.create_question(world.owner, "Who carries it?")
    client, address = world.client(world.coder.account), world.url(f"/compare/kept/{kept.pk}")
    for chosen in (question.pk, None):
        assert client.patch(address, {"question": chosen}, format="json").status_code == 204
        kept.refresh_from_db()
        assert kept.question_id == chosen
    undo(world.coder)
    kept.refresh_from_db()
    assert kept.question_id == question.pk


def test_passages_that_go_while_they_are_shown_are_asked_for_anew(world: World, crosses: Variable, monkeypatch):
    code = Code.objects.get(project=world.project, name="Late")
    said = {"codes": [code.pk], "columns": "variable", "variable": crosses.pk, "measure": "people", "base": "with_material",
            "permutations": False, "roll_up": True, "row": 0}  # fmt: skip
    before = evidence.evidence_for(world.owner, said)
    real, went = evidence.facts_of, []

    def meanwhile(member, held, case_ids):
        if not went:
            gone = Coding.objects.filter(code=code).first()
            went.append(gone.passage_id)
            coding.remove_coding(world.owner, gone.pk)
            Passage.objects.filter(pk=gone.passage_id).delete()
        return real(member, held, case_ids)

    monkeypatch.setattr(evidence, "facts_of", meanwhile)
    # In a test's one connection, what was done meanwhile goes with the try that failed.
    assert evidence.evidence_for(world.owner, said) == before
    assert len(went) == 1


def test_what_keeps_moving_is_said(db):
    tried = []

    @of_one_state
    def restless() -> None:
        tried.append(1)
        raise Moved

    with pytest.raises(Conflict, match="Others are changing this just now"):
        restless()
    assert len(tried) == 5


def test_who_looks_for_words_takes_the_state_of_things_before_the_texts_are_gone_through(world: World, monkeypatch):
    order = []

    def noted(name: str):
        inner = getattr(finding, name)
        monkeypatch.setattr(finding, name, lambda *asked: (order.append(name), inner(*asked))[1])

    for name in ("snapshot", "_by_texts"):
        noted(name)
    assert finding.hits(world.owner, finding.Asked("boat", "pattern"))["total"] == 1
    assert order[0] == "snapshot"
    assert order.count("_by_texts") == 1


@pytest.mark.parametrize("shape", ["[" * 50_000 + "]" * 50_000, '{"a":' * 50_000 + "1" + "}" * 50_000])
def test_what_is_nested_without_end_gets_a_sentence(world: World, shape: str):
    client = world.client(world.owner.account)
    for path in ("/compare/search", "/codebook", "/compare"):
        answer = client.post(world.url(path), f'{{"blocks": {shape}}}', content_type="application/json")
        assert answer.status_code == 400
        assert answer.json()["error"]
