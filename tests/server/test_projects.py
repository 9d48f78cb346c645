"""Projects, members, passwords, the status and the trail over HTTP."""

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from server.people.models import Case, Value, Variable
from server.projects import running, trail
from server.projects.models import Account, Job, JobState, Membership, Project
from server.projects.rows import rows_of


@pytest.fixture
def owner(world):
    return world.client(world.owner.account)


def test_making_a_project_makes_its_owner(world):
    client = world.client(world.stranger)
    made = client.post(
        "/api/projects", {"name": " Trials ", "case_one": "site", "case_many": "sites"}, format="json"
    ).json()
    assert (made["name"], made["case_one"], made["role"]) == ("Trials", "site", "owner")
    assert Project.objects.visible_to(world.stranger).count() == 2
    assert client.post("/api/projects", {"name": "  "}, format="json").status_code == 400


def test_changing_the_words_for_a_case_can_be_undone(world, owner):
    changed = owner.patch(world.url(), {"case_one": "household", "case_many": "households"}, format="json").json()
    assert changed["case_many"] == "households"
    owner.post(world.url("/undo"))
    assert owner.get(world.url()).json()["case_many"] == "people"
    refused = owner.patch(world.url(), {"name": " "}, format="json")
    assert refused.status_code == 400


def test_deleting_a_project_needs_its_name(world, owner):
    assert owner.post(world.url("/delete"), {"name": "Crossing"}, format="json").status_code == 400
    assert Project.objects.filter(pk=world.project.pk).exists()
    assert owner.post(world.url("/delete"), {"name": "Crossings"}, format="json").status_code == 204
    assert not Project.objects.filter(pk=world.project.pk).exists()


def test_a_project_goes_whole_and_by_no_list_of_its_people(world, owner):
    many = Case.objects.bulk_create(Case(project=world.project, identifier=f"more {n}") for n in range(3000))
    age = Variable.objects.create(project=world.project, name="Age of many", kind="number", position=90)
    Value.objects.bulk_create(Value(case=case, variable=age, number=40) for case in many)
    other = Project.objects.create(name="Another")
    Case.objects.create(project=other, identifier="stays")
    with CaptureQueriesContext(connection) as asked:
        assert owner.post(world.url("/delete"), {"name": "Crossings"}, format="json").status_code == 204
    assert [rows.model for rows in rows_of(world.project.pk) if rows.exists()] == []
    assert not Value.objects.filter(case__in=many).exists()
    assert Case.objects.get().project == other
    assert max(len(one["sql"]) for one in asked) < 5_000


def test_adding_members(world, owner):
    known = owner.post(world.url("/members"), {"username": "STRANGER", "role": "viewer"}, format="json")
    assert known.json()["account"]["username"] == "stranger"
    again = owner.post(world.url("/members"), {"username": "stranger", "role": "coder"}, format="json")
    assert again.status_code == 409
    nobody = owner.post(world.url("/members"), {"username": "newcomer", "role": "coder"}, format="json")
    assert "Give a first password" in nobody.json()["error"]
    weak = owner.post(
        world.url("/members"), {"username": "newcomer", "role": "coder", "password": "12345"}, format="json"
    )
    assert weak.status_code == 400
    said = {"username": "newcomer", "role": "coder", "password": "by the grey pier", "display_name": "New Comer"}
    made = owner.post(world.url("/members"), said, format="json").json()
    assert made["account"]["initials"] == "NC"
    assert Account.objects.get(username="newcomer").check_password("by the grey pier")


def test_a_member_removed_sees_nothing_any_more(world, owner):
    member = Membership.objects.get(account=world.viewer.account)
    assert owner.delete(world.url(f"/members/{member.pk}")).status_code == 204
    assert world.client(world.viewer.account).get(world.url()).status_code == 404


def test_the_last_owner_stays(world, owner):
    answer = owner.delete(world.url(f"/members/{world.owner.pk}"))
    assert "needs an owner" in answer.json()["error"]
    assert Membership.objects.filter(pk=world.owner.pk).exists()


def test_the_status_says_how_far_along_each_step_is(world, owner):
    status = owner.get(world.url("/status")).json()
    figures = {name: status[name] for name in ("documents", "cases", "linked_cases", "codings", "codes", "staged")}
    assert figures == {"documents": 2, "cases": 3, "linked_cases": 2, "codings": 3, "codes": 3, "staged": 0}
    assert status["undo"].startswith("Put Home on")
    assert status["redo"] is None


def test_the_trail_tells_who_did_what(world, owner):
    owner.post(world.url("/undo"))
    entries = owner.get(world.url("/trail")).json()
    assert entries[0]["actor"] == "Coder"
    assert entries[1]["undone"]
    assert [entry["revision"] for entry in entries] == sorted((entry["revision"] for entry in entries), reverse=True)
    assert owner.get(world.url("/status")).json()["redo"].startswith("Put Home on")


def test_undo_with_nothing_to_undo_is_calm(empty):
    client = empty.client(empty.coder.account)
    assert client.post(empty.url("/undo")).json() == {"summary": None, "job": None}
    assert client.post(empty.url("/redo")).json() == {"summary": None, "job": None}


def test_a_waiting_job_is_cancelled_at_once_and_never_runs(world, owner):
    job = Job.objects.create(project=world.project, account=world.owner.account, title="t")
    assert owner.delete(world.url(f"/jobs/{job.pk}")).status_code == 204
    running.run(job.pk, lambda job, progress: pytest.fail("a cancelled job ran"))
    assert owner.get(world.url(f"/jobs/{job.pk}")).json()["state"] == "cancelled"


def test_a_job_that_goes_wrong_says_so_and_writes_nothing(world):
    def work(job, progress):
        Project.objects.create(name="half")
        raise ValueError("a detail of no use")

    job = Job.objects.create(project=world.project, account=world.owner.account, title="t")
    running.run(job.pk, work)
    job.refresh_from_db()
    assert job.state == JobState.FAILED
    assert "Nothing was written" in job.message
    assert "detail" not in job.message
    assert not Project.objects.filter(name="half").exists()


def test_an_action_that_changes_nothing_leaves_no_trail(world):
    revision = Project.objects.get(pk=world.project.pk).revision
    with trail.act(world.owner, "test.nothing"):
        pass
    assert Project.objects.get(pk=world.project.pk).revision == revision


def test_an_action_that_fails_leaves_nothing(world):
    revision = Project.objects.get(pk=world.project.pk).revision

    def fails():
        with trail.act(world.owner, "test.half") as change:
            change.update(Project.objects.get(pk=world.project.pk), name="Half")
            raise RuntimeError

    with pytest.raises(RuntimeError):
        fails()
    project = Project.objects.get(pk=world.project.pk)
    assert (project.revision, project.name) == (revision, "Crossings")


def test_bad_requests_get_a_sentence(world, owner):
    for path, body in (
        ("/codebook", {}),
        ("/codebook", {"name": "x" * 500}),
        ("/codebook", {"name": "x", "colour": 99}),
        ("/compare", {"codes": "all", "variable": 1}),
        ("/compare", {"codes": [], "variable": "x"}),
    ):
        answer = owner.post(world.url(path), body, format="json")
        assert answer.status_code == 400
        assert isinstance(answer.json()["error"], str)
    assert owner.get("/api/no/such/thing").json() == {"error": "There is no such address in the API."}
