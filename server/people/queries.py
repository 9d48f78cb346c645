"""Reads on cases, variables and their values, each filtered by membership."""

from dataclasses import dataclass
from typing import Any

from django.db.models import Count, Q, QuerySet

from core.people.missing import IN_WORDS
from core.people.participants import SheetReading, written
from server.common.errors import NotFound
from server.people.models import Case, Value, Variable, VariableKind
from server.projects.models import Membership, Project


def cases(member: Membership) -> QuerySet[Case]:
    return Case.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def case(member: Membership, case_id: int) -> Case:
    found = cases(member).filter(pk=case_id).first()
    if found is None:
        raise NotFound(f"This {member.project.case_one} isn’t in the project any more.")
    return found


def variables(member: Membership) -> QuerySet[Variable]:
    visible = Project.objects.visible_to(member.account)
    return Variable.objects.filter(project__in=visible, project=member.project_id).prefetch_related("categories")


def variable(member: Membership, variable_id: int) -> Variable:
    found = variables(member).filter(pk=variable_id).first()
    if found is None:
        raise NotFound("This variable isn’t in the project any more.")
    return found


def value_of(value: Value) -> Any:
    """A value as what it is; None where it is missing."""
    if value.category_id is not None:
        return value.category.label if value.category else None
    for held in (value.number, value.truth, value.day, value.words):
        if held is not None:
            return held
    return None


def roster(member: Membership) -> list[dict[str, Any]]:
    """One entry a case: identifier, documents, and each variable's value as shown."""
    rows = cases(member).annotate(
        documents=Count("speakers__document", distinct=True, filter=Q(speakers__isnull=False))
    )
    by_case: dict[int, dict[str, dict[str, Any]]] = {row.pk: {} for row in rows}
    for value in Value.objects.filter(case__in=rows).select_related("category"):
        by_case[value.case_id][str(value.variable_id)] = {
            "text": written(value_of(value)),
            "missing": value.missing,
        }
    return [
        {"id": row.pk, "identifier": row.identifier, "documents": row.documents, "values": by_case[row.pk]}
        for row in rows
    ]


@dataclass(frozen=True)
class Distribution:
    """How a variable's values spread: (label, cases) in order, and missing by reason."""

    bars: list[tuple[str, int]]
    missing: list[tuple[str, int]]


def distributions(member: Membership) -> dict[int, Distribution]:
    """The small distribution that heads each column of the roster."""
    from core.people.distribution import spread

    result = {}
    values: dict[int, list[Value]] = {}
    for value in Value.objects.filter(variable__in=variables(member)).select_related("category"):
        values.setdefault(value.variable_id, []).append(value)
    for one in variables(member):
        held = values.get(one.pk, [])
        order = [category.label for category in one.categories.all()]
        if one.kind == VariableKind.YES_NO:
            order = ["yes", "no"]
        bars = spread([value_of(value) for value in held if value.missing is None], one.kind, order)
        counts = {reason: sum(value.missing == reason for value in held) for reason in IN_WORDS}
        result[one.pk] = Distribution(bars, [(reason, count) for reason, count in counts.items() if count])
    return result


@dataclass(frozen=True)
class SheetOutcome:
    """What bringing a sheet in would do; ``conflicts`` are values that differ and stay as they are."""

    new_cases: int
    known_cases: int
    new_variables: int
    values: int
    missing: int
    conflicts: int
    conflict_examples: list[str]


def sheet_outcome(member: Membership, sheet: SheetReading) -> SheetOutcome:
    """Hold a sheet as read against the project as it is; nothing is written."""
    known = {row.identifier: row.pk for row in cases(member)}
    by_name = {row.name.casefold(): row for row in variables(member)}
    held = _held(member)
    conflicts, filled, missing = [], 0, 0
    for record in sheet.records:
        for name, cell in record.cells.items():
            variable_id = by_name[name.casefold()].pk if name.casefold() in by_name else None
            current = held.get((known.get(record.identifier, 0), variable_id or 0), "")
            if current and cell.value is not None and current != written(cell.value):
                conflicts.append(f"{record.identifier}, {name}: {current} here, {written(cell.value)} in the sheet")
            filled += cell.value is not None
            missing += cell.missing is not None
    return SheetOutcome(
        new_cases=sum(record.identifier not in known for record in sheet.records),
        known_cases=sum(record.identifier in known for record in sheet.records),
        new_variables=sum(column.proposal.name.casefold() not in by_name for column in sheet.variables),
        values=filled,
        missing=missing,
        conflicts=len(conflicts),
        conflict_examples=conflicts[:3],
    )


def _held(member: Membership) -> dict[tuple[int, int], str]:
    rows = Value.objects.filter(case__in=cases(member), missing=None).select_related("category")
    return {(row.case_id, row.variable_id): written(value_of(row)) for row in rows}
