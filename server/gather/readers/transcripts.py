"""Lines of any text: with their headings, pages, times and comments."""

import io
from pathlib import Path
from typing import Any

import docx
from docx.oxml.ns import qn
from docx.text.paragraph import Paragraph

from core.gather.labels import Line
from core.gather.plain import NotText, decode, markdown_lines, text_lines
from core.gather.transcript import Remark
from server.gather.readers.archive import check_archive
from server.gather.readers.kinds import OFFICE, TIMED, Unreadable, extension

MAX_CHARACTERS = 5_000_000
MAX_REMARKS = 5_000


def read_lines(name: str, path: Path) -> dict[str, Any]:
    """The staged file's ``content``: lines, format, sentences to be read, comments, pages of a PDF."""
    ending = extension(name)
    warnings: list[str] = []
    remarks: list[Remark] = []
    pages = 0
    if ending == "docx":
        lines, remarks = _docx(path.read_bytes())
        said = "docx"
    elif ending == "pdf":
        from server.gather.readers.pdf import pdf_lines

        lines, pages, warnings = pdf_lines(path)
        said = f"PDF, {pages} page{'' if pages == 1 else 's'}"
    elif ending in TIMED:
        from server.gather.readers.timed import timed_lines

        lines, said, warnings = timed_lines(name, path.read_bytes())
    elif ending == "rtf":
        from server.gather.readers.rtf import rtf_lines

        lines, said = rtf_lines(path.read_bytes()), "rtf"
    elif ending in OFFICE:
        from server.gather.readers.office import office_lines

        lines, said = office_lines(name, path)
    else:
        lines, said = _plain(path.read_bytes(), ending)
    if not pages and not any(line.text.strip() for line in lines):
        raise Unreadable("The file holds no text.")
    if sum(len(line.text) for line in lines) > MAX_CHARACTERS:
        raise Unreadable("The text is longer than five million characters. Split it into several documents.")
    return {
        "lines": [_out(line) for line in lines],
        "format": said,
        "warnings": warnings,
        "remarks": [[*one.first, *one.last, one.text, one.author] for one in remarks],
        "pages": pages,
    }


def _out(line: Line) -> list[Any]:
    """``[text, bold]``, and what else is known only where something is."""
    text = line.text.replace("\x00", "")
    rest = [line.heading, line.page, line.begin, line.end, line.voice]
    return [text, line.bold, *rest] if any(one not in (0, None, "") for one in rest) else [text, line.bold]


def _plain(data: bytes, ending: str) -> tuple[list[Line], str]:
    try:
        text, encoding = decode(data)
    except NotText as error:
        raise Unreadable(
            "The file isn’t text in any encoding Cohortia knows. Save it as UTF-8 text, then add it again."
        ) from error
    return (markdown_lines(text) if ending == "md" else text_lines(text)), encoding


def _docx(data: bytes) -> tuple[list[Line], list[Remark]]:
    check_archive(data, "word/document.xml")
    try:
        document = docx.Document(io.BytesIO(data))
        lines: list[Line] = []
        open_at: dict[str, tuple[int, int]] = {}
        spans: dict[str, tuple[tuple[int, int], tuple[int, int]]] = {}
        # Text in tables and content controls counts too: paragraphs wherever they stand, in order.
        for element in document.element.body.iter(qn("w:p")):
            paragraph = Paragraph(element, document)
            found, starts, ends = _paragraph(paragraph)
            for mark, (line, offset) in starts.items():
                open_at[mark] = (len(lines) + line, offset)
            for mark, (line, offset) in ends.items():
                spans[mark] = (open_at.get(mark, (len(lines), 0)), (len(lines) + line, offset))
            lines += found
        return lines, _remarks(document, spans)
    except Exception as error:
        raise Unreadable("The file is damaged: Word’s text can’t be found in it.") from error


def _remarks(document: Any, spans: dict[str, tuple[tuple[int, int], tuple[int, int]]]) -> list[Remark]:
    found: list[Remark] = []
    for comment in document.comments:
        span = spans.get(str(comment.comment_id))
        text = comment.text.strip()
        if span and text and len(found) < MAX_REMARKS:
            found.append(Remark(*span, text[:5_000], (comment.author or "").strip()[:120]))
    return found


Marks = dict[str, tuple[int, int]]


def _paragraph(paragraph: Paragraph) -> tuple[list[Line], Marks, Marks]:
    """A paragraph may hold line breaks: each is a line. Bold at the start is noted, and where
    comments begin and end, as (line, offset) within the paragraph."""
    text, bold, still_bold = "", 0, True
    starts: Marks = {}
    ends: Marks = {}
    for element in paragraph._p.iter(qn("w:r"), qn("w:commentRangeStart"), qn("w:commentRangeEnd")):
        if element.tag != qn("w:r"):
            marks = starts if element.tag == qn("w:commentRangeStart") else ends
            marks[str(element.get(qn("w:id")))] = (text.count("\n"), len(text) - (text.rfind("\n") + 1))
            continue
        piece = _run_text(element)
        if not piece:
            continue
        if still_bold and (_is_bold(element) or (bold and not piece.strip())):
            bold += len(piece)
        elif piece.strip():
            still_bold = False
        text += piece
    first, *rest = text.split("\n")
    heading = _heading(paragraph)
    lines = [Line(first, min(bold, len(first)), heading), *(Line(line, heading=heading) for line in rest)]
    return lines, starts, ends


def _heading(paragraph: Paragraph) -> int:
    """The level of a paragraph in a heading style, 0 for others."""
    properties = paragraph._p.pPr
    if properties is None or properties.pStyle is None:
        return 0
    try:
        name = (paragraph.style.name or "") if paragraph.style else ""
    except KeyError:
        return 0
    if name.casefold() == "title":
        return 1
    level = name.casefold().removeprefix("heading ")
    return int(level) if name.casefold().startswith("heading ") and level.isdigit() else 0


def _run_text(run: Any) -> str:
    pieces = []
    for child in run:
        if child.tag == qn("w:t"):
            pieces.append(child.text or "")
        elif child.tag == qn("w:tab"):
            pieces.append("\t")
        elif child.tag in (qn("w:br"), qn("w:cr")):
            pieces.append("\n")
        elif child.tag == qn("w:noBreakHyphen"):
            pieces.append("‑")
    return "".join(pieces)


def _is_bold(run: Any) -> bool:
    properties = run.find(qn("w:rPr"))
    mark = properties.find(qn("w:b")) if properties is not None else None
    return mark is not None and mark.get(qn("w:val")) not in ("0", "false")
