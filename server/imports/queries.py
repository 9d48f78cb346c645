"""What bringing in a sheet would do, held against the project as it is."""

from dataclasses import dataclass

import numpy as np

from core.language import message, say, worded
from core.people.columns import ReadCell, read_cell
from core.people.conditions import Held
from core.people.derived import in_words
from core.people.participants import ColumnReading, SheetReading, written
from server.gather.queries import documents_called
from server.people import facts
from server.people import queries as people
from server.people.models import Subject, Variable
from server.projects.models import Membership


@dataclass(frozen=True)
class SheetOutcome:
    """What bringing a sheet in would do, in cases (or documents) and in values.

    ``fresh`` where there was none, ``same`` as here, ``conflicts`` that differ from what is here.
    """

    new_cases: int
    known_cases: int
    unknown_documents: list[str]
    new_variables: int
    values: int
    missing: int
    fresh: int
    same: int
    conflicts: int
    conflict_examples: list[dict[str, str]]


def as_own_kind(cell: ReadCell, variable: Variable) -> ReadCell:
    """A cell read for the sheet's type, as the project's own type of that variable; a problem where it doesn't fit."""
    if cell.value is None or (isinstance(cell.value, str) and variable.kind in ("category", "ordered", "text")):
        return cell
    return read_cell(written(cell.value), variable.kind, variable.when_empty)  # type: ignore[arg-type]


_A_KIND = {"category": message("a category"), "ordered": message("an ordered category"), "number": message("a number"), "yes_no": message("yes or no"), "date": message("a date"), "text": message("text")}  # fmt: skip


def misfits(column: ColumnReading, variable: Variable) -> str:
    """Why a column of a sheet can't go into the project's variable of its name; "" where it can."""
    ways = say("Give the column another name, or leave it out.")
    if variable.definition is not None:
        return say("“{name}” is made of other variables here. {ways}", name=variable.name, ways=ways)
    odd = [
        f"“{written(cell.value)[:40]}”"
        for cell in column.cells
        if cell.value is not None and as_own_kind(cell, variable).problem
    ]
    if not odd:
        return ""
    listed = ", ".join(odd[:4]) + (say(" and {odd} more", odd=len(odd) - 4) if len(odd) > 4 else "")
    return say(
        "{listed} {odd, plural, one {doesn’t} other {don’t}} fit “{name}”, which is {kind} here. {ways}",
        listed=listed,
        odd=len(odd),
        name=variable.name,
        kind=worded(_A_KIND[variable.kind]),
        ways=ways,
    )


def sheet_problems(member: Membership, sheet: SheetReading) -> list[str]:
    """What stops a sheet from being brought in: its own problems, and columns that don't fit the project's variables."""
    by_name = {(row.of, row.name.casefold()): row for of in Subject for row in people.variables(member, of)}
    known = [(column, by_name.get((column.of, column.name.casefold()))) for column in sheet.variables]
    said = [misfits(column, row) for column, row in known if row is not None]
    return [*sheet.problems, *(one for one in said if one)]


def sheet_outcome(member: Membership, sheet: SheetReading) -> SheetOutcome:
    """Hold a sheet as read against the project as it is; nothing is written."""
    known_cases = dict(people.cases(member).values_list("identifier", "id"))
    called = documents_called(member, sheet.documents)
    by_name = {(row.of, row.name.casefold()): row for of in Subject for row in people.variables(member, of)}
    fresh = same = filled = missing = 0
    conflicts: list[dict[str, str]] = []
    for column in sheet.variables:
        row = by_name.get((column.of, column.name.casefold()))
        subjects = sheet.identifiers if column.of == "case" else sheet.documents
        ids = known_cases if column.of == "case" else called
        counts = _counted(column)
        filled += counts[0]
        missing += counts[1]
        if row is None or row.definition is not None or not ids:
            fresh += counts[0]
            continue
        held = _held(row, column.of, [ids[name] for name in dict.fromkeys(subjects) if name in ids])
        for name, code in zip(subjects, column.codes.tolist(), strict=True):
            cell = column.cells[code]
            if cell.value is None:
                continue
            current = held.get(ids.get(name, 0))
            if current is None or current.value is None:
                fresh += 1
            elif in_words(current.value) == written(cell.value):
                same += 1
            else:
                here, there = in_words(current.value), written(cell.value)
                conflicts.append({"who": name, "variable": column.name, "here": here, "there": there})
    named = set(sheet.identifiers) - {""}
    return SheetOutcome(
        new_cases=len(named - known_cases.keys()),
        known_cases=len(named & known_cases.keys()),
        unknown_documents=sorted(set(sheet.documents) - {""} - called.keys())[:20],
        new_variables=sum((column.of, column.name.casefold()) not in by_name for column in sheet.variables),
        values=filled,
        missing=missing,
        fresh=fresh,
        same=same,
        conflicts=len(conflicts),
        conflict_examples=conflicts[:30],
    )


def _counted(column: ColumnReading) -> tuple[int, int]:
    """How many records have a value in this column, and how many lack one."""
    times = np.bincount(column.codes, minlength=len(column.cells))
    filled = sum(int(n) for n, cell in zip(times, column.cells, strict=True) if cell.value is not None)
    return filled, len(column.codes) - filled


def _held(row: Variable, of: str, ids: list[int]) -> dict[int, Held]:
    found = facts.known([row], ids) if of == "case" else facts.of_documents([row], ids)
    return dict(zip(ids, found[row.pk].held, strict=True))
