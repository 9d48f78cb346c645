"""All passages of a comparison as .xlsx and .docx, by code, group and person."""

import io
from typing import Any

import docx
import numpy as np
import xlsxwriter
from docx.shared import Pt

from core.compare.evidence import every_cell
from server.coding.models import Passage
from server.common.errors import Refusal
from server.compare.asking import Asked, case_names

MOST = 20_000
"""Lines of a file at most."""
Line = tuple[str, str, str, str, int, str]
"""Row, group, person, document, turn, words."""
HEADS = ["Row", "Group", "Person", "Document", "Turn", "Passage"]


def lines_of(asked: Asked) -> list[Line]:
    """Every passage once for each row, group and person that it counts for, in that order."""
    held, ids = every_cell(asked.snapshot, asked.comparison), asked.snapshot
    if len(held.row) > MOST:
        raise Refusal(
            f"These are {len(held.row):,} lines, more than a file takes ({MOST:,}). Choose fewer rows or groups."
        )
    names = case_names(asked.member)
    wanted = np.unique(ids.passage_ids[held.passage]).tolist()
    rows = {row.pk: row for row in Passage.objects.filter(pk__in=wanted).select_related("document")}
    turns = _turns(asked)
    found: list[Line] = []
    for place in np.lexsort((held.passage, held.case, held.group, held.row)).tolist():
        passage = rows[int(ids.passage_ids[held.passage[place]])]
        found.append(
            (
                asked.rows[held.row[place]].name,
                asked.comparison.groups.names[held.group[place]],
                names.get(int(ids.case_ids[held.case[place]]), "?"),
                passage.document.title,
                int(turns[held.passage[place]]),
                passage.said,
            )
        )
    return found


def _turns(asked: Asked) -> Any:
    """The number of the turn that each passage begins in, within its document."""
    held = asked.snapshot
    stride = int(max(held.turn_end.max(initial=0), held.passage_end.max(initial=0))) + 1
    line = held.turn_document.astype(np.int64) * stride + held.turn_end
    at = held.passage_document.astype(np.int64) * stride + held.passage_start
    first = np.searchsorted(held.turn_document, held.passage_document)
    return np.searchsorted(line, at, side="right") - first + 1


def passages_xlsx(asked: Asked, sentence: str) -> bytes:
    out = io.BytesIO()
    book = xlsxwriter.Workbook(
        out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    )
    sheet = book.add_worksheet("Passages")
    bold, wrap = book.add_format({"bold": True, "bottom": 1}), book.add_format({"text_wrap": True, "valign": "top"})
    sheet.write_string(0, 0, sentence, book.add_format({"bold": True}))
    heads = [*HEADS[:2], asked.member.project.case_one.capitalize(), *HEADS[3:]]
    for column, name in enumerate(heads):
        sheet.write_string(2, column, name, bold)
    lines = lines_of(asked)
    for at, line in enumerate(lines, start=3):
        cells: list[str | int] = list(line)
        for column, value in enumerate(cells):
            if isinstance(value, int):
                sheet.write_number(at, column, value, wrap)
            else:
                sheet.write_string(at, column, value[:32_000], wrap)
    sheet.set_column(0, 3, 20, wrap)
    sheet.set_column(5, 5, 90, wrap)
    sheet.autofilter(2, 0, max(len(lines) + 2, 3), len(heads) - 1)
    sheet.freeze_panes(3, 0)
    book.close()
    return out.getvalue()


def passages_docx(asked: Asked, sentence: str) -> bytes:
    document = docx.Document()
    document.styles["Normal"].font.size = Pt(10.5)
    document.add_heading("Passages", level=1)
    document.add_paragraph(sentence)
    row = group = ""
    for line in lines_of(asked):
        if line[0] != row:
            row, group = line[0], ""
            document.add_heading(row, level=2)
        if line[1] != group:
            group = line[1]
            document.add_heading(group, level=3)
        paragraph = document.add_paragraph()
        paragraph.add_run(f"{line[2]}: ").bold = True
        paragraph.add_run(_printable(line[5]))
        paragraph.add_run(f"  ({line[3]}, turn {line[4]})").italic = True
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def _printable(text: str) -> str:
    """XML holds no control characters."""
    return "".join(letter for letter in text if letter >= " " or letter in "\n\t")
