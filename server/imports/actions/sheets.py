"""Bringing in a sheet: cases, variables and values, inside the import's one action."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.language import say
from core.people.columns import ReadCell
from core.people.participants import ColumnReading, SheetReading
from server.common.errors import Refusal
from server.gather.queries import documents_called
from server.imports import queries
from server.imports.queries import SheetOutcome
from server.people import queries as people
from server.people.actions.values import GROUPED, HELD, categories_for, cleared, held_as
from server.people.models import Case, Category, Subject, Value, Variable
from server.projects.change import Change

OnConflict = Literal["keep", "overwrite"]
AT_ONCE = 10_000
"""New cases made between two reports of progress."""


def bring_in_sheet(
    change: Change,
    sheet: SheetReading,
    on_conflict: OnConflict = "keep",
    tell: Callable[[str], None] = lambda said: None,
) -> SheetOutcome:
    """A known case gets what it lacks; a value that differs from the one here stays as it is, or
    becomes the sheet's where the researcher said so. Facts about documents go to documents that are here."""
    if sheet.problems:
        raise Refusal(sheet.problems[0])
    member = change.member
    outcome = queries.sheet_outcome(member, sheet)
    cases = dict(people.cases(member).values_list("identifier", "id"))
    new = [name for name in dict.fromkeys(sheet.identifiers) if name and name not in cases]
    for done in range(0, len(new), AT_ONCE):
        tell(say("row {done, number} of {new, number}", done=done + 1, new=len(new)))
        some = [name[:120] for name in new[done : done + AT_ONCE]]
        keys = change.copy(Case, ("project_id", "identifier"), [(change.project_id, name) for name in some])
        cases.update(zip(some, keys, strict=True))
    documents = documents_called(member, sheet.documents)
    about = {"case": _records(sheet.identifiers, cases), "document": _records(sheet.documents, documents)}
    for place, column in enumerate(sheet.variables):
        tell(say("column {place} of {variables}", place=place + 1, variables=len(sheet.variables)))
        _bring_in_column(change, column, about[column.of], on_conflict)
    return outcome


@dataclass(frozen=True)
class _Records:
    """The records that say something: each known subject's first. Both of shape (subjects,)."""

    subjects: list[int]
    places: npt.NDArray[np.int64]


def _records(names: tuple[str, ...], ids: Mapping[str, int]) -> _Records:
    first: dict[int, int] = {}
    for place, name in enumerate(names):
        subject = ids.get(name)
        if subject is not None:
            first.setdefault(subject, place)
    return _Records(list(first), np.fromiter(first.values(), np.int64, len(first)))


def _bring_in_column(
    change: Change,
    column: ColumnReading,
    records: _Records,
    on_conflict: OnConflict,
) -> None:
    of = Subject.CASE if column.of == "case" else Subject.DOCUMENT
    key = "case_id" if of == Subject.CASE else "document_id"
    variable = _variable(change, column, of)
    cells = [queries.as_own_kind(cell, variable) for cell in column.cells]
    if any(cell.problem for cell in cells):
        raise Refusal(queries.misfits(column, variable))
    categories = categories_for(change, variable, column.proposal.categories, cells)
    # A statistics package lists categories that nobody chose: they are part of the question.
    _unchosen(change, variable, column.proposal.categories, categories)
    fields = [held_as(cell, variable, categories) for cell in cells]
    held: dict[int, Value] = {}
    if variable.values.exists():
        rows = Value.objects.filter(variable=variable, **{f"{key}__in": records.subjects})
        held = {getattr(row, key): row for row in rows.select_related("category")}
    fresh, which = records.subjects, column.codes[records.places].tolist()
    if held:
        for subject, code in zip(fresh, which, strict=True):
            current = held.get(subject)
            if current and cells[code].value is not None and _gives_way(current, cells[code], on_conflict):
                change.update(current, **cleared(fields[code]))
        lacking = [(subject, code) for subject, code in zip(fresh, which, strict=True) if subject not in held]
        fresh, which = [subject for subject, _ in lacking], [code for _, code in lacking]
    # Only what this column fills: what isn't named stays empty, and needn't be sent for each row.
    columns = [name for name in HELD if any(one.get(name) is not None for one in fields)]
    shared = [(variable.pk, *[one.get(name) for name in columns]) for one in fields]
    change.copy_alike(Value, (key, "variable_id", *columns), fresh, shared, which)


def _gives_way(current: Value, cell: ReadCell, on_conflict: OnConflict) -> bool:
    if current.missing is not None:
        return True
    return on_conflict == "overwrite" and people.value_of(current) != cell.value


def _variable(change: Change, column: ColumnReading, of: str) -> Variable:
    known = people.variables(change.member, of).filter(name__iexact=column.name).first()
    if known:
        if known.definition is not None:
            raise Refusal(queries.misfits(column, known))
        return known
    return change.create(
        Variable(
            project_id=change.project_id,
            name=column.name[:200],
            kind=column.proposal.kind,
            when_empty=column.when_empty,
            description=column.description,
            of=of,
            position=people.variables(change.member, of).count(),
        )
    )


def _unchosen(change: Change, variable: Variable, order: tuple[str, ...], known: dict[str, Category]) -> None:
    if variable.kind in GROUPED:
        extra = [label for label in order if label not in known]
        places = {label: place for place, label in enumerate(order)}
        change.create_many([Category(variable=variable, label=label[:200], position=places[label]) for label in extra])
        if extra:
            for label, row in known.items():
                change.update(row, position=places.get(label, len(places)))
