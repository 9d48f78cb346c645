"""The media folder: bytes kept under their digest, outside the database. What is kept never changes."""

import fcntl
import hashlib
import os
import re
import shutil
import tempfile
import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TypeVar

from django.conf import settings
from django.db import connection
from django.db.models import QuerySet
from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase

from server.gather import store
from server.gather.models import Medium, StagedFile

Answer = TypeVar("Answer", bound=HttpResponseBase)
_CHUNK = 1024 * 1024
_COMING = "coming-"
_LOCK = 8322
"""Key of the advisory lock that a backup shares, and that deleting needs for itself."""
UNNAMED_FOR = 3600
"""Seconds: bytes come before the rows that name them."""
_IN_THE_TRAIL = """
    SELECT DISTINCT jsonb_path_query(inverse::jsonb, '$[*] ? (@.model == "gather.medium").rows[*].digest') #>> '{}'
    FROM projects_trailentry WHERE state <> 'gone'
"""
_RANGE = re.compile(r"^bytes=(\d*)-(\d*)$")


def keep(source: Path) -> str:
    """Move a file into the folder; returns its digest. The same bytes are kept once."""
    digest = digest_of(source)
    target = path_of(digest)
    with _held(fcntl.LOCK_SH):
        if target.exists():
            # Named anew: the sweeping that may be under way takes it for new.
            os.utime(target)
            source.unlink()
            store.put(digest, target)
            return digest
        target.parent.mkdir(parents=True, exist_ok=True)
        # Into place by one rename: a reader sees all of a file or none of it.
        handle, name = tempfile.mkstemp(prefix=_COMING, dir=target.parent)
        os.close(handle)
        try:
            shutil.move(source, name)
            store.put(digest, Path(name))
            os.replace(name, target)
        finally:
            Path(name).unlink(missing_ok=True)
    return digest


def put_back(path: Path) -> None:
    """A file of a backup, named by its digest, to where it was. What is there already, and is the same, stays."""
    target = path_of(path.name)
    if not target.exists() or digest_of(target) != path.name:
        target.parent.mkdir(parents=True, exist_ok=True)
        target.unlink(missing_ok=True)
        keep(path)


def digest_of(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def path_of(digest: str) -> Path:
    """Where the bytes of this digest lie."""
    if not re.fullmatch(r"[0-9a-f]{64}", digest):
        raise ValueError("not a digest")
    return Path(settings.MEDIA_FOLDER) / digest[:2] / digest


def here(digest: str) -> Path:
    """The same, with the bytes there: from the store, where there is one and this machine hasn't asked for them yet."""
    path = path_of(digest)
    if store.there_is_one() and not path.exists():
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(prefix=_COMING, dir=path.parent)
        os.close(handle)
        try:
            store.fetch(digest, Path(name))
            os.replace(name, path)
        finally:
            Path(name).unlink(missing_ok=True)
    return path


NAMED_ELSEWHERE: list[Callable[[], Iterable[str]]] = []
"""Rooms above this one that keep bytes add here what says which."""


def named() -> set[str]:
    """Digests of all bytes that the database refers to, and of those that undoing would bring back."""
    found = _named(Medium.objects.all(), StagedFile.objects.all(), _IN_THE_TRAIL, [])
    return found.union(*(names() for names in NAMED_ELSEWHERE))


def of_project(project_id: int) -> set[str]:
    """The same of one project."""
    documents, staged = (
        Medium.objects.filter(document__project=project_id),
        StagedFile.objects.filter(project=project_id),
    )
    return _named(documents, staged, f"{_IN_THE_TRAIL} AND project_id = %s", [project_id])


def of_staged(staged: QuerySet[StagedFile]) -> set[str]:
    """Digests of what waits: a sheet's cells, pictures, recordings."""
    found: set[str] = set()
    for stored, source, content in staged.values_list("stored", "content__source", "content__media"):
        found.update(one for one in (stored, source) if one)
        found.update(one["digest"] for one in content or [])
    return found


def _named(kept: QuerySet[Medium], staged: QuerySet[StagedFile], trail: str, asked: list[int]) -> set[str]:
    found = set(kept.values_list("digest", flat=True)) | of_staged(staged)
    with connection.cursor() as cursor:
        cursor.execute(trail, asked)
        found.update(row[0] for row in cursor.fetchall())
    return found


def forget(digests: Iterable[str]) -> int:
    """Delete those of these bytes that nothing refers to; how many went. While a backup is being made none do: the daily
    sweeping takes them."""
    with _exclusively() as alone:
        if not alone:
            return 0
        unnamed = set(digests) - named()
        for digest in unnamed:
            _delete(path_of(digest))
            store.delete(digest)
    return len(unnamed)


def sweep() -> int:
    """Delete all bytes that nothing has referred to for an hour, and what was left half moved in; how many went."""
    folder, long_ago = Path(settings.MEDIA_FOLDER), time.time() - UNNAMED_FOR
    with _exclusively() as alone:
        if not alone or not folder.exists():
            return 0
        known = named()
        left = [
            path
            for path in folder.glob("??/*")
            if path.name.split(".")[0] not in known and path.stat().st_mtime < long_ago
        ]
        for path in left:
            _delete(path)
        gone = [digest for digest, sent in store.kept() if digest not in known and sent.timestamp() < long_ago]
        for digest in gone:
            store.delete(digest)
    return len({path.name for path in left}.union(gone))


def _delete(path: Path) -> None:
    """The bytes, and what was made from them."""
    if path.is_dir():
        shutil.rmtree(path, ignore_errors=True)
        return
    for made in (pages_of(path), sound_of(path)):
        shutil.rmtree(made, ignore_errors=True)
    path.unlink(missing_ok=True)


def pages_of(path: Path) -> Path:
    """Where pictures of the pages of a PDF lie, drawn from it when they are first looked at."""
    return path.with_name(f"{path.name}.pages")


def sound_of(path: Path) -> Path:
    """Where that lies which was heard in a recording: how loud it is, where somebody speaks, a light copy."""
    return path.with_name(f"{path.name}.sound")


@contextmanager
def nothing_goes() -> Iterator[None]:
    """While this lasts no bytes are deleted, on whatever machine."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_lock_shared(%s, 0)", [_LOCK])
        try:
            yield
        finally:
            cursor.execute("SELECT pg_advisory_unlock_shared(%s, 0)", [_LOCK])


@contextmanager
def _exclusively() -> Iterator[bool]:
    """Whether bytes may be deleted now: nobody makes a backup, and nobody on this machine is moving bytes in."""
    with connection.cursor() as cursor, _held(fcntl.LOCK_EX):
        cursor.execute("SELECT pg_try_advisory_lock(%s, 0)", [_LOCK])
        alone = bool(cursor.fetchone()[0])
        try:
            yield alone
        finally:
            if alone:
                cursor.execute("SELECT pg_advisory_unlock(%s, 0)", [_LOCK])


@contextmanager
def _held(how: int) -> Iterator[None]:
    """The folder's own lock."""
    Path(settings.MEDIA_FOLDER).mkdir(parents=True, exist_ok=True)
    handle = os.open(Path(settings.MEDIA_FOLDER) / ".lock", os.O_CREAT | os.O_RDWR, 0o600)
    try:
        fcntl.flock(handle, how)
        yield
    finally:
        os.close(handle)


def response(request: HttpRequest, path: Path, content_type: str) -> HttpResponseBase:
    """The file, or the part of it that a player asks for."""
    size = path.stat().st_size
    found = _RANGE.match(request.headers.get("Range", ""))
    if not found or not (found[1] or found[2]):
        whole = FileResponse(path.open("rb"), content_type=content_type)
        whole["Accept-Ranges"] = "bytes"
        return _private(whole)
    first = int(found[1]) if found[1] else max(0, size - int(found[2]))
    last = min(int(found[2]), size - 1) if found[1] and found[2] else size - 1
    if first > last:
        refused = HttpResponse(status=416)
        refused["Content-Range"] = f"bytes */{size}"
        return refused
    part = StreamingHttpResponse(_part(path, first, last - first + 1), status=206, content_type=content_type)
    part["Content-Range"] = f"bytes {first}-{last}/{size}"
    part["Content-Length"] = str(last - first + 1)
    part["Accept-Ranges"] = "bytes"
    return _private(part)


def _private(answer: Answer) -> Answer:
    """Kept by the browser of who may see it, by nobody between."""
    answer["Cache-Control"] = "private, max-age=86400"
    return answer


def _part(path: Path, first: int, length: int) -> Iterator[bytes]:
    with path.open("rb") as file:
        file.seek(first)
        while length > 0 and (chunk := file.read(min(_CHUNK, length))):
            length -= len(chunk)
            yield chunk
