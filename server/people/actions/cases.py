"""Writes on cases and their values."""

from typing import NamedTuple

from core.language import say, worded
from core.people.columns import ReadCell
from core.people.participants import written
from core.text.missing import IN_WORDS, REASONS
from server.common.errors import Conflict, Refusal
from server.people import queries
from server.people.actions.values import categories_for, cleared, held_as, typed
from server.people.models import Case, Subject, Value, Variable
from server.projects.becoming import tell
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act

MOST_PASTED = 20_000


def add_case(member: Membership, identifier: str) -> Case:
    with act(member, "case.add") as change:
        identifier = _free_identifier(member, identifier)
        (row,) = new_cases(change, [identifier])
        change.summary = say("Added {identifier}", identifier=identifier)
    return row


def new_cases(change: Change, identifiers: list[str]) -> list[Case]:
    """Cases of these IDs, which nobody has; a variable that knows nothing of them says so from the start."""
    rows = change.create_many([Case(project_id=change.project_id, identifier=one) for one in identifiers])
    variables = list(queries.variables(change.member).filter(definition__isnull=True))
    change.create_many(
        [Value(case=row, variable=variable, missing=variable.when_empty) for row in rows for variable in variables]
    )
    return rows


def rename_case(member: Membership, case_id: int, identifier: str) -> Case:
    with act(member, "case.rename") as change:
        row = queries.case(member, case_id)
        before = row.identifier
        if change.update(row, identifier=_free_identifier(member, identifier, case_id)):
            change.summary = say("Renamed {before} to {identifier}", before=before, identifier=row.identifier)
    return row


def delete_case(member: Membership, case_id: int) -> str:
    """Delete a case and its values; its speakers become not linked. Undo brings all of it back. Says what went, and what is left."""
    with act(member, "case.delete") as change:
        row = queries.case(member, case_id)
        values = Value.objects.filter(case=row, missing=None).count()
        alone = queries.said_alone(member, row)
        change.summary = say("Deleted {identifier}", identifier=row.identifier) + (
            say(", with {values, plural, one {# value} other {# values}}", values=values) if values else ""
        )
        change.delete(queries.cases(member).filter(pk=case_id))
    left = say(
        "; {passages, plural, one {# passage} other {# passages}} that nobody else said {passages, plural, one {counts} other {count}} for nobody until linked to somebody again",
        passages=alone,
    )
    return change.summary + (left if alone else "")


class Typed(NamedTuple):
    """One cell as typed: what of whom, and the reason where it is missing. ``of`` says whose ID ``subject`` is."""

    subject: int
    variable: int
    text: str
    missing: str | None = None


def set_value(member: Membership, case_id: int, variable_id: int, text: str, missing: str | None = None) -> None:
    """One cell of the roster, as typed; an empty one is missing for the reason given."""
    set_values(member, [Typed(case_id, variable_id, text, missing)])


def set_values(member: Membership, cells: list[Typed], of: str = Subject.CASE) -> int:
    """Many cells at once, as pasted: all of them or, with a sentence about those that don't fit, none."""
    if len(cells) > MOST_PASTED:
        raise Refusal(
            say(
                "At most {most_pasted, number} cells can be pasted at once; bring in a sheet instead.",
                most_pasted=MOST_PASTED,
            )
        )
    with act(member, "value.set") as change:
        variables = {pk: queries.variable(member, pk, of) for pk in {cell.variable for cell in cells}}
        subjects = _subjects(member, {cell.subject for cell in cells}, of)
        read = [_read(cell, variables[cell.variable], subjects[cell.subject], len(cells)) for cell in cells]
        by_variable: dict[int, list[ReadCell]] = {}
        for cell, value in zip(cells, read, strict=True):
            by_variable.setdefault(cell.variable, []).append(value)
        categories = {pk: categories_for(change, variables[pk], (), found) for pk, found in by_variable.items()}
        key = "case_id" if of == Subject.CASE else "document_id"
        rows = Value.objects.filter(**{f"{key}__in": list(subjects)}, variable__in=list(variables))
        held = {(getattr(row, key), row.variable_id): row for row in rows}
        fresh: dict[tuple[int, int], Value] = {}
        changed = 0
        for cell, value in zip(cells, read, strict=True):
            fields = cleared(held_as(value, variables[cell.variable], categories[cell.variable]))
            current = held.get((cell.subject, cell.variable))
            if current is not None:
                changed += change.update(current, **fields)
            else:
                new = Value(**{key: cell.subject}, variable_id=cell.variable, **fields)
                fresh[cell.subject, cell.variable] = new
        change.create_many(list(fresh.values()))
        changed += len(fresh)
        change.summary = (
            _said(cells, read, variables, subjects)
            if len(cells) == 1
            else say("Changed {changed} values", changed=changed)
        )
    return changed


def _subjects(member: Membership, wanted: set[int], of: str) -> dict[int, str]:
    if of == Subject.DOCUMENT:
        names = dict(member.project.documents.filter(pk__in=wanted).values_list("id", "title"))
    else:
        names = dict(queries.cases(member).filter(pk__in=wanted).values_list("id", "identifier"))
    if len(names) != len(wanted):
        one = member.project.case_one if of == Subject.CASE else "document"
        raise Refusal(say("A {one} of these isn’t in the project any more; nothing was changed.", one=one))
    return names


def _read(cell: Typed, variable: Variable, subject: str, many: int) -> ReadCell:
    if cell.missing is not None:
        if cell.missing not in REASONS:
            raise Refusal(say("This isn’t a reason for a missing value."))
        typed("", variable)
        return ReadCell(missing=cell.missing)
    try:
        return typed(cell.text, variable)
    except Refusal as refusal:
        where = "" if many == 1 else say(" ({subject}; nothing was pasted)", subject=subject)
        raise Refusal(f"{refusal.sentence.rstrip('.')}{where}.") from refusal


def _said(cells: list[Typed], read: list[ReadCell], variables: dict[int, Variable], subjects: dict[int, str]) -> str:
    (cell,), (value,) = cells, read
    shown = written(value.value) or (worded(IN_WORDS[value.missing]) if value.missing else "")
    return say(
        "Set {name} of {subjects} to {shown}",
        name=variables[cell.variable].name,
        subjects=subjects[cell.subject],
        shown=shown,
    )


def merge_cases(member: Membership, kept_id: int, other_id: int) -> Case:
    """Two cases that are one: the kept one's values stay, what it lacks comes from the other, and the
    other's speakers, picks, memos and digests become its own."""
    with act(member, "case.merge") as change:
        kept, other = queries.case(member, kept_id), queries.case(member, other_id)
        if kept == other:
            raise Refusal(say("Choose two different ones to merge."))
        together = set(kept.speakers.values_list("document_id", flat=True)) & set(
            other.speakers.values_list("document_id", flat=True)
        )
        for speaker in other.speakers.all():
            change.update(speaker, case_id=kept.pk)
        held = {row.variable_id: row for row in Value.objects.filter(case=kept)}
        for row in Value.objects.filter(case=other):
            mine = held.get(row.variable_id)
            if row.missing is None and (mine is None or mine.missing is not None):
                _take(change, row, mine, kept)
        picked = set(kept.picks.values_list("cohort_id", flat=True))
        for pick in other.picks.all():
            if pick.cohort_id not in picked:
                change.update(pick, case_id=kept.pk)
        tell(change, "case", other.pk, kept.pk)
        change.delete(queries.cases(member).filter(pk=other_id))
        change.summary = say(
            "Merged {identifier} into {identifier2}", identifier=other.identifier, identifier2=kept.identifier
        )
        if together:
            change.summary += say("; they spoke in one document")
    return kept


def _take(change: Change, row: Value, mine: Value | None, kept: Case) -> None:
    """Make another case's value the kept one's own."""
    if mine is None:
        change.update(row, case_id=kept.pk)
    else:
        fields = {name: getattr(row, name) for name in ("category_id", "number", "truth", "day", "words", "missing")}
        change.update(mine, **fields)


def _free_identifier(member: Membership, identifier: str, but: int = 0) -> str:
    identifier = identifier.strip()
    if not identifier:
        raise Refusal(say("Give an ID."))
    if len(identifier) > 120:
        raise Refusal(say("An ID may have up to 120 characters."))
    if queries.cases(member).filter(identifier=identifier).exclude(pk=but).exists():
        raise Conflict(
            say("There is a {one} called “{identifier}” already.", one=member.project.case_one, identifier=identifier)
        )
    return identifier
