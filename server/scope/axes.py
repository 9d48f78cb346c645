"""The columns of a comparison: what makes the groups, alone or one within another."""

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import numpy as np

from core.compare.confounding import Layering
from core.compare.groups import (
    OUTSIDE,
    AnyGroups,
    Bools,
    Groups,
    Period,
    bands,
    by_cohorts,
    by_document_cohorts,
    by_documents,
    crossed,
    missing_label,
    periods,
    proposed_cuts,
    proposed_period,
)
from core.language import say, worded
from core.people.derived import in_words
from core.snapshot.snapshot import Snapshot
from server.common.errors import NotFound, Refusal
from server.common.memory import Kept
from server.gather import queries as gather
from server.people import facts
from server.people import queries as people
from server.people.models import Subject, Variable, VariableKind
from server.projects.models import Membership
from server.snapshots.memory import Made

COMPARABLE = (VariableKind.CATEGORY, VariableKind.ORDERED, VariableKind.YES_NO, VariableKind.NUMBER, VariableKind.DATE)
MOST_GROUPS = 60
"""How many groups a table shows unless they are chosen one by one."""
MOST_CROSSED = 240
MOST_LAYERS, MOST_LAYERINGS = 8, 20
"""Facts with more groups than this leave too few people in each to hold apart; and how many facts are tried."""


@dataclass(frozen=True)
class Axis:
    """One thing that makes groups. ``every`` names all of them, ``groups`` are those shown, each at its ``places``
    among all; ``about`` says whose fact it is."""

    name: str
    groups: AnyGroups
    every: tuple[str, ...]
    cuts: list[float]
    about: str = "case"
    period: Period | None = None
    """Of a date: what its groups are."""

    @property
    def places(self) -> list[int]:
        at = {name: place for place, name in enumerate(self.every)}
        return [at[name] for name in self.groups.names]

    @property
    def left(self) -> int:
        """How many groups are not shown."""
        return len(self.every) - self.groups.count


@dataclass(frozen=True)
class Columns:
    """The groups of a comparison: of one axis, or of ``inner`` within each group of ``outer``; with ``layered`` the
    outer ones are layers, held apart by the tests."""

    groups: AnyGroups
    first: Axis
    inner: Axis
    outer: Axis | None = None
    layered: bool = False

    @property
    def layers(self) -> int:
        return self.outer.groups.count if self.outer and self.layered else 1

    def about(self, place: int) -> dict[str, Any]:
        """The names of one group, and which mark it has."""
        inner = self.inner.groups.count
        return {
            "name": self.groups.names[place],
            "label": self.inner.groups.names[place % inner],
            "outer": self.outer.groups.names[place // inner] if self.outer else "",
            "mark": self.inner.places[place % inner],
        }


def columns_of(member: Membership, held: Snapshot, said: dict[str, Any]) -> Columns:
    """Read what makes the groups from a request."""
    first = _shown(_first(member, held, said), said.get("groups"))
    if not said.get("second"):
        return Columns(first.groups, first, first)
    second = _shown(_by_variable(member, held, said["second"]), said.get("second_groups"))
    if second.name == first.name and second.about == first.about:
        raise Refusal(say("{name} can’t be nested in itself: choose another variable.", name=first.name))
    layered = said.get("second_as") == "layers"
    outer, inner = (second, first) if layered else (first, second)
    if outer.groups.count * inner.groups.count > MOST_CROSSED:
        raise Refusal(
            say(
                "{name} and {name2} make {count, number} groups together, more than a table can show ({most_crossed}). Choose fewer groups, or merge some.",
                name=outer.name,
                name2=inner.name,
                count=outer.groups.count * inner.groups.count,
                most_crossed=MOST_CROSSED,
            )
        )
    return Columns(crossed(outer.groups, inner.groups, held.talks), first, inner, outer, layered)


def _first(member: Membership, held: Snapshot, said: dict[str, Any]) -> Axis:
    kind = said.get("columns", "variable")
    if kind == "cohorts":
        return _by_cohorts(member, held, said.get("cohorts"))
    if kind == "document_cohorts":
        return _by_document_cohorts(member, held, said.get("cohorts"))
    if kind == "cases":
        names = people.case_names(member, held)
        every = tuple(names.get(pk, "?") for pk in held.case_ids.tolist())
        return Axis(
            say("each {one}", one=member.project.case_one),
            Groups(every, np.arange(len(every), dtype=np.int32)),
            every,
            [],
        )
    if kind == "documents":
        every = titles(member, held)
        labels = np.arange(len(every), dtype=np.int32)
        return Axis(say("each document"), by_documents(Groups(every, labels), held.talks), every, [], "document")
    if said.get("variable") is None:
        raise Refusal(say("Choose what makes the groups: a variable, cohorts, people or documents."))
    return _by_variable(member, held, said["variable"], said.get("cuts"), said.get("period"))


def titles(member: Membership, held: Snapshot) -> tuple[str, ...]:
    """What each document is called, (documents,): no two alike."""
    named = dict(gather.documents(member).values_list("id", "title"))
    return _told_apart([named.get(pk, "?") for pk in held.document_ids.tolist()])


def _told_apart(names: list[str]) -> tuple[str, ...]:
    """Two documents may have one title: the second is told apart by a number."""
    seen: dict[str, int] = {}
    told = []
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        told.append(name if seen[name] == 1 else f"{name} ({seen[name]})")
    return tuple(told)


def _shown(axis: Axis, chosen: list[str] | None) -> Axis:
    """Only the chosen groups; where none are chosen, the first of them as far as a table shows them."""
    if chosen is None and axis.groups.count <= MOST_GROUPS:
        return axis
    at = {name: place for place, name in enumerate(axis.every)}
    places = list(range(MOST_GROUPS)) if chosen is None else [at[name] for name in chosen if name in at]
    return replace(axis, groups=axis.groups.choose(places))


def _by_variable(
    member: Membership, held: Snapshot, variable_id: int, cuts: list[float] | None = None, period: Period | None = None
) -> Axis:
    variable = _variables_at(member, held).get(variable_id)
    if variable is None:
        raise NotFound(say("This variable isn’t in the project any more."))
    if variable.kind not in COMPARABLE:
        raise Refusal(
            say(
                "“{name}” is {kind}: it doesn’t make groups. Choose another variable.",
                name=variable.name,
                kind=worded(variable.get_kind_display()),
            )
        )
    made = groups_of(held, variable, cuts, period)
    groups = made.groups
    shown = by_documents(groups, held.talks) if variable.of == Subject.DOCUMENT else groups
    return Axis(variable.name, shown, groups.names, made.cuts, variable.of, made.period)


_variables: Made[Mapping[int, Variable]] = Made("people.variable", "people.category")


def _variables_at(member: Membership, held: Snapshot) -> Mapping[int, Variable]:
    """All variables by ID with their categories, in their order; to be read only."""
    every = (Subject.CASE, Subject.DOCUMENT)
    return _variables.of(
        member.project_id, held, lambda: {row.pk: row for of in every for row in people.variables(member, of)}
    )


def _by_cohorts(member: Membership, held: Snapshot, chosen: list[int] | None) -> Axis:
    names, inside = _in_cohorts(member, Subject.CASE, chosen, held.case_ids.tolist())
    return Axis("cohorts", by_cohorts(names, inside, held.talks), names, [], "cohorts")


def _by_document_cohorts(member: Membership, held: Snapshot, chosen: list[int] | None) -> Axis:
    names, inside = _in_cohorts(member, Subject.DOCUMENT, chosen, held.document_ids.tolist())
    return Axis(
        say("cohorts of documents"), by_document_cohorts(names, inside, held.talks), names, [], "document_cohorts"
    )


def _in_cohorts(
    member: Membership, of: Subject, chosen: list[int] | None, ids: list[int]
) -> tuple[tuple[str, ...], Bools]:
    """Names of the cohorts, and who or what is in each, (ids, cohorts)."""
    rows = {row.pk: row for row in people.cohorts(member, of)}
    if chosen is not None and not set(chosen) <= rows.keys():
        raise NotFound(say("A cohort of this comparison isn’t in the project any more; choose the columns again."))
    wanted = list(rows.values()) if chosen is None else [rows[pk] for pk in chosen]
    if not wanted:
        raise Refusal(
            say("This project has no cohorts of documents yet: make one under People, or compare across a variable.")
            if of == Subject.DOCUMENT
            else say("This project has no cohorts yet: make one under People, or compare across a variable.")
        )
    inside = np.stack([np.asarray(facts.members_of(row, ids), bool).reshape(len(ids)) for row in wanted], axis=1)
    return tuple(row.name for row in wanted), inside


def layerings(member: Membership, held: Snapshot, columns: Columns) -> list[Layering]:
    """Every other fact about people that a difference may come from, as groups; not one that is made of what the columns
    show, or that they are made of, and of bands and their number only the bands."""
    every = [row for row in _variables_at(member, held).values() if row.of == Subject.CASE]
    shown = {row.pk for row in every if row.name in (columns.inner.name, columns.first.name)}
    shown |= {pk for row in every if row.pk in shown for pk in _made_of(row)}
    banded = {pk for row in every for pk in _made_of(row) if row.pk not in shown}
    found = []
    for variable in every:
        bound = variable.pk in shown | banded or shown & set(_made_of(variable))
        if variable.kind in COMPARABLE and not bound:
            # One whose sources are gone says so where it is asked for; here it tells nothing.
            with suppress(Refusal):
                groups = groups_of(held, variable).groups
                if 2 <= groups.count <= MOST_LAYERS:
                    found.append(Layering(variable.name, groups))
    return found[:MOST_LAYERINGS]


def _made_of(variable: Variable) -> list[int]:
    """The variables that this one is made of."""
    sources = (variable.definition or {}).get("of", [])
    return [sources] if isinstance(sources, int) else list(sources)


MOST_KEPT = 256
"""Groups of variables that are kept in memory, over all projects."""


@dataclass(frozen=True)
class MadeGroups:
    """All groups of a variable; of a number the ``cuts`` of its bands, of a date the ``period`` that each group is."""

    groups: Groups
    cuts: list[float]
    period: Period | None = None


_made: Kept[tuple[Any, ...], MadeGroups] = Kept(MOST_KEPT)
_RESTS_ON = ("people.", "gather.document")
"""What a variable's values rest on; one that is made of others may rest on anything."""


def groups_of(
    held: Snapshot, variable: Variable, cuts: list[float] | None = None, period: Period | None = None
) -> MadeGroups:
    """All groups that a variable makes, with labels on its cases or documents; a number is cut into bands, a date into
    periods (proposed where none are given). Made once while nothing of it moves: every question across the variable stands on the same."""
    rests_on = _RESTS_ON if variable.definition is None else ("",)
    key = (variable.project_id, *held.since(*rests_on), variable.pk, None if cuts is None else tuple(cuts), period)
    found = _made.get(key)
    if found is None:
        found = _groups_made(held, variable, cuts, period)
        _made.put({key: found})
    return found


def _groups_made(held: Snapshot, variable: Variable, cuts: list[float] | None, period: Period | None) -> MadeGroups:
    if variable.of == Subject.DOCUMENT:
        known = facts.of_documents([variable], held.document_ids.tolist())[variable.pk]
    else:
        known = facts.known([variable], held.case_ids.tolist())[variable.pk]
    labels = np.array(
        [0 if one.missing is None else missing_label(one.missing) for one in known.held], np.int32
    ).reshape(len(known.held))
    if variable.kind == VariableKind.NUMBER:
        numbers = np.array([one.value if isinstance(one.value, float) else 0.0 for one in known.held])
        cuts = proposed_cuts(numbers[labels >= 0]) if cuts is None else sorted(set(cuts))
        return MadeGroups(bands(numbers, labels, cuts), cuts)
    if variable.kind == VariableKind.DATE:
        days = [one.value if isinstance(one.value, date) else None for one in known.held]
        period = period or proposed_period(day for day in days if day is not None)
        return MadeGroups(periods(days, labels, period), [], period)
    place = {label: position for position, label in enumerate(known.categories)}
    own = [OUTSIDE if one.value is None else place.get(in_words(one.value), OUTSIDE) for one in known.held]
    labels = np.where(labels < 0, labels, np.array(own, np.int32).reshape(len(own))).astype(np.int32)
    return MadeGroups(Groups(tuple(known.categories), labels, variable.kind == VariableKind.ORDERED), [])
