"""Bringing a project in: every row as a new one, in one transaction, shown when all is there."""

import secrets
from collections.abc import Callable, Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import datetime
from itertools import islice
from pathlib import Path

import fastjsonschema
import psycopg
from django.db import DataError, IntegrityError, connection
from rest_framework.exceptions import ValidationError

from core.language import say
from server.common.folders import temporary_folder
from server.gather import media
from server.gather.word_index import indexed
from server.projects.models import Account, MemberRole, Membership, Project, TrailEntry, TrailState
from server.projects.steps import as_copied
from server.shell.project_file import rows, schemas
from server.shell.project_file.checks import check_whole
from server.shell.project_file.named import Json
from server.shell.project_file.numbers import Keys
from server.shell.project_file.opening import NotOurs, Opened
from server.shell.project_file.parts import BY_NAME, PARTS, WORDS, Part
from server.shell.project_file.steps import TRAIL

Tell = Callable[[int, str], None]
_AT_ONCE = 5_000
_ODD = (
    ArithmeticError, AttributeError, LookupError, RecursionError, TypeError, ValueError, ValidationError,
    fastjsonschema.JsonSchemaException,
)  # fmt: skip
"""What reading JSON of no known shape may raise."""


@dataclass(frozen=True)
class Wish:
    """``people`` by their number in the file: the account that each is here; who isn't in it is here by name only."""

    owner: Account
    people: dict[int, Account]
    trail: bool


def bring_in(path: Path, wish: Wish, tell: Tell) -> Project:
    """Make the project; inside the caller's transaction. ``tell`` hears how many rows are in, and may stop it."""
    with closing(Opened(path)) as file:
        try:
            return _Bringing(file, wish, tell).bring_in()
        except (DataError, IntegrityError, psycopg.DataError, psycopg.IntegrityError) as problem:
            said = str(problem).splitlines()[0][:200]
            raise NotOurs(say("The file isn’t a whole project: {said}.", said=said)) from problem


def size_of(said: Json) -> int:
    """What ``tell`` counts up to: rows and files."""
    return sum(one["rows"] for one in said["parts"].values()) + len(said["media"])


class _Bringing:
    def __init__(self, file: Opened, wish: Wish, tell: Tell) -> None:
        self.file, self.wish, self.tell = file, wish, tell
        self.trail = wish.trail and file.said["trail"]
        self.done = 0

    def bring_in(self) -> Project:
        self._media()
        said = self.file.said["project"]
        project = Project.objects.create(**{**said, "created_at": datetime.fromisoformat(said["created_at"])})
        people = self._people(project)
        highest = {name: one["numbers"] for name, one in self.file.said["parts"].items()}
        if not self.trail:
            highest.pop(TRAIL.name, None)
        self.keys = Keys(project.pk, people, highest, set(self.file.said["media"]))
        self.project = project
        with connection.cursor() as cursor:
            # How to look a row up is found once a session: not by reading all of a table because it is small as yet.
            cursor.execute("SET LOCAL enable_seqscan = off")
        for part in PARTS:
            # A file from before there was such a thing has none.
            if part.name in highest:
                self._rows(part)
        self._index_words()
        if self.trail:
            self._rows(TRAIL)
        self._note()
        check_whole(project)
        return project

    def _step(self, count: int, said: str) -> None:
        self.done += count
        self.tell(self.done, said)

    def _media(self) -> None:
        """Bytes come before the rows that name them; each must be what its name says."""
        with temporary_folder("project") as folder:
            for digest in self.file.said["media"]:
                path = folder / "bytes"
                self.file.unpack_medium(digest, path)
                if media.digest_of(path) != digest:
                    raise NotOurs(say("The file is damaged: media/{digest} isn’t what was written.", digest=digest))
                media.keep(path)
                self._step(1, say("Bringing in pictures and recordings"))

    def _people(self, project: Project) -> dict[int, int]:
        """Everybody's account here, by number: one that is there, or one that only stands for a name."""
        Membership.objects.create(project=project, account=self.wish.owner, role=MemberRole.OWNER)
        found: dict[int, int] = {}
        for one in self.file.people():
            account = self.wish.people.get(one[rows.ID])
            if account is None:
                account = _by_name(one["name"])
            elif account != self.wish.owner and one["role"]:
                Membership.objects.create(project=project, account=account, role=one["role"])
            found[one[rows.ID]] = account.pk
        return found

    def _rows(self, part: Part) -> None:
        columns = rows.columns_of(part)
        own = [] if part.project != "project" else ["project_id"]
        names = [str(part.model._meta.pk.column), *own, *(str(column.field.column) for column in columns)]
        lines = self.file.lines(part.name, schemas.whole(part))
        while some := list(islice(lines, _AT_ONCE)):
            _copy(part, names, [self._copied(part, columns, row) for row in some])
            self._step(len(some), say("Bringing in {name}", name=part.name))

    def _copied(self, part: Part, columns: Sequence[rows.Column], row: Json) -> str:
        number = row.pop(rows.ID)
        try:
            found = rows.into(part, row, self.keys)
        except _ODD as problem:
            said = "" if isinstance(problem, ValidationError) else f": {str(problem)[:200]}"
            raise NotOurs(
                say(
                    "data/{name}.jsonl, line {number}, isn’t a row of a project{said}.",
                    name=part.name,
                    number=number,
                    said=said,
                )
            ) from problem
        own = [] if part.project != "project" else [self.project.pk]
        values = [rows.as_copied_value(column, found[column.attname]) for column in columns]
        return as_copied([self.keys(part.name, number), *own, *values])

    def _index_words(self) -> None:
        lines = self._words()
        while some := list(islice(lines, 50)):
            _copy(WORDS, ("document_id", "words"), some)

    def _words(self) -> Iterator[str]:
        part = BY_NAME["documents"]
        for row in self.file.lines(part.name, schemas.whole(part)):
            yield as_copied([self.keys(part.name, row[rows.ID]), indexed(row["text"])])

    def _note(self) -> None:
        """The trail says where it comes from."""
        last = (
            TrailEntry.objects.filter(project=self.project)
            .order_by("-revision")
            .values_list("revision", flat=True)
            .first()
        )
        self.project.revision = max(self.project.revision if self.trail else 0, last or 0) + 1
        self.project.save(update_fields=["revision"])
        made = self.file.said["made_at"][:10]
        TrailEntry.objects.create(
            project=self.project,
            actor=self.wish.owner,
            revision=self.project.revision,
            verb="project.bring_in",
            needs=MemberRole.OWNER,
            summary=f"Brought in the whole project from a file made on {made}",
            state=TrailState.STAYS,
        )


def _copy(part: Part, names: Sequence[str], lines: Sequence[str]) -> None:
    listed = ", ".join(f'"{name}"' for name in names)
    with connection.cursor() as cursor, cursor.copy(f'COPY "{part.model._meta.db_table}" ({listed}) FROM STDIN') as out:
        out.write("".join(f"{line}\n" for line in lines))


def _by_name(name: str) -> Account:
    """An account that nobody signs in with: it only says who wrote or coded something."""
    account = Account(username=f"name-{secrets.token_hex(12)}", display_name=name, is_active=False)
    account.set_unusable_password()
    account.save()
    return account
