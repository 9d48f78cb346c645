"""Reads on cases, variables, their values and cohorts, each filtered by membership."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db.models import Count, Q, QuerySet

from core.language import say, worded
from core.people.conditions import Condition, Held, Kept, kept
from core.people.derived import in_words
from core.people.distribution import Crosstab, Histogram, distribution, histogram, spread
from core.snapshot.snapshot import Snapshot
from core.snapshot.tables import places
from core.text.missing import IN_WORDS
from server.common.database import Moved
from server.common.errors import NotFound
from server.people import facts
from server.people.models import Case, Cohort, CohortDocument, Subject, Value, Variable, VariableKind
from server.projects.models import Membership, Project
from server.snapshots.memory import Made
from server.snapshots.queries import snapshot


def cases(member: Membership) -> QuerySet[Case]:
    return Case.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def case(member: Membership, case_id: int) -> Case:
    found = cases(member).filter(pk=case_id).first()
    if found is None:
        raise NotFound(say("This {one} isn’t in the project any more.", one=member.project.case_one))
    return found


def said_alone(member: Membership, row: Case) -> int:
    """How many marked passages are this case's and nobody else's."""
    held = snapshot(member.project_id)
    return len(held.attributions.only_by(int(places(held.case_ids, np.array([row.pk]))[0])))


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
    raise NotFound(say("This variable isn’t in the project any more."))


def cohorts(member: Membership, of: Subject | None = None) -> QuerySet[Cohort]:
    """Cohorts of cases, of documents, or all."""
    rows = Cohort.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)
    return rows if of is None else rows.filter(of=of)


def cohort(member: Membership, cohort_id: int, of: Subject | None = None) -> Cohort:
    found = cohorts(member, of).filter(pk=cohort_id).first()
    if found is None:
        raise NotFound(say("This cohort isn’t in the project any more."))
    return found


def document_ids(member: Membership) -> list[int]:
    """The project's documents in the order of their titles; documents are of a room above, and reached by its name."""
    documents = CohortDocument._meta.get_field("document").related_model._default_manager
    visible = Project.objects.visible_to(member.account)
    found = documents.filter(project__in=visible, project=member.project_id).order_by("title", "id")
    return list(found.values_list("id", flat=True))


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
        ids = list(member.project.documents.order_by("title").values_list("id", flat=True))
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


def spreads(member: Membership, among: list[int]) -> list[tuple[int, Distribution]]:
    """How each variable of people spreads over those of the cases given that are in the project."""
    ids = _of_them(facts.case_ids(member.project_id), among)
    known = facts.as_far_as_known(list(variables(member)), ids)
    return [(pk, spread_of(one)) for pk, one in known.items()]


def _of_them(ids: list[int], among: list[int]) -> list[int]:
    """Those cases that are among the ones given, in their order."""
    wanted = set(among)
    return [pk for pk in ids if pk in wanted]


def distribution_of(
    member: Membership, row: Variable, by: Variable | None = None, among: list[int] | None = None
) -> Crosstab:
    """A variable's values as counts and shares, for everybody (or of the cases given) and by another variable's groups."""
    ids = facts.case_ids(member.project_id)
    if among is not None:
        ids = _of_them(ids, among)
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
    """The cases, or documents, that the cohort holds now."""
    ids = _ids_of(member, Subject(row.of))
    return [pk for pk, inside in zip(ids, facts.members_of(row, ids), strict=True) if inside]


def _ids_of(member: Membership, of: Subject) -> list[int]:
    return document_ids(member) if of == Subject.DOCUMENT else facts.case_ids(member.project_id)


def condition_counts(member: Membership, said: dict[str, Any], of: Subject = Subject.CASE) -> Kept:
    """How many cases, or documents, each part of a condition keeps, by itself."""
    ids = _ids_of(member, of)
    condition: Condition = facts.condition_of(said)
    with facts.told_in_words():
        masks = facts.masks_for(member.project_id, condition, ids, of=of)
        return kept(condition, facts.facts_for(member.project_id, condition, ids, of=of), len(ids), masks)


_names: Made[dict[int, str]] = Made("people.case")


def case_names(member: Membership, held: Snapshot) -> Mapping[int, str]:
    """Identifiers of the project's cases, as they are in a snapshot."""
    return _names.of(member.project_id, held, lambda: dict(cases(member).values_list("id", "identifier")))


def facts_of(member: Membership, held: Snapshot, case_ids: list[int]) -> dict[int, dict[str, Any]]:
    """Each case's identifier and its first values, for the chips beside its name."""
    first = [variable for variable in variables(member) if variable.kind != "text"][:4]
    known, names = facts.as_far_as_known(first, case_ids), case_names(member, held)
    at = {pk: place for place, pk in enumerate(case_ids)}
    if not at.keys() <= names.keys():
        raise Moved
    return {
        pk: {"identifier": names[pk], "facts": [_chip(known[row.pk], place) for row in first]}
        for pk, place in at.items()
    }


def _chip(known: facts.Known, place: int) -> dict[str, str | None]:
    held = known.held[place]
    text = (worded(IN_WORDS[held.missing]) if held.missing else "") if held.value is None else in_words(held.value)
    return {"variable": known.variable.name, "text": text, "missing": held.missing}
