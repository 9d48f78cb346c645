"""The commands in ``bin/`` delete nothing unasked: a folder of data that isn't whole is said, and left as it is."""

import os
import shutil
import subprocess
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from django.conf import settings
from django.core.management import call_command

from server.projects.models import Account

ROOT = Path(settings.ROOT)
SET_UP = '. bin/setup.sh; need_database; echo "port $COHORTIA_DATABASE_PORT password $COHORTIA_DATABASE_PASSWORD"'


def run(local: Path, command: str) -> subprocess.CompletedProcess[str]:
    surroundings = {name: value for name, value in os.environ.items() if not name.startswith("COHORTIA_")}
    return subprocess.run(
        ["bash", "-c", command],
        cwd=ROOT,
        env={**surroundings, "COHORTIA_LOCAL": str(local), "COHORTIA_DATABASE": "kept"},
        capture_output=True,
        text=True,
        check=False,
    )


def connected(answer: subprocess.CompletedProcess[str]) -> psycopg.Connection:
    assert answer.returncode == 0, answer.stderr
    *_, port, _, password = answer.stdout.split()
    return psycopg.connect(
        host="127.0.0.1", port=port, user="cohortia", password=password, dbname="kept", autocommit=True
    )


@pytest.fixture(scope="module")
def local(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    """A folder of data with a database of its own, in which somebody's years of work lie."""
    folder = tmp_path_factory.mktemp("local")
    with connected(run(folder, SET_UP)) as connection:
        connection.execute("CREATE TABLE years_of_work AS SELECT 41 AS interviews")
    run(folder, ". bin/setup.sh; stop_database")
    yield folder
    run(folder, ". bin/setup.sh; stop_database")


def interviews(local: Path) -> int:
    with connected(run(local, SET_UP)) as connection:
        found = connection.execute("SELECT interviews FROM years_of_work").fetchone()
    run(local, ". bin/setup.sh; stop_database")
    assert found
    return int(found[0])


def refused(answer: subprocess.CompletedProcess[str], *said: str) -> None:
    assert answer.returncode == 1
    for one in said:
        assert one in answer.stderr
    assert "Nothing was changed." in answer.stderr


def test_as_many_workers_as_asked_for_are_started_and_stopped(tmp_path: Path):
    (tmp_path / "run").mkdir()
    (tmp_path / "log").mkdir()
    # Each stands for a worker: what it is doesn't matter to who starts and stops it.
    start = '. bin/setup.sh; start_process() { setsid sleep 600 & echo $! >"$LOCAL/run/$1.pid"; }; COHORTIA_WORKERS=3 start_workers'
    assert run(tmp_path, f"{start} >/dev/null 2>&1").returncode == 0
    files = sorted((tmp_path / "run").iterdir())
    assert [file.name for file in files] == ["worker-1.pid", "worker-2.pid", "worker-3.pid"]
    pids = [int(file.read_text()) for file in files]
    assert all(Path(f"/proc/{pid}").exists() for pid in pids)
    assert run(tmp_path, ". bin/setup.sh; is_ours() { kill -0 $1 2>/dev/null; }; stop_workers").returncode == 0
    assert not list((tmp_path / "run").iterdir())
    assert not any(Path(f"/proc/{pid}").exists() for pid in pids)


def test_a_database_whose_password_is_lost_stays_and_can_be_given_a_new_one(local: Path):
    kept = (local / "database.env").read_text()
    (local / "database.env").unlink()
    refused(run(local, SET_UP), "database.env, which holds its password, is missing", "bin/new-password")
    assert not (local / "database.env").exists()
    answer = run(local, "bin/new-password")
    assert answer.returncode == 0, answer.stderr
    assert (local / "database.env").read_text() != kept
    assert (local / "database.env").stat().st_mode & 0o077 == 0
    assert interviews(local) == 41
    again = run(local, "bin/new-password")
    assert again.returncode == 1
    assert "so the password isn't lost" in again.stderr


@pytest.mark.parametrize("half", ["", "export COHORTIA_DATABASE_PASSWORD=", "export COHORTIA_SECRET=only"])
def test_a_password_file_that_isnt_whole_is_said_and_left(local: Path, half: str):
    file = local / "database.env"
    kept = file.read_text()
    file.write_text(half)
    refused(run(local, SET_UP), "isn't whole", "Put the file back")
    assert file.read_text() == half
    file.write_text(kept)
    assert interviews(local) == 41


def test_a_folder_that_isnt_a_whole_database_is_left_as_it_is(local: Path):
    version = local / "postgres" / "data" / "PG_VERSION"
    version.rename(version.with_name("moved"))
    refused(run(local, SET_UP), "isn't a whole database")
    version.with_name("moved").rename(version)
    assert interviews(local) == 41


def test_what_an_interrupted_start_left_is_made_anew(local: Path, tmp_path: Path):
    unfinished = tmp_path / "postgres" / "unfinished"
    unfinished.mkdir(parents=True)
    (unfinished / "half").write_text("half a cluster")
    if os.getuid() == 0:
        # The cluster belongs to the user postgres then.
        shutil.chown(unfinished, "postgres")
    with connected(run(tmp_path, SET_UP)) as connection:
        assert connection.execute("SELECT 1").fetchone() == (1,)
    assert not unfinished.exists()
    run(tmp_path, ". bin/setup.sh; stop_database")


OWNER = {
    "COHORTIA_OWNER": "ines",
    "COHORTIA_OWNER_SHOWN": "Ines Roe",
    "COHORTIA_OWNER_PASSWORD": "waits on the long quay",
}


def test_the_first_account_is_made_in_a_database_that_is_new(tmp_path: Path):
    said = " ".join(f'{name}="{value}"' for name, value in OWNER.items())
    try:
        answer = run(tmp_path, f"{said} bin/cohortia create-owner")
        assert answer.returncode == 0, answer.stderr
        assert "Ines Roe signs in as ines, and may begin a project." in answer.stdout
        with connected(run(tmp_path, SET_UP)) as connection:
            rows = connection.execute("SELECT username, display_name, is_superuser FROM projects_account").fetchall()
        assert rows == [("ines", "Ines Roe", False)]
    finally:
        run(tmp_path, ". bin/setup.sh; stop_database")
    assert run(tmp_path, "bin/cohortia").returncode == 1


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("more", "sentence"),
    [
        ({"COHORTIA_OWNER": "INES"}, "Somebody signs in as “INES” already"),
        ({"COHORTIA_OWNER": "bo", "COHORTIA_OWNER_PASSWORD": "short"}, "too short"),
        ({"COHORTIA_OWNER": "a b"}, "letters, digits and @ . + - _ only"),
        ({"COHORTIA_OWNER": ""}, "Nothing was made."),
    ],
)
def test_what_is_wrong_with_the_first_account_is_said(more, sentence, monkeypatch, capsys):
    for name, value in OWNER.items():
        monkeypatch.setenv(name, value)
    call_command("create_owner")
    for name, value in more.items():
        monkeypatch.setenv(name, value)

    def nobody(*_: object) -> str:
        raise EOFError

    monkeypatch.setattr("builtins.input", nobody)
    with pytest.raises(SystemExit) as ended:
        call_command("create_owner")
    assert ended.value.code == 1
    assert sentence in capsys.readouterr().err
    assert Account.objects.filter(username__iexact="ines").count() == Account.objects.count() == 1
