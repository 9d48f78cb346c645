"""The media folder: bytes kept under their digest, outside the database. What is kept never changes."""

import hashlib
import os
import re
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import TypeVar

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase

Answer = TypeVar("Answer", bound=HttpResponseBase)
_CHUNK = 1024 * 1024
_RANGE = re.compile(r"^bytes=(\d*)-(\d*)$")


def keep(source: Path) -> str:
    """Move a file into the folder; returns its digest. The same bytes are kept once."""
    digest = digest_of(source)
    target = path_of(digest)
    if target.exists():
        source.unlink()
        return digest
    target.parent.mkdir(parents=True, exist_ok=True)
    # Into place by one rename: a reader sees all of a file or none of it.
    handle, name = tempfile.mkstemp(dir=target.parent)
    os.close(handle)
    shutil.move(source, name)
    os.replace(name, target)
    return digest


def digest_of(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def path_of(digest: str) -> Path:
    """Where the bytes of this digest lie."""
    if not re.fullmatch(r"[0-9a-f]{64}", digest):
        raise ValueError("not a digest")
    return Path(settings.MEDIA_FOLDER) / digest[:2] / digest


def forget(digest: str) -> None:
    """Delete bytes that nothing refers to (a sheet that waited and was discarded)."""
    path_of(digest).unlink(missing_ok=True)


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
