"""A backup: the database and the media of one moment in one file, made while people work."""

import os
import shutil
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.db import connections
from django.db.migrations.recorder import MigrationRecorder
from psycopg import sql

from core.language import say
from server.common.errors import Refusal
from server.common.folders import temporary_folder
from server.gather import media
from server.projects.models import Project
from server.shell.archive import Writing, written

WHAT, FORMAT = "a backup of Cohortia", 1
DUMP = "database.dump"
_PROGRAMS = Path("/usr/lib/postgresql")


@dataclass(frozen=True)
class Made:
    """``problems``: media that the database names but the folder doesn't hold as they were."""

    path: Path
    size: int
    projects: int
    media: int
    problems: tuple[str, ...]


def make(target: Path, passphrase: str = "") -> Made:
    """Write a backup to ``target``; nothing is there under that name before it is whole."""
    if target.exists():
        raise Refusal(say("{target} is there already: choose another name. Nothing was written.", target=target))
    if not target.parent.is_dir():
        raise Refusal(say("There is no folder {parent}: make it first. Nothing was written.", parent=target.parent))
    try:
        with media.nothing_goes(), temporary_folder("backup") as folder, written(target, passphrase) as writing:
            made = _write(writing, folder / DUMP)
    except OSError as problem:
        raise Refusal(
            say(
                "The backup couldn’t be written: {n}. {target} isn’t there.",
                n=problem.strerror or problem,
                target=target,
            )
        ) from problem
    return Made(target, target.stat().st_size, *made)


def _write(writing: Writing, dump: Path) -> tuple[int, int, tuple[str, ...]]:
    with _one_moment() as snapshot:
        digests, projects = sorted(media.named()), Project.objects.count()
        migrations = sorted(map("/".join, MigrationRecorder(connections["default"]).applied_migrations()))
        _dump(dump, snapshot)
    writing.add(DUMP, dump)
    problems = tuple(problem for digest in digests if (problem := _put(writing, digest)))
    writing.close(
        {
            "what": WHAT,
            "format": FORMAT,
            "made_at": datetime.now(UTC).isoformat(timespec="seconds"),
            "migrations": migrations,
            "projects": projects,
            "problems": problems,
        }
    )
    return projects, len(digests), problems


def _put(writing: Writing, digest: str) -> str:
    """Put a file of the media folder in; what is wrong with it."""
    try:
        found = writing.add(f"media/{digest[:2]}/{digest}", media.here(digest))
    except FileNotFoundError:
        return say("{digest} isn’t in the media folder", digest=digest)
    return "" if found == digest else say("{digest} has been changed on the disk", digest=digest)


@contextmanager
def _one_moment() -> Iterator[str]:
    """A transaction that sees one moment, and the name under which others may see the same."""
    connection = connections["default"]
    with connection.cursor() as cursor:
        cursor.execute("BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY")
        try:
            cursor.execute("SELECT pg_export_snapshot()")
            yield cursor.fetchone()[0]
        finally:
            cursor.execute("ROLLBACK")


def _dump(target: Path, snapshot: str) -> None:
    # Sessions aren't kept: restoring must not sign anybody in.
    asked = ["--format=custom", "--compress=1", "--no-owner", "--no-privileges", f"--snapshot={snapshot}"]
    run_program("pg_dump", *asked, "--exclude-table-data=django_session", f"--file={target}", name_of_database())


def name_of_database() -> str:
    return str(connections["default"].settings_dict["NAME"])


def run_program(name: str, *arguments: str) -> None:
    """One of PostgreSQL's own programs, on our database."""
    at: dict[str, Any] = connections["default"].settings_dict
    surroundings = {
        **os.environ,
        "PGHOST": str(at["HOST"]),
        "PGPORT": str(at["PORT"]),
        "PGUSER": str(at["USER"]),
        "PGPASSWORD": str(at["PASSWORD"]),
        **{f"PG{name.upper()}": str(value) for name, value in at["OPTIONS"].items() if name.startswith("ssl")},
    }
    done = subprocess.run([_program(name), *arguments], env=surroundings, capture_output=True, text=True, check=False)
    if done.returncode:
        said = done.stderr.strip().splitlines()
        raise Refusal(
            say(
                "PostgreSQL’s {name} didn’t succeed: {which}.",
                name=name,
                which=said[-1] if said else say("it said nothing"),
            )
        )


def _program(name: str) -> str:
    """Of the server's own version: an older one can't read what it has."""
    major = connections["default"].pg_version // 10_000  # type: ignore[attr-defined]
    own = _PROGRAMS / str(major) / "bin" / name
    found = str(own) if own.exists() else shutil.which(name)
    if not found:
        raise Refusal(
            say("PostgreSQL’s {name} isn’t installed here: install postgresql-client-{major}.", name=name, major=major)
        )
    return found


def quoted(statement: str, *names: str) -> sql.Composed:
    return sql.SQL(statement).format(*map(sql.Identifier, names))
