"""What is known of every case, variable by variable: values as kept, and those made of other variables."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
from django.db import connection

from core.compare.counts import case_counts
from core.language import say
from core.people import derived
from core.people.conditions import (
    Belongs,
    Condition,
    Facts,
    Group,
    Held,
    Mask,
    Masks,
    Mentions,
    Test,
    UnknownCode,
    UnknownCohort,
    UnknownVariable,
    codes_in,
    cohorts_in,
    matches,
    variables_in,
)
from core.snapshot.masks import case_words, has_material
from core.snapshot.scope import Scope
from core.snapshot.tables import places
from server.common.errors import Refusal
from server.people.models import Case, Cohort, Subject, Variable, VariableKind
from server.snapshots.queries import snapshot

MOST_DEEP = 6
"""How many variables may be made of each other in a row."""

_VALUES = """SELECT v.{subject}, v.variable_id, v.category_id, v.number, v.truth, v.day, v.words, v.missing
    FROM people_value v WHERE v.variable_id = ANY(%s)"""


@dataclass(frozen=True)
class Known:
    """One variable's values, in the order of the cases asked about."""

    variable: Variable
    held: list[Held]
    categories: list[str]
    """In their order; for a number, date or text none."""
    problem: str = ""
    """Why nothing is known of anybody: what the variable is made of is gone."""


def case_ids(project_id: int) -> list[int]:
    """All cases in the order that snapshots have them too."""
    return list(Case.objects.filter(project=project_id).order_by("identifier", "id").values_list("id", flat=True))


def known(variables: Sequence[Variable], ids: Sequence[int], depth: int = 0) -> dict[int, Known]:
    """What is held of each of these cases on each variable, shape of each (cases,)."""
    own = [variable for variable in variables if variable.definition is None]
    found = _kept(own, ids, "case_id")
    for variable in variables:
        if variable.definition is not None:
            if depth > MOST_DEEP:
                raise Refusal(say("“{name}” is made of too many variables in a row.", name=variable.name))
            found[variable.pk] = _made(variable, ids, depth + 1)
    return found


def as_far_as_known(variables: Sequence[Variable], ids: Sequence[int]) -> dict[int, Known]:
    """The same where a variable whose sources are gone mustn't take the others along: it says so, and knows of nobody."""
    found = known([variable for variable in variables if variable.definition is None], ids)
    for variable in variables:
        if variable.definition is not None:
            try:
                found.update(known([variable], ids))
            except Refusal as gone:
                found[variable.pk] = Known(variable, [Held(missing="unknown")] * len(ids), [], gone.sentence)
    return found


def of_documents(variables: Sequence[Variable], ids: Sequence[int]) -> dict[int, Known]:
    """The same for facts about documents."""
    return _kept(list(variables), ids, "document_id")


def _kept(variables: list[Variable], ids: Sequence[int], subject: str) -> dict[int, Known]:
    place = {pk: at for at, pk in enumerate(ids)}
    labels = {variable.pk: [row.label for row in variable.categories.all()] for variable in variables}
    by_category = {row.pk: row.label for variable in variables for row in variable.categories.all()}
    # Nothing kept at all: whoever it is came with a sheet that didn't ask.
    held: dict[int, list[Held]] = {variable.pk: [Held(missing="not_asked")] * len(ids) for variable in variables}
    # The same value of many cases is one object: a sheet of 100,000 rows has few different ones.
    once: dict[Any, Held] = {}
    with connection.cursor() as cursor:
        cursor.execute(_VALUES.format(subject=subject), [[variable.pk for variable in variables]])
        for who, variable_id, category, number, truth, day, words, missing in cursor.fetchall():
            at = place.get(who)
            if at is None:
                continue
            key = (category, number, truth, day, words, missing)
            value = once.get(key)
            if value is None:
                said = by_category.get(category) if category is not None else None
                kept = next((one for one in (said, number, truth, day, words) if one is not None), None)
                value = once[key] = Held(kept, missing)
            held[variable_id][at] = value
    return {
        variable.pk: Known(variable, held[variable.pk], _order(variable, labels[variable.pk])) for variable in variables
    }


def _order(variable: Variable, labels: list[str]) -> list[str]:
    return ["yes", "no"] if variable.kind == VariableKind.YES_NO else labels


def _made(variable: Variable, ids: Sequence[int], depth: int) -> Known:
    """A variable made of others. One whose sources are gone says so instead of showing nothing."""
    said: dict[str, Any] = variable.definition or {}
    if said["kind"] == "bands":
        (source,) = _sources(variable, [said["of"]], ids, depth)
        cuts = cuts_of(said)
        return Known(variable, derived.banded(source.held, cuts), derived.band_names(cuts))
    if said["kind"] == "crossing":
        left, right = _sources(variable, said["of"], ids, depth)
        held = derived.crossed(left.held, right.held)
        found = {str(one.value) for one in held if one.value is not None}
        return Known(variable, held, derived.crossed_order(left.categories, right.categories, found))
    if said["kind"] == "cohort":
        cohort = Cohort.objects.filter(project=variable.project_id, pk=said["cohort"]).first()
        if cohort is None:
            raise Refusal(say("The cohort that “{name}” is made of is gone; delete the variable.", name=variable.name))
        return Known(variable, derived.membership(members_of(cohort, ids, depth)), ["yes", "no"])
    return Known(variable, derived.counted(_counts(variable.project_id, said, ids)), [])


def cuts_of(said: dict[str, Any]) -> list[float | date]:
    """The cut points of bands, in order; dates are kept as text."""
    cuts = [date.fromisoformat(cut) if isinstance(cut, str) else float(cut) for cut in said["cuts"]]
    return sorted(cuts)


def _sources(variable: Variable, wanted: list[int], ids: Sequence[int], depth: int) -> list[Known]:
    rows = {
        row.pk: row
        for row in Variable.objects.filter(project=variable.project_id, pk__in=wanted).prefetch_related("categories")
    }
    if len(rows) != len(set(wanted)):
        raise Refusal(say("A variable that “{name}” is made of is gone; delete it too, or undo.", name=variable.name))
    found = known(list(rows.values()), ids, depth)
    return [found[pk] for pk in wanted]


def members_of(cohort: Cohort, ids: Sequence[int], depth: int = 0) -> Mask:
    """Which of these cases, or documents where it is of these, the cohort holds, shape (ids,)."""
    if cohort.condition is None:
        of_documents = cohort.of == Subject.DOCUMENT
        picks = (
            cohort.documents_picked.values_list("document_id") if of_documents else cohort.picks.values_list("case_id")
        )
        picked = {pk for (pk,) in picks}
        return np.array([pk in picked for pk in ids], bool)
    condition = condition_of(cohort.condition)
    return fulfilling(cohort.project_id, condition, ids, depth, Subject(cohort.of))


def fulfilling(
    project_id: int, condition: Condition, ids: Sequence[int], depth: int = 0, of: Subject = Subject.CASE
) -> Mask:
    """Which of these cases (or documents) fulfil a condition, (ids,); a sentence where it asks about what is gone."""
    with told_in_words():
        masks = masks_for(project_id, condition, ids, depth, of)
        return matches(condition, facts_for(project_id, condition, ids, depth, of), len(ids), masks)


@contextmanager
def told_in_words() -> Iterator[None]:
    """What a condition asks about and is gone, or can't be compared, as a sentence."""
    try:
        yield
    except UnknownVariable as gone:
        raise Refusal(say("A variable that this asks about isn’t in the project any more.")) from gone
    except UnknownCode as gone:
        raise Refusal(say("A code that this asks about isn’t in the codebook any more.")) from gone
    except UnknownCohort as gone:
        raise Refusal(say("A cohort that this asks about isn’t in the project any more.")) from gone
    except TypeError as error:
        raise Refusal(say("A condition compares a number or date with a word; choose another value.")) from error


def masks_for(
    project_id: int, condition: Condition, ids: Sequence[int], depth: int = 0, of: Subject = Subject.CASE
) -> Masks:
    """What the core needs to know of the codes and cohorts that a condition names."""
    wanted = cohorts_in(condition)
    if wanted and depth > MOST_DEEP:
        raise Refusal(say("This is made of too many cohorts in a row."))
    rows = Cohort.objects.filter(project=project_id, pk__in=wanted, of=of)
    members = {row.pk: members_of(row, ids, depth + 1) for row in rows}
    if of == Subject.DOCUMENT:
        return Masks(_coded_in(project_id, condition, ids), members, np.ones(len(ids), bool))
    return Masks(_mentioned_in(project_id, condition, ids), members, _with_material(project_id, condition, ids))


def _with_material(project_id: int, condition: Condition, ids: Sequence[int]) -> Mask | None:
    """Which of these cases have any material, where the condition asks about codes."""
    if not codes_in(condition):
        return None
    held = snapshot(project_id)
    at = places(held.case_ids, np.asarray(ids, np.int64))
    return np.where(at >= 0, has_material(held, Scope())[np.maximum(at, 0)], False)


def _mentioned_in(project_id: int, condition: Condition, ids: Sequence[int]) -> dict[int, Mask]:
    """By code that the condition names: which of these cases have passages of it, or of one beneath it."""
    wanted = sorted(codes_in(condition))
    if not wanted:
        return {}
    held = snapshot(project_id)
    counts = case_counts(held, held.branch_rows)
    at = places(held.case_ids, np.asarray(ids, np.int64))
    code_at = places(held.code_ids, np.asarray(wanted, np.int64)).tolist()
    return {
        code: np.where(at >= 0, counts[place, np.maximum(at, 0)] > 0, False)
        for code, place in zip(wanted, code_at, strict=True)
        if place >= 0
    }


def _coded_in(project_id: int, condition: Condition, ids: Sequence[int]) -> dict[int, Mask]:
    """By code that the condition names: which of these documents have passages of it, or of one beneath it, whoever says them."""
    wanted = sorted(codes_in(condition))
    if not wanted:
        return {}
    held = snapshot(project_id)
    at = places(held.document_ids, np.asarray(ids, np.int64))
    found = {}
    for code, place in zip(wanted, places(held.code_ids, np.asarray(wanted, np.int64)).tolist(), strict=True):
        if place >= 0:
            coded = np.zeros(len(held.document_ids) + 1, bool)
            _, passages = held.branch_rows.pairs_of(np.array([place], np.int64))
            coded[held.passage_document[passages]] = True
            found[code] = coded[np.where(at >= 0, at, len(held.document_ids))]
    return found


def facts_for(
    project_id: int, condition: Condition, ids: Sequence[int], depth: int = 0, of: Subject = Subject.CASE
) -> Facts:
    """What the core needs to test a condition."""
    rows = Variable.objects.filter(project=project_id, pk__in=variables_in(condition), of=of)
    variables = list(rows.prefetch_related("categories"))
    found = of_documents(variables, ids) if of == Subject.DOCUMENT else known(variables, ids, depth)
    return {pk: one.held for pk, one in found.items()}


def condition_of(said: dict[str, Any]) -> Condition:
    """A condition from its JSON; the API has checked its shape."""
    if "parts" in said:
        parts = tuple(condition_of(part) for part in said["parts"])
        return Group(said.get("join", "all"), parts, bool(said.get("negated")))
    if "codes" in said:
        return Mentions(tuple(said["codes"]), said.get("how", "any"))
    if "cohorts" in said:
        return Belongs(tuple(said["cohorts"]), said.get("how", "any"))
    return Test(said["variable"], said["operator"], tuple(_operand(value) for value in said.get("values", [])))


def _operand(value: Any) -> str | float | bool | date:
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        return bool(value)
    if isinstance(value, str) and len(value) == 10 and value[4:5] == value[7:8] == "-":
        try:
            return date.fromisoformat(value)
        except ValueError:
            return value
    return float(value) if isinstance(value, int | float) else value


def _counts(project_id: int, said: dict[str, Any], ids: Sequence[int]) -> list[int]:
    """For each case its documents, words, or passages (of a code and those beneath it, or of any)."""
    held = snapshot(project_id)
    at = places(held.case_ids, np.asarray(ids, np.int64))
    if said["what"] == "words":
        counts = case_words(held, Scope())
    elif said["what"] == "documents":
        spoken = held.turn_case >= 0
        pairs = np.unique(
            held.turn_case[spoken].astype(np.int64) * max(len(held.document_ids), 1) + held.turn_document[spoken]
        )
        counts = np.bincount(pairs // max(len(held.document_ids), 1), minlength=len(held.case_ids))
    elif said.get("code"):
        (row,) = places(held.code_ids, np.array([said["code"]], np.int64))
        if row < 0:
            raise Refusal(say("The code that this variable counts is gone; delete the variable, or undo."))
        counts = case_counts(held, held.branch_rows)[row]
    else:
        said_by = held.attributions.case
        counts = np.bincount(said_by[said_by >= 0], minlength=len(held.case_ids))
    return [int(counts[place]) if place >= 0 else 0 for place in at]
