"""Lines of a .docx: its text as Word shows it, headings, bold beginnings, comments; and what of the file isn't read."""

import io
from collections import Counter
from collections.abc import Iterator
from typing import Any

import docx
from docx.oxml.ns import qn
from docx.text.paragraph import Paragraph

from core.gather.labels import Line, bold_lines
from core.gather.transcript import Remark
from core.language import message, say
from server.gather.readers.archive import check_archive
from server.gather.readers.kinds import Unreadable
from server.gather.readers.word_tables import Marks, speakers_in_tables

MAX_REMARKS, LONGEST_REMARK = 5_000, 5_000
_FALLBACK = "{http://schemas.openxmlformats.org/markup-compatibility/2006}Fallback"
_BESIDE = {
    "footnotes.xml": message("{n, plural, one {# footnote is} other {# footnotes are}} not read."),
    "endnotes.xml": message("{n, plural, one {# endnote is} other {# endnotes are}} not read."),
}


def docx_lines(data: bytes) -> tuple[list[Line], list[Remark], list[str]]:
    """Lines, comments on them, and sentences on what isn't read."""
    check_archive(data, "word/document.xml")
    try:
        document = docx.Document(io.BytesIO(data))
        lines: list[Line] = []
        open_at: dict[str, tuple[int, int]] = {}
        spans: dict[str, tuple[tuple[int, int], tuple[int, int]]] = {}
        # Text in tables and content controls counts too: paragraphs wherever they stand, in order.
        left = Counter[str]()
        who, told = speakers_in_tables(document.element.body)
        for element in _paragraphs(document.element.body):
            paragraph = Paragraph(element, document)
            found, starts, ends = _paragraph(paragraph, left)
            if (cell := who.get(element)) is not None:
                found, starts, ends = cell.put(found, starts, ends)
            for mark, (line, offset) in starts.items():
                open_at[mark] = (len(lines) + line, offset)
            for mark, (line, offset) in ends.items():
                spans[mark] = (open_at.get(mark, (len(lines), 0)), (len(lines) + line, offset))
            lines += found
        remarks, more = _remarks(document, spans)
        return lines, remarks, [*more, *told, *_left_out(document, left)]
    except Exception as error:
        raise Unreadable(say("The file is damaged: Word’s text can’t be found in it.")) from error


def _paragraphs(body: Any) -> Iterator[Any]:
    """Paragraphs wherever they stand, in order; what a text box holds once, though the file says it twice."""
    for element in body.iter(qn("w:p")):
        if not any(above.tag == _FALLBACK for above in element.iterancestors()):
            yield element


def _runs(paragraph: Any) -> Iterator[Any]:
    """Runs and the ends of comments in a paragraph, but not those of a text box that hangs on it: it has paragraphs of its own."""
    for element in paragraph.iter(qn("w:r"), qn("w:commentRangeStart"), qn("w:commentRangeEnd")):
        if next(above for above in element.iterancestors() if above.tag == qn("w:p")) is paragraph:
            yield element


def _remarks(
    document: Any, spans: dict[str, tuple[tuple[int, int], tuple[int, int]]]
) -> tuple[list[Remark], list[str]]:
    """Comments on words of the text, and a sentence where some aren't read."""
    found: list[Remark] = []
    beyond = nowhere = cut = 0
    for comment in document.comments:
        span = spans.get(str(comment.comment_id))
        text = comment.text.strip()
        if not text:
            continue
        if span is None:
            nowhere += 1
        elif len(found) >= MAX_REMARKS:
            beyond += 1
        else:
            cut += len(text) > LONGEST_REMARK
            found.append(Remark(*span, text[:LONGEST_REMARK], (comment.author or "").strip()[:120]))
    said = []
    if beyond:
        said.append(
            say(
                "The file has {comments, number} comments: the first {read, number} are read, {beyond, number} left out.",
                comments=MAX_REMARKS + beyond,
                read=MAX_REMARKS,
                beyond=beyond,
            )
        )
    if nowhere:
        said.append(
            say(
                "{n, plural, one {# comment stands} other {# comments stand}} on no words of the text and {n, plural, one {is} other {are}} left out.",
                n=nowhere,
            )
        )
    if cut:
        said.append(
            say(
                "{n, plural, one {# comment is} other {# comments are}} cut after {longest_remark, number} characters.",
                n=cut,
                longest_remark=LONGEST_REMARK,
            )
        )
    return found, said


def _left_out(document: Any, left: Counter[str]) -> list[str]:
    """Sentences on what is in the file and not among its lines."""
    said = []
    if left["hidden"]:
        said.append(
            say(
                "{n, plural, one {# word is} other {# words are}} hidden in Word and left out, as Word leaves them out in print.",
                n=left["hidden"],
            )
        )
    if left["deleted"]:
        said.append(
            say(
                "{n, plural, one {# word is} other {# words are}} marked as deleted (tracked changes) and left out.",
                n=left["deleted"],
            )
        )
    embedded = sum(1 for _ in document.element.body.iter(qn("w:altChunk")))
    if embedded:
        said.append(
            say(
                "{n, plural, one {# part} other {# parts}} of the text {n, plural, one {is} other {are}} another file put inside this one, and {n, plural, one {is} other {are}} not read. Open it in Word, save it, and add it again.",
                n=embedded,
            )
        )
    for part, told in _BESIDE.items():
        notes = _notes(document, part)
        if notes:
            said.append(say(told, n=notes))
    return said


def _notes(document: Any, name: str) -> int:
    """How many notes with words the part of this name holds."""
    from lxml import etree

    for part in document.part.package.iter_parts():
        if str(part.partname).endswith(f"/{name}"):
            root = etree.fromstring(part.blob, etree.XMLParser(resolve_entities=False, no_network=True))
            return sum(1 for note in root if any((one.text or "").strip() for one in note.iter(qn("w:t"))))
    return 0


def _paragraph(paragraph: Paragraph, left: Counter[str]) -> tuple[list[Line], Marks, Marks]:
    """A paragraph may hold line breaks: each is a line. What is bold is noted, and where
    comments begin and end, as (line, offset) within the paragraph."""
    text, pieces = "", list[tuple[str, bool]]()
    starts: Marks = {}
    ends: Marks = {}
    for element in _runs(paragraph._p):
        if element.tag != qn("w:r"):
            marks = starts if element.tag == qn("w:commentRangeStart") else ends
            marks[str(element.get(qn("w:id")))] = (text.count("\n"), len(text) - (text.rfind("\n") + 1))
            continue
        left["deleted"] += sum(len((one.text or "").split()) for one in element.iter(qn("w:delText")))
        piece = _run_text(element)
        if not piece:
            continue
        if _is_on(element, "w:vanish"):
            left["hidden"] += len(piece.split())
            continue
        pieces.append((piece, _is_on(element, "w:b")))
        text += piece
    return bold_lines(pieces, _heading(paragraph)), starts, ends


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


def _is_on(run: Any, name: str) -> bool:
    """Whether a run has a property that is on or off."""
    properties = run.find(qn("w:rPr"))
    mark = properties.find(qn(name)) if properties is not None else None
    return mark is not None and mark.get(qn("w:val")) not in ("0", "false")
