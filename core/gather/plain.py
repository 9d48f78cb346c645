"""Lines of plain text and of Markdown, from bytes in any common encoding."""

import codecs
import re

from charset_normalizer import from_bytes

from core.gather.labels import Line

_MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF32_LE, "utf-32"),
    (codecs.BOM_UTF32_BE, "utf-32"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)


class NotText(ValueError):
    """The bytes aren't text in any encoding that makes sense."""


def decode(data: bytes) -> tuple[str, str]:
    """Text and the name of its encoding: a byte order mark, else UTF-8, else the best guess.
    Raises ``NotText`` for bytes that no encoding makes readable."""
    for mark, encoding in _MARKS:
        if data.startswith(mark):
            return data.decode(encoding, errors="replace"), encoding
    if b"\x00" in data[:4096]:
        for encoding, odd in (("utf-16-le", 1), ("utf-16-be", 0)):
            if data[:4096][odd::2].count(0) > 0.6 * len(data[:4096]) / 2:
                return data.decode(encoding, errors="replace"), encoding
        raise NotText
    try:
        return data.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        pass
    if sum(byte < 9 or 13 < byte < 32 for byte in data[:4096]) > len(data[:4096]) / 50:
        raise NotText
    try:
        # The common case of Western text: where it reads without control characters it is right.
        text = data.decode("cp1252")
        if not re.search("[\x80-\x9f]", text):
            return text, "cp1252"
    except UnicodeDecodeError:
        pass
    guess = from_bytes(data[:200_000]).best()
    encoding = guess.encoding if guess else "latin-1"
    return data.decode(encoding, errors="replace"), encoding


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
