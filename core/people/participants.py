"""A sheet as read, with the researcher's corrections: what would be brought in, and what stops it."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.language import say
from core.people.columns import (
    ColumnProposal,
    ReadCell,
    Role,
    VariableKind,
    category_order,
    day_first,
    propose_columns,
    propose_kind,
    read_cells,
)
from core.people.grid import Column, Grid, Rows
from core.people.sheet import SheetTable, cut, identifier_problems, make_out, nearly_alike
from core.text.missing import IN_WORDS, MissingReason, is_error, is_missing_code

MAX_CATEGORIES = 200
MAX_VARIABLES = 300
LONGEST_LABEL = 200
Subject = Literal["case", "document"]
"""What a variable is a fact about."""


@dataclass(frozen=True)
class ColumnChoice:
    """What was corrected about one column; None leaves the proposal.

    name         another name than the heading
    of           whether a variable is a fact about the case or about the document
    days_first   how ``03/04/2025`` is read
    codes_count  numbers such as −99 are values, not codes for missing ones
    """

    role: Role | None = None
    kind: VariableKind | None = None
    when_empty: MissingReason | None = None
    categories: tuple[str, ...] | None = None
    name: str | None = None
    of: Subject | None = None
    days_first: bool | None = None
    codes_count: bool = False


@dataclass(frozen=True)
class SheetChoices:
    """``without_text``: what becomes of rows that answer none of the questions to code."""

    header: int | None = None
    header_rows: int | None = None
    skip_without_id: bool = False
    without_text: Literal["keep", "leave_out"] = "keep"
    columns: dict[str, ColumnChoice] = field(default_factory=dict)


@dataclass(frozen=True)
class ColumnReading:
    """One column as read. ``cells`` holds the reading of each different text, ``codes`` (records,) which
    of them each record has."""

    proposal: ColumnProposal
    name: str
    of: Subject
    description: str
    when_empty: MissingReason
    problems: tuple[str, ...]
    """Cells that don't fit the type, as ``row 8: about forty``."""
    warnings: tuple[str, ...]
    cells: tuple[ReadCell, ...]
    codes: npt.NDArray[np.int32]
    missing_as: tuple[tuple[str, MissingReason, int], ...]
    """How missing values are written, for which reason, and how often: ``("−99", "not_answered", 3)``."""

    def cell(self, record: int) -> ReadCell:
        return self.cells[self.codes[record]]


@dataclass(frozen=True)
class SheetReading:
    """``problems`` stop the sheet from being brought in; ``warnings`` are only to be read.

    Records are the rows that are brought in, in order: ``identifiers`` (records,) names the case of
    each ("" where the sheet is about documents alone), ``documents`` the document ("" for none).
    """

    header: int
    header_rows: int
    first_rows: Rows
    columns: tuple[ColumnReading, ...]
    identifiers: tuple[str, ...]
    documents: tuple[str, ...]
    without_identifier: tuple[int, ...]
    without_text: int
    problems: tuple[str, ...]
    warnings: tuple[str, ...]

    @property
    def variables(self) -> list[ColumnReading]:
        return [column for column in self.columns if column.proposal.role == "variable"]

    @property
    def answers(self) -> list[ColumnReading]:
        return [column for column in self.columns if column.proposal.role == "answer"]

    @property
    def about(self) -> Subject:
        """Whether a row is a case, or (where only documents are named) a document."""
        return "case" if any(column.proposal.role == "case_id" for column in self.columns) else "document"


@dataclass(frozen=True)
class _Named:
    """The columns that say who and what each row is about."""

    case: int | None
    document: int | None

    @property
    def key(self) -> int | None:
        return self.case if self.case is not None else self.document


def read_participants(rows: Rows | Grid, merged: Sequence[str], choices: SheetChoices) -> SheetReading:
    """Read the sheet with these corrections. Nothing is dropped unseen: a cell that fits no type,
    a row without ID, an ID that stands twice are each said."""
    grid = rows if isinstance(rows, Grid) else Grid.of(rows)
    shape = make_out(grid.top(60), list(merged))
    header = shape.header if choices.header is None else min(max(choices.header, -1), grid.rows - 1)
    header_rows = 0 if header < 0 else (choices.header_rows or max(shape.header_rows, 1))
    table = cut(grid, header, header_rows)
    proposals = _proposals(table, choices)
    named, problems = _who(proposals)
    if not len(table.numbers):
        problems = [say("There are no rows beneath the column names.")]
    kept = np.ones(len(table.numbers), bool)
    without: tuple[int, ...] = ()
    if named.key is not None:
        filled = table.columns[named.key].filled
        without = tuple(table.numbers[~filled].tolist())
        problems += _without_id(without, choices.skip_without_id)
        kept &= filled
    answered = _answered(table, proposals)
    without_text = 0 if answered is None else int((kept & ~answered).sum())
    if answered is not None and choices.without_text == "leave_out":
        kept &= answered
    whole = bool(kept.all())
    columns = [column if whole else column.take(kept) for column in table.columns]
    numbers = table.numbers[kept]
    readings = _readings(table, columns, numbers, proposals, choices, named)
    if named.key is not None:
        problems += _repeated(readings, columns, numbers, named)
    for reading in readings:
        problems += _column_problems(reading)
    if sum(proposal.role == "variable" for proposal in proposals) > MAX_VARIABLES:
        problems.append(
            say(
                "More than {max_variables} columns are chosen as variables; leave out those you won’t compare by.",
                max_variables=MAX_VARIABLES,
            )
        )
    return SheetReading(
        header,
        header_rows,
        [row[:40] for row in grid.top(6)],
        tuple(readings),
        tuple(columns[named.case].cells()) if named.case is not None else ("",) * len(numbers),
        tuple(columns[named.document].cells()) if named.document is not None else ("",) * len(numbers),
        without,
        without_text,
        tuple(problems),
        tuple(_warnings(shape.warnings, table, columns, readings, choices, merged, named)),
    )


def _proposals(table: SheetTable, choices: SheetChoices) -> list[ColumnProposal]:
    """What each column is, with the corrections: a role that only one can have is given up by the others."""
    proposed = propose_columns(table.names, table.columns, table.hints)
    result = []
    for place, proposal in enumerate(proposed):
        choice = choices.columns.get(proposal.name, ColumnChoice())
        role: Role = choice.role or proposal.role
        if choice.role is None and role in ("case_id", "document_id"):
            taken = any(other.role == role for name, other in choices.columns.items() if name != proposal.name)
            role = "variable" if taken else role
        kind = choice.kind or proposal.kind
        if role == "variable" and proposal.role in ("case_id", "document_id") and choice.kind is None:
            filled = [value for value in table.columns[place].values if value]
            kind = propose_kind(filled, int(table.columns[place].filled.sum()))
        result.append(replace(proposal, role=role, kind=kind))
    return result


def _who(proposals: list[ColumnProposal]) -> tuple[_Named, list[str]]:
    cases = [place for place, proposal in enumerate(proposals) if proposal.role == "case_id"]
    documents = [place for place, proposal in enumerate(proposals) if proposal.role == "document_id"]
    problems = []
    if len(cases) > 1 or len(documents) > 1:
        problems.append(say("Two columns are chosen as ID; choose one."))
    elif not cases and not documents:
        problems.append(say("Choose the column that holds each one’s ID."))
    elif not cases and any(proposal.role == "answer" for proposal in proposals):
        problems.append(say("Answers to code need the column that says who gave them: choose the ID."))
    return _Named(cases[0] if cases else None, documents[0] if documents else None), problems


def _without_id(without: tuple[int, ...], skip: bool) -> list[str]:
    if not without or skip:
        return []
    listed = ", ".join(map(str, without[:6])) + (" …" if len(without) > 6 else "")
    said = say("Row {listed} has", listed=listed) if len(without) == 1 else say("Rows {listed} have", listed=listed)
    return [
        say(
            "{said} values but no ID. Leave {without, plural, one {it} other {them}} out, or correct the sheet.",
            said=said,
            without=len(without),
        )
    ]


def _answered(table: SheetTable, proposals: list[ColumnProposal]) -> npt.NDArray[np.bool_] | None:
    """Rows that answer at least one of the questions to code; None where there is no question."""
    places = [place for place, proposal in enumerate(proposals) if proposal.role == "answer"]
    if not places:
        return None
    answered = np.zeros(len(table.numbers), bool)
    for place in places:
        column = table.columns[place]
        says = np.array(
            [bool(value) and reason is None for value, reason in zip(column.values, column.reasons, strict=True)]
            or [False]
        )
        answered |= says[column.codes]
    return answered


def _readings(
    table: SheetTable,
    columns: list[Column],
    numbers: npt.NDArray[np.int64],
    proposals: list[ColumnProposal],
    choices: SheetChoices,
    named: _Named,
) -> list[ColumnReading]:
    readings = []
    for place, (proposal, column) in enumerate(zip(proposals, columns, strict=True)):
        choice = choices.columns.get(proposal.name, ColumnChoice())
        hint = table.hints.get(place)
        reading = _read_column(column, numbers, proposal, choice, hint.order if hint else ())
        of = choice.of or _subject(column, columns, named)
        name = (choice.name or "").strip() or proposal.name
        readings.append(replace(reading, of=of, name=name, description=hint.label if hint else ""))
    return readings


def _subject(column: Column, columns: list[Column], named: _Named) -> Subject:
    """A variable that differs between two documents of one case is a fact about the document."""
    if named.case is None:
        return "document"
    if named.document is None:
        return "case"
    cases = columns[named.case]
    first = np.full(len(cases.values), -1, np.int32)
    first[cases.codes[::-1]] = column.codes[::-1]
    return "case" if bool((first[cases.codes] == column.codes).all()) else "document"


def _read_column(
    column: Column,
    numbers: npt.NDArray[np.int64],
    proposal: ColumnProposal,
    choice: ColumnChoice,
    known_order: tuple[str, ...],
) -> ColumnReading:
    when_empty: MissingReason = choice.when_empty or "not_answered"
    dated = proposal.kind == "date"
    order = day_first(column.values) if dated and choice.days_first is None else choice.days_first
    undecided = dated and order is None and _ambiguous(column.values)
    cells = read_cells(column, proposal.kind, when_empty, order is not False, choice.codes_count)
    counts = column.counts().tolist()
    problems = []
    if proposal.role == "variable":
        wrong = [code for code, cell in enumerate(cells) if cell.problem]
        for code in wrong[:8]:
            row = int(numbers[np.argmax(column.codes == code)])
            problems.append(say("row {row}: {values}", row=row, values=column.values[code][:40]))
    there = [(value, n) for value, cell, n in zip(column.values, cells, counts, strict=True) if cell.value is not None]
    filled, times = [value for value, _ in there], [n for _, n in there]
    missing = [
        (value, cell.missing, n)
        for value, cell, n in zip(column.values, cells, counts, strict=True)
        if cell.missing is not None and n
    ]
    warnings = []
    failed = [code for code, value in enumerate(column.values) if counts[code] and is_error(value)]
    if failed:
        row = int(numbers[np.argmax(np.isin(column.codes, failed))])
        listed = ", ".join(f"{column.values[code]} ({counts[code]})" for code in failed[:4])
        warnings.append(
            say(
                "“{name}” holds formulas that failed: {listed}, the first in row {row}. They are read as unknown.",
                name=proposal.name,
                listed=listed,
                row=row,
            )
        )
    if undecided and proposal.role == "variable":
        example = next(value for value in column.values if _ambiguous([value]))
        warnings.append(
            say(
                "“{example}” in “{name}” is read with the day first; choose the month first if that is how it was written.",
                example=example,
                name=proposal.name,
            )
        )
    categories = proposal.categories
    if proposal.kind in ("category", "ordered"):
        natural = category_order(filled, proposal.kind, times)
        wanted = choice.categories or known_order or categories
        # What a statistics package lists stays a category, chosen by anybody or not.
        categories = (
            *[value for value in wanted if value in set(natural) or value in known_order],
            *[value for value in natural if value not in set(wanted)],
        )
    elif proposal.kind != "yes_no":
        categories = ()
    return ColumnReading(
        replace(
            proposal,
            categories=categories,
            distinct=len(filled),
            missing=sum(n for _, _, n in missing),
            first_values=tuple(filled[:5]),
        ),
        proposal.name,
        "case",
        "",
        when_empty,
        tuple(problems),
        tuple(warnings),
        cells,
        column.codes,
        tuple(missing),
    )


def _ambiguous(values: Sequence[str]) -> bool:
    """Whether a slashed date among these could be read in two ways."""
    from core.people.columns import as_date

    return any("/" in value and as_date(value) is None and as_date(value, True) is not None for value in values)


def _repeated(
    readings: list[ColumnReading], columns: list[Column], numbers: npt.NDArray[np.int64], named: _Named
) -> list[str]:
    """Problems with IDs that stand in several rows: allowed where each row is another document."""
    assert named.key is not None
    if named.document is None or named.case is None:
        return identifier_problems(columns[named.key], numbers)
    problems = identifier_problems(columns[named.document], numbers) if columns[named.document].filled.all() else []
    cases = columns[named.case]
    for reading, column in zip(readings, columns, strict=True):
        if reading.proposal.role != "variable" or reading.of != "case":
            continue
        first = np.full(len(cases.values), -1, np.int64)
        first[cases.codes[::-1]] = np.arange(len(cases.codes))[::-1]
        other = np.flatnonzero(column.codes[first[cases.codes]] != column.codes)
        if len(other):
            row, earlier = int(other[0]), int(first[cases.codes[other[0]]])
            problems.append(
                say(
                    "“{name}” of {cell} is “{cell2}” in row {numbers} and “{cell3}” in row {numbers2}. Make it a fact about the document, or correct the sheet.",
                    name=reading.name,
                    cell=cases.cell(row),
                    cell2=column.cell(earlier),
                    numbers=numbers[earlier],
                    cell3=column.cell(row),
                    numbers2=numbers[row],
                )
            )
    return problems


def _column_problems(column: ColumnReading) -> list[str]:
    proposal = column.proposal
    if proposal.role != "variable":
        return []
    said = []
    if column.problems:
        kind = {"number": say("a number"), "date": say("a date"), "yes_no": say("yes or no")}.get(
            proposal.kind, proposal.kind
        )
        listed = "; ".join(column.problems[:3]) + (" …" if len(column.problems) > 3 else "")
        said.append(
            say(
                "“{name}” is read as {kind}, but not every cell is one ({listed}). Choose another type, or correct the sheet.",
                name=column.name,
                kind=kind,
                listed=listed,
            )
        )
    if proposal.kind in ("category", "ordered") and any(len(label) > LONGEST_LABEL for label in proposal.categories):
        said.append(
            say(
                "“{name}” has values of more than {longest_label} characters, too long for groups. Read it as text.",
                name=column.name,
                longest_label=LONGEST_LABEL,
            )
        )
    if proposal.kind in ("category", "ordered") and len(proposal.categories) > MAX_CATEGORIES:
        said.append(
            say(
                "“{name}” has {categories, number} different values, too many for groups. Read it as text.",
                name=column.name,
                categories=len(proposal.categories),
            )
        )
    return said


def _warnings(
    shape: tuple[str, ...],
    table: SheetTable,
    columns: list[Column],
    readings: list[ColumnReading],
    choices: SheetChoices,
    merged: Sequence[str],
    named: _Named,
) -> list[str]:
    untouched = choices.header is None and choices.header_rows is None
    said = list(shape if untouched else shape[-1:] * bool(merged))
    for name in table.same_names[:4]:
        shown = next(one for one in table.names if one.casefold() == name)
        said.append(say("Several columns are called “{shown}”; the later ones got a number.", shown=shown))
    if named.key is not None:
        said += nearly_alike(columns[named.key])
    for reading in readings:
        said += reading.warnings
        codes = [text for text, _, _ in reading.missing_as if is_missing_code(text)]
        if reading.proposal.role == "variable" and codes:
            reasons = {text: IN_WORDS[reason] for text, reason, _ in reading.missing_as}
            listed = ", ".join(say("{text} as {reasons}", text=text, reasons=reasons[text]) for text in codes[:3])
            said.append(
                say("“{name}”: {listed}. Say “a value” on its card if it is one.", name=reading.name, listed=listed)
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
