"""A comparison as .xlsx and .csv: the sentence, the table, what is left out, and how it was tested."""

import csv
import io
from datetime import date
from typing import Any

import xlsxwriter

from server.common.spreadsheets import safe

_TEST_NAMES = {
    "chi_square": "Pearson chi-square",
    "exact": "Fisher–Freeman–Halton, exact",
    "exact_simulated": "Fisher–Freeman–Halton, simulated",
    "permutation": "permutation of group labels over cases",
    "layered": "Cochran–Mantel–Haenszel, layers held apart",
    "changes": "McNemar, exact, on those in both",
    "occasions": "Cochran’s Q, on those in all",
    "none": "no test",
}
Cell = str | float | int | None


def sentence_of(result: dict[str, Any]) -> str:
    return "".join(part["text"] for part in result["sentence"])


def table_of(result: dict[str, Any], many: str) -> list[list[Cell]]:
    """Header and rows, numbers as numbers; a share is a number from 0 to 1."""
    figure = {"rate": "per 1,000 words", "per_person": "mean"}.get(result["measure"], "share")
    counted = many if result["measure"] == "people" else "passages"
    header: list[Cell] = ["Code"]
    for group in result["groups"]:
        header += [
            f"{group['name']}: {figure}",
            f"{group['name']}: {counted}",
            f"{group['name']}: base",
            f"{group['name']}: low",
            f"{group['name']}: high",
        ]
    header += [
        f"Everyone: {figure}",
        f"Everyone: {many}",
        "Everyone: passages",
        "Everyone: base",
        "Most passages by one",
        "Who",
    ]
    sizes = _sizes_of(result)
    header += sizes
    header += ["Cramér’s V, corrected", "Test", "p", "p, Holm", "p, Benjamini–Hochberg"]
    rows: list[list[Cell]] = [header]
    for row in result["rows"]:
        line: list[Cell] = [row["name"]]
        for cell in row["cells"]:
            line += [cell["figure"], cell["count"], cell["base"], cell["low"], cell["high"]]
        total = row["total"]
        line += [total["figure"], total["people"], total["passages"], total["base"], total["most"], total["most_by"]]
        line += _sizes_in(row) or [None] * len(sizes)
        test = row["test"]
        line += [test["effect"], _TEST_NAMES[test["kind"]], test["p"], test["holm"], test["benjamini_hochberg"]]
        rows.append(line)
    return rows


def _sizes_of(result: dict[str, Any]) -> list[Cell]:
    """Heads of what tells the size of a difference: of two groups, over layers, or of who changed."""
    groups = result["groups"]
    if result["difference"]:
        first, second = (groups[place]["name"] for place in result["difference"])
        head = f"Difference {first} − {second}"
        return [head, "Difference: low", "Difference: high", "Odds ratio", "Relative risk", "Smallest difference that would show"]  # fmt: skip
    if result["layer_pair"]:
        first, second = (groups[place]["label"] for place in result["layer_pair"])
        head = f"Common odds ratio {first} over {second}"
        return [head, "Odds ratio: lower end", "Odds ratio: upper end", "p, layers differ (Breslow–Day)"]
    if any(row["changes"] for row in result["rows"]):
        first, second = (group["name"] for group in groups)
        return ["In both", f"Only in {first}", f"Only in {second}", "In neither"]
    return []


def _sizes_in(row: dict[str, Any]) -> list[Cell]:
    if gap := row["difference"]:
        return [gap[name] for name in ("difference", "low", "high", "odds_ratio", "relative_risk", "seen")]
    if held := row["layers"]:
        return [held[name] for name in ("odds_ratio", "low", "high", "differ_p")]
    if changes := row["changes"]:
        return [changes[name] for name in ("both", "only_first", "only_second", "neither")]
    return []


def notes_of(result: dict[str, Any], project: str) -> list[str]:
    made = f"{project}, {date.today().isoformat()}, revision {result['revision']}. Made with Cohortia."
    shares = "Shares run from 0 to 1; low and high are the ends of 95 % intervals (Wilson; differences: Newcombe)."
    return [result["left_out_line"], *result["cautions"], shares, made]


def as_csv(result: dict[str, Any], project: str, many: str) -> bytes:
    """UTF-8 with a byte order mark, so that spreadsheets read it as such."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([safe(sentence_of(result))])
    writer.writerow([])
    for row in table_of(result, many):
        writer.writerow(["" if cell is None else safe(cell) if isinstance(cell, str) else cell for cell in row])
    writer.writerow([])
    for note in notes_of(result, project):
        writer.writerow([safe(note)])
    return out.getvalue().encode("utf-8-sig")


def as_xlsx(result: dict[str, Any], project: str, many: str) -> bytes:
    """Numbers as numbers with formats; every text cell is written as text, never as a formula."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(
        out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    )
    sheet = book.add_worksheet("Comparison")
    wrap = book.add_format({"text_wrap": True, "valign": "top"})
    bold = book.add_format({"bold": True, "text_wrap": True, "valign": "top", "bottom": 1})
    caption = book.add_format({"bold": True, "font_size": 13, "text_wrap": True, "valign": "top"})
    formats = {
        "share": book.add_format({"num_format": "0%"}),
        "p": book.add_format({"num_format": "0.000"}),
        "number": book.add_format({"num_format": "0.##"}),
    }
    table = table_of(result, many)
    width = len(table[0])
    sheet.merge_range(0, 0, 0, min(width - 1, 9), "", caption)
    sheet.write_string(0, 0, sentence_of(result), caption)
    sheet.set_row(0, 40)
    for column, name in enumerate(table[0]):
        sheet.write_string(2, column, str(name), bold)
    for line, row in enumerate(table[1:], start=3):
        for column, cell in enumerate(row):
            if isinstance(cell, str):
                sheet.write_string(line, column, cell)
            elif cell is not None:
                sheet.write_number(line, column, cell, formats[_format(str(table[0][column]), result["measure"])])
    sheet.set_column(0, 0, 30)
    sheet.set_column(1, width - 1, 12)
    sheet.freeze_panes(3, 1)
    for line, note in enumerate(notes_of(result, project), start=len(table) + 3):
        sheet.merge_range(line, 0, line, min(width - 1, 9), "", wrap)
        sheet.write_string(line, 0, note, wrap)
        sheet.set_row(line, 30)
    book.close()
    return out.getvalue()


def _format(name: str, measure: str) -> str:
    if name == "p" or name.startswith("p,"):
        return "p"
    ends_of_a_rate = measure in ("rate", "per_person") and name.endswith((": low", ": high"))
    is_share = name.endswith((": share", ": low", ": high")) or name.startswith(("Difference", "Smallest"))
    if ends_of_a_rate:
        return "number"
    return "share" if is_share else "number"
