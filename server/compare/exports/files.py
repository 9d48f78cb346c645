"""A comparison as .xlsx, .csv and .docx: the sentence, the table, what is left out, how it was tested, and methods."""

import io
from typing import Any

import docx
from docx.shared import Pt

from core.language import decimal, say, under_one
from server.common.exports import Cell, Workbook, plain, tabbed
from server.compare.exports.tables import adjusted_of, notes_of, sentence_of, table_of, tests_of

Json = dict[str, Any]


def as_csv(result: Json, project: str, many: str) -> bytes:
    """Figures and tests side by side, so that one line has all that is known of a row."""
    rows: list[list[Cell]] = [[sentence_of(result)], [], *_side_by_side(result, many)]
    if "adjusted" in result:
        rows += [
            [],
            [say("If the groups were alike in {result}", result=", ".join(result["adjusted"]["facts"]))],
            *adjusted_of(result),
        ]
    rows.append([])
    rows += [[note] for note in (*notes_of(result, project), result["methods"], *result["sources"])]
    return plain(rows)


def as_tsv(result: Json, project: str, many: str) -> bytes:
    """The same figures and tests under one header row, to be pasted."""
    return tabbed(_side_by_side(result, many))


def _side_by_side(result: Json, many: str) -> list[list[Cell]]:
    return [row + test[1:] for row, test in zip(table_of(result, many), tests_of(result), strict=True)]


def as_xlsx(result: Json, project: str, many: str) -> bytes:
    """Figures on the first sheet, tests on the second, methods with their sources on the third."""
    book, sentence = Workbook(), sentence_of(result)
    book.table(say("Comparison"), sentence, table_of(result, many), notes_of(result, project))
    book.table(say("Tests"), sentence, tests_of(result))
    if held := result.get("adjusted"):
        title = say(
            "If the groups were alike in {held}: {n}",
            held=", ".join(held["facts"]),
            n=held["problem"] or str(held["people"]) + " " + many,
        )
        book.table(say("Adjusted"), title, adjusted_of(result), held["notes"])
    book.text(say("Methods"), [sentence, result["methods"], *result["sources"]])
    return book.made()


def as_docx(result: Json, project: str, many: str) -> bytes:
    """For a report: the sentence as heading, a table of shares with counts, notes, methods and sources."""
    document = docx.Document()
    document.styles["Normal"].font.size = Pt(10)
    document.add_heading(say("Comparison"), level=1)
    document.add_paragraph(sentence_of(result))
    groups = result["groups"]
    table = document.add_table(rows=1, cols=len(groups) + 3)
    table.style = "Light Grid Accent 1"
    heads = [say("Row"), *(_head(group, many) for group in groups), say("Everyone"), say("p, Holm")]
    for cell, name in zip(table.rows[0].cells, heads, strict=True):
        cell.text = name
    for row in result["rows"]:
        holm = row["test"]["holm"]
        figures = [_shown(result["figures"], cell) for cell in row["cells"]]
        words = [row["name"], *figures, _shown(result["figures"], row["total"]), _p(holm)]
        for cell, text in zip(table.add_row().cells, words, strict=True):
            cell.text = text
    for note in notes_of(result, project):
        document.add_paragraph(note)
    document.add_heading(say("Methods"), level=2)
    document.add_paragraph(result["methods"])
    for source in result["sources"]:
        document.add_paragraph(source, style="List Bullet")
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def _head(group: Json, many: str) -> str:
    return group["name"] if group.get("hidden") else f"{group['name']} ({group['people']} {many})"


def _p(value: float | None) -> str:
    """Never nought: a p can be small, not none."""
    if value is None:
        return "–"
    return under_one("< .001" if value < 0.001 else f"{value:.3f}")


def _shown(figures: Json, cell: Json) -> str:
    if cell.get("hidden"):
        return "hidden"
    if cell["figure"] is None:
        return "–"
    if not figures["share"]:
        return f"{decimal(cell['figure'], 2)} ({cell['count']})"
    return say(
        "{cell} % ({cell2} of {cell3})", cell=decimal(100 * cell["figure"], 0), cell2=cell["count"], cell3=cell["base"]
    )
