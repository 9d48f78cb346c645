"""Looking into a project's file, which may be anybody's: what it says it is, and its lines, each held to its schema.

Nothing is taken from the .zip by the names it gives: only what the format has, each part read in a stream, never unpacked
as a whole. Raises ``NotOurs`` with a sentence.
"""

import hashlib
import re
import shutil
import zipfile
import zlib
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import fastjsonschema
import orjson

from core.language import say
from server.common.errors import Refusal
from server.shell.project_file import rows, schemas
from server.shell.project_file.named import Json
from server.shell.project_file.numbers import MOST
from server.shell.project_file.parts import PARTS
from server.shell.project_file.steps import TRAIL
from server.shell.project_file.writing import FORMAT, MANIFEST, WHAT

MEGABYTE = 1024 * 1024
LARGEST_MANIFEST, LONGEST_LINE = 64 * MEGABYTE, 256 * MEGABYTE
LARGEST_DATA, LARGEST_MEDIA = 8 * 1024 * MEGABYTE, 200 * 1024 * MEGABYTE
MOST_PRESSED = 400
"""Times that JSON of ours could have been pressed, with much to spare; a bomb is pressed a thousand times."""
MOST_ENTRIES = 200_000
_ENTRY = re.compile(
    r"README\.txt|project\.json|(data/[a-z]+\.jsonl)|schemas/[a-z]+\.schema\.json|tables/[a-z]+\.csv|(media/[0-9a-f]{64})"
)
_PROJECT = fastjsonschema.compile(
    {
        "type": "object",
        "properties": {
            "name": {"type": "string", "minLength": 1, "maxLength": 200},
            "case_one": {"type": "string", "minLength": 1, "maxLength": 40},
            "case_many": {"type": "string", "minLength": 1, "maxLength": 40},
            "hide_below": {"type": "integer", "minimum": 0, "maximum": 50},
            "round_to": {"enum": [0, 3, 5]},
            "trail_days": {"type": "integer", "minimum": 0, "maximum": 10_000},
            "revision": {"type": "integer", "minimum": 0, "maximum": 2**53},
            "created_at": {"type": "string", "format": "date-time"},
        },
        "required": ["name", "case_one", "case_many", "hide_below", "round_to", "trail_days", "revision", "created_at"],
    }
)
_COUNT = {"type": "integer", "minimum": 0, "maximum": MOST}
_MANIFEST = fastjsonschema.compile(
    {
        "type": "object",
        "properties": {
            "what": {"const": WHAT},
            "format": {"type": "integer"},
            "made_at": {"type": "string", "format": "date-time"},
            "project": {"type": "object"},
            "trail": {"type": "boolean"},
            "parts": {
                "type": "object",
                "additionalProperties": {
                    "type": "object",
                    "properties": {"rows": _COUNT, "numbers": _COUNT, "sha256": {"type": "string"}},
                    "required": ["rows", "numbers", "sha256"],
                },
            },
            "media": {"type": "object", "additionalProperties": {"type": "integer", "minimum": 0}},
            "missing": {"type": "array"},
        },
        "required": ["what", "format", "made_at", "project", "trail", "parts", "media", "missing"],
    }
)


_UNREADABLE = (zipfile.BadZipFile, NotImplementedError, EOFError, OSError, RuntimeError, ValueError, zlib.error)
"""What reading a broken .zip may raise."""


class NotOurs(Refusal):
    """The file can't be brought in as a project."""


class Opened:
    """A project's file, looked into: ``said`` is what it says of itself."""

    def __init__(self, path: Path) -> None:
        try:
            self._file = zipfile.ZipFile(path)
        except _UNREADABLE as problem:
            raise NotOurs(say("This isn’t a project’s file: it can’t be opened as a .zip.")) from problem
        try:
            entries = _entries(self._file)
            self.said = _manifest(self._file)
            _complete(self.said, entries)
        except _UNREADABLE as problem:
            self._file.close()
            raise NotOurs(say("This isn’t a project’s file: it can’t be read as a .zip.")) from problem
        except NotOurs:
            self._file.close()
            raise

    def close(self) -> None:
        self._file.close()

    def people(self) -> list[Json]:
        return list(self.lines("people", schemas.person))

    def lines(self, name: str, check: Callable[[Any], Any]) -> Iterator[Json]:
        """The rows of a part, each checked; at the end, that there are as many as there should be, unchanged."""
        entry, digest, count = f"data/{name}.jsonl", hashlib.sha256(), 0
        try:
            with self._file.open(entry) as file:
                while line := file.readline(LONGEST_LINE):
                    count += 1
                    digest.update(line)
                    yield _row(entry, line, count, check)
        except _UNREADABLE as problem:
            raise NotOurs(
                say("The file is damaged: {entry} can’t be read as it was written.", entry=entry)
            ) from problem
        listed = self.said["parts"][name]
        if (count, digest.hexdigest()) != (listed["rows"], listed["sha256"]):
            raise NotOurs(say("The file is damaged: {entry} isn’t what was written.", entry=entry))

    def unpack_medium(self, digest: str, target: Path) -> None:
        """The bytes of a picture, page or recording, as a file."""
        try:
            with self._file.open(f"media/{digest}") as source, target.open("wb") as out:
                shutil.copyfileobj(source, out, MEGABYTE)
        except OSError:
            raise
        except _UNREADABLE as problem:
            raise NotOurs(
                say("The file is damaged: media/{digest} can’t be read as it was written.", digest=digest)
            ) from problem


def _row(entry: str, line: bytes, number: int, check: Callable[[Any], Any]) -> Json:
    try:
        row: Json = orjson.loads(line)
        check(row)
        if b"\\u0000" in line and _has_null(row):
            raise NotOurs(
                say(
                    "{entry}, line {number}, holds a character without a meaning (U+0000), as no text can.",
                    entry=entry,
                    number=number,
                )
            )
    except orjson.JSONDecodeError as problem:
        raise NotOurs(say("{entry}, line {number}, isn’t JSON.", entry=entry, number=number)) from problem
    except fastjsonschema.JsonSchemaException as problem:
        said = str(problem)
        raise NotOurs(
            say(
                "{entry}, line {number}, isn’t a row of a project: {said}.", entry=entry, number=number, said=said[:200]
            )
        ) from problem
    if row[rows.ID] != number and entry != "data/people.jsonl":
        raise NotOurs(
            say(
                "{entry}, line {number}, is out of order: its id is {row}.",
                entry=entry,
                number=number,
                row=row[rows.ID],
            )
        )
    return row


def _has_null(said: Any) -> bool:
    """Whether U+0000 stands in any text of it, which the database keeps in none."""
    if isinstance(said, dict):
        return any(map(_has_null, said.items()))
    if isinstance(said, list | tuple):
        return any(map(_has_null, said))
    return isinstance(said, str) and "\x00" in said


def _entries(file: zipfile.ZipFile) -> dict[str, zipfile.ZipInfo]:
    listed = file.infolist()
    if len(listed) > MOST_ENTRIES:
        raise NotOurs(say("This isn’t a project’s file: it holds more files than any project does."))
    found = {one.filename: one for one in listed}
    if MANIFEST not in found:
        raise NotOurs(
            say(
                "This isn’t a project’s file: it holds no project.json. Take the project out with Cohortia, under Members."
            )
        )
    if len(found) != len(listed):
        raise NotOurs(say("The file holds two parts of the same name."))
    for one in listed:
        match = _ENTRY.fullmatch(one.filename)
        if not match:
            raise NotOurs(
                say(
                    "The file holds something that no project’s file has: {filename}.",
                    filename=f"{one.filename[:100]!r}",
                )
            )
        if not match[2] and one.file_size > max(MEGABYTE, one.compress_size * MOST_PRESSED):
            raise NotOurs(say("{filename} would become far larger than it can be.", filename=one.filename))
    for most, start in ((LARGEST_DATA, "data/"), (LARGEST_MEDIA, "media/")):
        if sum(one.file_size for one in listed if one.filename.startswith(start)) > most:
            raise NotOurs(say("The file is larger than any project that can be brought in."))
    return found


def _manifest(file: zipfile.ZipFile) -> Json:
    if file.getinfo(MANIFEST).file_size > LARGEST_MANIFEST:
        raise NotOurs(say("project.json is larger than it can be."))
    try:
        said: Json = orjson.loads(file.read(MANIFEST))
        if (
            isinstance(said, dict)
            and said.get("what") == WHAT
            and type(said.get("format")) is int
            and said["format"] > FORMAT
        ):
            raise NotOurs(
                say(
                    "This file was made by a newer version of Cohortia (format {said}; this one reads up to {format}). Update this one, then bring it in.",
                    said=said["format"],
                    format=FORMAT,
                )
            )
        _MANIFEST(said)
        _PROJECT(said["project"])
    except (orjson.JSONDecodeError, fastjsonschema.JsonSchemaException) as problem:
        raise NotOurs(say("This isn’t a project’s file: {problem}.", problem=str(problem)[:200])) from problem
    return said


def _complete(said: Json, entries: dict[str, zipfile.ZipInfo]) -> None:
    known = (part.name for part in PARTS if part.since <= said["format"])
    wanted = {"people", *known, *([TRAIL.name] if said["trail"] else [])}
    if said["parts"].keys() != wanted:
        odd = sorted(said["parts"].keys() ^ wanted)
        raise NotOurs(say("The file isn’t whole, or of another version: {odd}.", odd=", ".join(odd)[:200]))
    for name, listed in said["parts"].items():
        if f"data/{name}.jsonl" not in entries or listed["numbers"] < listed["rows"]:
            raise NotOurs(say("The file isn’t whole: {name} isn’t in it as it should be.", name=name))
    there = {name.removeprefix("media/"): one.file_size for name, one in entries.items() if name.startswith("media/")}
    if there != said["media"]:
        raise NotOurs(say("The file isn’t whole: the media that it names aren’t those that it holds."))
