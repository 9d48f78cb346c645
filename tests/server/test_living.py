"""The living snapshot: whatever people do, it holds what a whole reading holds; nothing damaged or of another past is used."""

import shutil
from dataclasses import fields
from pathlib import Path

import numpy as np
import pytest
from django.db import connection

from core.snapshot.snapshot import Snapshot
from server.coding import actions as coding
from server.coding.models import Code, Coding
from server.common.database import one_state
from server.compare.asking import _read_codes, codes_of
from server.gather.models import Document
from server.gather.shelf import _documents, shelf
from server.people import actions as people
from server.people.models import Case
from server.people.queries import case_names
from server.projects import revisions, trail
from server.projects.models import Membership, Project, Touched
from server.shell.forgetting import actions as forgetting
from server.snapshots import arrays, files, queries
from tests.server.conftest import bring_in, put
from tests.server.player import Player

DERIVED = ("attributions", "talks", "own_rows", "branch_rows")


def assert_as_read_whole(project_id: int, after: object = "") -> Snapshot:
    """The snapshot that is kept, compared with one read whole, in every array and every derived part."""
    held, whole = queries.snapshot(project_id), queries.load(project_id)
    assert held.revision == whole.revision
    for one in fields(whole):
        if one.name not in ("revision", "moved", "past"):
            assert_equal(getattr(held, one.name), getattr(whole, one.name), (one.name, after))
    for part in DERIVED:
        for one in fields(getattr(whole, part)):
            left, right = (getattr(getattr(each, part), one.name) for each in (held, whole))
            assert_equal(left, right, (part, one.name, after))
    return held


def assert_equal(left: np.ndarray, right: np.ndarray, what: object) -> None:
    assert left.dtype == right.dtype, what
    assert np.array_equal(left, right, equal_nan=left.dtype.kind == "f"), what


def assert_kept_is_as_read(member: Membership, held: Snapshot, after: object) -> None:
    """What is kept of the rows beside the snapshot: the shelf, people's and codes' names."""
    there = {row["id"]: row for row in shelf(member)}
    assert there.keys() == {row["id"] for row in _documents(member)}, after
    for row in _documents(member):
        assert {**there[row["id"]], **row} == there[row["id"]], after
    assert case_names(member, held) == dict(
        Case.objects.filter(project=member.project_id).values_list("id", "identifier")
    ), after
    assert codes_of(member, held) == _read_codes(member), after


@pytest.fixture
def read_whole(monkeypatch) -> list[int]:
    """How often a project was read whole."""
    read: list[int] = []
    whole = queries._whole
    monkeypatch.setattr(
        queries, "_whole", lambda project_id, revision: (read.append(revision), whole(project_id, revision))[1]
    )
    return read


@pytest.mark.parametrize("seed", range(3))
def test_whatever_people_do_the_snapshot_is_what_a_whole_reading_holds(world, seed, read_whole):
    player = Player([world.owner, world.coder], seed + 200)
    project = world.project.pk
    carried = 0
    for step in range(260):
        before = len(player.done)
        player.play(1)
        del read_whole[:]
        if step % 50 == 30:
            bring_in(world.owner, (f"new_{step}.txt", f"P1: {player.words(9)}\nNobody: {player.words(9)}"))
        if step % 150 == 100 and (case := Case.objects.filter(project=project).first()):
            forgetting.forget(world.owner, case.identifier, True, case=case.pk)
        moved = Project.objects.get(pk=project).revision != queries._kept[project].snapshot.revision if step else True
        held = assert_as_read_whole(project, (step, player.done[before:]))
        assert_kept_is_as_read(world.owner, held, (step, player.done[before:]))
        # To compare, it is read whole once.
        carried += moved and len(read_whole) == 1
    assert carried > 60
    assert len(set(player.done)) > 30


def test_undoing_and_doing_again_are_carried_on(world, read_whole):
    pier = Document.objects.get(title="P1_pier")
    put(world.coder, pier, "I waited", Code.objects.get(name="Late"))
    assert_as_read_whole(world.project.pk)
    for step in (trail.undo, trail.redo, trail.undo):
        assert step(world.coder) is not None
        del read_whole[:]
        assert_as_read_whole(world.project.pk, step)
        assert len(read_whole) == 1


def test_several_revisions_at_once_are_carried_on(world, read_whole):
    queries.snapshot(world.project.pk)
    home, late = Code.objects.get(name="Home"), Code.objects.get(name="Late")
    coding.merge_codes(world.owner, home.pk, [late.pk])
    people.rename_case(world.owner, Case.objects.get(identifier="P1").pk, "Zoe")
    coding.create_code(world.owner, "Wind", home.pk)
    trail.undo(world.owner)
    del read_whole[:]
    held = assert_as_read_whole(world.project.pk)
    assert len(read_whole) == 1
    past, people_moved = held.since("people.case")
    assert held.since("coding.code") == (past, held.revision) == held.since("")
    assert held.since("gather.")[1] < people_moved < held.revision
    assert held.since("coding.passage")[1] < people_moved


def test_what_went_by_unseen_is_read_whole(world, read_whole):
    queries.snapshot(world.project.pk)
    put(world.owner, Document.objects.get(title="P1_pier"), "I waited", Code.objects.get(name="Late"))
    Touched.objects.filter(project=world.project).delete()
    del read_whole[:]
    assert_as_read_whole(world.project.pk)
    assert len(read_whole) == 2


def test_a_revision_that_was_never_kept_isnt_taken_for_the_one_that_was(world):
    """What a transaction wrote and then took back, another may have counted by."""
    pier, late = Document.objects.get(title="P1_pier"), Code.objects.get(name="Late")
    with pytest.raises(ZeroDivisionError), one_state():
        put(world.owner, pier, "I waited", late)
        assert len(queries.snapshot(world.project.pk).coding_ids) == 4
        raise ZeroDivisionError
    put(world.owner, pier, "walked", late)
    held = assert_as_read_whole(world.project.pk)
    assert len(held.coding_ids) == 4
    assert Coding.objects.filter(pk__in=held.coding_ids.tolist()).count() == 4


def test_long_chains_are_shortened(world, monkeypatch):
    monkeypatch.setattr(revisions, "KEPT", 5)
    project = Project.objects.get(pk=world.project.pk)
    for _ in range(110):
        revisions.raise_revision(project, {})
    assert Touched.objects.filter(project=project).count() <= 5 + 100
    assert Touched.objects.filter(project=project, revision=project.revision).exists()


def test_many_scattered_rows_are_read_whole_rather_than_written_down():
    rows = revisions.touched_by([{"do": "delete", "model": "coding.coding", "ids": list(range(0, 20_000, 2))}])
    assert rows == {"coding.coding": None}
    rows = revisions.touched_by([{"do": "delete", "model": "coding.coding", "ids": list(range(20_000))}])
    assert rows == {"coding.coding": [[0, 19_999]]}
    steps = [
        {"do": "delete", "model": "coding.coding", "spans": [[5, 9], [20, 30]]},
        {"do": "update", "model": "coding.coding", "id": 10},
        {"do": "insert", "model": "coding.coding", "rows": [{"id": 7}, {"id": 31}]},
        {"do": "swept", "model": "coding.passage"},
    ]
    assert revisions.touched_by(steps) == {"coding.coding": [[5, 10], [20, 31]], "coding.passage": None}


@pytest.fixture
def filed(world, settings, tmp_path, monkeypatch) -> Path:
    """The project's snapshot in a file, and nothing of it in memory: as a process that starts finds it."""
    settings.SNAPSHOT_FOLDER, settings.TEMPORARY_FOLDER = tmp_path / "snapshots", tmp_path / "tmp"
    monkeypatch.setattr(files, "_written", {})
    held = queries.snapshot(world.project.pk)
    files.write(world.project.pk, held, queries._now(world.project.pk)[1])
    queries.forget()
    (folder,) = files._folders(world.project.pk)
    return folder


def test_a_process_that_starts_reads_the_file_and_carries_it_on(world, filed, read_whole):
    queries.snapshot(world.project.pk)
    assert read_whole == []
    queries.forget()
    put(world.owner, Document.objects.get(title="P1_pier"), "I waited", Code.objects.get(name="Late"))
    held = queries.snapshot(world.project.pk)
    assert read_whole == []
    assert all(held.has(part) for part in DERIVED)
    assert_as_read_whole(world.project.pk)
    files.write(world.project.pk, held, queries._now(world.project.pk)[1])
    (newer,) = files._folders(world.project.pk)
    assert newer.name.startswith(f"{held.revision}-")
    assert not filed.exists()


@pytest.mark.parametrize("how", ["a bit", "cut short", "one gone", "no list", "another form", "code in it"])
def test_a_damaged_file_is_never_used(world, filed, read_whole, how):
    array = filed / "coding_passage.npy"
    content = bytearray(array.read_bytes())
    if how == "a bit":
        content[-1] ^= 1
        array.write_bytes(content)
    elif how == "cut short":
        array.write_bytes(content[:-6])
    elif how == "one gone":
        array.unlink()
    elif how == "no list":
        (filed / "list.json").write_text("{")
    elif how == "another form":
        (filed / "list.json").write_text(
            (filed / "list.json").read_text().replace(f'"form": {files.FORM}', '"form": 0')
        )
    else:
        np.save(array, np.array([{"an": "object"}]), allow_pickle=True)
    held = queries.snapshot(world.project.pk)
    assert len(read_whole) == 1
    assert not filed.exists()
    assert held.coding_passage.tolist() == queries.load(world.project.pk).coding_passage.tolist()


def test_a_file_of_a_past_that_a_backup_took_back_isnt_used(world, filed, read_whole):
    """The same revision, reached twice by different ways."""
    Touched.objects.filter(project=world.project).update(mark="00000000-0000-4000-8000-000000000001")
    assert_as_read_whole(world.project.pk)
    assert len(read_whole) == 2


@pytest.mark.parametrize("further", [1, 2, 7])
def test_a_file_of_a_later_revision_than_there_is_any_more_isnt_used(world, filed, read_whole, further):
    """A backup has taken the project back behind the file, or its number is another project’s by now."""
    revision, _, mark = filed.name.partition("-")
    filed.rename(filed.with_name(f"{int(revision) + further}-{mark}"))
    assert_as_read_whole(world.project.pk)
    assert len(read_whole) == 2


def test_files_are_bounded_and_go_with_what_is_forgotten(world, filed, settings):
    other = Path(settings.SNAPSHOT_FOLDER) / "999"
    shutil.copytree(filed.parent, other)
    settings.SNAPSHOT_DISK = 1
    put(world.owner, Document.objects.get(title="P1_pier"), "I waited", Code.objects.get(name="Late"))
    files.write(world.project.pk, queries.snapshot(world.project.pk), queries._now(world.project.pk)[1])
    assert not other.exists()
    assert files._folders(world.project.pk)
    forgetting.forget(world.owner, "P1", True, case=Case.objects.get(identifier="P1").pk)
    assert not files._folders(world.project.pk)
    assert not Touched.objects.filter(project=world.project, rows__isnull=False).exists()


def test_a_full_disk_hinders_nobody(world, filed, monkeypatch, caplog):
    def full(*_: object, **__: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(arrays.np, "save", full)
    put(world.owner, Document.objects.get(title="P1_pier"), "I waited", Code.objects.get(name="Late"))
    held = queries.snapshot(world.project.pk)
    files._kept_beside(world.project.pk, held, queries._now(world.project.pk)[1])
    assert "wasn’t written" in caplog.text
    assert [one.name for one in files._folders(world.project.pk)] == [filed.name]
    assert_as_read_whole(world.project.pk)


def test_who_sees_an_older_state_is_told_to_ask_again(world, monkeypatch):
    held = queries.snapshot(world.project.pk)
    with connection.cursor() as cursor:
        cursor.execute("SAVEPOINT before")
        put(world.owner, Document.objects.get(title="P1_pier"), "I waited", Code.objects.get(name="Late"))
        queries.snapshot(world.project.pk)
        cursor.execute("ROLLBACK TO before")
    with pytest.raises(queries.Moved):
        queries.snapshot(world.project.pk)
    queries.forget()
    assert queries.snapshot(world.project.pk).revision == held.revision
