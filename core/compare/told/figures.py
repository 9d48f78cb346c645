"""Figures of a comparison as they stand within a sentence."""

import numpy as np

from core.compare.result import Result
from core.compare.told.sentence import Names
from core.language import decimal, say
from core.language import number as in_words
from core.statistics.layers import CommonOdds


def counted(number: int, one: str, many: str) -> str:
    return f"{in_words(number)} {one if number == 1 else many}"


def points(gap: float) -> str:
    whole = round(100 * gap)
    said = say("{size, plural, one {{whole} point} other {{whole} points}}", size=abs(whole), whole=whole)
    return said.replace("-", "−")


def rounded(figure: float) -> str:
    return decimal(figure, 2 if abs(figure) < 10 else 1)


def probability(p: float) -> str:
    """``1 of 100``; fewer than that as such."""
    times = round(1000 * p)
    if times < 1:
        return say("fewer than 1 of 1,000")
    if times < 10:
        return say("{times} of 1,000", times=times)
    return say("{times} of 100", times=round(100 * p))


def odds(found: CommonOdds) -> str:
    """A common odds ratio of one row with its interval; 0 and infinite ones with their one end."""
    ratio, low, high = (float(part[0]) for part in (found.ratio, found.low, found.high))
    if np.isnan(ratio):
        return say("not defined")
    if np.isinf(ratio):
        return say("infinite (at least {low}", low=decimal(low, 1))
    return (
        say("{ratio} (at most {high}", ratio=decimal(ratio, 1), high=decimal(high, 1))
        if ratio == 0
        else say("{ratio} ({low} to {high}", ratio=decimal(ratio, 1), low=decimal(low, 1), high=decimal(high, 1))
    )


def group_in_words(result: Result, group: int) -> str:
    return say("“{name}”", name=result.asked.groups.names[group])


def figure_in_words(result: Result, names: Names, row: int, group: int, again: bool = False) -> str:
    """``10 of 11 people in “daily”``; ``again``: the word for people stands before it already."""
    measure, figure, where = (
        result.measure,
        float(result.figure[row, group]),
        say("in {group_in_words}", group_in_words=group_in_words(result, group)),
    )
    count, base = int(result.count[row, group]), int(result.base[row, group])
    if measure.id == "people":
        who = "" if again else f" {names.one if base == 1 else names.many}"
        return say("{count, number} of {base, number}{who} {where}", count=count, base=base, who=who, where=where)
    by = say("by {people}", people=counted(int(result.people[row, group]), names.one, names.many))
    made = f"{counted(count, names.put(measure.noun[0]), names.put(measure.noun[1]))} {by}"
    if measure.share:
        return f"{decimal(100 * figure, 1 if figure < 0.1 else 0)} % {where} ({made})"
    unit = "" if again else f" {names.put(measure.unit)}"
    return f"{rounded(figure)}{unit} {where} ({made})"
