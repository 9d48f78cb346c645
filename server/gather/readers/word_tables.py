"""Tables of a .docx in which a column says who speaks: whose words each of their paragraphs are."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from docx.oxml.ns import qn

from core.gather.labels import Line, clean
from core.gather.tables import MOST_COLUMNS, speaker_columns
from core.language import say

Marks = dict[str, tuple[int, int]]


@dataclass(frozen=True)
class Cell:
    """What a paragraph of such a table is: words of ``voice`` ("" goes on as before), said at ``time``; or not text at all."""

    said: bool = True
    voice: str = ""
    time: str = ""

    def put(self, lines: list[Line], starts: Marks, ends: Marks) -> tuple[list[Line], Marks, Marks]:
        """The paragraph's lines with who says them; comments move with their words."""
        if not self.said:
            return [], dict.fromkeys(starts, (0, 0)), dict.fromkeys(ends, (0, 0))
        first, *rest = lines
        stamp = f"[{self.time}] " if self.time else ""
        first = replace(first, text=f"{stamp}{first.text}", voice=self.voice)
        shifted = [
            {mark: (line, offset + (0 if line else len(stamp))) for mark, (line, offset) in marks.items()}
            for marks in (starts, ends)
        ]
        return [first, *rest], shifted[0], shifted[1]


def speakers_in_tables(body: Any) -> tuple[dict[Any, Cell], list[str]]:
    """Paragraph → what it is, for those of tables of speakers; and a sentence where there are any."""
    found: dict[Any, Cell] = {}
    rows = numbered = 0
    for table in body.iter(qn("w:tbl")):
        cells = [list(_cells(row)) for row in table.iterchildren(qn("w:tr"))]
        words = [[" ".join(_words(one) for one in cell).strip() for cell in row] for row in cells]
        columns = speaker_columns(words)
        if columns is None:
            continue
        begun = int(columns.headed)
        rows += len(words) - begun
        numbered += len(columns.numbers)
        for row, texts in zip(cells[begun:], words[begun:], strict=True):
            for place, paragraphs in enumerate(row):
                if place in (columns.who, columns.when, *columns.numbers):
                    found.update(dict.fromkeys(paragraphs, Cell(said=False)))
            spoken = next((one for one in row[columns.said] if _words(one).strip()), None)
            if spoken is not None:
                time = texts[columns.when].strip("[]() ") if columns.when is not None else ""
                found[spoken] = Cell(voice=clean(texts[columns.who]), time=time)
    if not rows:
        return {}, []
    told = [
        say("A table says who speaks: {rows, plural, one {# row} other {# rows}} of it are read as turns.", rows=rows)
    ]
    if numbered:
        told.append(say("The numbers of its rows are left out."))
    return found, told


def _cells(row: Any) -> Iterator[list[Any]]:
    """The paragraphs of each cell, those of a table within it too; a cell over several columns is that and empty ones."""
    for cell in row.iterchildren(qn("w:tc")):
        yield list(cell.iter(qn("w:p")))
        span = cell.find(f"{qn('w:tcPr')}/{qn('w:gridSpan')}")
        width = str(span.get(qn("w:val"))) if span is not None else "1"
        yield from ([] for _ in range(min(int(width), MOST_COLUMNS) - 1 if width.isdigit() else 0))


def _words(paragraph: Any) -> str:
    return "".join(one.text or "" for one in paragraph.iter(qn("w:t")))
