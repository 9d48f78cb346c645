"""Writes on cases, variables and values."""

from typing import Any

from core.people.columns import ReadCell, read_cell
from core.people.missing import REASONS
from core.people.participants import SheetReading, written
from server.common.errors import Conflict, Refusal
from server.people import queries
from server.people.models import Case, Category, Value, Variable, VariableKind
from server.people.queries import SheetOutcome
from server.projects.models import Membership
from server.projects.trail import Change, act

_GROUPED = (VariableKind.CATEGORY, VariableKind.ORDERED)


def bring_in_sheet(change: Change, sheet: SheetReading) -> SheetOutcome:
    """Cases, variables and values of a sheet, inside an action. A known case gets what it lacks;
    a value that differs from the one here stays as it is (``conflicts`` says how many)."""
    if sheet.problems:
        raise Refusal(sheet.problems[0])
    member = change.member
    outcome = queries.sheet_outcome(member, sheet)
    cases = {row.identifier: row for row in queries.cases(member)}
    new = [record.identifier for record in sheet.records if record.identifier not in cases]
    for row in change.create_many([Case(project_id=change.project_id, identifier=name) for name in new]):
        cases[row.identifier] = row
    held = {
        (row.case_id, row.variable_id): row
        for row in Value.objects.filter(case__in=queries.cases(member)).select_related("category")
    }
    for column in sheet.variables:
        name = column.proposal.name
        variable = _variable(change, name, column.proposal.kind, column.when_empty)
        cells = [(cases[record.identifier], record.cells[name]) for record in sheet.records]
        cells = [(row, _as_kind(cell, variable)) for row, cell in cells]
        categories = _categories(change, variable, column.proposal.categories, cells)
        fresh = []
        for row, cell in cells:
            current = held.get((row.pk, variable.pk))
            if current is None:
                fresh.append(Value(case=row, variable=variable, **_held_as(cell, variable, categories)))
            elif current.missing is not None and cell.value is not None:
                change.update(current, **_cleared(_held_as(cell, variable, categories)))
        change.create_many(fresh)
    return outcome


def _variable(change: Change, name: str, kind: str, when_empty: str) -> Variable:
    known = queries.variables(change.member).filter(name__iexact=name).first()
    if known:
        return known
    position = queries.variables(change.member).count()
    return change.create(
        Variable(project_id=change.project_id, name=name[:200], kind=kind, when_empty=when_empty, position=position)
    )


def _as_kind(cell: ReadCell, variable: Variable) -> ReadCell:
    """A cell read for the sheet's type, as the project's own type of that variable."""
    if cell.value is None or (isinstance(cell.value, str) and variable.kind in (*_GROUPED, VariableKind.TEXT)):
        return cell
    again = read_cell(written(cell.value), variable.kind, variable.when_empty)  # type: ignore[arg-type]
    if again.problem:
        raise Refusal(
            f"“{written(cell.value)}” doesn’t fit “{variable.name}”, which is {variable.get_kind_display()} here."
        )
    return again


def _categories(
    change: Change, variable: Variable, order: tuple[str, ...], cells: list[tuple[Case, ReadCell]]
) -> dict[str, Category]:
    if variable.kind not in _GROUPED:
        return {}
    known = {row.label: row for row in Category.objects.filter(variable=variable)}
    seen = {str(cell.value) for _, cell in cells if cell.value is not None}
    labels = [label for label in dict.fromkeys([*order, *sorted(seen)]) if label in seen and label not in known]
    made = change.create_many(
        [
            Category(variable=variable, label=label[:200], position=len(known) + place)
            for place, label in enumerate(labels)
        ]
    )
    return {**known, **{row.label: row for row in made}}


def _held_as(cell: ReadCell, variable: Variable, categories: dict[str, Category]) -> dict[str, Any]:
    """The columns of ``Value`` for this cell."""
    if cell.value is None:
        return {"missing": cell.missing or variable.when_empty}
    if variable.kind in _GROUPED:
        return {"category_id": categories[str(cell.value)[:200]].pk}
    column = {"number": "number", "yes_no": "truth", "date": "day", "text": "words"}[variable.kind]
    return {column: cell.value}


def _cleared(fields: dict[str, Any]) -> dict[str, Any]:
    empty: dict[str, Any] = dict.fromkeys(("category_id", "number", "truth", "day", "words", "missing"))
    return {**empty, **fields}


def add_case(member: Membership, identifier: str) -> Case:
    with act(member, "coder", "case") as change:
        identifier = _free_identifier(member, identifier)
        row = change.create(Case(project_id=member.project_id, identifier=identifier))
        # A variable that knows nothing of the new case says so from the start.
        change.create_many(
            [Value(case=row, variable=variable, missing=variable.when_empty) for variable in queries.variables(member)]
        )
        change.summary = f"Added {identifier}"
    return row


def rename_case(member: Membership, case_id: int, identifier: str) -> Case:
    with act(member, "coder", "case") as change:
        row = queries.case(member, case_id)
        before = row.identifier
        if change.update(row, identifier=_free_identifier(member, identifier, case_id)):
            change.summary = f"Renamed {before} to {row.identifier}"
    return row


def delete_case(member: Membership, case_id: int) -> None:
    """Delete a case and its values; its speakers become not linked. Undo brings all of it back."""
    with act(member, "coder", "case") as change:
        row = queries.case(member, case_id)
        change.summary = f"Deleted {row.identifier}"
        change.delete(queries.cases(member).filter(pk=case_id))


def set_value(member: Membership, case_id: int, variable_id: int, text: str, missing: str | None) -> Value:
    """One cell of the roster, as typed; an empty one is missing for the reason given."""
    with act(member, "coder", "value") as change:
        row, variable = queries.case(member, case_id), queries.variable(member, variable_id)
        if missing is not None and missing not in REASONS:
            raise Refusal("This isn’t a reason for a missing value.")
        cell = ReadCell(missing=missing) if missing else read_cell(text, variable.kind, variable.when_empty)  # type: ignore[arg-type]
        if cell.problem:
            needed = {"number": "a number", "date": "a date such as 2026-01-31", "yes_no": "yes or no"}[variable.kind]
            raise Refusal(f"“{text}” isn’t {needed}, which “{variable.name}” needs.")
        categories = _categories(change, variable, (), [(row, cell)])
        fields = _cleared(_held_as(cell, variable, categories))
        current = Value.objects.filter(case=row, variable=variable).first()
        if current is None:
            current = change.create(Value(case=row, variable=variable, **fields))
        else:
            change.update(current, **fields)
        shown = written(cell.value) or (cell.missing or "").replace("_", " ")
        change.summary = f"Set {variable.name} of {row.identifier} to {shown}"
    return current


def change_variable(member: Membership, variable_id: int, **fields: Any) -> Variable:
    """Name, description, the reason for empty cells, or the order of categories (``order``: labels)."""
    with act(member, "coder", "variable") as change:
        variable = queries.variable(member, variable_id)
        order = fields.pop("order", None)
        if "name" in fields:
            fields["name"] = fields["name"].strip()
            if not fields["name"]:
                raise Refusal("A variable needs a name.")
            if queries.variables(member).filter(name__iexact=fields["name"]).exclude(pk=variable_id).exists():
                raise Conflict(f"There is a variable called “{fields['name']}” already.")
        if fields.get("kind", variable.kind) != variable.kind:
            _change_kind(change, variable, fields.pop("kind"))
        change.update(variable, **fields)
        if order is not None:
            places = {label: place for place, label in enumerate(order)}
            for category in variable.categories.all():
                change.update(category, position=places.get(category.label, len(places)))
        change.summary = f"Changed the variable “{variable.name}”"
    return queries.variable(member, variable_id)


def _change_kind(change: Change, variable: Variable, kind: str) -> None:
    """Read every value again as the new type; refused, with an example, where one doesn't fit."""
    held = list(Value.objects.filter(variable=variable).select_related("category", "case"))
    as_text = [(value, written(queries.value_of(value))) for value in held if value.missing is None]
    cells = [(value, read_cell(text, kind, variable.when_empty)) for value, text in as_text]  # type: ignore[arg-type]
    for value, cell in cells:
        if cell.problem:
            shown = written(queries.value_of(value))
            raise Refusal(
                f"“{shown}” ({value.case.identifier}) can’t be read as {VariableKind(kind).label}; nothing was changed."
            )
    old_categories = list(variable.categories.all()) if kind not in _GROUPED else []
    change.update(variable, kind=kind)
    categories = _categories(change, variable, (), [(value.case, cell) for value, cell in cells])
    for value, cell in cells:
        change.update(value, **_cleared(_held_as(cell, variable, categories)))
    if old_categories:
        change.delete(Category.objects.filter(pk__in=[row.pk for row in old_categories]))


def delete_variable(member: Membership, variable_id: int) -> None:
    with act(member, "coder", "variable") as change:
        variable = queries.variable(member, variable_id)
        change.summary = f"Deleted the variable “{variable.name}”"
        change.delete(queries.variables(member).filter(pk=variable_id))


def _free_identifier(member: Membership, identifier: str, but: int = 0) -> str:
    identifier = identifier.strip()
    if not identifier:
        raise Refusal("Give an ID.")
    if len(identifier) > 120:
        raise Refusal("An ID may have up to 120 characters.")
    if queries.cases(member).filter(identifier=identifier).exclude(pk=but).exists():
        raise Conflict(f"There is a {member.project.case_one} called “{identifier}” already.")
    return identifier
