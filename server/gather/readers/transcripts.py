"""Lines of a .txt, .md or .docx transcript."""

import io

import docx
from docx.oxml.ns import qn
from docx.text.paragraph import Paragraph

from core.gather.labels import Line
from core.gather.plain import NotText, decode, markdown_lines, text_lines
from server.gather.readers.archive import check_archive
from server.gather.readers.kinds import Unreadable, extension

MAX_CHARACTERS = 5_000_000


def read_lines(name: str, data: bytes) -> tuple[list[Line], str]:
    """Lines and the encoding (or format) they were read in."""
    ending = extension(name)
    if ending == "docx":
        lines, encoding = _docx(data), "docx"
    else:
        try:
            text, encoding = decode(data)
        except NotText as error:
            raise Unreadable(
                "The file isn’t text in any encoding Cohortia knows. Save it as UTF-8 text, then add it again."
            ) from error
        lines = markdown_lines(text) if ending == "md" else text_lines(text)
    if not any(line.text.strip() for line in lines):
        raise Unreadable("The file holds no text.")
    if sum(len(line.text) for line in lines) > MAX_CHARACTERS:
        raise Unreadable("The text is longer than five million characters. Split it into several documents.")
    return lines, encoding


def _docx(data: bytes) -> list[Line]:
    check_archive(data, "word/document.xml")
    try:
        document = docx.Document(io.BytesIO(data))
        body = document.element.body
        # Text in tables and content controls counts too: paragraphs wherever they stand, in order.
        return [line for paragraph in body.iter(qn("w:p")) for line in _paragraph(Paragraph(paragraph, document))]
    except Exception as error:
        raise Unreadable("The file is damaged: Word’s text can’t be found in it.") from error


def _paragraph(paragraph: Paragraph) -> list[Line]:
    """A paragraph may hold line breaks: each is a line. Bold at the start is noted."""
    text, bold, still_bold = "", 0, True
    for run in paragraph._p.iter(qn("w:r")):
        piece = _run_text(run)
        if not piece:
            continue
        if still_bold and (_is_bold(run) or (bold and not piece.strip())):
            bold += len(piece)
        elif piece.strip():
            still_bold = False
        text += piece
    first, *rest = text.split("\n")
    return [Line(first, min(bold, len(first))), *(Line(line) for line in rest)]


def _run_text(run: object) -> str:
    pieces = []
    for child in run:  # type: ignore[attr-defined]
        if child.tag == qn("w:t"):
            pieces.append(child.text or "")
        elif child.tag == qn("w:tab"):
            pieces.append("\t")
        elif child.tag in (qn("w:br"), qn("w:cr")):
            pieces.append("\n")
        elif child.tag == qn("w:noBreakHyphen"):
            pieces.append("‑")
    return "".join(pieces)


def _is_bold(run: object) -> bool:
    properties = run.find(qn("w:rPr"))  # type: ignore[attr-defined]
    mark = properties.find(qn("w:b")) if properties is not None else None
    return mark is not None and mark.get(qn("w:val")) not in ("0", "false")
