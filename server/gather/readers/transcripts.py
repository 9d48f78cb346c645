"""Lines of any text: with their headings, pages, times and comments."""

from pathlib import Path
from typing import Any

from core.gather.labels import Line
from core.gather.plain import markdown_lines, text_lines
from core.gather.summary import summary_of
from core.gather.transcript import Corrections, Remark, Transcript, read_transcript
from core.language import say, spoken
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
    content = {
        "lines": [_out(line) for line in lines],
        "format": said,
        "warnings": warnings,
        "remarks": [[*one.first, *one.last, one.text, one.author] for one in remarks],
        "pages": pages,
        "encoding": letters.said if letters else {},
    }
    # As it reads before anybody corrects anything: whoever looks at what waits needn't read it again.
    return {**content, "found": {"of": {}, "language": spoken().language, **summary_of(as_found(content))}}


def as_found(content: dict[str, Any], corrections: Corrections | None = None) -> Transcript:
    """What the core makes of a text that was read."""
    return read_transcript(lines_of(content), corrections or Corrections(), remarks_of(content))


def lines_of(content: dict[str, Any]) -> list[Line]:
    """The lines that a reader found."""
    return [_line(*line) for line in content.get("lines", [])]


def _line(text: str, bold: int, *rest: Any) -> Line:
    """As a reader wrote it; what it knows nothing of is left off at the end."""
    line = Line(text, bold, *rest)
    return line.of(text, bold, tuple((start, end) for start, end in line.runs)) if line.runs else line


def remarks_of(content: dict[str, Any]) -> list[Remark]:
    """The comments that a reader found."""
    return [Remark((one[0], one[1]), (one[2], one[3]), one[4], one[5]) for one in content.get("remarks", [])]


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
