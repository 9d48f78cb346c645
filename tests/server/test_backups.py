"""A backup holds the database and the media of one moment, put back it is equal, and what isn't whole is refused."""

import json
import os
import shutil
import signal
import subprocess
import tarfile
import threading
import time
from collections.abc import Callable, Iterator
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import psycopg
import pytest
from django.conf import settings

from server.common.errors import Refusal
from server.gather import media
from server.shell import nightly
from server.shell.archive import Damaged, unpacked, written
from server.shell.models import Backup
from server.shell.retention import Retention
from tests.server.conftest import World
from tests.server.test_commands import ROOT, SET_UP, connected, run

PASSPHRASE = "a lock of many words"


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    """A folder of data with the demo in it."""
    folder = tmp_path_factory.mktemp("demo")
    answer = run(folder, '. bin/setup.sh; need_database; "$PYTHON" server/manage.py prepare_demo')
    assert answer.returncode == 0, answer.stderr
    yield folder
    run(folder, ". bin/setup.sh; stop_database")


def tables(connection: psycopg.Connection) -> dict[str, str]:
    """A digest of all that each table holds; sessions aren't kept."""
    names = connection.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY 1").fetchall()
    found = {}
    for (name,) in names:
        if name != "django_session":
            (found[name],) = connection.execute(
                f"SELECT count(*) || md5(coalesce(string_agg(one::text, '|' ORDER BY one::text), '')) FROM \"{name}\" one"
            ).fetchone()
    sequences = "SELECT sequencename || coalesce(last_value, 0) FROM pg_sequences ORDER BY 1"
    return {**found, "sequences": str(connection.execute(sequences).fetchall())}


def databases(connection: psycopg.Connection) -> list[tuple[str]]:
    return connection.execute("SELECT datname FROM pg_database ORDER BY 1").fetchall()


def files(local: Path) -> dict[str, str]:
    return {path.name: media.digest_of(path) for path in (local / "media").glob("??/*") if path.is_file()}


def test_the_demo_comes_back_equal_table_by_table_with_its_media(demo: Path, tmp_path: Path):
    """Locked; the others here are not."""
    (tmp_path / "passphrase").write_text(f"{PASSPHRASE}\n")
    locked = f" --passphrase-file {tmp_path / 'passphrase'}"
    kept = tmp_path / "kept.backup"
    with connected(run(demo, SET_UP)) as connection:
        before = tables(connection)
        made = run(demo, f"bin/backup {kept}{locked}")
        assert made.returncode == 0, made.stderr
        assert "1 project" in made.stdout
        # What happens afterwards isn't in it.
        connection.execute("UPDATE projects_project SET name = 'changed since'")
        connection.execute("DELETE FROM coding_coding")
    held = files(demo)
    assert len(held) == 8
    shutil.rmtree(demo / "media")
    assert kept.stat().st_mode & 0o077 == 0
    text = b"missed connections"
    assert text not in kept.read_bytes().lower()
    restored = run(demo, f"bin/restore {kept}{locked}")
    assert restored.returncode == 0, restored.stderr
    assert "1 project, 8 files of media" in restored.stdout
    with connected(run(demo, SET_UP)) as connection:
        assert tables(connection) == before
        others = [one for (one,) in databases(connection) if "_before_" in one]
        assert len(others) == 1
    assert files(demo) == held
    gone = run(demo, "bin/restore --forget-before")
    assert others[0] in gone.stdout
    without = run(demo, f"bin/restore {kept}")
    assert without.returncode == 1
    assert "its passphrase is needed" in without.stderr


def test_what_people_write_meanwhile_is_in_it_whole_or_not_at_all(demo: Path, tmp_path: Path):
    stop = threading.Event()
    with connected(run(demo, SET_UP)) as connection:
        for name in ("one", "other"):
            connection.execute(f"CREATE TABLE {name} AS SELECT 0 AS number")

        def work() -> None:
            number = 0
            while not stop.is_set():
                number += 1
                with connection.transaction():
                    connection.execute("INSERT INTO one SELECT %s", [number])
                    connection.execute("INSERT INTO other SELECT %s", [number])

        working = threading.Thread(target=work)
        working.start()
        made = run(demo, f"bin/backup {tmp_path / 'meanwhile.backup'}")
        stop.set()
        working.join()
        assert made.returncode == 0, made.stderr
        (last,) = connection.execute("SELECT max(number) FROM one").fetchone()
    assert run(demo, f"bin/restore {tmp_path / 'meanwhile.backup'}").returncode == 0
    with connected(run(demo, SET_UP)) as connection:
        (one, other) = connection.execute("SELECT (SELECT count(*) FROM one), (SELECT count(*) FROM other)").fetchone()
        assert 1 < one == other <= last
        connection.execute("DROP TABLE one, other")


def test_a_backup_of_a_newer_version_or_that_is_in_use_changes_nothing(demo: Path, tmp_path: Path):
    made = run(demo, f"bin/backup {tmp_path / 'now.backup'}")
    assert made.returncode == 0
    (tmp_path / "parts").mkdir()
    said = unpacked(tmp_path / "now.backup", tmp_path / "parts")
    said["migrations"].append("gather/0999_from_the_future")
    with written(tmp_path / "newer.backup") as writing:
        for name in said.pop("parts"):
            writing.add(name, tmp_path / "parts" / name)
        writing.close(said)
    with connected(run(demo, SET_UP)) as connection:
        before, names = tables(connection), databases(connection)
        newer = run(
            demo, '. bin/setup.sh; need_database; "$PYTHON" server/manage.py restore ' + str(tmp_path / "newer.backup")
        )
        assert "made by a newer version of Cohortia" in newer.stderr
        used = run(
            demo, '. bin/setup.sh; need_database; "$PYTHON" server/manage.py restore ' + str(tmp_path / "now.backup")
        )
        assert "Cohortia is running on this database" in used.stderr
        assert tables(connection) == before
        assert databases(connection) == names
    assert list((demo / "tmp").iterdir()) == []


def test_a_restore_or_a_backup_that_is_killed_leaves_all_as_it_was(demo: Path, tmp_path: Path):
    kept = tmp_path / "kept.backup"
    assert run(demo, f"bin/backup {kept}").returncode == 0
    with connected(run(demo, SET_UP)) as connection:
        before = tables(connection)

        def killed(command: str, once: Callable[[], bool]) -> None:
            surroundings = {**os.environ, "COHORTIA_LOCAL": str(demo), "COHORTIA_DATABASE": "kept"}
            surroundings.pop("COHORTIA_DATABASE_PASSWORD", None)
            run_it = ["bash", "-c", f'. bin/setup.sh; need_database; exec "$PYTHON" server/manage.py {command}']
            with subprocess.Popen(run_it, cwd=ROOT, env=surroundings, start_new_session=True) as child:
                while not once():
                    assert child.poll() is None
                os.killpg(child.pid, signal.SIGKILL)

        killed(f"restore {kept}", lambda: any("_restored_" in one for (one,) in databases(connection)))
        assert tables(connection) == before
        other = tmp_path / "other.backup"
        killed(f"backup {other}", lambda: any((demo / "tmp").glob("backup-*")))
        assert not other.exists()
    gone = run(demo, "bin/restore --forget-before")
    assert "_restored_" in gone.stdout
    # Nothing of it lies about, once it is swept.
    assert run(demo, '. bin/setup.sh; need_database; "$PYTHON" server/manage.py sweep').returncode == 0
    assert list((demo / "tmp").iterdir()) == []


@pytest.fixture
def archive(tmp_path: Path) -> Path:
    (tmp_path / "part").write_bytes(bytes(range(256)) * 4000)
    with written(tmp_path / "whole", PASSPHRASE) as writing:
        writing.add("database.dump", tmp_path / "part")
        writing.close({"what": "a test"})
    with written(tmp_path / "plain") as writing:
        writing.add("database.dump", tmp_path / "part")
        writing.close({"what": "a test"})
    (tmp_path / "out").mkdir()
    return tmp_path


def test_an_archive_is_read_as_it_was_written_locked_or_not(archive: Path):
    for name, passphrase in (("whole", PASSPHRASE), ("plain", "")):
        assert unpacked(archive / name, archive / "out", passphrase)["what"] == "a test"
        assert (archive / "out" / "database.dump").read_bytes() == (archive / "part").read_bytes()
    assert not list(archive.glob(".*"))
    with pytest.raises(Refusal, match="doesn’t open"):
        unpacked(archive / "whole", archive / "out", "another passphrase")
    assert not (archive / "out" / ".archive").exists()


@pytest.mark.parametrize(("name", "tried"), [("whole", 3), ("plain", 25)])
def test_every_changed_byte_and_every_missing_end_is_noticed(archive: Path, name: str, tried: int):
    """To try a passphrase takes a second, as it should."""
    good = (archive / name).read_bytes()
    # What comes after the archive's end, and what pads a part to its block, says nothing.
    places = range(3000, len(good) - 12_000, len(good) // tried)
    for place in places:
        (archive / "bad").write_bytes(good[:place] + bytes([good[place] ^ 8]) + good[place + 1 :])
        with pytest.raises(Refusal):
            unpacked(archive / "bad", archive / "out", PASSPHRASE)
        (archive / "bad").write_bytes(good[:place])
        with pytest.raises(Damaged):
            unpacked(archive / "bad", archive / "out", PASSPHRASE)


@pytest.mark.parametrize("entry", ["../outside", "/tmp/outside", ".hidden", "media/../../outside"])
def test_a_part_stays_inside_the_folder_whatever_its_name(tmp_path: Path, entry: str):
    with tarfile.open(tmp_path / "bad", "w") as tar:
        tar.addfile(tarfile.TarInfo(entry))
    (tmp_path / "out").mkdir()
    with pytest.raises(Damaged, match="no backup has"):
        unpacked(tmp_path / "bad", tmp_path / "out")
    assert not (tmp_path / "outside").exists()


def test_a_link_in_an_archive_is_no_part(tmp_path: Path):
    (tmp_path / "link").symlink_to("/etc/passwd")
    with tarfile.open(tmp_path / "bad", "w") as tar:
        tar.add(tmp_path / "link", "media/aa/link")
    (tmp_path / "out").mkdir()
    with pytest.raises(Refusal):
        unpacked(tmp_path / "bad", tmp_path / "out")
    assert not (tmp_path / "out" / "media").exists()


def test_the_last_of_each_day_week_and_month_stays():
    now = datetime(2026, 11, 28, 2, tzinfo=UTC)
    made = [now - timedelta(days=day, hours=hour) for day in range(400) for hour in (0, 6)]
    kept = sorted(Retention(7, 4, 6).kept(made), reverse=True)
    assert kept[:7] == [now, *[now - timedelta(days=day, hours=6) for day in range(6)]]
    weeks = {one.isocalendar()[:2] for one in kept}
    months = {(one.year, one.month) for one in kept}
    assert {(2026, week) for week in (45, 46, 47, 48)} <= weeks
    assert months == {(2026, month) for month in range(6, 12)}
    assert all(one.hour == 20 for one in kept[1:])
    assert Retention(0, 0, 0).kept(made) == {now}
    assert Retention(7, 4, 6).kept([]) == set()
    assert Retention(7, 4, 6).said() == "7 days, 4 weeks, 6 months"


@pytest.mark.parametrize(
    "keeps", [Retention(7, 0, 0), Retention(3, 2, 0), Retention(7, 5, 6), Retention(0, 0, 2), Retention(0, 0, 0)]
)
def test_a_backup_has_gone_by_the_day_that_is_told(keeps: Retention):
    """Played day by day, a backup each night, over every day of a year."""
    start = datetime(2026, 1, 1, 2, tzinfo=UTC)
    here: set[datetime] = set()
    left: dict[datetime, date] = {}
    for day in range(900):
        now = start + timedelta(days=day)
        stays = keeps.kept(here | {now})
        left.update({one: now.date() for one in here - stays})
        here = stays
    for day in range(365):
        made = start + timedelta(days=day)
        assert left[made] <= keeps.gone_by(made)
    # The last one that is kept long goes on just that day.
    assert max(
        left[start + timedelta(days=day)] - keeps.gone_by(start + timedelta(days=day)) for day in range(365)
    ) == timedelta(0)


@pytest.fixture
def folder(tmp_path: Path, settings, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Where backups go by themselves; what is in them is tried above."""
    settings.BACKUP_FOLDER = str(tmp_path)
    settings.BACKUPS_KEPT = {"days": 2, "weeks": 0, "months": 0}

    def make(target: Path, passphrase: str) -> object:
        if not target.parent.is_dir():
            raise Refusal("There is no folder.")
        target.write_bytes(b"a backup")
        return nightly.backups.Made(target, 8, 1, 0, ())

    monkeypatch.setattr(nightly.backups, "make", make)
    return tmp_path


@pytest.mark.django_db
def test_old_ones_go_only_after_a_whole_one(folder: Path, settings):
    for day in (20, 21, 22):
        (folder / f"cohortia-2026-11-{day}T020000.backup").write_bytes(b"old")
    (folder / "cohortia-by-hand.backup").write_bytes(b"kept by somebody")
    for name, age in ((".cohortia-2026-11-21T020000.backup.unfinished", 7200), (".cohortia-now.backup.unfinished", 60)):
        (folder / name).write_bytes(b"half")
        os.utime(folder / name, (time.time() - age,) * 2)
    settings.BACKUP_FOLDER = str(folder / "gone")
    failed = nightly.back_up()
    assert not failed.whole
    assert failed.problem == "There is no folder."
    assert len(list(folder.iterdir())) == 6
    settings.BACKUP_FOLDER = str(folder)
    made = nightly.back_up()
    assert made.whole
    assert sorted(path.name for path in folder.iterdir()) == sorted(
        [".cohortia-now.backup.unfinished", "cohortia-2026-11-22T020000.backup", "cohortia-by-hand.backup", made.name]
    )


def test_owners_see_how_backups_stand(empty: World, folder: Path):
    refused = empty.client(empty.coder.account).get("/api/backups")
    assert refused.status_code == 403
    assert refused.json()["error"] == "Backups are shown to those who own a project."
    client = empty.client(empty.owner.account)
    none = client.get("/api/backups").json()
    assert none["last_whole_at"] is None
    assert none["by_themselves"] is True
    assert none["kept"] == "2 days"
    nightly.back_up()
    Backup.objects.create(name="later", whole=False, problem="The disk is full.")
    found = client.get("/api/backups").json()
    assert found["size"] == 8
    assert found["problem"] == "The disk is full."
    assert found["gone_by"] == (datetime.now(UTC).date() + timedelta(days=2)).isoformat()


def test_the_list_of_parts_says_what_each_must_be(archive: Path):
    with tarfile.open(archive / "plain") as tar:
        said = json.loads(tar.extractfile("manifest.json").read())
    assert said["parts"]["database.dump"] == {
        "bytes": 1_024_000,
        "sha256": media.digest_of(archive / "part"),
    }
    assert settings.TEMPORARY_FOLDER.is_dir()
