"""Lines of a page as printed, put together into the paragraphs that they were."""

import re
from collections.abc import Sequence

from core.gather.labels import Line, looks_named, take_apart

_ENDS = re.compile(r"[.!?:;”’\")\]…]\s*$")
_HYPHEN = re.compile(r"(\w)[-\u00ad\u2010]$")


def page_lines(pages: Sequence[str]) -> list[Line]:
    """One line a paragraph, with its page. A printed line goes on into the next where it is as long as
    lines are there or stops amid a sentence, and the next begins no speaker's turn."""
    lines = []
    for number, page in enumerate(pages, start=1):
        printed = [" ".join(line.split()) for line in page.replace("\r\n", "\n").replace("\r", "\n").split("\n")]
        long = _full_length(printed) * 0.72
        held = above = ""
        for line in printed:
            if held and line and _goes_on(above, line, long):
                held = _joined(held, line)
            else:
                if held:
                    lines.append(Line(held, page=number))
                held = line
            above = line
        if held:
            lines.append(Line(held, page=number))
    return lines


def _full_length(printed: Sequence[str]) -> int:
    """How long a line of running text is on this page: short ones are headings, cells and ends of paragraphs."""
    lengths = sorted(len(line) for line in printed if line)
    return lengths[int(len(lengths) * 0.8)] if lengths else 0


def _goes_on(above: str, below: str, long: float) -> bool:
    """Whether the printed line ``below`` goes on where ``above`` ended."""
    if any(looks_named(reading.label or "") for reading in take_apart(Line(below))):
        return False
    if _HYPHEN.search(above) or below[0].islower():
        # A word cut in two, or a sentence in the middle: wherever the line happened to end.
        return len(above) >= long or not _ENDS.search(above)
    return len(above) >= long and not _ENDS.search(above) and not _figures(above)


def _figures(line: str) -> bool:
    """The end of a table's row: numbers, not words."""
    last = re.split(r"[\s,]+", line)[-2:]
    return all(any(sign.isdigit() for sign in word) for word in last)


def _joined(above: str, below: str) -> str:
    """A word cut at the end of a line is made whole; its hyphen stays where a capital follows."""
    cut = _HYPHEN.search(above)
    if cut and below[0].islower():
        return above[:-1] + below
    return f"{above}{'' if cut else ' '}{below}"
