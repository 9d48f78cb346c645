"""A stand-in for a transcriber, for trying things out: it hears where somebody speaks, and understands nothing.

Run as a module it serves the interface of docs/transcribing.md on loopback: ``python -m server.gather.stand_in PORT``.
The demo's recording it knows by heart; of others it says how long somebody speaks, and when."""

import hashlib
import json
import secrets
import shutil
import sys
import tempfile
import threading
import urllib.parse
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

from server.gather.readers.kinds import Unreadable
from server.gather.readers.recordings import ENDINGS
from server.gather.readers.sound import hear

NAME = "Stand-in (understands nothing)"
KNOWN = Path(__file__).resolve().parents[2] / "demo" / "stand_in"
"""Texts that it knows: each is called by the digest of its recording."""
MOST = 650_000_000


@dataclass
class _Work:
    state: str = "waiting"
    progress: float = 0.0
    problem: str = ""
    text: str = ""
    stopped: threading.Event = field(default_factory=threading.Event)


class _Stopped(Exception):
    pass


WORK: dict[str, _Work] = {}


def cues(stretches: list[list[float]], several: bool) -> str:
    """WebVTT of where somebody speaks."""
    lines = ["WEBVTT", "", f"NOTE {NAME}", ""]
    for begin, finish, channel in stretches:
        who = f"Channel {int(channel) + 1}" if several else "Speaker"
        lines += [
            f"{_stamp(begin)} --> {_stamp(finish)}",
            f"<v {who}>[Somebody speaks for {finish - begin:.1f} seconds.]",
            "",
        ]
    return "\n".join(lines)


def _stamp(seconds: float) -> str:
    whole, rest = divmod(round(seconds * 1000), 1000)
    return f"{whole // 3600:02}:{whole % 3600 // 60:02}:{whole % 60:02}.{rest:03}"


def _do(work: _Work, path: Path, ending: str) -> None:
    def tell(far: float) -> None:
        work.progress = min(far, 1.0)
        if work.stopped.is_set():
            raise _Stopped

    work.state = "working"
    try:
        with path.open("rb") as file:
            known = KNOWN / f"{hashlib.file_digest(file, 'sha256').hexdigest()}.vtt"
        if known.exists():
            work.text = known.read_text()
        else:
            out = path.parent / "out"
            out.mkdir()
            found = hear(f"recording.{ending}", path, out, tell)["stretches"]
            work.text = cues(found, len({one[2] for one in found}) > 1)
        work.state = "done"
    except Unreadable as unreadable:
        work.state, work.problem = "failed", str(unreadable)
    except _Stopped:
        work.state, work.problem = "failed", "cancelled"
    finally:
        shutil.rmtree(path.parent, ignore_errors=True)


class _Serving(BaseHTTPRequestHandler):
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        parts = urllib.parse.urlsplit(self.path).path.strip("/").split("/")
        work = WORK.get(parts[1]) if len(parts) > 1 else None
        if parts == [""]:
            self._answer(200, json.dumps({"name": NAME, "stand_in": True}))
        elif work is None or parts[0] != "transcripts":
            self._answer(404, "{}")
        elif parts[2:] == ["text"]:
            self._answer(200 if work.state == "done" else 409, work.text, "text/vtt; charset=utf-8")
        else:
            said = {"state": work.state, "progress": work.progress, "problem": work.problem}
            self._answer(200, json.dumps(said))

    def do_POST(self) -> None:
        length, kind = int(self.headers.get("Content-Length") or 0), self.headers.get("Content-Type", "")
        ending = ENDINGS.get(kind)
        if ending is None or not 0 < length <= MOST:
            self.close_connection = True
            self._answer(415 if ending is None else 413, "{}")
            return
        path = Path(tempfile.mkdtemp(prefix="stand-in-")) / "recording"
        with path.open("wb") as file:
            while length > 0 and (piece := self.rfile.read(min(length, 1 << 20))):
                file.write(piece)
                length -= len(piece)
        name, work = secrets.token_hex(8), _Work()
        WORK[name] = work
        threading.Thread(target=_do, args=(work, path, ending), daemon=True).start()
        self._answer(201, json.dumps({"id": name}))

    def do_DELETE(self) -> None:
        work = WORK.pop(self.path.strip("/").split("/")[-1], None)
        if work is not None:
            work.stopped.set()
        self._answer(204 if work else 404, "")

    def _answer(self, status: int, text: str, kind: str = "application/json") -> None:
        body = text.encode()
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: object) -> None:
        """Nothing is written down of what is said where."""


def serve(port: int) -> ThreadingHTTPServer:
    """Ready to ``serve_forever`` on loopback; port 0 takes a free one."""
    return ThreadingHTTPServer(("127.0.0.1", port), _Serving)


if __name__ == "__main__":
    serve(int(sys.argv[1])).serve_forever()
