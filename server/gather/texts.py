"""A text that comes by itself, read as an import reads it: apart, within limits."""

from dataclasses import replace
from pathlib import Path
from typing import Any

from core.gather.labels import Line
from core.gather.timed import beyond
from core.gather.transcript import Corrections, Remark, Transcript, read_transcript, timed_by_labels
from core.language import say
from server.common.errors import Refusal
from server.gather.models import Document
from server.gather.readers.kinds import Unreadable, kind_of
from server.gather.readers.sandbox import read_files


def lines_of(content: dict[str, Any]) -> list[Line]:
    """The lines that a reader found."""
    return [_line(*line) for line in content.get("lines", [])]


def _line(text: str, bold: int, *rest: Any) -> Line:
    """As a reader wrote it; what it knows nothing of is left off at the end."""
    line = Line(text, bold, *rest)
    return replace(line, runs=tuple((start, end) for start, end in line.runs)) if line.runs else line


def remarks_of(content: dict[str, Any]) -> list[Remark]:
    """The comments that a reader found."""
    return [Remark((one[0], one[1]), (one[2], one[3]), one[4], one[5]) for one in content.get("remarks", [])]


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
    found = timed_by_labels(read_transcript(lines_of(content), Corrections(), remarks_of(content)))
    longer = beyond(lines_of(content), document.seconds)
    said = [*content.get("warnings", []), *([longer] if longer else [])]
    if found.turns and not any(turn.begin is not None for turn in found.turns):
        said.append(say("The text has no times: turns can’t be played one by one."))
    return found, said
