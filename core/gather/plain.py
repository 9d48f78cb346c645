"""Lines of plain text and of Markdown."""

import re

from core.gather.labels import Line


def text_lines(text: str) -> list[Line]:
    return [Line(line) for line in text.splitlines()]


_BOLD_START = re.compile(r"^\s*(?:\*\*|__)(?P<bold>.+?)(?:\*\*|__)")
_EMPHASIS = re.compile(r"(\*\*|__)(?=\S)(.+?)(?<=\S)\1")


def markdown_lines(text: str) -> list[Line]:
    """Paragraphs with heading marks, quotes and bold marks taken off; a bold start is noted."""
    lines = []
    for raw in text.splitlines():
        line = re.sub(r"^\s{0,3}(?:#{1,6}\s+|>\s?)", "", raw)
        if re.fullmatch(r"\s*([-*_])(?:\s*\1){2,}\s*", line):
            continue
        bold = _BOLD_START.match(line)
        plain = _EMPHASIS.sub(r"\2", line)
        lines.append(Line(plain.lstrip(), len(bold["bold"]) if bold else 0))
    return lines
