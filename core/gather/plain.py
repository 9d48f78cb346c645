"""Lines of plain text and of Markdown."""

import re
from collections.abc import Iterator

from core.gather.labels import Line, bold_lines


def text_lines(text: str) -> list[Line]:
    return [Line(line) for line in text.splitlines()]


_EMPHASIS = re.compile(r"(\*\*|__)(?=\S)(.+?)(?<=\S)\1")


def markdown_lines(text: str) -> list[Line]:
    """Paragraphs with heading marks, quotes and bold marks taken off; what is bold is noted."""
    lines = []
    for raw in text.splitlines():
        line = re.sub(r"^\s{0,3}(?:#{1,6}\s+|>\s?)", "", raw)
        if re.fullmatch(r"\s*([-*_])(?:\s*\1){2,}\s*", line):
            continue
        lines += bold_lines(_pieces(line.lstrip()))
    return lines


def _pieces(line: str) -> Iterator[tuple[str, bool]]:
    """Stretches of a line, and whether each is bold."""
    at = 0
    for found in _EMPHASIS.finditer(line):
        yield line[at : found.start()], False
        yield found[2], True
        at = found.end()
    yield line[at:], False
