"""Taking a project out: a .zip that anybody can open."""

import hashlib
import shutil
import zipfile
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

import orjson

from server.common.database import one_state
from server.common.exports import plain_lines
from server.gather import media
from server.projects.models import Account, MemberRole, Membership, Project
from server.shell.project_file import readme, rows, schemas
from server.shell.project_file.numbers import Numbers
from server.shell.project_file.parts import PARTS, Part
from server.shell.project_file.steps import TRAIL

WHAT, FORMAT = "a project of Cohortia", 6
MANIFEST = "project.json"
_AT_ONCE = 5000
_CHUNK = 1024 * 1024


def write(member: Membership, target: Path, trail: bool) -> None:
    """Write all of a project, as it is at one moment, to ``target``; an owner's to do."""
    member.demand(MemberRole.OWNER)
    with (
        media.nothing_goes(),
        zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as file,
        one_state(),
    ):
        _Writing(member, file, trail).write()


class _Writing:
    """A file in the making; ``parts`` says of each what it must be."""

    def __init__(self, member: Membership, file: zipfile.ZipFile, trail: bool) -> None:
        self.member, self.file, self.trail = member, file, trail
        self.numbers = Numbers(member.project_id)
        self.parts: dict[str, dict[str, Any]] = {}
        # Members come first, whoever wrote what.
        self.numbers("people", member.account_id)

    def write(self) -> None:
        parts = (*PARTS, TRAIL) if self.trail else PARTS
        for part in parts:
            self._lines(part.name, self._rows(part))
        self._lines("people", self._people())
        for part in parts:
            self.parts[part.name]["numbers"] = max(self.parts[part.name]["rows"], self.numbers.highest(part.name))
        for name, content in readme.tables(self.member):
            with self.file.open(_entry(f"tables/{name}.csv"), "w", force_zip64=True) as out:
                out.writelines(plain_lines(content))
        for name, schema in (("people", schemas.PEOPLE), *((part.name, schemas.schema_of(part)) for part in parts)):
            self.file.writestr(f"schemas/{name}.schema.json", orjson.dumps(schema, option=orjson.OPT_INDENT_2))
        kept = {digest: size for digest in sorted(self.numbers.media) if (size := self._bytes(digest)) is not None}
        self.file.writestr("README.txt", readme.text(self.member.project, parts, self.trail))
        self.file.writestr(MANIFEST, orjson.dumps(self._said(kept), option=orjson.OPT_INDENT_2))

    def _said(self, kept: dict[str, int]) -> dict[str, Any]:
        project = Project.objects.get(pk=self.member.project_id)
        columns = ("name", "case_one", "case_many", "hide_below", "round_to", "trail_days", "revision", "created_at")
        return {
            "what": WHAT,
            "format": FORMAT,
            "made_at": datetime.now(UTC).isoformat(timespec="seconds"),
            "project": {name: getattr(project, name) for name in columns},
            "trail": self.trail,
            "parts": self.parts,
            "media": kept,
            "missing": sorted(self.numbers.media - kept.keys()),
        }

    def _rows(self, part: Part) -> Iterator[dict[str, Any]]:
        own = part.model._default_manager.filter(**{part.project: self.member.project_id}).order_by("pk")
        names = [column.attname for column in rows.columns_of(part)]
        found = own.values_list(*names).iterator(chunk_size=_AT_ONCE)
        for number, values in enumerate(found, start=1):
            yield {rows.ID: number, **rows.out(part, zip(names, values, strict=True), self.numbers)}

    def _people(self) -> Iterator[dict[str, Any]]:
        """Members, and whoever's name stands at something; not who is only named by a number in a condition."""
        roles = dict(Membership.objects.filter(project=self.member.project_id).values_list("account", "role"))
        known = Account.objects.in_bulk(roles.keys() | self._authors())
        for key, number in self.numbers.called("people").items():
            if key in known:
                one = known[key]
                yield {
                    rows.ID: number,
                    "username": one.username,
                    "name": one.display_name or one.username,
                    "role": roles.get(key),
                }

    def _authors(self) -> set[int]:
        found: set[int] = set()
        for part in (*PARTS, TRAIL) if self.trail else PARTS:
            for column in rows.columns_of(part):
                if column.refers == "people":
                    own = part.model._default_manager.filter(**{part.project: self.member.project_id})
                    found.update(own.order_by().values_list(column.attname, flat=True).distinct())
        return found

    def _lines(self, name: str, found: Iterable[dict[str, Any]]) -> None:
        """A part as JSON lines."""
        digest, count = hashlib.sha256(), 0
        with self.file.open(_entry(f"data/{name}.jsonl"), "w", force_zip64=True) as out:
            waiting = bytearray()
            for row in found:
                waiting += orjson.dumps(row) + b"\n"
                count += 1
                if len(waiting) > _CHUNK:
                    out.write(waiting)
                    digest.update(waiting)
                    waiting.clear()
            out.write(waiting)
            digest.update(waiting)
        self.parts[name] = {"rows": count, "numbers": count, "sha256": digest.hexdigest()}

    def _bytes(self, digest: str) -> int | None:
        """Put bytes of the media folder in; their size, or None where they are lost. They are pressed already."""
        entry = _entry(f"media/{digest}", zipfile.ZIP_STORED)
        try:
            source: IO[bytes] = media.here(digest).open("rb")
        except FileNotFoundError:
            return None
        with source, self.file.open(entry, "w", force_zip64=True) as out:
            shutil.copyfileobj(source, out, _CHUNK)
            return source.tell()


def _entry(name: str, how: int = zipfile.ZIP_DEFLATED) -> zipfile.ZipInfo:
    now = datetime.now(UTC)
    entry = zipfile.ZipInfo(name, (now.year, now.month, now.day, now.hour, now.minute, now.second))
    entry.compress_type = how
    return entry
