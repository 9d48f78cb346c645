"""Processes that read files, forked from one in which what they need is loaded: starting Python and loading it took longer than
reading ten small files.

The one that forks reads no file, is told no secret (its environment is its own), and lets go of the processor when nobody asks. Each
reading has a process of its own, forked from it as it was at the beginning.
"""

import contextlib
import gc
import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import threading
from pathlib import Path
from typing import IO

_ROOT = Path(__file__).resolve().parents[3]
_LONGEST = 8192
"""Bytes of what is asked of the one that forks."""
SOON = 0.3
"""Seconds without a question after which it loads what only sheets need."""
IDLE = 600.0
"""Seconds after which it goes, where nobody asks it anything and none of its own is left."""


class Fork:
    """A process that reads: what it is told, what it says, and its end."""

    def __init__(self, server: "_Server", pid: int, stdin: IO[str], stdout: IO[str]) -> None:
        self._server, self.pid, self.stdin, self.stdout = server, pid, stdin, stdout
        self.ended = False

    def kill(self) -> None:
        """End it, and whatever it started; also one that has ended."""
        if not self.ended:
            self.ended = True
            self._server.end(self.pid)


class _Server:
    """The one that forks, seen from the process that it works for."""

    def __init__(self) -> None:
        self.of = os.getpid()
        self.lock = threading.Lock()
        ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        with theirs:
            self.process = subprocess.Popen(
                [sys.executable, "-m", __name__, str(theirs.fileno())],
                cwd=_ROOT,
                stdin=subprocess.DEVNULL,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
                pass_fds=[theirs.fileno()],
                start_new_session=True,
                env={"PATH": "/usr/bin:/bin", "PYTHONPATH": str(_ROOT), "PYTHONUTF8": "1", "OPENBLAS_NUM_THREADS": "1"},
            )
        self.socket = ours

    def start(self, folder: Path, seconds: int) -> Fork:
        stdin, stdout = os.pipe(), os.pipe()
        asked = json.dumps({"start": seconds, "folder": str(folder)}).encode()
        try:
            with self.lock:
                socket.send_fds(self.socket, [asked], [stdin[0], stdout[1]])
                answer = self.socket.recv(_LONGEST)
            if not answer:
                raise ConnectionResetError
        except OSError:
            os.close(stdin[1])
            os.close(stdout[0])
            raise
        finally:
            os.close(stdin[0])
            os.close(stdout[1])
        text = {"encoding": "utf-8", "newline": "\n"}
        return Fork(self, int(answer), open(stdin[1], "w", **text), open(stdout[0], **text))  # type: ignore[call-overload]

    def end(self, pid: int) -> None:
        with self.lock, contextlib.suppress(OSError):
            self.socket.send(json.dumps({"end": pid}).encode())
            if self.socket.recv(_LONGEST):
                return
        # The one that forks has gone: those it forked are there until they are asked no more, or hang.
        _kill(pid)

    def close(self) -> None:
        self.socket.close()
        self.process.wait()


_server: _Server | None = None
_starting = threading.Lock()


def start(folder: Path, seconds: int) -> Fork:
    """A process that reads what it is asked to (`reader.main`), with ``folder`` for whatever it keeps meanwhile."""
    global _server
    with _starting:
        if _server is not None and _server.of == os.getpid():
            try:
                return _server.start(folder, seconds)
            except OSError:
                # It has gone, since nobody asked anything for long, or by whatever else: another one takes its place.
                _server.close()
        _server = _Server()
        return _server.start(folder, seconds)


def _serve(asked: socket.socket) -> None:
    """Fork whenever it is asked, and end what is to be ended, until whoever asks has gone."""
    from server.gather.readers import reader

    # Millions of small texts and no rings among them: looking for rings would take most of the time.
    gc.disable()
    reader.load(reader.TEXTS)
    whole = False
    living: set[int] = set()
    while True:
        gc.freeze()
        asked.settimeout(SOON if not whole else None if living else IDLE)
        try:
            message, handles, _, _ = socket.recv_fds(asked, _LONGEST, 2)
        except TimeoutError:
            if whole:
                break
            reader.load(reader.SHEETS)
            whole = True
            continue
        if not message:
            break
        said = json.loads(message)
        if "end" in said:
            living.discard(said["end"])
            _end(said["end"])
            asked.send(b"ended")
            continue
        pid = os.fork()
        if not pid:
            asked.close()
            _read(handles, said["folder"], said["start"])
        for handle in handles:
            os.close(handle)
        living.add(pid)
        asked.send(str(pid).encode())
    for pid in living:
        _end(pid)


def _end(pid: int) -> None:
    """Nobody else waits for it: until then its number is nobody else’s."""
    _kill(pid)
    with contextlib.suppress(ChildProcessError):
        os.waitpid(pid, 0)


def _kill(pid: int) -> None:
    # It is the first of its session, unless it has only just begun.
    for kill in (os.killpg, os.kill):
        with contextlib.suppress(ProcessLookupError, PermissionError):
            kill(pid, signal.SIGKILL)


def _read(handles: list[int], folder: str, seconds: int) -> None:
    """In the forked process, which ends with it."""
    from server.gather.readers import reader

    try:
        # A session of its own, so that what it starts ends with it.
        os.setsid()
        for handle, place in zip(handles, (0, 1), strict=True):
            os.dup2(handle, place)
            os.close(handle)
        os.environ["TMPDIR"] = tempfile.tempdir = folder
        reader.main(seconds)
    finally:
        os._exit(0)


if __name__ == "__main__":
    with socket.socket(fileno=int(sys.argv[1])) as _asked:
        _serve(_asked)
