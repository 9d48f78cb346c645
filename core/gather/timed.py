"""Cues of a timed text: in order, on lines, with what is odd about them said."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from core.gather.labels import Line
from core.language import say

PAUSE = 4.0
"""Seconds without a word after which a timed turn goes over into another."""


@dataclass(frozen=True)
class Cue:
    """Words from ``begin`` to ``end``, in seconds; ``voice`` is who says them, where the file says so."""

    begin: float
    end: float
    text: str
    voice: str = ""


def cue_lines(cues: Sequence[Cue]) -> tuple[list[Line], list[str]]:
    """One line a cue, in order of time; and sentences on what was out of order or overlapped."""
    warnings = []
    ordered = sorted(cues, key=lambda cue: (cue.begin, cue.end))
    if [cue.begin for cue in ordered] != [cue.begin for cue in cues]:
        warnings.append(say("The cues weren’t in order of time; they have been sorted."))
    backward = sum(cue.end < cue.begin for cue in ordered)
    if backward:
        warnings.append(say("{cues} before it begins; its end was taken for its beginning.", cues=_cues(backward)))
    overlapping = sum(cue.end > after.begin + 0.05 for cue, after in pairwise(ordered))
    if overlapping:
        said = say("One cue begins") if overlapping == 1 else say("{overlapping} cues begin", overlapping=overlapping)
        warnings.append(say("{said} before the one above has ended: probably people speaking at once.", said=said))
    lines, held = [], ""
    for cue in ordered:
        text = " ".join(cue.text.split())
        # Rolling captions repeat the last line of the cue before.
        if text and text != held:
            lines.append(Line(text, begin=cue.begin, end=max(cue.begin, cue.end), voice=" ".join(cue.voice.split())))
        held = text
    return lines, warnings


def beyond(lines: Sequence[Line], seconds: float | None) -> str:
    """A sentence, where the timed text goes on after the recording's end; else ""."""
    last = max((line.end or 0.0 for line in lines), default=0.0)
    if seconds is None or last <= seconds + 1.5:
        return ""
    return say(
        "The timed text goes on to {written_time}, but the recording ends at {written_time2}. Is it the text of another recording?",
        written_time=written_time(last),
        written_time2=written_time(seconds),
    )


def written_time(seconds: float | None) -> str:
    """``1:02:07``, ``4:09``; "" for none."""
    if seconds is None:
        return ""
    hours, rest = divmod(int(seconds), 3600)
    minutes, left = divmod(rest, 60)
    return f"{hours}:{minutes:02}:{left:02}" if hours else f"{minutes}:{left:02}"


def _cues(count: int) -> str:
    return say("One cue ends") if count == 1 else say("{count} cues end", count=count)


def seconds_written(time: str) -> float | None:
    """Seconds of ``1:02:07``, ``04:09`` or the first of ``00:01 --> 00:04``; None for anything else."""
    found = re.match(r"\s*(?:(\d{1,2}):)?(\d{1,2}):(\d{2}(?:[.,]\d{1,3})?)", time)
    if not found:
        return None
    hours, minutes, seconds = found.groups()
    return int(hours or 0) * 3600 + int(minutes) * 60 + float(seconds.replace(",", "."))
