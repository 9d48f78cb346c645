"""What was heard in a recording, beside its bytes: made once, by a job, from nothing but them."""

import json
import os
import shutil
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from core.gather.stretches import Stretch
from core.gather.timed import written_time
from core.language import say
from server.common.errors import NotFound, Refusal
from server.gather import media, queries
from server.gather.models import Document, Medium
from server.gather.readers.recordings import ENDINGS
from server.gather.readers.sandbox import read_files
from server.projects.models import Membership

_HEARD = "heard.json"
KEPT = 2
"""Of the form in which it is kept: another is made anew."""


@dataclass(frozen=True)
class Sound:
    """``seconds`` of the sound itself, ``stretches`` in which somebody speaks, what is ``odd`` (a kind, seconds), the type of the
    light copy ("" for none); ``folder`` holds ``peaks`` and perhaps ``light``."""

    seconds: float
    stretches: tuple[Stretch, ...]
    odd: tuple[tuple[str, float], ...]
    light: str
    folder: Path

    @property
    def warnings(self) -> list[str]:
        """The same in words."""
        return [_told(kind, written_time(seconds)) for kind, seconds in self.odd]


def _told(kind: str, time: str) -> str:
    if kind == "damaged":
        return say("The recording is damaged near {time}; what can’t be read there is silent.", time=time)
    if kind == "silent":
        return say("The recording is silent: nothing is heard in its {time}.", time=time)
    if kind == "no sound":
        return say("The film has no sound.")
    return say("Nobody was heard to speak, so one empty turn stands for all of it.")


def recording_of(member: Membership, document_id: int) -> tuple[Document, Medium]:
    document = queries.document(member, document_id)
    medium = document.media.filter(role="recording").first()
    if medium is None:
        raise NotFound(say("No recording belongs to this document."))
    return document, medium


def heard(digest: str) -> Sound | None:
    """What is known of a recording; None where it hasn't been listened to on this machine."""
    folder = media.sound_of(media.path_of(digest))
    try:
        kept: dict[str, Any] = json.loads((folder / _HEARD).read_text())
    except FileNotFoundError:
        return None
    if kept.get("kept") != KEPT:
        return None
    stretches = tuple(Stretch(*one) for one in kept["stretches"])
    odd = tuple((kind, seconds) for kind, seconds in kept["odd"])
    return Sound(kept["seconds"], stretches, odd, kept["light"], folder)


def listen(digest: str, content_type: str, tell: Callable[[float], None]) -> Sound:
    """The same, listened to now where nobody has."""
    known = heard(digest)
    if known is not None:
        return known
    source = media.here(digest)
    folder = media.sound_of(source)
    making = folder.with_name(f"{folder.name}.{os.getpid()}")
    shutil.rmtree(making, ignore_errors=True)
    making.mkdir(parents=True)

    def keep(made: Path) -> str:
        shutil.move(made, making / made.name)
        return ""

    try:
        (answer,) = read_files([(f"recording.{ENDINGS[content_type]}", source)], keep, tell, hear=True)
        if "problem" in answer:
            raise Refusal(answer["problem"])
        (making / _HEARD).write_text(json.dumps({**answer["content"], "kept": KEPT}))
        if heard(digest) is None:
            # Not by somebody else meanwhile.
            shutil.rmtree(folder, ignore_errors=True)
            making.rename(folder)
    finally:
        shutil.rmtree(making, ignore_errors=True)
    known = heard(digest)
    assert known is not None
    return known
