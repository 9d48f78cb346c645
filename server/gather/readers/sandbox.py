"""Files are read in a process of their own (`reader.py`), with limits on time and memory, that may die without harm."""

import contextlib
import json
import select
import shutil
import threading
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import Any

from core.language import say, spoken, worded
from server.gather.readers import forks
from server.gather.readers.reader import DIED

SECONDS = 90
LONG_SECONDS = 45 * 60
"""For what goes through hours of sound, with progress."""
PATIENCE = 60
"""Seconds that one waits until others have read theirs."""
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
        child: forks.Fork | None = None
        try:
            for name, source in files:
                out = folder / "out"
                out.mkdir(exist_ok=True)
                path = source if isinstance(source, Path) else folder / "file"
                if isinstance(source, bytes):
                    path.write_bytes(source)
                if child is None or child.ended:
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


def _start(folder: Path, seconds: int) -> forks.Fork:
    return forks.start(folder, seconds)


def _ask(child: forks.Fork, request: dict[str, Any], tell: Callable[[float], None] | None = None) -> dict[str, Any]:
    timer = threading.Timer(SECONDS if tell is None else LONG_SECONDS, child.kill)
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
    child.kill()
    return {"problem": worded(DIED)}


def _end(child: forks.Fork) -> None:
    with contextlib.suppress(BrokenPipeError):
        child.stdin.close()
    # With nothing more to be asked it ends by itself; what hangs is ended.
    select.select([child.stdout], [], [], 2)
    child.kill()
    child.stdout.close()
