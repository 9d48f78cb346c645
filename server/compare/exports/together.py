"""Codes with codes as .xlsx and .csv: how often, how alike, and every pair on a line of its own."""

from typing import Any, Literal

from core.language import say
from server.common.exports import Cell, Head, Rows, Workbook, plain, tabbed
from server.compare.exports.tidy import zipped

Json = dict[str, Any]


def together_csv(result: Json, project: str, many: str) -> bytes:
    """A line for each pair and group, as programs like it."""
    return plain([[result["sentence"]], [], *_pairs(result)])


def together_tsv(result: Json, project: str, many: str) -> bytes:
    """A line for each pair and group under one header, to be pasted."""
    return tabbed(_pairs(result))


def together_tidy(result: Json, project: str, many: str) -> bytes:
    """A .zip of ``pairs.csv`` under one header, and ``about.txt`` with the sentence."""
    return zipped({"pairs.csv": plain(_pairs(result)), "about.txt": f"{result['sentence']}\n\n{project}\n".encode()})


def together_xlsx(result: Json, project: str, many: str) -> bytes:
    """Counts and likeness as they stand on screen, group under group, and all pairs."""
    book, sentence = Workbook(), result["sentence"]
    diagonal = say("On the diagonal: how many have the code at all.")
    book.table(say("How often"), sentence, _square(result, "counts"), notes=[diagonal])
    likeness = say("Likeness is Jaccard’s coefficient: those with both codes, as a share of those with either.")
    book.table(say("Likeness"), sentence, _square(result, "likeness", "p"), [likeness])
    book.table(say("Pairs"), sentence, _pairs(result))
    return book.made()


def _tables(result: Json) -> list[tuple[str, Json]]:
    return [(group["name"], group) for group in result["groups"]] or [("", result["whole"])]


def _square(result: Json, what: str, look: Literal["p", "number"] = "number") -> Rows:
    names = [code["name"] for code in result["codes"]]
    rows: list[list[Cell]] = [[result["variable"], *(Head(name, look) for name in names)]]
    for group, table in _tables(result):
        if group:
            rows.append([group])
        rows += [[name, *line] for name, line in zip(names, table[what], strict=True)]
    return rows


def _pairs(result: Json) -> list[list[Cell]]:
    by = [result["variable"]] if result["groups"] else []
    rows: list[list[Cell]] = [[say("Code"), say("With"), *by, say("How often"), Head(say("Likeness"), "p")]]
    names = [code["name"] for code in result["codes"]]
    for group, table in _tables(result):
        for row, name in enumerate(names):
            for column, other in enumerate(names):
                if row != column:
                    told = [group] if by else []
                    rows.append([name, other, *told, table["counts"][row][column], table["likeness"][row][column]])
    return rows
