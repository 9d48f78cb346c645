"""A comparison for other programs: one header row, one line a cell, numbers apart; what is said of it in a file beside."""

import io
import zipfile
from typing import Any

from server.common.exports import Cell, plain
from server.compare.exports.tables import TEST_NAMES, notes_of, sentence_of

Json = dict[str, Any]
_CELL = ("figure", "count", "base", "low", "high", "median", "deviation", "people", "passages", "residual")
_TEST = ("statistic", "p", "holm", "benjamini_hochberg", "effect")
_SIZES = {
    "difference": {"difference": "difference", "low": "difference_low", "high": "difference_high", "odds_ratio": "odds_ratio",
                   "relative_risk": "relative_risk", "seen": "smallest_seen"},
    "layers": {"odds_ratio": "common_odds_ratio", "low": "common_odds_ratio_low", "high": "common_odds_ratio_high",
               "differ_p": "layers_differ_p", "differ_holm": "layers_differ_holm", "effect": "layers_effect"},
    "changes": {"both": "in_both", "only_first": "only_in_first", "only_second": "only_in_second", "neither": "in_neither"},
    "trend": {"z": "trend_z", "p": "trend_p", "holm": "trend_holm"},
}  # fmt: skip
"""What tells the size of a difference, by what a row has, with the names of its columns."""
_COLUMNS = """cells.csv: a line for each row in each group
  row_kind, row_id, row    code, theme or query; its number in the project; its name
  group, outer             the group, and the group or layer that it lies in (empty where there is none)
  group_size               {many} of the group
  figure                   what the sentence says: {figure}
  count, base              {counted}; out of how many
  low, high                ends of the 95 % interval
  median, deviation        of the {many} of the group, where a mean is shown
  people, passages         {many} with a passage of the row, and its passages
  residual                 adjusted residual (Haberman)
  hidden                   1: may not leave the project; its figures are empty
rows.csv: a line for each row
  everyone_…               the same over all groups, each person and passage once
  test, statistic, p, …    how the groups were compared; p as it is, after Holm, after Benjamini and Hochberg; Cramér's V, corrected
  difference, …            first_group minus second_group, with its interval, odds ratio, relative risk, and the smallest
                           difference that would show in so many
  common_odds_ratio, …     first_group over second_group, layers held apart
  in_both, only_in_…       {many} in both groups, by who changed
  trend_…                  in the groups' own order
Both are UTF-8, separated by commas, with a point for decimals; what isn't known is empty. A name that a spreadsheet would take
for a formula has an apostrophe before it."""


def as_tidy(result: Json, project: str, many: str) -> bytes:
    """A .zip of ``cells.csv``, ``rows.csv`` and ``about.txt``."""
    return zipped(
        {
            "cells.csv": plain(cells_of(result)),
            "rows.csv": plain(rows_of(result)),
            "about.txt": about(result, project, many).encode(),
        }
    )


def zipped(files: dict[str, bytes]) -> bytes:
    """Files by name as one .zip."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        for name, content in files.items():
            file.writestr(name, content)
    return out.getvalue()


def cells_of(result: Json) -> list[list[Cell]]:
    """A line for each row in each group, under a header."""
    lines: list[list[Cell]] = [
        ["row_kind", "row_id", "row", "group", "outer", "group_size", *_CELL, "hidden"],
    ]
    for row in result["rows"]:
        for group, cell in zip(result["groups"], row["cells"], strict=True):
            hidden = bool(cell.get("hidden"))
            untold = {"base"} if group.get("hidden") else set()
            size = None if untold else group["people"]
            figures = [None if hidden or name in untold else cell[name] for name in _CELL]
            lines.append([*_named(row), group["label"], group["outer"], size, *figures, int(hidden)])
    return lines


def rows_of(result: Json) -> list[list[Cell]]:
    """A line for each row: over all groups, and how it was tested."""
    total = ("figure", "count", "base", "people", "passages")
    sizes = [kind for kind in _SIZES if any(row[kind] for row in result["rows"])]
    pair = _pair(result)
    header: list[Cell] = ["row_kind", "row_id", "row", *(f"everyone_{name}" for name in total), "hidden"]
    header += ["test", *_TEST] + (["first_group", "second_group"] if pair else [])
    lines: list[list[Cell]] = [[*header, *(name for kind in sizes for name in _SIZES[kind].values())]]
    for row in result["rows"]:
        hidden = bool(row["total"].get("hidden"))
        # In what is guarded nobody in all groups means: how many aren't told.
        untold = {"base"} if result.get("guarded") and not result["everyone"] else set()
        figures = [None if hidden or name in untold else row["total"][name] for name in total]
        tested = [TEST_NAMES[row["test"]["kind"]], *(row["test"][name] for name in _TEST)]
        told = [(row[kind] or {}).get(name) for kind in sizes for name in _SIZES[kind]]
        lines.append([*_named(row), *figures, int(hidden), *tested, *pair, *told])
    return lines


def _pair(result: Json) -> list[Cell]:
    """The two groups whose difference is told; none where none is."""
    places = result["difference"] or result["layer_pair"]
    if places:
        return [result["groups"][place]["label" if result["layer_pair"] else "name"] for place in places]
    return [group["name"] for group in result["groups"]] if any(row["changes"] for row in result["rows"]) else []


def about(result: Json, project: str, many: str) -> str:
    """The sentence, what the columns are, what is left out, methods and sources."""
    figure, counted = result["figures"]["head"], result["figures"]["noun"][1]
    parts = [
        sentence_of(result),
        "\n".join(notes_of(result, project)),
        _COLUMNS.format(many=many, figure=figure, counted=counted),
        "\n".join([result["methods"], *result["sources"]]),
    ]
    return "\n\n".join(parts) + "\n"


def _named(row: Json) -> list[Cell]:
    return [row["kind"], row["id"], row["name"]]
