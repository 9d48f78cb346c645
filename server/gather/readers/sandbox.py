"""Files are read in a process of their own, with limits on time and memory, that may die without harm.

Run as a module it answers requests on standard input, one JSON line each:
``{"name": …, "path": …}`` → ``{"content": …}`` or ``{"problem": sentence}``.
"""

import contextlib
import json
import resource
import subprocess
import sys
import tempfile
import threading
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

MEMORY = 1_200 * 1024 * 1024
SECONDS = 60
_ROOT = Path(__file__).resolve().parents[3]
_DIED = "The file couldn’t be read within the limits of memory and time. If it is a normal file, save it again and add it once more."


def read_files(files: Iterable[tuple[str, bytes]]) -> Iterator[dict[str, Any]]:
    """For each (name, bytes), in order, ``{"content": …}`` or ``{"problem": sentence}``."""
    with tempfile.TemporaryDirectory(prefix="cohortia-") as folder:
        child: subprocess.Popen[str] | None = None
        try:
            for name, data in files:
                path = Path(folder) / "file"
                path.write_bytes(data)
                if child is None or child.poll() is not None:
                    child = _start()
                yield _ask(child, name, path)
        finally:
            if child is not None:
                _end(child)


def _start() -> "subprocess.Popen[str]":
    return subprocess.Popen(
        [sys.executable, "-m", "server.gather.readers.sandbox"],
        cwd=_ROOT,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        encoding="utf-8",
        env={"PATH": "/usr/bin:/bin", "PYTHONPATH": str(_ROOT), "PYTHONUTF8": "1", "OPENBLAS_NUM_THREADS": "1"},
    )


def _ask(child: "subprocess.Popen[str]", name: str, path: Path) -> dict[str, Any]:
    assert child.stdin
    assert child.stdout
    timer = threading.Timer(SECONDS, child.kill)
    timer.start()
    try:
        child.stdin.write(json.dumps({"name": name, "path": str(path)}) + "\n")
        child.stdin.flush()
        answer = child.stdout.readline()
        return dict(json.loads(answer)) if answer else {"problem": _DIED}
    except (BrokenPipeError, json.JSONDecodeError):
        return {"problem": _DIED}
    finally:
        timer.cancel()


def _end(child: "subprocess.Popen[str]") -> None:
    assert child.stdin
    assert child.stdout
    with contextlib.suppress(BrokenPipeError):
        child.stdin.close()
    try:
        child.wait(timeout=2)
    except subprocess.TimeoutExpired:
        child.kill()
        child.wait()
    child.stdout.close()


def _answer(request: dict[str, str]) -> dict[str, Any]:
    from server.gather.readers.kinds import Unreadable, check_container, kind_of
    from server.gather.readers.sheets import read_rows
    from server.gather.readers.transcripts import read_lines

    data = Path(request["path"]).read_bytes()
    try:
        kind = kind_of(request["name"])
        check_container(request["name"], data)
        if kind == "sheet":
            return {"content": read_rows(request["name"], data)}
        lines, encoding = read_lines(request["name"], data)
        return {
            "content": {"lines": [[line.text.replace("\x00", ""), line.bold] for line in lines], "format": encoding}
        }
    except Unreadable as unreadable:
        return {"problem": str(unreadable)}
    except MemoryError:
        return {"problem": _DIED}


def main() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS * 4, SECONDS * 4))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    for line in sys.stdin:
        print(json.dumps(_answer(json.loads(line))), flush=True)


if __name__ == "__main__":
    main()
