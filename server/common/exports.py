"""What every export shares: workbooks in which text stays text, plain tables, and the answer that carries a file."""

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence
from typing import Any, Literal, Self

import xlsxwriter
from django.http import HttpResponse
from docx.opc.constants import RELATIONSHIP_TYPE
from docx.oxml import OxmlElement
from docx.oxml.ns import qn

Cell = str | float | int | None
Rows = Sequence[Sequence[Cell]]
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
DOCX = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
CSV = "text/csv; charset=utf-8"
TSV = "text/tab-separated-values; charset=utf-8"
ZIP = "application/zip"
LONGEST = 32_000
"""Letters that a spreadsheet's cell takes, about."""
_WIDEST = 9
"""Columns that a caption is spread over at most."""


class Head(str):
    """A column's head that says how the column's numbers are written; its words say nothing of that, in whatever language."""

    look: Literal["share", "p", "number"]

    def __new__(cls, words: str, look: Literal["share", "p", "number"]) -> Self:
        head = super().__new__(cls, words)
        head.look = look
        return head


class Link(str):
    """A text that leads somewhere."""

    address: str

    def __new__(cls, words: str, address: str) -> Self:
        link = super().__new__(cls, words)
        link.address = address
        return link


class Picture(str):
    """A text with a picture beneath it."""

    image: bytes

    def __new__(cls, words: str, image: bytes) -> Self:
        picture = super().__new__(cls, words)
        picture.image = image
        return picture


def linked(paragraph: Any, words: str, address: str) -> None:
    """Words of a .docx that lead somewhere, at a paragraph's end."""
    held = paragraph.part.relate_to(address, RELATIONSHIP_TYPE.HYPERLINK, is_external=True)
    link, run = OxmlElement("w:hyperlink"), OxmlElement("w:r")
    link.set(qn("r:id"), held)
    look, text = OxmlElement("w:rPr"), OxmlElement("w:t")
    for name, value in (("w:color", "14555A"), ("w:u", "single")):
        one = OxmlElement(name)
        one.set(qn("w:val"), value)
        look.append(one)
    text.text = printable(words)
    run.append(look)
    run.append(text)
    link.append(run)
    paragraph._p.append(link)


def safe(text: str) -> str:
    """A text that a spreadsheet would take for a formula gets an apostrophe before it."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def printable(text: str) -> str:
    """As it can stand in a document: XML holds no control characters."""
    return "".join(letter for letter in text if letter >= " " or letter in "\n\t")


def plain(rows: Rows) -> bytes:
    """Rows as .csv: UTF-8 with a byte order mark, so that spreadsheets read it as such."""
    return b"".join(plain_lines(rows))


def plain_lines(rows: Iterable[Sequence[Cell]]) -> Iterator[bytes]:
    """The same a line at a time, for what may be longer than fits into memory."""
    out = io.StringIO("\ufeff")
    out.seek(1)
    writer = csv.writer(out)
    for row in rows:
        writer.writerow(["" if cell is None else safe(cell) if isinstance(cell, str) else cell for cell in row])
        yield out.getvalue().encode()
        out.seek(0)
        out.truncate()


def tabbed(rows: Rows) -> bytes:
    """Rows with tabs between, as a spreadsheet takes what is pasted: a tab or a new line within a text becomes a space."""

    def written(cell: Cell) -> str:
        return "" if cell is None else safe(" ".join(cell.split())) if isinstance(cell, str) else str(cell)

    return "".join("\t".join(map(written, row)) + "\n" for row in rows).encode()


_PICTURE = 320
"""Points that a picture in a cell is high at most."""


def _points(png: bytes) -> tuple[int, int]:
    """How wide and high a PNG is: its first part says so (PNG, 3rd edition, 11.2.1)."""
    return int.from_bytes(png[16:20]), int.from_bytes(png[20:24])


class Workbook:
    """A workbook being written: numbers as numbers with formats, every text as text, never as a formula."""

    def __init__(self) -> None:
        self._out = io.BytesIO()
        self._book = xlsxwriter.Workbook(
            self._out,
            {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False},
        )
        self._looks = {
            "wrap": self._book.add_format({"text_wrap": True, "valign": "top"}),
            "bold": self._book.add_format({"bold": True, "text_wrap": True, "valign": "top", "bottom": 1}),
            "caption": self._book.add_format({"bold": True, "font_size": 13, "text_wrap": True, "valign": "top"}),
            "share": self._book.add_format({"num_format": "0%"}),
            "p": self._book.add_format({"num_format": '[<0.001]"< .001";0.000'}),
            "number": self._book.add_format({"num_format": "0.##"}),
        }

    def table(
        self,
        name: str,
        caption: str,
        table: Rows,
        notes: Iterable[str] = (),
        widths: dict[int, int] | None = None,
    ) -> None:
        """A sheet with a caption, a head that stays, rows and notes; columns of ``widths`` have so many letters, and their texts
        wrap."""
        sheet, width = self._book.add_worksheet(name), len(table[0])
        if width > 1:
            sheet.merge_range(0, 0, 0, min(width - 1, _WIDEST), "", self._looks["caption"])
        sheet.write_string(0, 0, caption, self._looks["caption"])
        sheet.set_row(0, 40)
        for column, head in enumerate(table[0]):
            sheet.write_string(2, column, str(head), self._looks["bold"])
        for line, row in enumerate(table[1:], start=3):
            self._line(sheet, line, row, table[0], widths or {})
        sheet.set_column(0, 0, 30)
        sheet.set_column(1, max(width - 1, 1), 12)
        for column, letters in (widths or {}).items():
            sheet.set_column(column, column, letters)
        sheet.freeze_panes(3, 1)
        for line, note in enumerate(notes, start=len(table) + 3):
            sheet.merge_range(line, 0, line, max(min(width - 1, _WIDEST), 1), "", self._looks["wrap"])
            sheet.write_string(line, 0, note, self._looks["wrap"])
            sheet.set_row(line, 30)

    def bare(self, name: str, table: Rows) -> None:
        """A sheet of rows alone, the names of columns first, for what is read by programs."""
        sheet = self._book.add_worksheet(name)
        for column, head in enumerate(table[0]):
            sheet.write_string(0, column, str(head), self._looks["bold"])
        for line, row in enumerate(table[1:], start=1):
            self._line(sheet, line, row, table[0], {})
        sheet.set_column(0, max(len(table[0]) - 1, 0), 18)
        sheet.freeze_panes(1, 1)

    def _line(
        self,
        sheet: Any,
        line: int,
        row: Sequence[Cell],
        heads: Sequence[Cell],
        widths: dict[int, int],
    ) -> None:
        for column, cell in enumerate(row):
            if isinstance(cell, Link):
                sheet.write_url(line, column, cell.address, string=str(cell))
            elif isinstance(cell, Picture):
                self._picture(sheet, line, column, cell)
            elif isinstance(cell, str):
                sheet.write_string(line, column, cell[:LONGEST], self._looks["wrap"] if column in widths else None)
            elif cell is not None:
                head = heads[column]
                sheet.write_number(line, column, cell, self._looks[head.look if isinstance(head, Head) else "number"])

    def _picture(self, sheet: Any, line: int, column: int, cell: Picture) -> None:
        """Beneath its words, in a row as high as it needs."""
        sheet.write_string(line, column, cell, self._looks["wrap"])
        _, high = _points(cell.image)
        scale = min(1.0, _PICTURE / high)
        sheet.set_row_pixels(line, int(high * scale) + 30)
        placed = {
            "image_data": io.BytesIO(cell.image),
            "y_offset": 24,
            "x_offset": 4,
            "x_scale": scale,
            "y_scale": scale,
        }
        sheet.insert_image(line, column, "region.png", {**placed, "description": str(cell), "object_position": 1})

    def text(self, name: str, paragraphs: Iterable[str]) -> None:
        """A sheet of paragraphs."""
        sheet = self._book.add_worksheet(name)
        sheet.set_column(0, 0, 110)
        for line, words in enumerate(paragraphs):
            sheet.write_string(line, 0, words, self._looks["wrap"])

    def made(self) -> bytes:
        """The finished file."""
        self._book.close()
        return self._out.getvalue()


def file_name(project: str, what: str, ending: str) -> str:
    """Named after the project and what it is."""
    return f"{plain_name(project) or 'project'}-{what}.{ending}"


def plain_name(words: str) -> str:
    """Words as a part of a file's name: plain letters and digits, with hyphens between."""
    return re.sub(r"[^A-Za-z0-9]+", "-", words).strip("-").lower()


def attached(made: bytes, content_type: str, project: str, what: str, ending: str) -> HttpResponse:
    """An answer that the browser keeps as a file."""
    response = HttpResponse(made, content_type=content_type)
    response["Content-Disposition"] = f'attachment; filename="{file_name(project, what, ending)}"'
    return response
