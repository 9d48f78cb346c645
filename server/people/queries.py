"""Reads on cases, variables, their values and cohorts, each filtered by membership."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import Count, Q, QuerySet

from core.people.columns import ReadCell, read_cell
from core.people.conditions import Condition, Held, Kept, kept
from core.people.derived import in_words
from core.people.distribution import Crosstab, Histogram, distribution, histogram, spread
from core.people.participants import ColumnReading, SheetReading, written
from core.text.missing import IN_WORDS
from server.common.errors import NotFound
from server.people import facts
from server.people.models import Case, Cohort, Subject, Value, Variable, VariableKind
from server.projects.models import Membership, Project


def cases(member: Membership) -> QuerySet[Case]:
    return Case.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def case(member: Membership, case_id: int) -> Case:
    found = cases(member).filter(pk=case_id).first()
    if found is None:
        raise NotFound(f"This {member.project.case_one} isn’t in the project any more.")
    return found


def variables(member: Membership, of: str = Subject.CASE) -> QuerySet[Variable]:
    """Facts about cases, or about documents, in their order."""
    visible = Project.objects.visible_to(member.account)
    return Variable.objects.filter(project__in=visible, project=member.project_id, of=of).prefetch_related("categories")


def variable(member: Membership, variable_id: int, of: str | None = Subject.CASE) -> Variable:
    """One variable; of cases unless ``of`` is None (either) or says otherwise."""
    either = [Subject.CASE, Subject.DOCUMENT] if of is None else [of]
    for subject in either:
        found = variables(member, subject).filter(pk=variable_id).first()
        if found is not None:
            return found
    raise NotFound("This variable isn’t in the project any more.")


def cohorts(member: Membership) -> QuerySet[Cohort]:
    return Cohort.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def cohort(member: Membership, cohort_id: int) -> Cohort:
    found = cohorts(member).filter(pk=cohort_id).first()
    if found is None:
        raise NotFound("This cohort isn’t in the project any more.")
    return found


def value_of(value: Value) -> Any:
    """A value as what it is; None where it is missing."""
    if value.category_id is not None:
        return value.category.label if value.category else None
    for held in (value.number, value.truth, value.day, value.words):
        if held is not None:
            return held
    return None


def shown(held: Held) -> dict[str, Any]:
    """A value as a roster shows it."""
    return {"text": "" if held.value is None else in_words(held.value), "missing": held.missing}


@dataclass(frozen=True)
class Distribution:
    """How a variable's values spread: (label, cases) in order, and missing by reason."""

    bars: list[tuple[str, int]]
    missing: list[tuple[str, int]]


@dataclass(frozen=True)
class Roster:
    """All cases by all variables: ``known`` in the order of ``cases``."""

    cases: Sequence[Case]
    variables: Sequence[Variable]
    known: dict[int, facts.Known]


def roster(member: Membership) -> Roster:
    rows = list(
        cases(member)
        .annotate(documents=Count("speakers__document", distinct=True, filter=Q(speakers__isnull=False)))
        .order_by("identifier", "id")
    )
    held = list(variables(member))
    return Roster(rows, held, facts.as_far_as_known(held, [row.pk for row in rows]))


def spread_of(known: facts.Known) -> Distribution:
    """The small distribution that heads a column."""
    values = [one.value for one in known.held if one.value is not None]
    counts = {reason: sum(one.missing == reason for one in known.held) for reason in IN_WORDS}
    bars = spread(values, known.variable.kind, known.categories)
    return Distribution(bars, [(reason, count) for reason, count in counts.items() if count])


def known_of(member: Membership, row: Variable) -> facts.Known:
    """One variable's values, over all cases or documents of the project."""
    if row.of == Subject.DOCUMENT:
        from server.gather.models import Document

        ids = list(Document.objects.filter(project=member.project_id).order_by("title").values_list("id", flat=True))
        return facts.of_documents([row], ids)[row.pk]
    return facts.known([row], facts.case_ids(member.project_id))[row.pk]


def histogram_of(member: Membership, row: Variable) -> Histogram:
    """A number's (or, as days since year 1, a date's) histogram, for cutting it into bands."""
    numbers: list[float] = []
    for held in known_of(member, row).held:
        if isinstance(held.value, float):
            numbers.append(held.value)
        elif row.kind == VariableKind.DATE and held.value is not None:
            numbers.append(float(held.value.toordinal()))  # type: ignore[union-attr]
    return histogram(numbers)


def distribution_of(member: Membership, row: Variable, by: Variable | None = None) -> Crosstab:
    """A variable's values as counts and shares, for everybody and by another variable's groups."""
    ids = facts.case_ids(member.project_id)
    wanted = [row] if by is None else [row, by]
    found = facts.known(wanted, ids)
    one = found[row.pk]
    order = one.categories
    if not order and row.kind in (VariableKind.NUMBER, VariableKind.DATE, VariableKind.TEXT):
        order = _values_in_order(one)
    groups: list[tuple[str, Sequence[bool]]] = [("Everyone", [True] * len(ids))]
    if by is not None:
        other = found[by.pk]
        names = other.categories or _values_in_order(other)
        for name in names[:40]:
            inside = [held.value is not None and in_words(held.value) == name for held in other.held]
            groups.append((name, inside))
    return distribution(one.held, order, groups, numbers=row.kind == VariableKind.NUMBER)


def _values_in_order(known: facts.Known) -> list[str]:
    values = {held.value for held in known.held if held.value is not None}
    return [in_words(value) for value in sorted(values)][:500]


def cohort_members(member: Membership, row: Cohort) -> list[int]:
    """The cases that the cohort holds now."""
    ids = facts.case_ids(member.project_id)
    return [pk for pk, inside in zip(ids, facts.members_of(row, ids), strict=True) if inside]


def condition_counts(member: Membership, said: dict[str, Any]) -> Kept:
    """How many cases each part of a condition keeps, by itself."""
    ids = facts.case_ids(member.project_id)
    condition: Condition = facts.condition_of(said)
    with facts.told_in_words():
        masks = facts.masks_for(member.project_id, condition, ids)
        return kept(condition, facts.facts_for(member.project_id, condition, ids), len(ids), masks)


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


_A_KIND = {"category": "a category", "ordered": "an ordered category", "number": "a number", "yes_no": "yes or no", "date": "a date", "text": "text"}  # fmt: skip


def misfits(column: ColumnReading, variable: Variable) -> str:
    """Why a column of a sheet can't go into the project's variable of its name; "" where it can."""
    ways = "Give the column another name, or leave it out."
    if variable.definition is not None:
        return f"“{variable.name}” is made of other variables here. {ways}"
    odd = [
        f"“{written(cell.value)[:40]}”"
        for cell in column.cells
        if cell.value is not None and as_own_kind(cell, variable).problem
    ]
    if not odd:
        return ""
    listed = ", ".join(odd[:4]) + (f" and {len(odd) - 4} more" if len(odd) > 4 else "")
    doesnt = "doesn’t" if len(odd) == 1 else "don’t"
    return f"{listed} {doesnt} fit “{variable.name}”, which is {_A_KIND[variable.kind]} here. {ways}"


def sheet_problems(member: Membership, sheet: SheetReading) -> list[str]:
    """What stops a sheet from being brought in: its own problems, and columns that don't fit the project's variables."""
    by_name = {(row.of, row.name.casefold()): row for of in Subject for row in variables(member, of)}
    known = [(column, by_name.get((column.of, column.name.casefold()))) for column in sheet.variables]
    said = [misfits(column, row) for column, row in known if row is not None]
    return [*sheet.problems, *(one for one in said if one)]


def sheet_outcome(member: Membership, sheet: SheetReading) -> SheetOutcome:
    """Hold a sheet as read against the project as it is; nothing is written."""
    from server.gather.queries import documents_called

    known_cases = dict(cases(member).values_list("identifier", "id"))
    called = documents_called(member, sheet.documents)
    by_name = {(row.of, row.name.casefold()): row for of in Subject for row in variables(member, of)}
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
    import numpy as np

    times = np.bincount(column.codes, minlength=len(column.cells))
    filled = sum(int(n) for n, cell in zip(times, column.cells, strict=True) if cell.value is not None)
    return filled, len(column.codes) - filled


def _held(row: Variable, of: str, ids: list[int]) -> dict[int, Held]:
    found = facts.known([row], ids) if of == "case" else facts.of_documents([row], ids)
    return dict(zip(ids, found[row.pk].held, strict=True))
