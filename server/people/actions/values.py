"""Cells as values: what every write on values shares."""

from collections.abc import Iterable
from typing import Any

from core.language import message, say, worded
from core.people.columns import ReadCell, read_cell
from server.common.errors import Refusal
from server.people.models import Category, Variable, VariableKind
from server.projects.change import Change

GROUPED = (VariableKind.CATEGORY, VariableKind.ORDERED)
HELD = ("category_id", "number", "truth", "day", "words", "missing")
"""The columns of ``Value`` of which one is filled."""
_NEEDED = {"number": message("a number"), "date": message("a date such as 2026-01-31"), "yes_no": message("yes or no")}


def categories_for(
    change: Change, variable: Variable, order: tuple[str, ...], cells: Iterable[ReadCell]
) -> dict[str, Category]:
    if variable.kind not in GROUPED:
        return {}
    known = {row.label: row for row in Category.objects.filter(variable=variable)}
    seen = {str(cell.value) for cell in cells if cell.value is not None}
    labels = [label for label in dict.fromkeys([*order, *sorted(seen)]) if label in seen and label not in known]
    made = change.create_many(
        [
            Category(variable=variable, label=label[:200], position=len(known) + place)
            for place, label in enumerate(labels)
        ]
    )
    return {**known, **{row.label: row for row in made}}


def held_as(cell: ReadCell, variable: Variable, categories: dict[str, Category]) -> dict[str, Any]:
    """The columns of ``Value`` for this cell."""
    if cell.value is None:
        return {"missing": cell.missing or variable.when_empty}
    if variable.kind in GROUPED:
        return {"category_id": categories[str(cell.value)[:200]].pk}
    column = {"number": "number", "yes_no": "truth", "date": "day", "text": "words"}[variable.kind]
    return {column: cell.value}


def cleared(fields: dict[str, Any]) -> dict[str, Any]:
    empty: dict[str, Any] = dict.fromkeys(HELD)
    return {**empty, **fields}


def typed(text: str, variable: Variable) -> ReadCell:
    """A cell as somebody typed it; refused with a sentence where it doesn’t fit."""
    if variable.definition is not None:
        raise Refusal(say("“{name}” is made of other variables; change those, or how it is made.", name=variable.name))
    cell = read_cell(text, variable.kind, variable.when_empty)  # type: ignore[arg-type]
    if cell.problem:
        raise Refusal(
            say(
                "“{text}” isn’t {what}, which “{name}” needs.",
                text=text,
                what=worded(_NEEDED[variable.kind]),
                name=variable.name,
            )
        )
    return cell
