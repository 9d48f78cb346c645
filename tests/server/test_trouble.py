"""A disk that is full, a database that is away: a sentence as JSON, nothing half-kept, and whether all is well can be asked."""

import errno
import os
import shutil
import subprocess
from pathlib import Path

import psycopg
import pytest
from django.conf import settings
from django.db import InterfaceError, OperationalError, connection, connections
from django.http import HttpResponse
from django.test import RequestFactory
from rest_framework.test import APIClient

from server.common.trouble import trouble_of
from server.common.unread import Unread
from server.gather import media
from server.gather.models import StagedFile
from server.imports.actions import staging
from server.shell import health, queries
from tests.server.conftest import World, read_here, upload
from tests.server.test_material import picture

ERRORS = psycopg.errors


@pytest.mark.parametrize(("status", "left"), [(200, 3_000_000), (403, 0), (507, 0)])
def test_a_refusal_is_given_when_the_sender_has_said_all(status: int, left: int):
    """Else the connection closes on what is still coming, and nobody hears why. An answer that has read what it wants is as it was."""
    request = RequestFactory().post("/", b"x" * 3_000_000, "text/plain")
    Unread(lambda _: HttpResponse(status=status))(request)
    assert len(request.read()) == left


def caused(error: Exception) -> OperationalError:
    try:
        raise OperationalError("as Django wraps it") from error
    except OperationalError as wrapped:
        return wrapped


@pytest.mark.parametrize(
    ("error", "status", "said"),
    [
        (OSError(errno.ENOSPC, "No space left on device"), 507, "disk is full"),
        (caused(ERRORS.DiskFull("no space")), 507, "disk is full"),
        (caused(ERRORS.AdminShutdown("restarting")), 503, "can’t be reached"),
        (caused(ERRORS.TooManyConnections("60 already")), 503, "can’t be reached"),
        (caused(psycopg.OperationalError("server closed the connection")), 503, "can’t be reached"),
        (InterfaceError("connection already closed"), 503, "can’t be reached"),
        (caused(ERRORS.LockNotAvailable("lock timeout")), 503, "Others are at work"),
        (caused(ERRORS.QueryCanceled("statement timeout")), 503, "Others are at work"),
        (caused(ERRORS.DeadlockDetected("deadlock")), 503, "Others are at work"),
    ],
)
def test_what_goes_wrong_with_the_machine_has_a_sentence(error: Exception, status: int, said: str):
    found = trouble_of(error)
    assert found is not None
    assert found.status == status
    assert said in found.sentence


@pytest.mark.parametrize(
    "error", [None, ValueError("x"), OSError(errno.EACCES, "x"), caused(ERRORS.UndefinedTable("x"))]
)
def test_anything_else_is_no_trouble_of_the_machine(error: Exception | None):
    assert trouble_of(error) is None


@pytest.mark.parametrize("path", ["/api/projects", "/api/session", "/api/projects/1/status"])
def test_a_database_that_is_away_is_said_as_json_wherever_it_is_missed(empty: World, path: str, monkeypatch):
    client = empty.client(empty.owner.account)
    client.raise_request_exception = False

    def away(*args: object, **kwargs: object) -> None:
        raise caused(psycopg.OperationalError("connection refused"))

    with monkeypatch.context() as meanwhile:
        meanwhile.setattr(type(connections["default"]), "cursor", away)
        answer = client.get(path)
    assert answer.status_code == 503
    assert answer.headers["Retry-After"] == "5"
    assert "can’t be reached" in answer.json()["error"]


def test_any_other_error_is_json_too(empty: World, monkeypatch):
    client = empty.client(empty.owner.account)
    client.raise_request_exception = False

    def broken(*args: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(queries, "status", broken)
    answer = client.get(empty.url("/status"))
    assert answer.status_code == 500
    assert "it is noted in the server’s log" in answer.json()["error"]


@pytest.fixture
def small_disk(tmp_path: Path, settings):
    """A disk of one megabyte that holds the media."""
    folder = tmp_path / "small"
    folder.mkdir()
    if (
        os.getuid() != 0
        or subprocess.run(["mount", "-t", "tmpfs", "-o", "size=1m", "none", str(folder)], check=False).returncode
    ):
        pytest.skip("no disk of its own can be made here")
    settings.MEDIA_FOLDER = folder / "media"
    yield folder
    subprocess.run(["umount", str(folder)], check=True)


def test_a_full_disk_refuses_an_upload_whole(empty: World, small_disk: Path, monkeypatch):
    monkeypatch.setattr(staging, "read_files", read_here)
    client = empty.client(empty.owner.account)
    (small_disk / "others").write_bytes(os.urandom(1_000_000))
    answer = client.post(empty.url("/staged"), {"files": [upload("noise.png", noise())]}, format="multipart")
    assert answer.status_code == 507
    assert "disk is full: nothing was kept" in answer.json()["error"]
    assert not StagedFile.objects.exists()
    assert [path for path in (small_disk / "media").rglob("*") if path.is_file() and path.name != ".lock"] == []
    (small_disk / "others").unlink()
    again = client.post(empty.url("/staged"), {"files": [upload("noise.png", noise())]}, format="multipart")
    assert again.status_code == 200
    assert StagedFile.objects.get().problem == ""


def noise() -> bytes:
    """A picture that can't be pressed small."""
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.frombytes("RGB", (300, 200), os.urandom(300 * 200 * 3)).save(out, "PNG")
    return out.getvalue()


def test_bytes_that_break_off_on_the_way_leave_nothing(tmp_path: Path, monkeypatch):
    source = tmp_path / "source"
    source.write_bytes(picture())

    def full(_: object, target: str) -> None:
        Path(target).write_bytes(b"half")
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(shutil, "move", full)
    with pytest.raises(OSError, match="No space"):
        media.keep(source)
    assert [path for path in Path(settings.MEDIA_FOLDER).rglob("*") if path.is_file()] == [
        Path(settings.MEDIA_FOLDER) / ".lock"
    ]


def test_living_is_told_from_being_ready(db, monkeypatch):
    client = APIClient()
    assert client.get("/api/health").json() == {"ok": True}
    answer = client.get("/api/health/ready")
    assert answer.status_code == 503
    assert answer.json() == {"ready": False, "database": True, "worker": False, "queue": True, "disk": True}
    with connection.cursor() as cursor:
        cursor.execute("INSERT INTO procrastinate_workers DEFAULT VALUES")
    assert client.get("/api/health/ready").json()["ready"] is True
    with connection.cursor() as cursor:
        cursor.execute("UPDATE procrastinate_workers SET last_heartbeat = now() - interval '40 seconds'")
    assert client.get("/api/health/ready").json()["worker"] is False
    monkeypatch.setattr(health, "ROOM", 10**18)
    assert client.get("/api/health/ready").json()["disk"] is False


def test_work_that_waits_too_long_is_seen(db):
    statement = "INSERT INTO procrastinate_jobs (queue_name, task_name, priority, lock, args, status, scheduled_at) VALUES ('default', %s, 0, NULL, '{}', 'todo', now() - interval %s) RETURNING id"
    with connection.cursor() as cursor:
        cursor.execute(statement, ["gather.bring_in", "1 minute"])
        # The installation's own work waits behind a long import.
        cursor.execute(statement, ["shell.attend", "20 minutes"])
    assert APIClient().get("/api/health/ready").json()["queue"] is True
    with connection.cursor() as cursor:
        cursor.execute(statement, ["gather.bring_in", "20 minutes"])
    assert APIClient().get("/api/health/ready").json()["queue"] is False
