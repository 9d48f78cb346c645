"""Bytes outside the database: what nothing refers to goes, what something does stays; nothing is left lying about."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import psycopg
import pytest
from django.conf import settings
from django.db import connection

from server.common import folders
from server.gather import media, queries
from server.gather.models import Document, Medium, StagedFile
from server.imports import actions as imports
from server.imports import jobs as importing
from server.imports.actions import staging
from server.projects.models import Project
from server.projects.trail import act, redo, undo
from tests.server.conftest import World, read_here, upload
from tests.server.test_material import picture


@pytest.fixture
def pictured(empty: World, monkeypatch: pytest.MonkeyPatch) -> World:
    monkeypatch.setattr(staging, "read_files", read_here)
    return empty


def kept() -> set[str]:
    return {path.name for path in Path(settings.MEDIA_FOLDER).glob("??/*")}


def with_picture(world: World) -> Document:
    """A document with one medium, whose making can be undone."""
    path = Path(settings.MEDIA_FOLDER).parent / "bytes"
    path.write_bytes(os.urandom(64))
    digest = media.keep(path)
    with act(world.owner, "material.bring_in") as change:
        document = change.create(Document(project=world.project, title="Notice", text="", length=0, words=0))
        change.create(Medium(document=document, role="picture", digest=digest, content_type="image/webp"))
        change.summary = "Brought in a notice"
    return document


def long_ago() -> None:
    for path in Path(settings.MEDIA_FOLDER).glob("??/*"):
        os.utime(path, (0, 0))


def test_discarding_takes_all_that_was_kept_for_a_file(pictured: World):
    (row,) = imports.stage(pictured.owner, [upload("notice.png", picture())])
    assert len(kept()) == 2
    imports.discard_staged(pictured.owner, queries.staged(pictured.owner).filter(pk=row.pk))
    assert kept() == set()


def test_bytes_that_two_files_share_stay_for_the_other(pictured: World):
    rows = imports.stage(pictured.owner, [upload("notice.png", picture()), upload("copy.png", picture())])
    before = kept()
    imports.discard_staged(pictured.owner, StagedFile.objects.filter(pk=rows[0].pk))
    assert kept() == before
    imports.discard_staged(pictured.owner, StagedFile.objects.filter(pk=rows[1].pk))
    assert kept() == set()


def test_deleting_a_project_takes_its_media_along_and_leaves_those_of_others(pictured: World):
    with_picture(pictured)
    elsewhere = with_picture(World(*[Project.objects.get(name="Elsewhere").memberships.get()] * 3, pictured.stranger))
    (digest,) = elsewhere.media.values_list("digest", flat=True)
    imports.stage(pictured.owner, [upload("notice.png", picture())])
    client = pictured.client(pictured.owner.account)
    assert client.post(pictured.url("/delete"), {"name": "Another"}, format="json").status_code == 400
    assert len(kept()) == 4
    assert client.post(pictured.url("/delete"), {"name": "Crossings"}, format="json").status_code == 204
    assert kept() == {digest}


def test_what_undoing_would_bring_back_stays_until_it_cant(pictured: World):
    with_picture(pictured)
    undo(pictured.owner)
    assert not Medium.objects.exists()
    long_ago()
    assert media.sweep() == 0
    assert media.forget(kept()) == 0
    redo(pictured.owner)
    assert kept() == {Medium.objects.get().digest}
    undo(pictured.owner)
    with act(pictured.owner, "test.other") as change:
        change.update(pictured.project, name="Something else was done")
    assert media.sweep() == 1
    assert kept() == set()


def test_sweeping_leaves_what_is_new_and_takes_what_is_old(pictured: World):
    fresh = Path(settings.MEDIA_FOLDER).parent / "fresh"
    fresh.write_bytes(b"its row comes in a moment")
    digest = media.keep(fresh)
    pages = media.pages_of(media.path_of(digest))
    pages.mkdir()
    (media.path_of(digest).parent / "coming-half").write_bytes(b"half")
    assert media.sweep() == 0
    long_ago()
    again = Path(settings.MEDIA_FOLDER).parent / "again"
    again.write_bytes(b"its row comes in a moment")
    media.keep(again)
    # Brought in once more, it is new; the half file and the pages of nothing are old.
    os.utime(pages)
    assert media.sweep() == 1
    assert digest in kept()
    long_ago()
    assert media.sweep() == 2
    assert kept() == set()


def test_nothing_goes_while_a_backup_is_being_made(pictured: World):
    (row,) = imports.stage(pictured.owner, [upload("notice.png", picture())])
    at = connection.settings_dict
    with psycopg.connect(
        host=at["HOST"], port=at["PORT"], user=at["USER"], password=at["PASSWORD"], dbname=at["NAME"]
    ) as other:
        other.execute("SELECT pg_advisory_lock_shared(%s, 0)", [media._LOCK])
        imports.discard_staged(pictured.owner, StagedFile.objects.filter(pk=row.pk))
        long_ago()
        assert media.sweep() == 0
        assert len(kept()) == 2
        # Said, not left to the line's end: of that the database hears when it hears of it.
        other.execute("SELECT pg_advisory_unlock_shared(%s, 0)", [media._LOCK])
    assert media.sweep() == 2


def held() -> bool:
    """Whether somebody sees to it that no bytes go."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT count(*) FROM pg_locks WHERE locktype = 'advisory' AND classid = %s AND granted", [media._LOCK]
        )
        return bool(cursor.fetchone()[0])


def test_nobody_lets_bytes_go_between_their_coming_and_the_row_that_names_them(pictured: World, monkeypatch):
    seen = []
    real = media.keep
    monkeypatch.setattr(staging.media, "keep", lambda path: seen.append(held()) or real(path))
    imports.stage(pictured.owner, [upload("notice.png", picture())])
    assert seen
    assert all(seen)
    # An import's own rows are seen by nobody before it commits.
    monkeypatch.setattr(importing.running, "run", lambda *_: seen.append(held()))
    importing.bring_in_task(1)
    assert seen[-1]
    assert not held()


def test_what_a_killed_process_left_is_swept_and_what_one_at_work_holds_is_not(tmp_path: Path, settings):
    settings.TEMPORARY_FOLDER = tmp_path / "tmp"
    code = (
        "import sys, django; from django.conf import settings; django.setup();"
        f"settings.TEMPORARY_FOLDER = {str(tmp_path / 'tmp')!r};"
        "from server.common.folders import temporary_folder\n"
        "with temporary_folder('reading') as folder:\n"
        "    (folder / 'words').write_text('of an interview'); print(folder, flush=True); sys.stdin.read()"
    )
    at_work = [
        subprocess.Popen([sys.executable, "-c", code], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        for _ in range(2)
    ]
    places = [Path(one.stdout.readline().strip()) for one in at_work]
    at_work[0].send_signal(signal.SIGKILL)
    at_work[0].wait()
    upload_ = tmp_path / "tmp" / "tmpabc.upload.txt"
    upload_.write_text("broken off")
    assert folders.sweep() == 1
    assert [place.exists() for place in places] == [False, True]
    os.utime(upload_, (time.time() - 7200,) * 2)
    assert folders.sweep() == 1
    at_work[1].communicate("")
    assert not list((tmp_path / "tmp").iterdir())


def test_temporary_files_of_all_kinds_lie_in_the_data_folder():
    import tempfile

    assert Path(tempfile.gettempdir()) == settings.TEMPORARY_FOLDER
    assert Path(os.environ["TMPDIR"]) == settings.TEMPORARY_FOLDER
    with tempfile.NamedTemporaryFile() as file:
        assert Path(file.name).parent == settings.TEMPORARY_FOLDER
