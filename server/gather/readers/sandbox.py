"""Files are read in a process of their own, with limits on time and memory, that may die without harm.

Run as a module it answers requests on standard input, one JSON line each:
``{"name": …, "path": …, "out": folder}`` → ``{"content": …, "media": […]}`` or ``{"problem": sentence}``;
what is large is written into the folder and named in the answer.
"""

import contextlib
import gc
import json
import os
import resource
import shutil
import signal
import subprocess
import sys
import threading
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import IO, Any

from core.language import message, say, speaking, spoken, worded

MEMORY = 1_600 * 1024 * 1024
SECONDS = 90
LONG_SECONDS = 45 * 60
"""For what goes through hours of sound, with progress."""
PATIENCE = 60
"""Seconds that one waits until others have read theirs."""
LARGEST_WRITTEN = 700 * 1024 * 1024
_ROOT = Path(__file__).resolve().parents[3]
DIED = message(
    "The file couldn’t be read within the limits of memory and time. If it is a normal file, save it again and add it once more."
)
Source = bytes | Path


def read_files(
    files: Iterable[tuple[str, Source]],
    keep: Callable[[Path], str],
    tell: Callable[[float], None] | None = None,
    **more: Any,
) -> Iterator[dict[str, Any]]:
    """For each (name, bytes or path), in order, ``{"content": …, "media": …}`` or ``{"problem": sentence}``.
    ``keep`` takes each file that was written for good, and gives the digest that stands for it; ``tell`` is told how far long
    work is, 0 to 1."""
    # The child process needs nothing of Django.
    from django.conf import settings

    from server.common.errors import Refusal
    from server.common.folders import one_of, temporary_folder

    # So many at once, on the whole machine: each may use up to its limit of memory.
    with one_of(settings.READERS, "reader", PATIENCE) as free, temporary_folder("reading") as folder:
        if not free:
            raise Refusal(say("Many files are being read just now. Nothing was changed; try again in a minute."))
        child: subprocess.Popen[str] | None = None
        try:
            for name, source in files:
                out = folder / "out"
                out.mkdir(exist_ok=True)
                path = source if isinstance(source, Path) else folder / "file"
                if isinstance(source, bytes):
                    path.write_bytes(source)
                if child is None or child.poll() is not None:
                    child = _start(folder, SECONDS if tell is None else LONG_SECONDS)
                request = {"name": name, "path": str(path), "out": str(out), "language": spoken().language, **more}
                answer = _ask(child, request, tell)
                yield _kept(answer, out, keep)
                shutil.rmtree(out, ignore_errors=True)
        finally:
            if child is not None:
                _end(child)


def _kept(answer: dict[str, Any], out: Path, keep: Callable[[Path], str]) -> dict[str, Any]:
    if "problem" in answer:
        return answer
    for medium in answer.get("media", []):
        # The child names files in its own folder and nowhere else.
        medium["digest"] = keep(out / Path(medium.pop("file")).name)
    for name in ("stored", "source"):
        if name in answer:
            answer[name] = keep(out / Path(answer[name]).name)
    return answer


def _start(folder: Path, seconds: int) -> "subprocess.Popen[str]":
    return subprocess.Popen(
        [sys.executable, "-m", "server.gather.readers.sandbox", str(seconds)],
        cwd=_ROOT,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        encoding="utf-8",
        # A session of its own, so that what it starts ends with it.
        start_new_session=True,
        env={
            "PATH": "/usr/bin:/bin",
            "TMPDIR": str(folder),
            "PYTHONPATH": str(_ROOT),
            "PYTHONUTF8": "1",
            "OPENBLAS_NUM_THREADS": "1",
        },
    )


def _kill(child: "subprocess.Popen[str]") -> None:
    with contextlib.suppress(ProcessLookupError):
        os.killpg(child.pid, signal.SIGKILL)


def _ask(
    child: "subprocess.Popen[str]", request: dict[str, Any], tell: Callable[[float], None] | None = None
) -> dict[str, Any]:
    assert child.stdin
    assert child.stdout
    timer = threading.Timer(SECONDS if tell is None else LONG_SECONDS, _kill, [child])
    timer.start()
    try:
        child.stdin.write(json.dumps(request) + "\n")
        child.stdin.flush()
        while answer := child.stdout.readline():
            said = dict(json.loads(answer))
            if "far" not in said:
                return said
            if tell is not None:
                tell(said["far"])
    except (BrokenPipeError, json.JSONDecodeError):
        pass
    finally:
        timer.cancel()
    # It is ended before the next file is asked for, which would else go down with it.
    _kill(child)
    child.wait()
    return {"problem": worded(DIED)}


def _end(child: "subprocess.Popen[str]") -> None:
    assert child.stdin
    assert child.stdout
    with contextlib.suppress(BrokenPipeError):
        child.stdin.close()
    try:
        child.wait(timeout=2)
    except subprocess.TimeoutExpired:
        _kill(child)
        child.wait()
    child.stdout.close()


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
    # Millions of small texts and no rings among them: looking for rings would take most of the time.
    gc.disable()
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds * 4, seconds * 4))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (LARGEST_WRITTEN, LARGEST_WRITTEN))
    for line in sys.stdin:
        print(json.dumps(answer(json.loads(line))), flush=True)
        gc.collect()
        # What is loaded stays: looking through it again after each small file took longer than reading the file.
        gc.freeze()


if __name__ == "__main__":
    main(int(sys.argv[1]))
