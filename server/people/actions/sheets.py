"""Bringing in a sheet: cases, variables and values, inside the import's one action."""

from collections.abc import Callable, Mapping
from typing import Any, Literal

from core.people.columns import ReadCell, read_cell
from core.people.participants import ColumnReading, SheetReading, written
from server.common.errors import Refusal
from server.people import queries
from server.people.actions.values import GROUPED, categories_for, cleared, held_as
from server.people.models import Case, Category, Subject, Value, Variable, VariableKind
from server.people.queries import SheetOutcome
from server.projects.trail import Change

OnConflict = Literal["keep", "overwrite"]


def bring_in_sheet(
    change: Change,
    sheet: SheetReading,
    on_conflict: OnConflict = "keep",
    on_column: Callable[[int, int], None] = lambda done, total: None,
) -> SheetOutcome:
    """A known case gets what it lacks; a value that differs from the one here stays as it is, or
    becomes the sheet's where the researcher said so. Facts about documents go to documents that are here."""
    from server.gather.queries import documents_called

    if sheet.problems:
        raise Refusal(sheet.problems[0])
    member = change.member
    outcome = queries.sheet_outcome(member, sheet)
    cases = dict(queries.cases(member).values_list("identifier", "id"))
    new = [name for name in dict.fromkeys(sheet.identifiers) if name and name not in cases]
    for row in change.create_many([Case(project_id=change.project_id, identifier=name[:120]) for name in new]):
        cases[row.identifier] = row.pk
    documents = documents_called(member, sheet.documents)
    for place, column in enumerate(sheet.variables):
        on_column(place, len(sheet.variables))
        if column.of == "case":
            _bring_in_column(change, column, sheet.identifiers, cases, on_conflict)
        else:
            _bring_in_column(change, column, sheet.documents, documents, on_conflict)
    return outcome


def _bring_in_column(
    change: Change,
    column: ColumnReading,
    names: tuple[str, ...],
    ids: Mapping[str, int],
    on_conflict: OnConflict,
) -> None:
    of = Subject.CASE if column.of == "case" else Subject.DOCUMENT
    key = "case_id" if of == Subject.CASE else "document_id"
    variable = _variable(change, column, of)
    cells = [_as_kind(cell, variable) for cell in column.cells]
    categories = categories_for(change, variable, column.proposal.categories, cells)
    # A statistics package lists categories that nobody chose: they are part of the question.
    _unchosen(change, variable, column.proposal.categories, categories)
    fields = [held_as(cell, variable, categories) for cell in cells]
    subjects = {name: ids[name] for name in dict.fromkeys(names) if name in ids}
    held: dict[int, Value] = {}
    if variable.values.exists():
        rows = Value.objects.filter(variable=variable, **{f"{key}__in": list(subjects.values())})
        held = {getattr(row, key): row for row in rows.select_related("category")}
    columns = ("variable_id", key, "category_id", "number", "truth", "day", "words", "missing")
    plain = [tuple(one.get(name) for name in columns[2:]) for one in fields]
    fresh: dict[int, tuple[Any, ...]] = {}
    for name, code in zip(names, column.codes.tolist(), strict=True):
        subject = subjects.get(name)
        if subject is None or subject in fresh:
            continue
        current = held.get(subject)
        if current is None:
            fresh[subject] = (variable.pk, subject, *plain[code])
        elif cells[code].value is not None and _gives_way(current, cells[code], on_conflict):
            change.update(current, **cleared(fields[code]))
    change.copy(Value, columns, list(fresh.values()))


def _gives_way(current: Value, cell: ReadCell, on_conflict: OnConflict) -> bool:
    if current.missing is not None:
        return True
    return on_conflict == "overwrite" and queries.value_of(current) != cell.value


def _variable(change: Change, column: ColumnReading, of: str) -> Variable:
    known = queries.variables(change.member, of).filter(name__iexact=column.name).first()
    if known:
        if known.definition is not None:
            raise Refusal(f"“{known.name}” is made of other variables here; give the column another name.")
        return known
    return change.create(
        Variable(
            project_id=change.project_id,
            name=column.name[:200],
            kind=column.proposal.kind,
            when_empty=column.when_empty,
            description=column.description,
            of=of,
            position=queries.variables(change.member, of).count(),
        )
    )


def _as_kind(cell: ReadCell, variable: Variable) -> ReadCell:
    """A cell read for the sheet's type, as the project's own type of that variable."""
    if cell.value is None or (isinstance(cell.value, str) and variable.kind in (*GROUPED, VariableKind.TEXT)):
        return cell
    again = read_cell(written(cell.value), variable.kind, variable.when_empty)  # type: ignore[arg-type]
    if again.problem:
        raise Refusal(
            f"“{written(cell.value)}” doesn’t fit “{variable.name}”, which is {variable.get_kind_display()} here."
        )
    return again


def _unchosen(change: Change, variable: Variable, order: tuple[str, ...], known: dict[str, Category]) -> None:
    if variable.kind in GROUPED:
        extra = [label for label in order if label not in known]
        places = {label: place for place, label in enumerate(order)}
        change.create_many([Category(variable=variable, label=label[:200], position=places[label]) for label in extra])
        if extra:
            for label, row in known.items():
                change.update(row, position=places.get(label, len(places)))
