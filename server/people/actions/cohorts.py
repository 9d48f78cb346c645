"""Writes on cohorts: named groups of cases or documents, by conditions or by hand."""

from typing import Any

from django.db.models import QuerySet

from core.language import say
from server.common.errors import Conflict, Refusal
from server.people import queries
from server.people.models import Cohort, CohortCase, CohortDocument, Subject
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act


def make_cohort(
    member: Membership,
    name: str,
    condition: dict[str, Any] | None = None,
    picked: list[int] | None = None,
    of: Subject = Subject.CASE,
) -> Cohort:
    """A new cohort: by ``condition``, following the data, or of the cases, or documents, picked."""
    with act(member, "cohort.make") as change:
        name = _free_name(member, name)
        if condition is not None:
            queries.condition_counts(member, condition, of)
        row = change.create(Cohort(project_id=member.project_id, of=of, name=name, condition=condition))
        if condition is None:
            _pick(change, row, picked or [])
        change.summary = say("Made the cohort “{name}”", name=name)
    return row


def change_cohort(member: Membership, cohort_id: int, **fields: Any) -> Cohort:
    """Name, description, ``condition``, or ``picked``: cases or documents picked by hand in place of what was."""
    with act(member, "cohort.change") as change:
        row = queries.cohort(member, cohort_id)
        picked = fields.pop("picked", None)
        if "name" in fields:
            fields["name"] = _free_name(member, fields["name"], cohort_id)
        if fields.get("condition") is not None:
            queries.condition_counts(member, fields["condition"], Subject(row.of))
        if picked is not None:
            fields["condition"] = None
            there = _picks(row)
            change.delete(there.exclude(**{f"{row.of}__in": picked}))
            _pick(change, row, sorted(set(picked) - set(there.values_list(f"{row.of}_id", flat=True))))
        elif fields.get("condition") is not None:
            change.delete(_picks(row))
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


def _picks(row: Cohort) -> QuerySet[Any]:
    return row.documents_picked.all() if row.of == Subject.DOCUMENT else row.picks.all()


def _pick(change: Change, row: Cohort, wanted: list[int]) -> None:
    if row.of == Subject.DOCUMENT:
        known = set(queries.document_ids(change.member)) & set(wanted)
    else:
        known = set(queries.cases(change.member).filter(pk__in=wanted).values_list("id", flat=True))
    if len(known) != len(set(wanted)):
        raise Refusal(say("One of those picked isn’t in the project any more."))
    if row.of == Subject.DOCUMENT:
        change.create_many([CohortDocument(cohort=row, document_id=pk) for pk in sorted(known)])
    else:
        change.create_many([CohortCase(cohort=row, case_id=pk) for pk in sorted(known)])


def _free_name(member: Membership, name: str, but: int = 0) -> str:
    name = name.strip()
    if not name:
        raise Refusal(say("Give the cohort a name."))
    if queries.cohorts(member).filter(name__iexact=name).exclude(pk=but).exists():
        raise Conflict(say("There is a cohort called “{name}” already.", name=name))
    return name
