"""What stands out in a comparison: the largest and surest differences in careful words, each with its cautions.

Never a claim of cause: only sizes, people, intervals, and what speaks against reading much into them.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.groups import Groups
from core.compare.measures.rate import PER_WORDS
from core.compare.question import Comparison
from core.compare.result import SMALL_GROUP, Result
from core.compare.tally import Tally, base_of
from core.compare.told.sentence import Names
from core.snapshot.snapshot import Snapshot
from core.statistics import association, intervals, layers

MOST = 5
MOST_DOUBTFUL = 2
SURE = 0.05
LARGE = 2.0
"""A rate so many times another looks large, sure or not."""
Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Layering:
    """Another fact about people that a difference may come from: its name, and its groups."""

    name: str
    groups: Groups


@dataclass(frozen=True)
class Finding:
    """``row`` and ``groups`` (the higher one first) are positions in the comparison; ``sure`` is False for a
    difference that only looks large."""

    row: int
    groups: tuple[int, int]
    sure: bool
    text: str
    cautions: tuple[str, ...]


def findings(
    snapshot: Snapshot,
    result: Result,
    row_names: list[str],
    case_names: list[str],
    names: Names,
    others: list[Layering],
) -> list[Finding]:
    """At most five, largest and surest first; then at most two that only look large. None where groups share people
    or layers are held apart: there the table's own columns say it.

    ``row_names`` (rows,) and ``case_names`` (cases,) in the comparison's and the snapshot's order.
    """
    asked = result.asked
    if result.shared_people or asked.layers > 1 or asked.groups.count < 2 or not asked.rows:
        return []
    teller = _Teller(snapshot, result, row_names, case_names, names, others)
    return teller.of_people() if asked.measure == "people" else teller.of_passages()


def _ends(result: Result, row: int) -> tuple[int, int] | None:
    """The two groups asked for, or those with the highest and the lowest figure; the higher one first."""
    figure = np.where(np.isfinite(result.figure[row]), result.figure[row], np.nan)
    if result.asked.difference:
        one, other = result.asked.difference
        if np.isnan(figure[[one, other]]).any():
            return None
        return (one, other) if figure[one] >= figure[other] else (other, one)
    return _farthest(figure)


def _farthest(figure: Floats) -> tuple[int, int] | None:
    """The groups with the highest and the lowest figure; one without a base (NaN) is neither."""
    if np.isfinite(figure).sum() < 2:
        return None
    return int(np.nanargmax(figure)), int(np.nanargmin(figure))


@dataclass(frozen=True)
class _Teller:
    snapshot: Snapshot
    result: Result
    row_names: list[str]
    case_names: list[str]
    names: Names
    others: list[Layering]

    def of_people(self) -> list[Finding]:
        result, found = self.result, []
        counted = result.counted
        for row in range(len(result.people)):
            ends = _ends(result, row)
            if ends is None:
                continue
            high, low = ends
            count, base = result.count[row], result.base[row]
            gap, least, most = (
                float(end) for end in intervals.newcombe_difference(count[high], base[high], count[low], base[low])
            )
            # With several groups the two farthest apart were picked: then the test over all of them must agree.
            if not least > 0 or (result.asked.groups.count > 2 and not result.tests.p[row] <= SURE):
                continue
            text = (
                f"{self._share(row, high)}, {self._share(row, low, again=True)}: {_points(gap)} apart "
                f"(95 % interval {round(100 * least)} to {round(100 * most)})."
            )
            cautions = [
                *self._corrected(row),
                *self._small(high, low),
                *self._other_base(counted, row, high, low),
                *self._within_others(counted, row, high, low),
            ]
            found.append((least, Finding(row, (high, low), True, text, tuple(cautions))))
        found.sort(key=lambda one: -one[0])
        told = [one for _, one in found[:MOST]]
        return told + self._only_in_passages({one.row for _, one in found})

    def _only_in_passages(self, told: set[int]) -> list[Finding]:
        """Rows that look like a group's theme by passages, most of which are one person's."""
        result, by_person = self.result, self._rates()
        found = []
        for row in range(len(by_person)):
            ends = _farthest(by_person[row])
            if ends is None:
                continue
            high, low = ends
            alone = self._talkative(row, high)
            if row in told or not alone or by_person[row, high] < LARGE * by_person[row, low]:
                continue
            count, total = int(result.passages[row, high]), int(result.total_passages[row])
            text = f"{count} of {total} passages come from {self._group(high)}."
            found.append((-count, Finding(row, (high, low), False, text, tuple(alone))))
        found.sort(key=lambda one: one[0])
        return [one for _, one in found[:MOST_DOUBTFUL]]

    def of_passages(self) -> list[Finding]:
        result = self.result
        sure, doubtful = [], []
        rate = self._rates()
        for row in range(len(rate)):
            # The test is over all groups: its two ends are the ones to tell of.
            p, ends = result.tests.p[row], _farthest(rate[row])
            if np.isnan(p) or ends is None:
                continue
            high, low = ends
            text = (
                f"{self._figure(row, high)}, {self._figure(row, low)}; dealt out to {self.names.many} anew, "
                f"so large a difference comes up in {_in_hundred(p)}."
            )
            cautions = [*self._talkative(row, high), *self._small(high, low)]
            if p <= SURE:
                finding = Finding(row, (high, low), True, text, (*self._corrected(row), *cautions))
                sure.append((p, -rate[row, high], finding))
            elif rate[row, high] >= LARGE * rate[row, low] and result.passages[row, high] >= SMALL_GROUP:
                doubtful.append((-rate[row, high], Finding(row, (high, low), False, text, tuple(cautions))))
        sure.sort(key=lambda one: one[:2])
        doubtful.sort(key=lambda one: one[0])
        return [one for _, _, one in sure[:MOST]] + [one for _, one in doubtful[:MOST_DOUBTFUL]]

    def _rates(self) -> Floats:
        """What the permutation test compares, (rows, groups): a rate, a share of talk or a mean as it stands, else what is
        counted by the number of people."""
        result, asked = self.result, self.result.asked
        if asked.measure in ("rate", "per_person", "rating") or asked.base == "talk":
            return result.figure
        counted = result.count if asked.measure == "words" else result.passages
        people = result.group_people[None, :]
        return np.where(people > 0, counted / np.maximum(people, 1), np.nan)

    def _share(self, row: int, group: int, again: bool = False) -> str:
        """``10 of 11 people in “daily”``; ``again``: the word for people stands before it already."""
        result = self.result
        count, base = int(result.count[row, group]), int(result.base[row, group])
        who = "" if again else f" {self.names.one if base == 1 else self.names.many}"
        return f"{count} of {base}{who} in {self._group(group)}"

    def _figure(self, row: int, group: int) -> str:
        result, measure = self.result, self.result.asked.measure
        figure, people, size = (
            result.figure[row, group],
            int(result.people[row, group]),
            int(result.group_people[group]),
        )
        by = f"by {_counted(people, self.names.one, self.names.many)}"
        passages = f"{_counted(int(result.passages[row, group]), 'passage')} {by}"
        words = f"{_counted(int(result.count[row, group]), 'word')} {by}"
        where = f"in {self._group(group)}"
        if measure == "rating":
            return f"a mean rating of {figure:.2f} {where} ({_counted(int(result.count[row, group]), 'rating')} {by})"
        if measure == "rate":
            return f"{figure:.2f} passages per {PER_WORDS:,} words {where} ({passages})"
        if measure == "per_person":
            return f"{figure:.2f} passages a {self.names.one} {where} ({passages})"
        if measure == "words" and result.asked.base == "talk":
            return f"{100 * figure:.1f} % of all that is said {where} ({words})"
        return f"{words if measure == 'words' else passages} {where}, which has {size}"

    def _group(self, group: int) -> str:
        return f"“{self.result.asked.groups.names[group]}”"

    def _corrected(self, row: int) -> list[str]:
        tests = self.result.tests
        if tests.made < 2 or np.isnan(tests.holm[row]):
            return []
        over = "" if self.result.asked.groups.count == 2 else f" over all {self.result.asked.groups.count} groups"
        p = f"p {_p(tests.holm[row])} by Holm"
        if tests.holm[row] <= SURE:
            return [f"The test{over} holds when corrected for {tests.made} tests ({p})."]
        return [f"Corrected for {tests.made} tests, the test{over} isn’t sure ({p})."]

    def _small(self, *groups: int) -> list[str]:
        said = []
        for group in groups:
            size = int(self.result.group_people[group])
            if size < SMALL_GROUP:
                who = self.names.one if size == 1 else self.names.many
                said.append(f"{self._group(group)} has only {size} {who}: one more or less would change much.")
        return said

    def _talkative(self, row: int, group: int) -> list[str]:
        """Whether most of what is counted in a cell is one person's."""
        result = self.result
        most, count, case = result.most[row, group], result.passages[row, group], result.most_case[row, group]
        what = "passages"
        if result.asked.measure == "words":
            own = np.where(result.counted.base[:, group], result.by_case[row], 0)
            case, what = int(own.argmax()), "words"
            most, count = own[case], result.count[row, group]
        if count < SMALL_GROUP or most <= count / 2:
            return []
        who = self.case_names[int(case)]
        return [f"{most:,} of those {count:,} {what} are by {who} alone: one talkative {self.names.one}, or a pattern?"]

    def _other_base(self, counted: Tally, row: int, high: int, low: int) -> list[str]:
        """Whether the difference stays clear when the other people are taken as the base."""
        asked: Comparison = self.result.asked
        everyone = asked.base != "everyone"
        base = base_of(self.snapshot, asked.groups, asked.scope, everyone)[:, [high, low]].sum(axis=0)
        count = counted.people[row, [high, low]]
        if (count > base).any() or not base.all():
            return []
        _, least, _ = intervals.newcombe_difference(count[0], base[0], count[1], base[1])
        if least > 0:
            return []
        other = f"all {self.names.many}" if everyone else f"{self.names.many} with material"
        return [f"It depends on the base: out of {other} of each group the interval reaches 0."]

    def _within_others(self, counted: Tally, row: int, high: int, low: int) -> list[str]:
        """Whether hardly anything of it is left within the groups of another fact."""
        says = counted.counts[row] > 0
        pair = counted.base[:, [high, low]]
        crude = association.odds_ratio((pair & says[:, None]).sum(axis=0)[None], pair.sum(axis=0))[0]
        said = []
        for other in self.others:
            layer = other.groups.labels[:, None] == np.arange(other.groups.count)[None, :]
            base = np.einsum("cl,cg->lg", layer.astype(np.int64), pair.astype(np.int64))
            count = np.einsum("cl,cg->lg", (layer & says[:, None]).astype(np.int64), pair.astype(np.int64))
            if ((base > 0).all(axis=1)).sum() < 2:
                continue
            odds = layers.common_odds_ratio(count[None], base)
            test = layers.cochran_mantel_haenszel(count[None], base)
            if np.isnan(odds.ratio[0]) or not test.p[0] > SURE or not _shrunk(crude, float(odds.ratio[0])):
                continue
            said.append(
                f"Hardly anything of it is left within the groups of {other.name} (common odds ratio "
                f"{odds.ratio[0]:.1f}, 95 % interval {odds.low[0]:.1f} to {odds.high[0]:.1f}): hold {other.name} apart to see."
            )
        return said


def _shrunk(crude: float, held_apart: float) -> bool:
    """Less than a third of the log odds ratio is left, and little in itself."""
    with np.errstate(divide="ignore"):
        left = abs(np.log(held_apart))
        return bool(left < abs(np.log(crude)) / 3 and left < np.log(LARGE))


def _counted(number: int, one: str, many: str = "") -> str:
    return f"{number:,} {one if number == 1 else many or one + 's'}"


def _points(gap: float) -> str:
    points = round(100 * gap)
    return f"{points} point{'' if points == 1 else 's'}"


def _p(p: float) -> str:
    return "under .001" if p < 0.001 else f"{p:.2g}".lstrip("0")


def _in_hundred(p: float) -> str:
    times = round(100 * p)
    return "fewer than 1 of 100 times" if times < 1 else f"{times} of 100 times"


def nothing_stands_out(result: Result, names: Names) -> str:
    """What an empty list means, so that it isn't read as “no difference”."""
    if result.asked.groups.count < 2 or not result.asked.rows:
        return "Choose a code and two groups or more: then there is something to compare."
    if not result.everyone:
        return "Nobody in these groups is in scope, so there is nothing to compare."
    if result.group_people.max() == 1:
        return f"Every group is one {names.one}: nothing is tested, so nothing stands out."
    if result.shared_people or result.asked.layers > 1:
        return "Read the columns of the table: who changed, and what holds within layers, stands there row by row."
    if result.asked.measure != "people":
        return f"Nothing here is larger than dealing the groups out to {names.many} anew would often give."
    if result.difference is None or not np.isfinite(result.difference.seen).any():
        return "No interval of a difference leaves 0 out. That isn’t a proof of likeness: the groups may be too small."
    seen = round(100 * float(np.nanmedian(result.difference.seen)))
    return f"No interval of a difference leaves 0 out. With groups of these sizes, differences under about {seen} points would often not show."
