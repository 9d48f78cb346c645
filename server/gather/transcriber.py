"""Asking a transcriber, whoever serves it: a recording goes in, WebVTT comes out. The interface is written in docs/transcribing.md."""

import json
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import urllib3
from django.conf import settings

from core.language import say
from server.common.errors import Refusal

_LOOKED, _ANSWERS, _SENDS = 1.0, 20.0, 600.0
"""Seconds between two looks; that an answer, and a recording on its way, may take."""
_STATES = ("waiting", "working", "done", "failed")


@dataclass(frozen=True)
class Transcriber:
    """Who would transcribe; ``stand_in``: it only pretends to."""

    name: str
    stand_in: bool


def asked() -> Transcriber | None:
    """Who there is; None where none is set up, or it doesn't answer."""
    if not settings.TRANSCRIBER:
        return None
    with suppress(Refusal):
        said = _json("GET", "/", timeout=3.0)
        return Transcriber(str(said.get("name") or "")[:120] or say("a transcriber"), bool(said.get("stand_in")))
    return None


def transcribed(recording: Path, content_type: str, language: str, tell: Callable[[float], None]) -> bytes:
    """The WebVTT of a recording. ``tell`` is told how far it is, 0 to 1, and may raise to stop: it is cancelled there as well."""
    with recording.open("rb") as body:
        headers = {"Content-Type": content_type, "Content-Length": str(recording.stat().st_size)}
        sent = _json("POST", f"/transcripts?language={language}", body=body, headers=headers, timeout=_SENDS)
    name = sent.get("id")
    if not isinstance(name, str) or not name.isalnum() or len(name) > 80:
        raise _nonsense()
    try:
        _wait(name, tell)
        return _bytes("GET", f"/transcripts/{name}/text")
    finally:
        with suppress(Refusal):
            _bytes("DELETE", f"/transcripts/{name}", timeout=5.0)


def _wait(name: str, tell: Callable[[float], None]) -> None:
    far, moved = -1.0, time.monotonic()
    while True:
        said = _json("GET", f"/transcripts/{name}")
        state, progress = said.get("state"), said.get("progress", 0.0)
        if state not in _STATES or not isinstance(progress, int | float) or not 0 <= progress <= 1:
            raise _nonsense()
        if state == "failed":
            raise Refusal(say("The transcriber gave up: {problem}", problem=str(said.get("problem") or "—")[:300]))
        if state == "done":
            return
        if progress > far:
            far, moved = progress, time.monotonic()
        elif time.monotonic() - moved > settings.TRANSCRIBER_PATIENCE:
            raise Refusal(say("The transcriber has stood still for long; it was given up."))
        tell(float(progress))
        time.sleep(_LOOKED)


def _nonsense() -> Refusal:
    return Refusal(say("The transcriber answered something that can’t be understood."))


def _json(method: str, path: str, **more: Any) -> dict[str, Any]:
    try:
        said = json.loads(_bytes(method, path, **more))
    except (ValueError, RecursionError) as problem:
        raise _nonsense() from problem
    if not isinstance(said, dict):
        raise _nonsense()
    return said


def _bytes(
    method: str, path: str, body: Any = None, headers: dict[str, str] | None = None, timeout: float = _ANSWERS
) -> bytes:
    """The answer's bytes; refuses what is no answer. No proxy, no redirect: the recording goes where it was said, or nowhere."""
    told = dict(headers or {})
    if settings.TRANSCRIBER_KEY:
        told["Authorization"] = f"Bearer {settings.TRANSCRIBER_KEY}"
    try:
        with urllib3.PoolManager(retries=False, timeout=urllib3.Timeout(connect=5.0, read=timeout)) as pool:
            answer = pool.request(
                method,
                settings.TRANSCRIBER.rstrip("/") + path,
                body=body,
                headers=told,
                preload_content=False,
                redirect=False,
            )
            if answer.status >= 300:
                raise Refusal(say("The transcriber refused: it answered {status}.", status=answer.status))
            most = settings.FILE_LIMITS["transcript"]
            found = answer.read(most + 1)
            answer.release_conn()
    except urllib3.exceptions.HTTPError as problem:
        raise Refusal(say("The transcriber doesn’t answer.")) from problem
    if len(found) > most:
        raise Refusal(say("The transcriber’s text is larger than any talk is; it wasn’t taken."))
    return found
