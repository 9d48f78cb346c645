"""Conditions on cases: what a cohort or a scope is made of, and how many each part of it keeps."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.text.missing import MissingReason

Mask = npt.NDArray[np.bool_]
Operator = Literal["is", "is_not", "at_least", "below", "is_missing", "has_value"]


@dataclass(frozen=True)
class Held:
    """What is known of one case on one variable: a value, or why there is none."""

    value: str | float | bool | date | None = None
    missing: MissingReason | None = None


@dataclass(frozen=True)
class Test:
    """One condition on one variable. ``values`` are categories (any of them), or one number or date;
    for ``is_missing`` the reasons that count (none: any)."""

    variable: int
    operator: Operator
    values: tuple[str | float | bool | date, ...] = ()


@dataclass(frozen=True)
class Mentions:
    """Has passages of any (``any``), all (``all``) or none (``none``) of these codes, those beneath included; ``silent``: has
    material, and none of them."""

    codes: tuple[int, ...]
    how: Literal["any", "all", "none", "silent"] = "any"


@dataclass(frozen=True)
class Belongs:
    """Is in any of these cohorts, or in none of them."""

    cohorts: tuple[int, ...]
    how: Literal["any", "none"] = "any"


@dataclass(frozen=True)
class Group:
    """``all`` or ``any`` of its parts; ``negated``: those for whom that is not so."""

    join: Literal["all", "any"]
    parts: tuple["Test | Mentions | Belongs | Group", ...]
    negated: bool = False


Condition = Test | Mentions | Belongs | Group


@dataclass(frozen=True)
class Kept:
    """How many cases a part keeps by itself, and the same for its own parts."""

    count: int
    parts: tuple["Kept", ...] = ()


Facts = Mapping[int, Sequence[Held]]
"""By variable: what is held of each case, in one order of cases."""


@dataclass(frozen=True)
class Masks:
    """Which cases have passages of each code, and are in each cohort, that a condition names; and which have any material;
    (cases,) each."""

    mentioned: Mapping[int, Mask] = field(default_factory=dict)
    members: Mapping[int, Mask] = field(default_factory=dict)
    material: Mask | None = None


class UnknownVariable(LookupError):
    """A condition names a variable that isn't there any more."""


class UnknownCode(LookupError):
    """A condition names a code that isn't there any more."""


class UnknownCohort(LookupError):
    """A condition names a cohort that isn't there any more."""


def matches(condition: Condition, facts: Facts, cases: int, masks: Masks | None = None) -> Mask:
    """Which cases fulfil the condition, shape (cases,); ``masks`` hold every code and cohort that it names. A missing
    value fulfils neither a test nor its opposite: ``is not Holm`` is said of people whose island is known."""
    if isinstance(condition, Test):
        if condition.variable not in facts:
            raise UnknownVariable(condition.variable)
        return np.array([_fits(condition, held) for held in facts[condition.variable]], bool).reshape(cases)
    if isinstance(condition, Mentions):
        each = _named(condition.codes, (masks or Masks()).mentioned, UnknownCode)
        if condition.how == "silent":
            # Those who could have mentioned it: without material nobody is silent about anything.
            material = (masks or Masks()).material
            return _any_or_none(each, "none") & (np.ones(cases, bool) if material is None else material)
        return np.logical_and.reduce(each) if condition.how == "all" else _any_or_none(each, condition.how)
    if isinstance(condition, Belongs):
        return _any_or_none(_named(condition.cohorts, (masks or Masks()).members, UnknownCohort), condition.how)
    parts = [matches(part, facts, cases, masks) for part in condition.parts]
    if not parts:
        found = np.ones(cases, bool)
    else:
        found = np.logical_and.reduce(parts) if condition.join == "all" else np.logical_or.reduce(parts)
    return ~found if condition.negated else found


def _named(wanted: tuple[int, ...], known: Mapping[int, Mask], unknown: type[LookupError]) -> list[Mask]:
    gone = [one for one in wanted if one not in known]
    if gone:
        raise unknown(gone[0])
    return [np.asarray(known[one], bool) for one in wanted]


def _any_or_none(each: list[Mask], how: str) -> Mask:
    any_of: Mask = np.logical_or.reduce(each)
    return ~any_of if how == "none" else any_of


def kept(condition: Condition, facts: Facts, cases: int, masks: Masks | None = None) -> Kept:
    """The live count of every part, each by itself."""
    count = int(matches(condition, facts, cases, masks).sum())
    if not isinstance(condition, Group):
        return Kept(count)
    return Kept(count, tuple(kept(part, facts, cases, masks) for part in condition.parts))


def codes_in(condition: Condition) -> set[int]:
    """Every code that the condition asks about."""
    return {code for one in _leaves(condition) if isinstance(one, Mentions) for code in one.codes}


def cohorts_in(condition: Condition) -> set[int]:
    """Every cohort that the condition asks about."""
    return {cohort for one in _leaves(condition) if isinstance(one, Belongs) for cohort in one.cohorts}


def variables_in(condition: Condition) -> set[int]:
    """Every variable that the condition asks about."""
    return {one.variable for one in _leaves(condition) if isinstance(one, Test)}


def _leaves(condition: Condition) -> Iterator[Test | Mentions | Belongs]:
    if isinstance(condition, Group):
        for part in condition.parts:
            yield from _leaves(part)
    else:
        yield condition


def _fits(test: Test, held: Held) -> bool:
    if test.operator == "is_missing":
        return held.missing is not None and (not test.values or held.missing in test.values)
    if held.value is None:
        return False
    if test.operator == "has_value":
        return True
    if test.operator in ("is", "is_not"):
        return (held.value in test.values) is (test.operator == "is")
    (limit,) = test.values
    below = held.value < limit  # type: ignore[operator]
    return below if test.operator == "below" else not below
