"""A participant sheet as read, with the researcher's corrections: what would be brought in, and what stops it."""

from dataclasses import dataclass, field
from datetime import date

from core.people.columns import (
    ColumnProposal,
    ReadCell,
    Role,
    VariableKind,
    category_order,
    propose_columns,
    propose_kind,
    read_cell,
)
from core.people.missing import MissingReason
from core.people.sheet import Rows, SheetTable, cut, filled_rows, identifier_problems, make_out

MAX_CATEGORIES = 200
MAX_VARIABLES = 300


@dataclass(frozen=True)
class ColumnChoice:
    """What was corrected about one column; None leaves the proposal."""

    role: Role | None = None
    kind: VariableKind | None = None
    when_empty: MissingReason | None = None
    categories: tuple[str, ...] | None = None


@dataclass(frozen=True)
class SheetChoices:
    header: int | None = None
    header_rows: int | None = None
    skip_without_id: bool = False
    columns: dict[str, ColumnChoice] = field(default_factory=dict)


@dataclass(frozen=True)
class ColumnReading:
    proposal: ColumnProposal
    when_empty: MissingReason
    problems: tuple[str, ...]
    """Cells that don't fit the type, as ``row 8: about forty``."""


@dataclass(frozen=True)
class Record:
    row: int
    identifier: str
    cells: dict[str, ReadCell]


@dataclass(frozen=True)
class SheetReading:
    """``problems`` stop the sheet from being brought in; ``warnings`` are only to be read."""

    header: int
    header_rows: int
    first_rows: Rows
    columns: tuple[ColumnReading, ...]
    records: tuple[Record, ...]
    without_identifier: tuple[int, ...]
    problems: tuple[str, ...]
    warnings: tuple[str, ...]

    @property
    def variables(self) -> list[ColumnReading]:
        return [column for column in self.columns if column.proposal.role == "variable"]

    @property
    def missing_values(self) -> int:
        return sum(cell.missing is not None for record in self.records for cell in record.cells.values())


def read_participants(rows: Rows, merged: list[str], choices: SheetChoices) -> SheetReading:
    """Read the sheet with these corrections. Nothing is dropped unseen: a cell that fits no type,
    a row without ID, an ID that stands twice are each said."""
    shape = make_out(rows, merged)
    header = shape.header if choices.header is None else min(max(choices.header, 0), len(rows) - 1)
    header_rows = choices.header_rows or shape.header_rows
    table = cut(rows, header, header_rows)
    kept = filled_rows(table)
    columns = _columns(table, kept, choices)
    identifiers = [column.proposal.name for column in columns if column.proposal.role == "case_id"]
    problems, without = [], []
    records: list[Record] = []
    if len(identifiers) != 1:
        problems.append(
            "Choose the column that holds each one’s ID."
            if not identifiers
            else "Two columns are chosen as ID; choose one."
        )
    elif not kept:
        problems.append("There are no rows beneath the column names.")
    else:
        place = table.names.index(identifiers[0])
        named = [(number, row[place].strip()) for number, row in kept]
        problems += identifier_problems(named)
        without = [number for number, identifier in named if not identifier]
        if without and not choices.skip_without_id:
            listed = ", ".join(map(str, without[:6])) + (" …" if len(without) > 6 else "")
            said = f"Row {listed} has" if len(without) == 1 else f"Rows {listed} have"
            problems.append(
                f"{said} values but no ID. Leave {'it' if len(without) == 1 else 'them'} out, or correct the sheet."
            )
        records = _records(table, kept, columns, place)
    for column in columns:
        problems += _column_problems(column)
    if sum(column.proposal.role == "variable" for column in columns) > MAX_VARIABLES:
        problems.append(
            f"More than {MAX_VARIABLES} columns are chosen as variables; leave out those you won’t compare by."
        )
    warnings = (
        shape.warnings if choices.header is None and choices.header_rows is None else shape.warnings[-1:] * bool(merged)
    )
    return SheetReading(
        header,
        header_rows,
        [row[:40] for row in rows[:6]],
        tuple(columns),
        tuple(records),
        tuple(without),
        tuple(problems),
        tuple(warnings),
    )


def _columns(table: SheetTable, kept: list[tuple[int, list[str]]], choices: SheetChoices) -> list[ColumnReading]:
    cells = [[row[place] for _, row in kept] for place in range(len(table.names))]
    readings = []
    chosen_id = next((name for name, choice in choices.columns.items() if choice.role == "case_id"), None)
    for place, proposal in enumerate(propose_columns(table.names, cells)):
        choice = choices.columns.get(proposal.name, ColumnChoice())
        role = choice.role or proposal.role
        if chosen_id and role == "case_id" and proposal.name != chosen_id:
            role = "variable"
        kind = choice.kind or (
            _kind_of(cells[place]) if role == "variable" and proposal.role == "case_id" else proposal.kind
        )
        when_empty = choice.when_empty or "not_answered"
        read = [(number, row[place], read_cell(row[place], kind, when_empty)) for number, row in kept]
        filled = [cell for _, cell, reading in read if reading.missing is None]
        order = choice.categories or proposal.categories
        if kind in ("category", "ordered"):
            natural = category_order(filled, kind)
            order = (
                *[value for value in order if value in natural],
                *[value for value in natural if value not in order],
            )
        elif kind != "yes_no":
            order = ()
        wrong = [
            f"row {number}: {cell[:40]}" for number, cell, reading in read if reading.problem and role == "variable"
        ]
        readings.append(
            ColumnReading(
                ColumnProposal(
                    proposal.name, role, kind, order, proposal.distinct, proposal.missing, proposal.first_values
                ),
                when_empty,
                tuple(wrong),
            )
        )
    return readings


def _kind_of(cells: list[str]) -> VariableKind:
    return propose_kind([cell for cell in cells if cell.strip()])


def _records(
    table: SheetTable, kept: list[tuple[int, list[str]]], columns: list[ColumnReading], place: int
) -> list[Record]:
    variables = [(at, column) for at, column in enumerate(columns) if column.proposal.role == "variable"]
    return [
        Record(
            number,
            row[place].strip(),
            {
                column.proposal.name: read_cell(row[at], column.proposal.kind, column.when_empty)
                for at, column in variables
            },
        )
        for number, row in kept
        if row[place].strip()
    ]


def _column_problems(column: ColumnReading) -> list[str]:
    proposal = column.proposal
    if proposal.role != "variable":
        return []
    said = []
    if column.problems:
        kind = {"number": "a number", "date": "a date", "yes_no": "yes or no"}.get(proposal.kind, proposal.kind)
        listed = "; ".join(column.problems[:3]) + (" …" if len(column.problems) > 3 else "")
        said.append(
            f"“{proposal.name}” is read as {kind}, but not every cell is one ({listed}). Choose another type, or correct the sheet."
        )
    if proposal.kind in ("category", "ordered") and len(proposal.categories) > MAX_CATEGORIES:
        said.append(
            f"“{proposal.name}” has {len(proposal.categories):,} different values, too many for groups. Read it as text."
        )
    return said


def written(value: str | float | bool | date | None) -> str:
    """A value as it is shown in a roster or written in an export."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.10g}"
    return value.isoformat() if isinstance(value, date) else value
