"""Small cells taken out of a result before it leaves, with those that would give them away."""

from typing import Any

import numpy as np

from core.statistics.disclosure import hidden_cells

Json = dict[str, Any]
_GONE = ("difference", "trend", "layers", "changes")


def with_small_hidden(result: Json, least: int, many: str) -> Json:
    """The same result with cells of fewer than ``least`` people hidden. What a row's tests, or its difference, would
    tell about a hidden cell goes too; so does who said most."""
    if least < 2 or not result["rows"] or not result["groups"]:
        return result
    people = np.array([[cell["people"] for cell in row["cells"]] for row in result["rows"]])
    hidden = hidden_cells(
        people, least, rows_add_up=not result["shared_people"], groups_add_up=result["whole"] is not None
    )
    rows = [_row(row, one.tolist()) for row, one in zip(result["rows"], hidden, strict=True)]
    count = int(hidden.sum())
    note = (
        f"{count} cell{'' if count == 1 else 's'} of fewer than {least} {many}, or that would give such a one away, "
        f"{'is' if count == 1 else 'are'} hidden, with the tests of their rows."
    )
    cautions = [one for one in result["cautions"] if one["kind"] != "whole"] if count else result["cautions"]
    return {**result, "rows": rows, "cautions": [*cautions, {"kind": "hidden", "text": note}]}


def _row(row: Json, hidden: list[bool]) -> Json:
    total = {**row["total"], "most": None, "most_by": None}
    if not any(hidden):
        return {**row, "total": total}
    nothing = dict.fromkeys(row["test"]) | {"kind": "none"}
    cells = [{**cell, "hidden": True} if one else cell for cell, one in zip(row["cells"], hidden, strict=True)]
    return {**row, "cells": cells, "total": total, "test": nothing, **dict.fromkeys(_GONE)}
