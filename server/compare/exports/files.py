"""A comparison as .xlsx, .csv and .docx: the sentence, the table, what is left out, how it was tested, and methods."""

import csv
import io
from typing import Any

import docx
import xlsxwriter
from docx.shared import Pt

from server.common.spreadsheets import safe
from server.compare.exports.tables import Cell, is_p, is_share, notes_of, sentence_of, table_of, tests_of

Json = dict[str, Any]


def as_csv(result: Json, project: str, many: str) -> bytes:
    """UTF-8 with a byte order mark, so that spreadsheets read it as such."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([safe(sentence_of(result))])
    writer.writerow([])
    for row in _side_by_side(table_of(result, many), tests_of(result)):
        writer.writerow(["" if cell is None else safe(cell) if isinstance(cell, str) else cell for cell in row])
    writer.writerow([])
    for note in [*notes_of(result, project), result["methods"], *result["sources"]]:
        writer.writerow([safe(note)])
    return out.getvalue().encode("utf-8-sig")


def _side_by_side(table: list[list[Cell]], tests: list[list[Cell]]) -> list[list[Cell]]:
    return [row + test[1:] for row, test in zip(table, tests, strict=True)]


def as_xlsx(result: Json, project: str, many: str) -> bytes:
    """Numbers as numbers with formats; every text cell is written as text, never as a formula. Figures on the first
    sheet, tests on the second, methods with their sources on the third."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(
        out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    )
    looks = {
        "wrap": book.add_format({"text_wrap": True, "valign": "top"}),
        "bold": book.add_format({"bold": True, "text_wrap": True, "valign": "top", "bottom": 1}),
        "caption": book.add_format({"bold": True, "font_size": 13, "text_wrap": True, "valign": "top"}),
        "share": book.add_format({"num_format": "0%"}),
        "p": book.add_format({"num_format": "0.000"}),
        "number": book.add_format({"num_format": "0.##"}),
    }
    sheet = book.add_worksheet("Comparison")
    table = table_of(result, many)
    _fill(sheet, looks, table, sentence_of(result), result["measure"])
    width = len(table[0])
    for line, note in enumerate(notes_of(result, project), start=len(table) + 3):
        sheet.merge_range(line, 0, line, min(width - 1, 9), "", looks["wrap"])
        sheet.write_string(line, 0, note, looks["wrap"])
        sheet.set_row(line, 30)
    _fill(book.add_worksheet("Tests"), looks, tests_of(result), sentence_of(result), result["measure"])
    methods = book.add_worksheet("Methods")
    methods.set_column(0, 0, 110)
    for line, text in enumerate([sentence_of(result), result["methods"], *result["sources"]]):
        methods.write_string(line, 0, text, looks["wrap"])
    book.close()
    return out.getvalue()


def _fill(sheet: Any, looks: Json, table: list[list[Cell]], caption: str, measure: str) -> None:
    width = len(table[0])
    if width > 1:
        sheet.merge_range(0, 0, 0, min(width - 1, 9), "", looks["caption"])
    sheet.write_string(0, 0, caption, looks["caption"])
    sheet.set_row(0, 40)
    for column, name in enumerate(table[0]):
        sheet.write_string(2, column, str(name), looks["bold"])
    for line, row in enumerate(table[1:], start=3):
        for column, cell in enumerate(row):
            name = str(table[0][column])
            if isinstance(cell, str):
                sheet.write_string(line, column, cell)
            elif cell is not None:
                look = "p" if is_p(name) else "share" if is_share(name, measure) else "number"
                sheet.write_number(line, column, cell, looks[look])
    sheet.set_column(0, 0, 30)
    sheet.set_column(1, max(width - 1, 1), 12)
    sheet.freeze_panes(3, 1)


def as_docx(result: Json, project: str, many: str) -> bytes:
    """For a report: the sentence as heading, a table of shares with counts, notes, methods and sources."""
    document = docx.Document()
    document.styles["Normal"].font.size = Pt(10)
    document.add_heading("Comparison", level=1)
    document.add_paragraph(sentence_of(result))
    groups = result["groups"]
    table = document.add_table(rows=1, cols=len(groups) + 3)
    table.style = "Light Grid Accent 1"
    heads = ["Row", *(f"{group['name']} ({group['people']} {many})" for group in groups), "Everyone", "p, Holm"]
    for cell, name in zip(table.rows[0].cells, heads, strict=True):
        cell.text = name
    for row in result["rows"]:
        holm = row["test"]["holm"]
        figures = [_shown(result["measure"], cell) for cell in row["cells"]]
        words = [row["name"], *figures, _shown(result["measure"], row["total"]), "–" if holm is None else f"{holm:.3f}"]
        for cell, text in zip(table.add_row().cells, words, strict=True):
            cell.text = text
    for note in notes_of(result, project):
        document.add_paragraph(note)
    document.add_heading("Methods", level=2)
    document.add_paragraph(result["methods"])
    for source in result["sources"]:
        document.add_paragraph(source, style="List Bullet")
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def _shown(measure: str, cell: Json) -> str:
    if cell.get("hidden"):
        return "hidden"
    if cell["figure"] is None:
        return "–"
    if measure in ("rate", "per_person", "rating"):
        return f"{cell['figure']:.2f} ({cell['count']})"
    return f"{100 * cell['figure']:.0f} % ({cell['count']} of {cell['base']})"
