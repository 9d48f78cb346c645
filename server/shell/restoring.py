"""Putting a backup back: beside what is there, which stays until somebody says that it may go."""

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import psycopg
from django.conf import settings
from django.db import connections
from django.db.migrations.loader import MigrationLoader

from server.common.errors import Refusal
from server.common.folders import temporary_folder
from server.gather import media
from server.shell.archive import Damaged, unpacked
from server.shell.backups import DUMP, FORMAT, WHAT, name_of_database, quoted, run_program

_BEFORE, _MADE = "_before_", "_restored_"


@dataclass(frozen=True)
class Restored:
    """``before``: the database that holds what was here, "" where nothing was."""

    made_at: str
    projects: int
    media: int
    problems: tuple[str, ...]
    before: str


def restore(source: Path, passphrase: str = "") -> Restored:
    """Check a backup wholly, then put it in the place of what is there. Where anything fails, all stays as it was."""
    if not source.is_file():
        raise Refusal(f"There is no file {source}.")
    with temporary_folder("restore") as folder:
        said = unpacked(source, folder, passphrase)
        _check(said, source.name)
        try:
            before = _put_in_place(folder)
        except OSError as problem:
            raise Refusal(
                f"The backup couldn’t be put in place: {problem.strerror or problem}. All is as it was."
            ) from problem
    files = sum(name.startswith("media/") for name in said["parts"])
    return Restored(said["made_at"], said["projects"], files, tuple(said["problems"]), before)


def _check(said: dict[str, Any], name: str) -> None:
    if said.get("what") != WHAT or DUMP not in said["parts"]:
        raise Damaged(f"{name} isn’t a backup of Cohortia.")
    known = {"/".join(one) for one in MigrationLoader(None, ignore_no_migrations=True).disk_migrations}
    # Steps that libraries took are theirs; ours tell which version wrote the file.
    ours = {one for one in said["migrations"] if _is_ours(one)}
    if said["format"] > FORMAT or not ours <= known:
        raise Refusal(
            f"{name} was made by a newer version of Cohortia: upgrade first, then restore. Nothing was changed."
        )


def _is_ours(migration: str) -> bool:
    return migration.split("/")[0] in {
        app.split(".")[-1] for app in settings.INSTALLED_APPS if app.startswith("server.")
    }


def _put_in_place(folder: Path) -> str:
    current = name_of_database()
    made = f"{current}{_MADE}{datetime.now(UTC):%Y%m%d_%H%M%S}"
    with _beside() as cursor:
        cursor.execute(quoted("CREATE DATABASE {} TEMPLATE template0", made))
        try:
            run_program(
                "pg_restore",
                "--no-owner",
                "--no-privileges",
                "--exit-on-error",
                "--jobs=2",
                f"--dbname={made}",
                str(folder / DUMP),
            )
            _migrate(made)
            for path in sorted((folder / "media").glob("*/*")):
                media.put_back(path)
            return _swap(cursor, current, made)
        except BaseException:
            cursor.execute(quoted("DROP DATABASE IF EXISTS {}", made))
            raise


def _migrate(database: str) -> None:
    done = subprocess.run(
        [sys.executable, str(Path(settings.ROOT) / "server" / "manage.py"), "migrate", "--no-input", "--verbosity=0"],
        env={**os.environ, "COHORTIA_DATABASE": database},
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        raise Refusal("The restored database couldn’t be brought up to this version; what was here is untouched.")


def _swap(cursor: psycopg.Cursor[Any], current: str, made: str) -> str:
    """Give the restored database its name, in one step; what was there is kept under another."""
    connections["default"].close()
    before = f"{current}{_BEFORE}{made.rsplit(_MADE, 1)[1]}"
    cursor.execute("SELECT count(*) FROM pg_stat_activity WHERE datname = %s", [current])
    if (found := cursor.fetchone()) and found[0]:
        raise Refusal("Cohortia is running on this database: stop it first (bin/stop, or its services), then restore.")
    cursor.execute("BEGIN")
    cursor.execute(quoted("ALTER DATABASE {} RENAME TO {}", current, before))
    cursor.execute(quoted("ALTER DATABASE {} RENAME TO {}", made, current))
    cursor.execute("COMMIT")
    return before


@contextmanager
def _beside() -> Iterator[psycopg.Cursor[Any]]:
    """A connection to the database that every server has, so that ours can change its name."""
    at = connections["default"].settings_dict
    with psycopg.connect(
        host=at["HOST"], port=at["PORT"], user=at["USER"], password=at["PASSWORD"], dbname="postgres", autocommit=True
    ) as connection:
        yield connection.cursor()


def kept_from_before() -> list[str]:
    """Databases that restoring left, and those of restores that were killed, oldest first."""
    name = name_of_database()
    with _beside() as cursor:
        cursor.execute(
            "SELECT datname FROM pg_database WHERE starts_with(datname, %s) OR starts_with(datname, %s) ORDER BY datname",
            [name + _BEFORE, name + _MADE],
        )
        return [str(row[0]) for row in cursor.fetchall()]


def drop_from_before() -> list[str]:
    """Drop them for good; which went."""
    names = kept_from_before()
    with _beside() as cursor:
        for name in names:
            cursor.execute(quoted("DROP DATABASE {}", name))
    return names
