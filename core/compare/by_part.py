"""The answer to a comparison whose rows have bases of their own: each part answered by itself, put together row by row.

Corrections go over all rows again. What is sure is found in each part; its adjusted p is then multiplied by the number of parts
(Bonferroni over the families, each of which keeps its own error): at most 1 in 20 projects in which nothing differs is told
anything sure, as everywhere.
"""

from collections.abc import Callable
from dataclasses import dataclass, fields, replace
from functools import cached_property
from operator import attrgetter
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

from core.compare.asked import parts_of
from core.compare.counts import LeftOut, left_out
from core.compare.groups import Groups, by_talk
from core.compare.measures import Measured
from core.compare.question import Comparison
from core.compare.result import Result
from core.compare.sure import Family, Interval
from core.compare.tally import Tally, in_groups, only_group
from core.compare.tests import Difference, RowTrend, Tests, WithinLayers, corrected
from core.snapshot.snapshot import Snapshot
from core.statistics import corrections
from core.statistics.paired import Changes
from core.statistics.stepdown import LEVEL
from core.statistics.whole import Whole

Floats = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int64]
Bools = npt.NDArray[np.bool_]
Optional = TypeVar("Optional", Difference, RowTrend, WithinLayers, Changes)
_TALLIED = ("counts", "people", "passages", "most", "most_case", "total_most", "total_most_case")
_MEASURED = ("figure", "count", "base", "median", "deviation", "total_figure", "total_count", "total_base", "by_case")


def compare(snapshot: Snapshot, asked: Comparison) -> Result:
    """Answer a comparison from the snapshot. Source of each figure: ``docs/methods.md``."""
    return ResultByPart(snapshot, asked) if asked.base == "asked" and asked.rows else Result(snapshot, asked)


def family_of(result: Result) -> Family:
    """The rule for *sure*, applied to a result: nothing is shuffled before it is asked for."""
    return FamilyByPart(result) if isinstance(result, ResultByPart) else Family(result)


@dataclass(frozen=True, eq=False)
class ResultByPart(Result):
    """``counted.base`` holds who was asked about any of the rows; of one row, see :meth:`of_row`."""

    @cached_property
    def parts(self) -> list[tuple[Ints, Result]]:
        return [(part.places, Result(self.snapshot, part.asked)) for part in parts_of(self.snapshot, self.asked)]

    def of_row(self, row: int) -> tuple[Result, int]:
        for places, result in self.parts:
            if row in places:
                return result, int(np.flatnonzero(places == row)[0])
        raise IndexError(row)

    def _by_row(self, read: Callable[[Result], Any]) -> npt.NDArray[Any]:
        """Arrays whose first axis is rows, put together in the comparison's order."""
        found = [np.asarray(read(result)) for _, result in self.parts]
        whole = np.zeros((len(self.asked.rows), *found[0].shape[1:]), found[0].dtype)
        for (places, _), part in zip(self.parts, found, strict=True):
            whole[places] = part
        return whole

    @cached_property
    def _plain(self) -> Result:
        return Result(self.snapshot, replace(self.asked, base="with_material"))

    @cached_property
    def counted(self) -> Tally:
        plain = self._plain.counted
        base = np.logical_or.reduce([result.counted.base for _, result in self.parts])
        if isinstance(self.asked.groups, Groups):
            group: npt.NDArray[np.int32] | None = plain.case_group
        else:
            group = only_group(base) if (base.sum(axis=1) < 2).all() else None
        tallied = {name: self._by_row(attrgetter(f"counted.{name}")) for name in _TALLIED}
        said = None if group is not None else self._by_row(lambda one: _said(one.counted))
        return replace(plain, **tallied, base=base, group_passages=self._group_passages(), case_group=group, said=said)

    def _group_passages(self) -> Ints:
        """Distinct passages that count in any row, by group."""
        seen = np.zeros((self.asked.groups.count, len(self.snapshot.passage_ids)), bool)
        for _, one in self.parts:
            groups, held = by_talk(one.asked.groups, self.snapshot.talks), one.rows.incidence
            _, entry, group = in_groups(self.snapshot, held, one.rows.chosen, groups, one.scope)
            seen[group, held.entry_passage[entry]] = True
        return seen.sum(axis=1)

    @cached_property
    def left_out(self) -> LeftOut:
        # A passage counts in the table where it does in one row; else for what comes first in order.
        fate = np.full(len(self.snapshot.passage_ids), np.iinfo(np.int8).max, np.int8)
        for _, result in self.parts:
            seen = np.zeros(len(fate), bool)
            seen[result.rows.incidence.pairs_of(result.rows.chosen)[1]] = True
            fate[seen] = np.minimum(fate[seen], result.counted.fate[seen])
        whole = left_out(self.snapshot, self.rows.incidence, self.rows.chosen, fate)
        return replace(whole, by_row=self._by_row(attrgetter("left_out.by_row")))

    @cached_property
    def made(self) -> Measured:
        one = self.parts[0][1].made
        put: dict[str, Any] = {name: self._by_row(attrgetter(f"made.{name}")) for name in _MEASURED}
        exposure = self._by_row(lambda part: np.broadcast_to(part.made.exposure, part.made.by_case.shape))
        return replace(one, **put, exposure=exposure)

    def interval_at(self, level: float) -> tuple[Floats, Floats]:
        low, high = (self._by_row(lambda one, at=at: one.interval_at(level)[at]) for at in (0, 1))  # type: ignore[misc]
        return low, high

    @cached_property
    def residual(self) -> Floats:
        return self._by_row(attrgetter("residual"))

    @property
    def total_people(self) -> Ints:
        return self._by_row(attrgetter("total_people"))

    @property
    def total_passages(self) -> Ints:
        return self._by_row(attrgetter("total_passages"))

    @cached_property
    def tests(self) -> Tests:
        kind = np.array(self._by_row(lambda one: np.array(one.tests.kind, object)), object)
        numbers = {
            each.name: self._by_row(attrgetter(f"tests.{each.name}")) for each in fields(Tests) if each.name != "kind"
        }
        return corrected(Tests(tuple(kind.tolist()), **numbers))

    @cached_property
    def difference(self) -> Difference | None:
        return self._optional(Difference, lambda one: one.difference)

    @cached_property
    def trend(self) -> RowTrend | None:
        found = self._optional(RowTrend, lambda one: one.trend)
        if found is None:
            return None
        return replace(
            found, holm=corrections.holm(found.p), benjamini_hochberg=corrections.benjamini_hochberg(found.p)
        )

    @cached_property
    def within_layers(self) -> WithinLayers | None:
        found = self._optional(WithinLayers, lambda one: one.within_layers)
        return None if found is None else replace(found, differ_holm=corrections.holm(found.differ_p))

    @cached_property
    def changes(self) -> Changes | None:
        return self._optional(Changes, lambda one: one.changes)

    @cached_property
    def whole(self) -> Whole | None:
        return None

    def _optional(self, kind: type[Optional], read: Callable[[Result], Optional | None]) -> Optional | None:
        """What some parts may not have; in their rows counts are 0 and figures NaN."""
        found = [(places, read(result)) for places, result in self.parts]
        there = [part for _, part in found if part is not None]
        if not there:
            return None
        put = {}
        for each in fields(kind):
            like = getattr(there[0], each.name)
            whole = np.full(len(self.asked.rows), np.nan if like.dtype.kind == "f" else 0, like.dtype)
            for places, part in found:
                if part is not None:
                    whole[places] = getattr(part, each.name)
            put[each.name] = whole
        return kind(**put)


def _said(counted: Tally) -> Ints:
    if counted.said is not None:
        return counted.said
    return counted.counts[:, None, :] * counted.base.T[None, :, :]


@dataclass(frozen=True, eq=False)
class FamilyByPart(Family):
    """The families of the parts; whether anything is tested, and why not, is told of all together."""

    @cached_property
    def families(self) -> list[tuple[Ints, Family]]:
        return [(places, Family(result, self.shuffles)) for places, result in self.result.parts]

    @cached_property
    def why_not(self) -> str:
        if not self.pairs or not self.result.asked.rows:
            return "no_rows" if self.pairs else "one_group"
        reasons = [family.why_not for _, family in self.families if family.result.everyone]
        return "nobody" if not reasons else "" if "" in reasons else reasons[0]

    @property
    def together(self) -> int:
        return max((family.together for _, family in self.families), default=0)

    @property
    def paired(self) -> bool:
        return any(family.paired for _, family in self.families)

    @property
    def sets(self) -> int:
        return sum(not family.why_not for _, family in self.families)

    @property
    def made(self) -> int:
        return max((family.made for _, family in self.families), default=0)

    @cached_property
    def p(self) -> Floats:
        whole = np.full(self.shape, np.nan)
        for places, family in self.families:
            whole[places] = np.minimum(family.p * self.sets, 1)
        return whole

    @cached_property
    def by_chance(self) -> float:
        return float(sum(family.by_chance for _, family in self.families if family.result.everyone))

    @cached_property
    def _plain(self) -> Interval:
        return self.interval(1 - LEVEL)

    def interval(self, level: float) -> Interval:
        parts = tuple(np.full(self.shape, np.nan) for _ in range(3))
        for places, family in self.families:
            for whole, part in zip(parts, family.interval(level), strict=True):
                whole[places] = part
        return parts[0], parts[1], parts[2]
