"""A text that comes by itself, read as an import reads it: apart, within limits."""

from pathlib import Path

from core.gather.timed import beyond
from core.gather.transcript import Transcript, timed_by_labels
from core.language import say
from server.common.errors import Refusal
from server.gather.models import Document
from server.gather.readers.kinds import Unreadable, kind_of
from server.gather.readers.sandbox import read_files
from server.gather.readers.transcripts import as_found, lines_of


def text_in(document: Document, name: str, data: bytes | Path) -> tuple[Transcript, list[str]]:
    """The text of a recording in a file, and what is odd about it; refuses what is none."""
    try:
        kind = kind_of(name)
    except Unreadable as unreadable:
        raise Refusal(str(unreadable)) from unreadable
    if kind != "transcript":
        raise Refusal(say("That is no text. Choose a .vtt, .srt, .docx, .txt or another text."))
    (answer,) = read_files([(name, data)], lambda made: "")
    if "problem" in answer:
        raise Refusal(answer["problem"])
    content = answer["content"]
    found = timed_by_labels(as_found(content))
    longer = beyond(lines_of(content), document.seconds)
    said = [*content.get("warnings", []), *([longer] if longer else [])]
    if found.turns and not any(turn.begin is not None for turn in found.turns):
        said.append(say("The text has no times: turns can’t be played one by one."))
    return found, said
