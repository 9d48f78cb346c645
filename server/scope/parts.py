"""What a scope is made of: each part by the name it is asked by, its field, what it leaves in and how that is said.

Rooms above add parts of their own; every view, export and sentence takes them from here.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import numpy as np
import numpy.typing as npt
from rest_framework import serializers

from core.language import say
from core.snapshot.columns import DAY_ZERO
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from server.common.errors import Refusal
from server.people import facts
from server.people import queries as people
from server.people.asked import check
from server.people.models import Subject
from server.projects.models import Membership
from server.scope.grammar import AnyField, Kind, Said, ids

Json = dict[str, Any]
Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Part:
    """``said`` is how it is asked; ``narrow`` gives the scope that it leaves of another; ``words`` say what is left, where
    it is this part that says so."""

    said: Said
    narrow: Callable[[Membership, Snapshot, Any, Scope], Scope]
    words: Callable[[Membership, Snapshot, Json, Scope], str] | None = None


PARTS: list[Part] = []


def scope_of(member: Membership, held: Snapshot, said: Json) -> Scope:
    """Masks from what is asked; what is absent leaves everything in."""
    scope = Scope()
    for part in PARTS:
        if said.get(part.said.name) is not None:
            scope = part.narrow(member, held, said[part.said.name], scope)
    return scope


def scope_words(member: Membership, held: Snapshot, scope: Scope, said: Json) -> str:
    """What the scope leaves in, for the sentence; "" where it leaves everything in."""
    words = [told for part in PARTS if part.words and (told := part.words(member, held, said, scope))]
    return say("only {words}", words=say(" and ").join(words)) if words else ""


def both(one: Bools | None, other: Bools) -> Bools:
    """What both masks leave in."""
    return other if one is None else one & other


def day_of(said: str | date | None) -> int | None:
    """A date as days since 1970-01-01."""
    if not said:
        return None
    try:
        return ((said if isinstance(said, date) else date.fromisoformat(said)) - DAY_ZERO).days
    except ValueError as bad:
        raise Refusal(say("“{said}” isn’t a date; write it as 2026-03-31.", said=said)) from bad


def _among(ids: npt.NDArray[np.int64], wanted: list[int]) -> Bools:
    return np.isin(ids, np.asarray(wanted, np.int64))


def _of_all(mask: Bools | None, noun: str) -> str:
    return "" if mask is None else say("{mask} of {mask2} {noun}", mask=int(mask.sum()), mask2=len(mask), noun=noun)


def _cases_said(member: Membership, held: Snapshot, said: Json, scope: Scope) -> str:
    return _of_all(scope.cases, member.project.case_many)


def _documents_said(member: Membership, held: Snapshot, said: Json, scope: Scope) -> str:
    return _of_all(scope.documents, "documents")


def _coders_said(member: Membership, held: Snapshot, said: Json, scope: Scope) -> str:
    return _of_all(scope.coders, "coders")


def _codes_said(member: Membership, held: Snapshot, said: Json, scope: Scope) -> str:
    return (
        ""
        if said.get("codes") is None
        else say("{said} of {code_ids} codes", said=len(said["codes"]), code_ids=len(held.code_ids))
    )


def _documents(member: Membership, held: Snapshot, said: list[int], scope: Scope) -> Scope:
    return replace(scope, documents=both(scope.documents, _among(held.document_ids, said)))


def _document_cohorts(member: Membership, held: Snapshot, said: list[int], scope: Scope) -> Scope:
    """Documents in any of these cohorts; one that is gone holds none."""
    ids = held.document_ids.tolist()
    rows = people.cohorts(member, Subject.DOCUMENT).filter(pk__in=said)
    inside = [facts.members_of(row, ids) for row in rows]
    return replace(scope, documents=both(scope.documents, np.any([np.zeros(len(ids), bool), *inside], axis=0)))


def _cases(member: Membership, held: Snapshot, said: list[int], scope: Scope) -> Scope:
    return replace(scope, cases=both(scope.cases, _among(held.case_ids, said)))


def _who(member: Membership, held: Snapshot, said: Json, scope: Scope) -> Scope:
    fulfilled = facts.fulfilling(member.project_id, facts.condition_of(said), held.case_ids.tolist())
    return replace(scope, cases=both(scope.cases, fulfilled))


def _coders(member: Membership, held: Snapshot, said: list[int], scope: Scope) -> Scope:
    return replace(scope, coders=both(scope.coders, _among(held.coder_ids, said)))


def _codes(member: Membership, held: Snapshot, said: list[int], scope: Scope) -> Scope:
    return replace(scope, codings=both(scope.codings, _among(held.code_ids, said)[held.coding_code]))


def _since(member: Membership, held: Snapshot, said: str, scope: Scope) -> Scope:
    day = day_of(said)
    return scope if day is None else replace(scope, codings=both(scope.codings, held.coding_day >= day))


def _until(member: Membership, held: Snapshot, said: str, scope: Scope) -> Scope:
    day = day_of(said)
    return scope if day is None else replace(scope, codings=both(scope.codings, held.coding_day <= day))


def _days_said(member: Membership, held: Snapshot, said: Json, scope: Scope) -> str:
    days = [f"{name} {said[name]}" for name in ("since", "until") if said.get(name)]
    return say("codings made {days}", days=" ".join(days)) if days else ""


def _who_field() -> AnyField:
    return serializers.JSONField(
        required=False, allow_null=True, validators=[check], help_text="A condition on cases, as a cohort’s."
    )


def _day(about: str = "") -> Callable[[], AnyField]:
    return lambda: serializers.DateField(required=False, allow_null=True, help_text=about or None)


def _rows(name: str, kind: Kind, most: int, address: str = "") -> Said:
    return Said(name, "ids", ids(most, nullable=False), address or name, kind=kind)


PARTS += [
    Part(_rows("cases", "case", 20_000), _cases, _cases_said),
    Part(Said("who", "condition", _who_field, "who"), _who),
    Part(_rows("documents", "document", 20_000), _documents, _documents_said),
    Part(_rows("document_cohorts", "cohort", 200, "among"), _document_cohorts),
    Part(_rows("coders", "person", 1_000), _coders, _coders_said),
    # In an address the codes of the scope aren't those of a comparison's rows.
    Part(_rows("codes", "code", 2_000, "only"), _codes, _codes_said),
    Part(Said("since", "word", _day("Codings made on this day or later."), "since"), _since, _days_said),
    Part(Said("until", "word", _day(), "until"), _until),
]
