"""Writes on cohorts: named groups of cases, by conditions or by hand."""

from typing import Any

from core.language import say
from server.common.errors import Conflict, Refusal
from server.people import queries
from server.people.models import Cohort, CohortCase
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act


def make_cohort(
    member: Membership, name: str, condition: dict[str, Any] | None = None, case_ids: list[int] | None = None
) -> Cohort:
    """A new cohort: by ``condition``, following the data, or of the cases picked."""
    with act(member, "cohort.make") as change:
        name = _free_name(member, name)
        if condition is not None:
            queries.condition_counts(member, condition)
        row = change.create(Cohort(project_id=member.project_id, name=name, condition=condition))
        if condition is None:
            _pick(change, row, case_ids or [])
        change.summary = say("Made the cohort “{name}”", name=name)
    return row


def change_cohort(member: Membership, cohort_id: int, **fields: Any) -> Cohort:
    """Name, description, ``condition``, or ``cases``: IDs picked by hand in place of what was."""
    with act(member, "cohort.change") as change:
        row = queries.cohort(member, cohort_id)
        case_ids = fields.pop("cases", None)
        if "name" in fields:
            fields["name"] = _free_name(member, fields["name"], cohort_id)
        if fields.get("condition") is not None:
            queries.condition_counts(member, fields["condition"])
        if case_ids is not None:
            fields["condition"] = None
            wanted = set(case_ids)
            change.delete(CohortCase.objects.filter(cohort=row).exclude(case__in=wanted))
            _pick(change, row, sorted(wanted - set(row.picks.values_list("case_id", flat=True))))
        elif fields.get("condition") is not None:
            change.delete(CohortCase.objects.filter(cohort=row))
        change.update(row, **fields)
        change.summary = say("Changed the cohort “{name}”", name=row.name)
    return queries.cohort(member, cohort_id)


def delete_cohort(member: Membership, cohort_id: int) -> None:
    with act(member, "cohort.delete") as change:
        row = queries.cohort(member, cohort_id)
        made = [
            one.name
            for one in queries.variables(member).exclude(definition__isnull=True)
            if (one.definition or {}).get("cohort") == cohort_id
        ]
        if made:
            raise Conflict(say("The variable “{made}” is made of this cohort; delete that first.", made=made[0]))
        change.summary = say("Deleted the cohort “{name}”", name=row.name)
        change.delete(queries.cohorts(member).filter(pk=cohort_id))


def _pick(change: Change, row: Cohort, case_ids: list[int]) -> None:
    known = set(queries.cases(change.member).filter(pk__in=case_ids).values_list("id", flat=True))
    if len(known) != len(set(case_ids)):
        raise Refusal(say("One of those picked isn’t in the project any more."))
    change.create_many([CohortCase(cohort=row, case_id=pk) for pk in sorted(known)])


def _free_name(member: Membership, name: str, but: int = 0) -> str:
    name = name.strip()
    if not name:
        raise Refusal(say("Give the cohort a name."))
    if queries.cohorts(member).filter(name__iexact=name).exclude(pk=but).exists():
        raise Conflict(say("There is a cohort called “{name}” already.", name=name))
    return name
