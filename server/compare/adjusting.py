"""*Adjusted for …*: what a comparison would be if the groups were alike in other facts."""

from datetime import date
from typing import Any

import numpy as np

from core.compare.adjusted import MOST_FACTS, Adjusted, Fact, adjusted
from core.language import say, worded
from core.snapshot.snapshot import Snapshot
from core.text.lists import listed
from server.common.errors import Refusal
from server.common.numbers import finite
from server.compare.answers import Answer, answer
from server.compare.asking import Asked
from server.people import facts
from server.people import queries as people
from server.people.models import Subject, Variable, VariableKind
from server.projects.models import Membership
from server.scope.axes import COMPARABLE, groups_of

Json = dict[str, Any]


def adjusted_for(member: Membership, said: Json) -> Json:
    """Shares as they are and as they would be, row by row, or the sentence that says why not."""
    found = answer(member, said)
    return adjusted_out(found)


def adjusted_out(found: Answer) -> Json:
    asked = found.asked
    chosen = [people.variable(asked.member, pk, None) for pk in asked.adjusted]
    for variable in chosen:
        _check(variable, asked)
    made = adjusted(found.result, [_fact(asked.snapshot, variable) for variable in chosen])
    many = asked.member.project.case_many
    return {
        "facts": [variable.name for variable in chosen],
        "people": made.people,
        "unknown": made.unknown,
        "problem": _problem(made, many),
        "notes": _notes(made, many),
        "rows": [] if made.problem else [_row(made, place, asked) for place in range(len(asked.rows))],
    }


def _check(variable: Variable, asked: Asked) -> None:
    if variable.of != Subject.CASE:
        raise Refusal(
            say(
                "“{name}” is a fact about documents: only facts about {many} can be held.",
                name=variable.name,
                many=asked.member.project.case_many,
            )
        )
    if variable.kind not in COMPARABLE:
        raise Refusal(
            say(
                "“{name}” is {kind}: it can’t be held. Choose another variable.",
                name=variable.name,
                kind=worded(variable.get_kind_display()),
            )
        )
    if variable.name == asked.columns.first.name and asked.columns.first.about == "case":
        raise Refusal(say("{name} makes the groups, so it can’t be held at once.", name=variable.name))


def _fact(held: Snapshot, variable: Variable) -> Fact:
    if variable.kind == VariableKind.NUMBER:
        known = facts.known([variable], held.case_ids.tolist())[variable.pk]
        numbers = [one.value if isinstance(one.value, float) else np.nan for one in known.held]
        return Fact(variable.name, numbers=np.array(numbers))
    if variable.kind == VariableKind.DATE:
        known = facts.known([variable], held.case_ids.tolist())[variable.pk]
        days = [one.value.toordinal() if isinstance(one.value, date) else np.nan for one in known.held]
        return Fact(variable.name, numbers=np.array(days, float))
    groups = groups_of(held, variable).groups
    labels = np.where(groups.labels >= 0, groups.labels, -1).astype(np.int32)
    return Fact(variable.name, labels=labels, names=groups.names, ordered=groups.ordered)


def _problem(made: Adjusted, many: str) -> str:
    return {
        "": "",
        "not_people": say(
            "Only {many} who mention a row, in groups that share nobody and without layers, can be adjusted: count {many} instead.",
            many=many,
        ),
        "asked": say(
            "With {many} who were asked as the base every row has people of its own, so no facts are held at once: choose another base.",
            many=many,
        ),
        "one_group": say(
            "After leaving out {many} with an unknown fact, one group is left: choose other facts.", many=many
        ),
        "too_many": say(
            "These facts have more categories than there are {many} ({people, number}): choose fewer, or merge some.",
            many=many,
            people=made.people,
        ),
        "collinear": say(
            "{about} follows from the groups and the other facts, so it can’t be held apart from them: leave it out.",
            about=listed(made.about),
        ),
    }[made.problem]


def _notes(made: Adjusted, many: str) -> list[str]:
    said = []
    if made.unknown:
        said.append(
            say(
                "{unknown, number} {many} are left out since a fact of theirs is unknown.",
                unknown=made.unknown,
                many=many,
            )
        )
    if made.constant:
        said.append(
            say("Everybody is alike in {constant}: holding it changes nothing.", constant=listed(made.constant))
        )
    if "few" in made.why_not:
        fewest = made.parameters - 1
        said.append(
            say(
                "Rows with under {fewest} {many} who mention them (or who don’t) have too few for {fewest2} terms: five a term are needed.",
                fewest=5 * fewest,
                many=many,
                fewest2=fewest,
            )
        )
    if made.separated.any():
        said.append(
            say(
                "Where some combination of facts parts those who mention a row from all others, it is marked: its odds ratio rests on the penalty."
            )
        )
    return said


def _row(made: Adjusted, place: int, asked: Asked) -> Json:
    parts = {
        "plain": made.plain,
        "standardised": made.standardised,
        "odds_ratio": made.odds_ratio,
        "low": made.low,
        "high": made.high,
    }
    cells = [
        {name: finite(part[place, group]) for name, part in parts.items()}
        for group in range(asked.comparison.groups.count)
    ]
    return {
        **asked.rows[place]._asdict(),
        "cells": cells,
        "p": finite(made.p[place]),
        "why_not": made.why_not[place],
        "separated": bool(made.separated[place]),
    }


__all__ = ["MOST_FACTS", "adjusted_for", "adjusted_out"]
