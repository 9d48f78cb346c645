"""What a process that reads one file after the other does, apart from Django.

It answers requests on standard input, one JSON line each:
``{"name": …, "path": …, "out": folder}`` → ``{"content": …, "media": […]}`` or ``{"problem": sentence}``;
what is large is written into the folder and named in the answer.
"""

import gc
import json
import resource
import shutil
import sys
from collections.abc import Iterable
from importlib import import_module
from pathlib import Path
from typing import IO, Any

from core.language import message, say, speaking, worded

MEMORY = 1_600 * 1024 * 1024
LARGEST_WRITTEN = 700 * 1024 * 1024
DIED = message(
    "The file couldn’t be read within the limits of memory and time. If it is a normal file, save it again and add it once more."
)


TEXTS = ("core.gather.transcript", "server.gather.readers.transcripts", "server.gather.readers.word")
SHEETS = (
    "openpyxl",
    "pandas",
    "core.people.participants",
    "server.gather.readers.delimited",
    "server.gather.readers.sheets",
)
"""What reading them needs: of sheets as much again."""


def load(names: Iterable[str]) -> None:
    """Have at hand what will be needed, before any file is read."""
    for name in names:
        import_module(name)


def answer(request: dict[str, Any]) -> dict[str, Any]:
    """Read one file; every problem is a sentence, in the language of whoever asks."""
    if request.get("language", "en") == "en":
        return _answer(request)
    from server.common.languages import catalogue_of

    with speaking(catalogue_of(request["language"])):
        return _answer(request)


def _answer(request: dict[str, Any]) -> dict[str, Any]:
    from server.gather.readers.kinds import Unreadable, check_container, kind_of

    path, out = Path(request["path"]), Path(request["out"])
    try:
        if "page" in request:
            return _page(path, out, request["page"])
        if "regions" in request:
            return _regions(path, out, request["regions"])
        if "codebook" in request:
            return _codebook(request, path)
        if "hear" in request:
            return _hear(request, path, out)
        kind = kind_of(request["name"])
        with path.open("rb") as file:
            head = file.read(4096)
            # What begins with a million empty lines isn't empty.
            check_container(request["name"], head if head.strip() else head + _first_ink(file))
        return {"transcript": _transcript, "sheet": _sheet, "image": _image, "recording": _recording}[kind](
            request, path, out
        )
    except Unreadable as unreadable:
        return {"problem": str(unreadable)}
    except (MemoryError, RecursionError):
        return {"problem": worded(DIED)}


def _first_ink(file: IO[bytes]) -> bytes:
    """The first piece of what is left of a file that isn't blank."""
    while piece := file.read(1024 * 1024):
        if piece.strip():
            return piece.strip()[:4096]
    return b""


def _codebook(request: dict[str, Any], path: Path) -> dict[str, Any]:
    from server.gather.readers.codebooks import read_codebook

    return {"content": read_codebook(request["name"], path)}


def _transcript(request: dict[str, Any], path: Path, out: Path) -> dict[str, Any]:
    from server.gather.readers.transcripts import read_lines

    content = read_lines(request["name"], path, request.get("encoding"))
    if not content["pages"]:
        return {"content": content, **_source(content, path, out)}
    from server.gather.readers.pdf import THUMBNAIL, render

    shutil.copyfile(path, out / "pages")
    width, height = render(path, 1, out / "thumbnail.webp", THUMBNAIL)
    media = [
        {"role": "pages", "number": content["pages"], "type": "application/pdf", "file": "pages", "width": 0, "height": 0},
        {"role": "thumbnail", "number": 1, "type": "image/webp", "file": "thumbnail.webp", "width": width, "height": height},
    ]  # fmt: skip
    return {"content": content, "media": media}


def _sheet(request: dict[str, Any], path: Path, out: Path) -> dict[str, Any]:
    from server.gather.readers.sheets import read_sheet

    content = read_sheet(request["name"], path, out, request.get("title", ""), request.get("encoding"))
    return {"content": content, "stored": "cells", **_source(content, path, out)}


def _source(content: dict[str, Any], path: Path, out: Path) -> dict[str, Any]:
    """The file itself, where it may have to be read again in another way."""
    if not content.get("encoding"):
        return {}
    shutil.copyfile(path, out / "source")
    return {"source": "source"}


def _image(request: dict[str, Any], path: Path, out: Path) -> dict[str, Any]:
    from server.gather.readers.images import read_pictures

    pictures, thumbnail, said = read_pictures(path, out)
    media = [
        {"role": role, "number": one.number, "type": "image/webp", "file": one.file.name, "width": one.width, "height": one.height}
        for role, group in (("picture", pictures), ("thumbnail", [thumbnail]))
        for one in group
    ]  # fmt: skip
    size = say("{width, number} × {height, number} points", width=pictures[0].width, height=pictures[0].height)
    return {
        "content": {"format": say("picture, {size}", size=size), "warnings": said, "pages": len(pictures)},
        "media": media,
    }


def _recording(request: dict[str, Any], path: Path, out: Path) -> dict[str, Any]:
    from core.gather.timed import written_time
    from server.gather.readers.recordings import read_recording

    copy, kind, seconds, said = read_recording(request["name"], path, out)
    length = f", {written_time(seconds)}" if seconds else ""
    medium = {"role": "recording", "number": 1, "type": kind, "file": copy.name, "width": 0, "height": 0}
    content = {
        "format": f"{'film' if kind.startswith('video') else 'sound'}{length}",
        "warnings": said,
        "seconds": seconds,
    }
    return {"content": content, "media": [medium]}


def _hear(request: dict[str, Any], path: Path, out: Path) -> dict[str, Any]:
    from server.gather.readers.sound import hear

    told = [0]

    def tell(far: float) -> None:
        """In steps of a hundredth."""
        if int(far * 100) > told[0]:
            told[0] = int(far * 100)
            print(json.dumps({"far": min(far, 1.0)}), flush=True)

    content = hear(request["name"], path, out, tell)
    return {"content": content, "media": [{"role": one.name, "file": one.name} for one in sorted(out.iterdir())]}


def _page(path: Path, out: Path, number: int) -> dict[str, Any]:
    from server.gather.readers.pdf import render

    width, height = render(path, number, out / "page.webp")
    medium = {
        "role": "page",
        "number": number,
        "type": "image/webp",
        "file": "page.webp",
        "width": width,
        "height": height,
    }
    return {"content": {}, "media": [medium]}


def _regions(path: Path, out: Path, regions: list[list[int]]) -> dict[str, Any]:
    from server.gather.readers.images import cut_out

    made = cut_out(path, regions, out)
    return {"content": {}, "media": [{"role": "region", "file": one.name} for one in made]}


def main(seconds: int) -> None:
    """Answer until nothing more is asked, within limits of memory and time."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds * 4, seconds * 4))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (LARGEST_WRITTEN, LARGEST_WRITTEN))
    for line in sys.stdin:
        print(json.dumps(answer(json.loads(line))), flush=True)
        gc.collect()
        # What is loaded stays: looking through it again after each small file took longer than reading the file.
        gc.freeze()
