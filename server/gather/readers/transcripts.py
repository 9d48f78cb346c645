"""Lines of any text: with their headings, pages, times and comments."""

from pathlib import Path
from typing import Any

from core.gather.labels import Line
from core.gather.plain import markdown_lines, text_lines
from core.gather.transcript import Remark
from core.language import say
from server.gather.readers.kinds import OFFICE, TIMED, Unreadable, extension
from server.gather.readers.letters import Letters, read_letters

MAX_CHARACTERS = 5_000_000


def read_lines(name: str, path: Path, encoding: str | None = None) -> dict[str, Any]:
    """The staged file's ``content``: lines, format, sentences to be read, comments, pages of a PDF."""
    ending = extension(name)
    warnings: list[str] = []
    remarks: list[Remark] = []
    pages = 0
    letters: Letters | None = None
    if ending == "docx":
        from server.gather.readers.word import docx_lines

        lines, remarks, warnings = docx_lines(path.read_bytes())
        said = "docx"
    elif ending == "pdf":
        from server.gather.readers.pdf import pdf_lines

        lines, pages, warnings = pdf_lines(path)
        said = say("PDF, {pages} {pages, plural, one {page} other {pages}}", pages=pages)
    elif ending in TIMED:
        from server.gather.readers.timed import timed_lines

        letters = read_letters(path.read_bytes(), encoding)
        lines, said, warnings = timed_lines(name, letters)
    elif ending == "rtf":
        from server.gather.readers.rtf import rtf_lines

        lines, warnings = rtf_lines(path.read_bytes())
        said = "rtf"
    elif ending in OFFICE:
        from server.gather.readers.office import office_lines

        lines, said = office_lines(name, path)
    else:
        letters = read_letters(path.read_bytes(), encoding)
        lines, said = (markdown_lines if ending == "md" else text_lines)(letters.text), letters.words
        warnings = list(letters.warnings)
    lines = squeezed(lines)
    if not pages and not any(line.text.strip() for line in lines):
        raise Unreadable(say("The file holds no text."))
    if sum(len(line.text) for line in lines) > MAX_CHARACTERS:
        raise Unreadable(say("The text is longer than five million characters. Split it into several documents."))
    return {
        "lines": [_out(line) for line in lines],
        "format": said,
        "warnings": warnings,
        "remarks": [[*one.first, *one.last, one.text, one.author] for one in remarks],
        "pages": pages,
        "encoding": letters.said if letters else {},
    }


def squeezed(lines: list[Line]) -> list[Line]:
    """Without the empty lines at both ends, and at most two between: a file of millions of them holds no more words."""
    kept: list[Line] = []
    empty: list[Line] = []
    for line in lines:
        if line.text.strip():
            kept += empty[:2] if kept else []
            kept.append(line)
            empty = []
        else:
            empty.append(line)
    return kept


def _out(line: Line) -> list[Any]:
    """``[text, bold]``, and what else is known only where something is."""
    text = line.text.replace("\x00", "")
    rest = [line.heading, line.page, line.begin, line.end, line.voice, line.runs]
    return [text, line.bold, *rest] if any(one not in (0, None, "", ()) for one in rest) else [text, line.bold]
