"""Lines of a page as printed, put together into the paragraphs that they were."""

import re
from collections.abc import Sequence
from statistics import median

from core.gather.labels import Line, looks_named, take_apart

_ENDS = re.compile(r"[.!?:;”’\")\]…]\s*$")
_HYPHEN = re.compile(r"(\w)[-\u00ad\u2010]$")


def page_lines(pages: Sequence[str]) -> list[Line]:
    """One line a paragraph, with its page. A printed line goes on into the next where it is as
    long as lines are there, ends no sentence, and the next begins no speaker's turn."""
    lines = []
    for number, page in enumerate(pages, start=1):
        printed = [" ".join(line.split()) for line in page.replace("\r\n", "\n").replace("\r", "\n").split("\n")]
        long = median([len(line) for line in printed if line] or [0]) * 0.72
        held = ""
        for line in printed:
            if held and line and _goes_on(held, line, long):
                held = _joined(held, line)
                continue
            if held:
                lines.append(Line(held, page=number))
            held = line
        if held:
            lines.append(Line(held, page=number))
    return lines


def _goes_on(above: str, below: str, long: float) -> bool:
    last = above[-200:]
    if len(last) < long or any(looks_named(reading.label or "") for reading in take_apart(Line(below))):
        return False
    return not _ENDS.search(last) or below[0].islower()


def _joined(above: str, below: str) -> str:
    """A word cut at the end of a line is made whole; its hyphen stays where a capital follows."""
    cut = _HYPHEN.search(above)
    if cut and below[0].islower():
        return above[:-1] + below
    return f"{above}{'' if cut else ' '}{below}"
