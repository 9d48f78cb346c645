"""Small cells taken out of a result before it leaves, with those that would give them away; or all counts rounded."""

from typing import Any

import numpy as np
import numpy.typing as npt

from core.language import say
from core.statistics.disclosure import rounded, taken_out

Json = dict[str, Any]
Bools = npt.NDArray[np.bool_]
_GONE = ("difference", "trend", "layers", "changes")
_TELLS_NOTHING = {
    "not_shown", "several_rows", "shuffled", "no_ratings", "scales", "frozen", "hidden", "never_asked", "asked_as_matched", "accord_as_matched",
}  # fmt: skip
"""Kinds of cautions that hold no count of people."""
_COUNTS = ("people", "passages", "count", "base")
_FIGURES = ("figure", "median", "deviation", "low", "high", "residual")


def with_small_hidden(result: Json, cells: Bools, sizes: Bools, limit: int, many: str) -> Json:
    """The same result without the cells (rows, groups + 1) and sizes of groups (groups + 1,) that may not leave. What a
    row's tests, or its difference, would tell about a hidden cell goes too; so do who said most, and all sums that would
    tell passages of one row."""
    names = [group["name"] for group in result["groups"]]
    if not cells.any() and not sizes.any():
        return {**result, "rows": [_without_most(row) for row in result["rows"]], "guarded": True}
    count = int(cells.sum())
    note = say(
        "{count, number} {count, plural, one {figure} other {figures}} of fewer than {limit} {many}, or that would give such a one away, {count, plural, one {is} other {are}} hidden, with the tests of their rows and what was left out.",
        count=count,
        limit=limit,
        many=many,
    )
    if sizes[:-1].any():
        small = ", ".join(f"“{name}”" for name, one in zip(names, sizes.tolist(), strict=False) if one)
        note += say(" How many {many} are in {small} is hidden too.", many=many, small=small)
    cautions = [one for one in result["cautions"] if one["kind"] in _TELLS_NOTHING]
    groups = [
        {**group, "people": 0 if sizes[at] else group["people"], "passages": 0, "words": 0, "hidden": bool(sizes[at])}
        for at, group in enumerate(result["groups"])
    ]
    return {
        **result,
        "rows": [_row(row, one.tolist(), sizes.tolist()) for row, one in zip(result["rows"], cells, strict=True)],
        "groups": groups,
        "left_out": [],
        "left_out_line": say("What is left out isn’t counted here, since small figures are hidden."),
        "in_scope": 0,
        "everyone": 0 if sizes[-1] else result["everyone"],
        "guarded": True,
        "whole": None,
        "shared_people": 0,
        "cautions": [*cautions, {"kind": "hidden", "text": note}],
    }


def _without_most(row: Json) -> Json:
    alone: Json = {"most": 0, "most_by": None}
    return {**row, "cells": [{**cell, **alone} for cell in row["cells"]], "total": {**row["total"], **alone}}


def _row(row: Json, hidden: list[bool], sizes: list[bool]) -> Json:
    nothing = dict.fromkeys(_FIGURES) | dict.fromkeys(_COUNTS, 0) | {"hidden": True, "most": 0, "most_by": None}
    every = [*row["cells"], row["total"]]
    parts = [
        {**cell, **{name: value for name, value in nothing.items() if name in cell or name == "hidden"}}
        if gone
        else {**cell, "most": 0, "most_by": None, **({"base": 0} if sizes[at] else {})}
        for at, (cell, gone) in enumerate(zip(every, hidden, strict=True))
    ]
    found = {**row, "cells": parts[:-1], "total": parts[-1], "left_out": {}}
    if not any(hidden):
        return found
    found["cells"] = [{**cell, "residual": None} for cell in found["cells"]]
    return {**found, "test": dict.fromkeys(row["test"]) | {"kind": "none"}, **dict.fromkeys(_GONE)}


def with_rounding(result: Json, to: int) -> Json:
    """All counts to the nearest multiple, shares made of these, and nothing that would tell the exact ones."""
    if not to:
        return result

    def cell(one: Json) -> Json:
        counts = {name: rounded(one[name], to) for name in ("people", "passages", "count", "base")}
        figure = one["figure"]
        if result["figures"]["share"] and figure is not None:
            figure = min(counts["count"] / counts["base"], 1.0) if counts["base"] else None
        exact: Json = {name: None for name in ("low", "high", "residual", "median", "deviation") if name in one}
        return {**one, **counts, "figure": figure, **exact, "most": 0, "most_by": None}

    rows = [
        {
            **row,
            "cells": [cell(one) for one in row["cells"]],
            "total": cell(row["total"]),
            "test": dict.fromkeys(row["test"]) | {"kind": "none"},
            "left_out": {},
            **dict.fromkeys(_GONE),
        }
        for row in result["rows"]
    ]
    note = say(
        "All counts are rounded to the nearest multiple of {to}, the same everywhere; shares are made of these, and tests left out.",
        to=to,
    )
    cautions = [one for one in result["cautions"] if one["kind"] in _TELLS_NOTHING]
    return {
        **result,
        "rows": rows,
        "groups": [
            {**one, **{name: rounded(one[name], to) for name in ("people", "passages", "words")}}
            for one in result["groups"]
        ],
        "left_out": [],
        "left_out_line": say("What is left out isn’t counted here, since counts are rounded."),
        "guarded": True,
        "everyone": rounded(result["everyone"], to),
        "in_scope": 0,
        "whole": None,
        "cautions": [*cautions, {"kind": "rounded", "text": note}],
    }


HIDDEN = "hidden"


def holdings_hidden(result: Json, limit: int, to: int) -> Json:
    """What the codebook holds, without the small counts of people, the passages that go with them, and what would tell
    either; all of it rounded."""
    if limit < 2 and not to:
        return result
    codes = []
    for code in result["codes"]:
        groups = code["by_group"] if result["groups"] else []
        *parts, branch = taken_out([*(one["people"] for one in groups), code["branch_people"]], limit)
        own_hidden = branch is None or 0 < code["people"] < limit
        branch_hidden = branch is None or (own_hidden and code["branch_people"] - code["people"] < limit)
        found = {**code}
        for name, gone in (("people", own_hidden), ("passages", own_hidden), ("branch_people", branch_hidden), ("branch_passages", branch_hidden)):  # fmt: skip
            found[name] = HIDDEN if gone else rounded(code[name], to)
        found["by_group"] = [
            {"people": HIDDEN, "passages": HIDDEN}
            if part is None
            else {name: rounded(one[name], to) for name in ("people", "passages")}
            for one, part in zip(groups, parts, strict=True)
        ]
        codes.append(found)
    return {**result, "codes": codes}


def together_hidden(result: Json, people: Json, limit: int, to: int) -> Json:
    """Codes with codes, without the pairs that few say; ``people`` is the same table counted by people."""
    if limit < 2 and not to:
        return result
    size = len(result["codes"])
    tables = [*people["groups"], people["whole"]]
    gone = [[[False] * size for _ in range(size)] for _ in tables]
    for row in range(size):
        for column in range(size):
            counts = [table["counts"][row][column] for table in tables]
            kept = taken_out(counts, limit) if len(counts) > 1 else [None if 0 < counts[0] < limit else counts[0]]
            for at, one in enumerate(kept):
                gone[at][row][column] = one is None
    shown = [*result["groups"], result["whole"]]
    every = [_pairs_hidden(table, one, to) for table, one in zip(shown, gone, strict=True)]
    return {**result, "groups": every[:-1], "whole": every[-1]}


def _pairs_hidden(table: Json, gone: list[list[bool]], to: int) -> Json:
    size = range(len(gone))
    counts = [[HIDDEN if gone[a][b] or gone[b][a] else rounded(table["counts"][a][b], to) for b in size] for a in size]
    # Likeness is made of both codes by themselves and of the two together: with any of these hidden it would tell.
    telling = [[gone[a][b] or gone[b][a] or gone[a][a] or gone[b][b] or bool(to) for b in size] for a in size]
    likeness = [[None if telling[a][b] else table["likeness"][a][b] for b in size] for a in size]
    return {**table, "counts": counts, "likeness": likeness}
