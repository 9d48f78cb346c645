"""*Adjusted for …*: several facts about people held at once, told as the share each group would have if the groups were
alike in them."""

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import numpy.typing as npt

from core.compare.result import Result
from core.statistics import regression

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]
MOST_FACTS = 6
MENTIONS_A_PARAMETER = 5
"""People who mention a row (and people who don't) for each parameter, below which nothing is computed (Peduzzi et al. 1996
asked for ten; Vittinghoff & McCulloch 2007 found five to nine enough)."""


@dataclass(frozen=True)
class Fact:
    """One fact about people, (cases,): ``numbers`` with NaN where unknown, or ``labels`` of ``names`` with −1. Numbers enter
    as they are, ordered categories as steps, others each by itself."""

    name: str
    numbers: Floats | None = None
    labels: npt.NDArray[np.int32] | None = None
    names: tuple[str, ...] = ()
    ordered: bool = False

    @property
    def known(self) -> Bools:
        if self.numbers is not None:
            return np.isfinite(self.numbers)
        assert self.labels is not None
        return np.asarray(self.labels >= 0)

    def columns(self, people: Ints) -> Floats:
        """Its part of the design, (people, columns); none where everybody is alike."""
        if self.numbers is not None:
            number = self.numbers[people]
            spread = number.std()
            return ((number - number.mean()) / spread)[:, None] if spread > 0 else np.zeros((len(people), 0))
        assert self.labels is not None
        label = self.labels[people]
        there = np.unique(label)
        if self.ordered:
            return (label[:, None] >= there[None, 1:]).astype(float)
        return (label[:, None] == there[None, 1:]).astype(float)


def _none() -> Floats:
    return np.zeros((0, 0))


@dataclass(frozen=True)
class Adjusted:
    """``problem`` says why nothing could be computed (a kind, and the facts it is about); "" where it could.

    people, unknown      how many were taken in, and how many of the base weren't since some fact of theirs is unknown
    constant             facts in which everybody taken in is alike: they change nothing
    plain, standardised  (rows, groups) shares among those taken in: as they are, and as they would be if each group had
                         the facts of all; NaN where a row isn't computed
    odds_ratio, low, high (rows, groups) each group over the first, profile intervals; 1 for the first, NaN where not computed
    p                    (rows,) of the groups altogether, penalised likelihood ratio
    why_not              (rows,) ``few`` mentions (or silences) a parameter, ``all`` or ``nobody`` mention it; "" where computed
    separated            (rows,) some combination of facts parts those who mention it from the others
    """

    people: int
    unknown: int
    parameters: int
    constant: tuple[str, ...] = ()
    problem: str = ""
    about: tuple[str, ...] = ()
    plain: Floats = field(default_factory=_none)
    standardised: Floats = field(default_factory=_none)
    odds_ratio: Floats = field(default_factory=_none)
    low: Floats = field(default_factory=_none)
    high: Floats = field(default_factory=_none)
    p: Floats = field(default_factory=_none)
    why_not: tuple[str, ...] = ()
    separated: Bools = field(default_factory=lambda: np.zeros(0, bool))


def adjusted(result: Result, facts: list[Fact]) -> Adjusted:
    """Firth's regression of mentioning each row on group and facts; people in one group each, no layers.

    Source: regression as in ``core.statistics.regression``; standardised over everybody taken in.
    """
    return _Adjusting(result, tuple(facts)).made()


@dataclass(frozen=True)
class _Adjusting:
    result: Result
    facts: tuple[Fact, ...]

    @cached_property
    def people(self) -> Ints:
        known = np.logical_and.reduce([self.result.counted.in_base, *(fact.known for fact in self.facts)])
        return np.flatnonzero(known)

    @cached_property
    def groups(self) -> Ints:
        """Those that hold somebody taken in."""
        return np.unique(self.label)

    @cached_property
    def label(self) -> Ints:
        return self.result.counted.base[self.people].argmax(axis=1)

    def made(self) -> Adjusted:
        unknown = int(self.result.counted.in_base.sum()) - len(self.people)
        start = Adjusted(len(self.people), unknown, 0)
        if self.result.asked.base == "asked":
            return _with(start, problem="asked")
        if self.result.counted.case_group is None or not self.result.of_people or self.result.asked.layers > 1:
            return _with(start, problem="not_people")
        if len(self.groups) < 2:
            return _with(start, problem="one_group")
        wide = len(self.groups) + sum(len(fact.names) if fact.numbers is None else 1 for fact in self.facts)
        if wide > len(self.people):
            return _with(start, problem="too_many", parameters=wide)
        parts = [fact.columns(self.people) for fact in self.facts]
        constant = tuple(fact.name for fact, part in zip(self.facts, parts, strict=True) if not part.shape[1])
        own = (self.label[:, None] == self.groups[None, 1:]).astype(float)
        design = np.column_stack([np.ones(len(self.people)), own])
        for fact, part in zip(self.facts, parts, strict=True):
            wider = np.column_stack([design, part])
            if np.linalg.matrix_rank(wider) < wider.shape[1]:
                return _with(start, problem="collinear", about=(fact.name,), constant=constant)
            design = wider
        return self._fitted(_with(start, parameters=design.shape[1], constant=constant), design)

    def _fitted(self, start: Adjusted, design: Floats) -> Adjusted:
        says = self.result.counted.counts[:, self.people] > 0
        mentions = says.sum(axis=1)
        fewer = np.minimum(mentions, len(self.people) - mentions)
        why_not = np.where(
            mentions == 0,
            "nobody",
            np.where(
                mentions == len(self.people),
                "all",
                np.where(fewer < MENTIONS_A_PARAMETER * (design.shape[1] - 1), "few", ""),
            ),
        )
        shape = (len(says), self.result.asked.groups.count)
        plain, standardised, ratio, low, high = (np.full(shape, np.nan) for _ in range(5))
        for group in self.groups.tolist():
            plain[:, group] = says[:, self.label == group].mean(axis=1)
        p, separated = np.full(len(says), np.nan), np.zeros(len(says), bool)
        rows = np.flatnonzero(why_not == "")
        if len(rows):
            fit = regression.firth(design, says[rows])
            standardised[np.ix_(rows, self.groups)] = regression.standardised(
                design, fit, self._as_group(design.shape[1])
            )
            parameters = list(range(1, len(self.groups)))
            p[rows] = regression.tested(design, says[rows], fit, parameters)[1]
            separated[rows] = regression.separated(design, says[rows])
            ratio[rows, self.groups[0]] = 1.0
            for parameter in parameters:
                ends = regression.profile(design, says[rows], fit, parameter)
                group = self.groups[parameter]
                ratio[rows, group] = np.exp(fit.beta[:, parameter])
                low[rows, group], high[rows, group] = np.exp(ends.low), np.exp(ends.high)
        return _with(
            start, plain=plain, standardised=standardised, odds_ratio=ratio, low=low, high=high, p=p,
            why_not=tuple(why_not.tolist()), separated=separated,
        )  # fmt: skip

    def _as_group(self, columns: int) -> list[Floats]:
        found = []
        for place in range(len(self.groups)):
            moved = np.full(columns, np.nan)
            moved[1 : len(self.groups)] = 0
            if place:
                moved[place] = 1
            found.append(moved)
        return found


def _with(start: Adjusted, **more: object) -> Adjusted:
    return Adjusted(**{**vars(start), **more})
