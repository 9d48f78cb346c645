"""Long work beside others' writes: nobody waits for it, it rests on what is so when it ends, and it stops when asked."""

import threading

import pytest
from django.db import connection, connections
from django.test.utils import CaptureQueriesContext

from server.coding import actions as coding
from server.coding.models import Code, Coding, Passage
from server.gather.models import Document, Speaker, Turn
from server.imports import actions as imports
from server.imports import jobs as importing
from server.people.actions import cases as people
from server.people.models import Case, Variable
from server.projects import jobs as turning
from server.projects import running, steps, trail
from server.projects.models import Job, JobState, TrailEntry
from tests.server.conftest import SHEET, TALK, World, bring_in, read_here, upload

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture(autouse=True)
def _read_here(monkeypatch):
    from server.imports.actions import staging

    monkeypatch.setattr(staging, "read_files", read_here)


def meanwhile(work) -> None:
    """Somebody else does this now, over a connection of their own, and must be done before we go on."""
    problems: list[BaseException] = []

    def run() -> None:
        try:
            work()
        except BaseException as problem:
            problems.append(problem)
        finally:
            connections.close_all()

    other = threading.Thread(target=run)
    other.start()
    other.join(20)
    assert not other.is_alive(), "somebody else waits for long work"
    if problems:
        raise problems[0]


def once(monkeypatch, where, name: str, first) -> list[int]:
    """``first`` happens before the first call of this function; the list has an entry for each call."""
    real, calls = getattr(where, name), []

    def called(*asked, **more):
        calls.append(1)
        if len(calls) == 1:
            meanwhile(first)
        return real(*asked, **more)

    monkeypatch.setattr(where, name, called)
    return calls


def start(world: World) -> Job:
    job = Job.objects.create(project=world.project, account=world.owner.account, title="t")
    running.run(job.pk, importing.bring_in)
    job.refresh_from_db()
    return job


def test_others_write_while_an_import_is_under_way_and_see_nothing_of_it(empty, monkeypatch):
    seen = []

    def write() -> None:
        coding.create_code(empty.coder, "Made meanwhile", None)
        seen.append((Document.objects.count(), TrailEntry.objects.count()))

    imports.stage(empty.owner, [upload("talk.txt", TALK)])
    # What points to the project is judged, and so has the project in hand, before others write.
    monkeypatch.setattr(importing, "SETTLED", 1)
    once(monkeypatch, importing.actions, "link_sure_speakers", write)
    assert start(empty).state == JobState.DONE
    assert seen == [(0, 1)]
    entries = list(TrailEntry.objects.order_by("revision").values_list("revision", "verb"))
    assert entries == [(1, "code.create"), (2, "material.bring_in")]


def test_what_an_import_rests_on_is_looked_at_again_where_it_moved(empty, monkeypatch):
    """The person who speaks is made by hand after it was looked who is who: found all the same."""
    imports.stage(empty.owner, [upload("P1.txt", TALK)])
    linked, real = [], importing.actions.link_sure_speakers

    def then_made(*asked):
        linked.append(real(*asked))
        if len(linked) == 1:
            meanwhile(lambda: people.add_case(empty.coder, "P1"))
        return linked[-1]

    monkeypatch.setattr(importing.actions, "link_sure_speakers", then_made)
    job = start(empty)
    assert (job.state, job.message) == (JobState.DONE, "Brought in 1 document, 1 speaker linked.")
    assert linked == [0, 1]
    assert Speaker.objects.get(role="participant").case.identifier == "P1"
    trail.undo(empty.owner)
    assert list(Case.objects.values_list("identifier", flat=True)) == ["P1"]


def test_what_a_try_wrote_is_gone_before_the_next(empty, monkeypatch):
    imports.stage(empty.owner, [upload("people.csv", SHEET)])
    calls = once(monkeypatch, importing.actions, "link_sure_speakers", lambda: people.add_case(empty.coder, "X1"))
    job = start(empty)
    assert (job.state, len(calls)) == (JobState.DONE, 2), job.message
    assert "3 new people" in job.message
    trail.undo(empty.owner)
    assert list(Case.objects.values_list("identifier", flat=True)) == ["X1"]
    assert not Variable.objects.exists()


def test_the_third_try_holds_the_project(empty, monkeypatch):
    imports.stage(empty.owner, [upload("people.csv", SHEET)])
    tries, real = [], importing.actions.link_sure_speakers

    def restless(*asked):
        tries.append(1)
        if len(tries) < 3:
            meanwhile(lambda: people.add_case(empty.coder, f"X{len(tries)}"))
        return real(*asked)

    monkeypatch.setattr(importing.actions, "link_sure_speakers", restless)
    assert start(empty).state == JobState.DONE
    assert len(tries) == 3


def test_whoever_needs_a_row_that_long_work_has_in_hand_is_told_at_once(empty, monkeypatch):
    """And doesn't keep everybody else waiting behind them."""
    bring_in(empty.owner, ("people.csv", SHEET), ("P1.txt", TALK))
    document, refused = Document.objects.get(title="P1"), []

    def write() -> None:
        client = empty.client(empty.coder.account)
        answer = client.patch(empty.url(f"/documents/{document.pk}"), {"title": "Another"}, format="json")
        refused.append((answer.status_code, answer.json().get("error", "")))
        coding.create_code(empty.coder, "Elsewhere", None)

    real = trail._carry_out

    def carried(*asked):
        real(*asked)
        if not refused:
            meanwhile(write)

    monkeypatch.setattr(trail, "_carry_out", carried)
    monkeypatch.setattr(trail, "BESIDE", 0)
    trail.undo(empty.owner)
    assert refused == [(503, "Others are at work on just this. Nothing was kept; try again in a moment.")]
    assert Code.objects.filter(name="Elsewhere").exists()
    assert not Document.objects.exists()
    # They went on meanwhile, not its actor: it can be done again.
    trail.redo(empty.owner)
    assert Document.objects.get().title == "P1"


def test_undoing_beside_leaves_what_others_put_on_it_meanwhile(empty, monkeypatch):
    bring_in(empty.owner, ("P1.txt", TALK))
    document = Document.objects.get(title="P1")
    code = coding.create_code(empty.coder, "Late", None)
    monkeypatch.setattr(trail, "BESIDE", 0)
    once(monkeypatch, trail, "_carry_out", lambda: coding.apply_codes(empty.coder, document.pk, 0, 20, [code.pk]))
    with pytest.raises(trail.Conflict, match=r"\(1 passage and 1 coding\).*stays"):
        trail.undo(empty.owner)
    assert Document.objects.filter(pk=document.pk).exists()
    assert Coding.objects.count() == Passage.objects.count() == 1
    assert TrailEntry.objects.get(verb="material.bring_in").state == "stays"


def test_much_is_taken_back_by_a_job(empty, monkeypatch):
    bring_in(empty.owner, ("P1.txt", TALK))
    monkeypatch.setattr(turning, "QUEUED", 3)
    deferred = []
    monkeypatch.setattr(turning.turn_task, "defer", lambda **asked: deferred.append(asked))
    client = empty.client(empty.owner.account)
    for path, state, left in (("/undo", "Taken back", 0), ("/redo", "Done again", 1)):
        turned = client.post(empty.url(path)).json()
        assert turned["summary"] is None
        assert turned["job"]["state"] == "waiting"
        # A second press, or another's work of the same person, doesn't begin it twice.
        again = client.post(empty.url(path))
        assert again.status_code == 409
        assert "under way" in again.json()["error"]
        turning.turn_task(**deferred.pop())
        job = Job.objects.get(pk=turned["job"]["id"])
        assert (job.state, job.message) == (JobState.DONE, f"{state}: Brought in 1 document")
        assert Document.objects.count() == left


def test_a_job_that_cant_take_back_says_so_and_it_stands_aside(empty, monkeypatch):
    bring_in(empty.owner, ("P1.txt", TALK))
    code = coding.create_code(empty.coder, "Late", None)
    coding.apply_codes(empty.coder, Document.objects.get().pk, 0, 20, [code.pk])
    monkeypatch.setattr(turning, "QUEUED", 3)
    deferred = []
    monkeypatch.setattr(turning.turn_task, "defer", lambda **asked: deferred.append(asked))
    job = turning.queued(empty.owner, trail.TrailState.UNDONE)
    turning.turn_task(**deferred.pop())
    job.refresh_from_db()
    assert job.state == JobState.FAILED
    assert "(1 passage and 1 coding)" in job.message
    assert TrailEntry.objects.get(verb="material.bring_in").state == "stays"
    assert Document.objects.exists()


def test_a_statement_that_takes_long_ends_when_the_job_is_to_stop(empty, monkeypatch):
    monkeypatch.setattr(running, "LOOKED", 0.05)
    job = Job.objects.create(project=empty.project, account=empty.owner.account, title="t")
    asked = threading.Event()

    def work(job: Job, progress: running.Progress) -> str:
        Code.objects.create(project=empty.project, name="Half", colour=1)
        asked.set()
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_sleep(120)")
        return "done"

    def ask() -> None:
        asked.wait(20)
        running.cancel(empty.coder, job.pk)
        connections.close_all()

    other = threading.Thread(target=ask)
    other.start()
    running.run(job.pk, work)
    other.join()
    job.refresh_from_db()
    assert (job.state, job.message) == (JobState.CANCELLED, "Cancelled; nothing was written.")
    assert not Code.objects.exists()


def test_what_is_too_much_to_be_kept_goes_and_says_it_cant_be_done_again(empty, monkeypatch):
    bring_in(empty.owner, ("P1.txt", TALK))
    monkeypatch.setattr(steps, "MOST_LETTERS", 10)
    trail.undo(empty.owner)
    assert not Document.objects.exists()
    assert not Turn.objects.exists()
    assert not Speaker.objects.exists()
    assert trail.last_undone(empty.owner) is None


def test_asking_how_far_all_is_reads_no_entry_whole(empty):
    """Every open page asks, and an entry may hold a thousand documents."""
    bring_in(empty.owner, ("P1.txt", TALK))
    with CaptureQueriesContext(connection) as asked:
        assert empty.client(empty.owner.account).get(empty.url("/status")).json()["undo"] == "Brought in 1 document"
    assert asked.captured_queries
    assert not [one for one in asked.captured_queries if '"inverse"' in one["sql"]]
