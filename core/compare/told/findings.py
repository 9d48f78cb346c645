"""What stands out in a comparison: what is sure, and what is worth a look, in careful words, each with its cautions.

Never a claim of cause: only sizes, people, intervals, and what speaks against reading much into them.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.compare.confounding import HeldApart, Layering, held_apart
from core.compare.result import SMALL_GROUP, Result
from core.compare.sure import Family, widened
from core.compare.told.figures import counted, figure_in_words, group_in_words, odds, points, probability, rounded
from core.compare.told.sentence import Names, Told
from core.language import decimal, say, under_one
from core.statistics.layers import common_odds_ratio
from core.text.lists import listed

MOST = 5
MOST_ONE_VOICE = 2
LARGE = 2.0
"""A rate so many times another looks large, sure or not."""
Floats = npt.NDArray[np.float64]
Standing = Literal["sure", "look", "one_voice"]


@dataclass(frozen=True)
class Finding:
    """``row`` and ``groups`` (the higher one first; with layers, of the first layer) are positions in the comparison.
    ``standing``: ``sure``, worth a ``look``, or only a large number of passages by ``one_voice``. ``difference`` of the
    figures, ``low`` and ``high`` its interval, widened for having been picked; ``p`` adjusted; NaN where there is none."""

    row: int
    groups: tuple[int, int]
    standing: Standing
    text: str
    cautions: tuple[Told, ...]
    difference: float
    low: float
    high: float
    p: float


@dataclass(frozen=True)
class Picked:
    """A row and pair of the family; ``turned`` where the second group of the pair is the higher one."""

    row: int
    pair: int
    sure: bool
    turned: bool


def findings(
    family: Family,
    row_names: list[str],
    case_names: list[str],
    names: Names,
    others: list[Layering],
) -> list[Finding]:
    """At most five, sure ones first, one a row; then at most two rows whose passages are mostly one person's.

    ``row_names`` (rows,) and ``case_names`` (cases,) in the comparison's and the snapshot's order.
    """
    picked = picked_of(family)
    level = widened(len(picked), family.looked_at)
    teller = Teller(family, row_names, case_names, names, others, level)
    return [teller.told(one) for one in picked] + teller.one_voice({one.row for one in picked})


def picked_of(family: Family) -> list[Picked]:
    """The surest pair of each row that is sure or worth a look: sure ones first, those farther from 0 first."""
    gap, low, high = family.interval(0.95)
    shown = family.sure | family.look
    # How near to 0 the interval comes; without an interval the size alone orders, behind those that have one.
    nearest = np.where(~np.isnan(low), np.where(gap >= 0, low, -high), -np.inf)
    found = []
    for row in np.flatnonzero(shown.any(axis=1)).tolist():
        pairs = np.flatnonzero(shown[row])
        order = np.lexsort((-np.abs(gap[row, pairs]), -nearest[row, pairs], ~family.sure[row, pairs]))
        best = int(pairs[order[0]])
        key = (not family.sure[row, best], -nearest[row, best], -abs(gap[row, best]), row)
        found.append((key, Picked(row, best, bool(family.sure[row, best]), bool(gap[row, best] < 0))))
    return [one for _, one in sorted(found, key=lambda each: each[0])][:MOST]


@dataclass(frozen=True)
class Teller:
    """Puts what was picked into words; ``level`` is that of the intervals told."""

    family: Family
    row_names: list[str]
    case_names: list[str]
    names: Names
    others: list[Layering]
    level: float

    @property
    def result(self) -> Result:
        return self.family.result

    def told(self, picked: Picked) -> Finding:
        family, row = self.family, picked.row
        a, b = family.pairs[picked.pair]
        high, low = (b, a) if picked.turned else (a, b)
        gap, least, most = (part[row, picked.pair] for part in family.interval(self.level))
        if picked.turned:
            gap, least, most = -gap, -most, -least
        p = float(family.p[row, picked.pair])
        text = f"{self._size(row, high, low, float(gap), float(least), float(most))} {self._standing(picked, p)}"
        cautions = [
            *self._talkative(row, high),
            *self._small(row, high, low),
            *self._heard(row, bool(np.isfinite(least)), high, low),
            *self._other_facts(row, high, low),
        ]
        standing: Standing = "sure" if picked.sure else "look"
        return Finding(row, (high, low), standing, text, tuple(cautions), float(gap), float(least), float(most), p)

    def _size(self, row: int, high: int, low: int, gap: float, least: float, most: float) -> str:
        """The two figures, how far they lie apart, and the interval of that."""
        result, names = self.result, self.names
        if self.family.paired:
            own, at = result.of_row(row)
            there = own.counted.base[:, [high, low]].all(axis=1)
            assert own.counted.said is not None
            one, other = (own.counted.said[at, group][there] > 0 for group in (high, low))
            return say(
                "Of the {there} {many} in both, {one} mention it only in {group_in_words}, {other} only in {group_in_words2}: {points} more{between}.",
                there=there.sum(),
                many=names.many,
                one=int((one & ~other).sum()),
                group_in_words=group_in_words(result, high),
                other=int((other & ~one).sum()),
                group_in_words2=group_in_words(result, low),
                points=points(gap),
                between=self._between(least, most, 100, 0),
            )
        if result.asked.layers > 1:
            return self._size_within_layers(row, high, low, gap, least, most)
        both = f"{figure_in_words(result, names, row, high)}, {figure_in_words(result, names, row, low, again=True)}"
        if result.made.compared == "ratios" and not result.measure.share:
            return say(
                "{both}: {rounded} apart{between}.",
                both=both,
                rounded=rounded(gap),
                between=self._between(least, most, 1, 2),
            )
        return say(
            "{both}: {points} apart{between}.",
            both=both,
            points=points(gap),
            between=self._between(least, most, 100, 0),
        )

    def _size_within_layers(self, row: int, high: int, low: int, gap: float, least: float, most: float) -> str:
        result = self.result
        one, other = (result.asked.groups.names[group].split(" · ")[-1] for group in (high, low))
        where = say(
            "Within the groups of {second}, “{one}” lies above “{other}”",
            second=self.names.second,
            one=one,
            other=other,
        )
        apart = points(gap) if result.measure.share else rounded(gap)
        if result.made.compared != "shares":
            return say("{where}: {apart} on average.", where=where, apart=apart)
        says, base = (
            np.stack([part[row].reshape(result.asked.layers, -1)[:, group] for group in (high, low)], axis=1)
            for part in (result.count, result.base)
        )
        found = common_odds_ratio(says[None], base, self.level)
        return say(
            "{where}: {apart} on average, common odds ratio {odds}{picked}).",
            where=where,
            apart=apart,
            odds=odds(found),
            picked=self._picked(),
        )

    def _between(self, least: float, most: float, times: int, places: int) -> str:
        if not np.isfinite(least):
            return (
                say(" (too few {many} for an interval)", many=self.names.many)
                if self.result.made.compared == "ratios"
                else ""
            )
        ends = [f"{round(times * end, places) + 0.0:.{places}f}".replace("-", "−") for end in (least, most)]
        return say(" (interval {ends} to {ends2}{picked})", ends=ends[0], ends2=ends[1], picked=self._picked())

    def _picked(self) -> str:
        return (
            say(", widened for being picked out of {looked_at, number}", looked_at=self.family.looked_at)
            if self.level > 0.95
            else ", 95 %"
        )

    def _standing(self, picked: Picked, p: float) -> str:
        many = self.family.looked_at
        among = say("among all {many, number} differences shown ", many=many) if many > 1 else ""
        if picked.sure:
            return say(
                "Sure: {among}so clear a one comes up by chance in {probability} projects in which nothing differs.",
                among=among,
                probability=probability(p),
            )
        chance = self.family.by_chance
        about = say("fewer than one") if chance < 0.95 else say("about {chance}", chance=round(chance))
        adjusted = "" if np.isnan(p) else say(" (p {rounded_p} over all)", rounded_p=rounded_p(p))
        if many > 1:
            return say(
                "Worth a look, not sure{adjusted}: of {many, number} differences looked at, {about} would look like this by chance.",
                adjusted=adjusted,
                many=many,
                about=about,
            )
        return say("Worth a look, not sure{adjusted}.", adjusted=adjusted)

    def _talkative(self, row: int, group: int) -> list[Told]:
        result = self.result
        if not result.measure.amount or result.asked.layers > 1:
            return []
        passages, most, case = (
            int(part[row, group]) for part in (result.passages, result.most, result.most_case)
        )  # fmt: skip
        if passages < SMALL_GROUP or most <= passages / 2:
            return []
        who = self.case_names[case]
        text = say(
            "{most, number} of those {passages, number} passages are by {who} alone: one talkative {one}, or a pattern?",
            most=most,
            passages=passages,
            who=who,
            one=self.names.one,
        )
        return [Told("talkative", text)]

    def _small(self, row: int, *groups: int) -> list[Told]:
        result, names = self.result.of_row(row)[0], self.names
        said = []
        for group in groups:
            size = int(result.group_people[group])
            if size < SMALL_GROUP and result.asked.layers == 1:
                text = say(
                    "{group_in_words} has only {size}: one more or less would change much.",
                    group_in_words=group_in_words(result, group),
                    size=counted(size, names.one, names.many),
                )
                said.append(Told("small_group", text))
        return said

    def _heard(self, row: int, interval: bool, *groups: int) -> list[Told]:
        """People of these groups who spoke in one conversation with others; ``interval`` is told, and takes no heed of it."""
        result, names = self.result.of_row(row)[0], self.names
        wide = result.asked.groups.count // result.asked.layers
        there = [group + layer * wide for group in groups for layer in range(result.asked.layers)]
        member = result.counted.base[:, there].any(axis=1)
        heard, every = int((result.who_heard & member).sum()), int(member.sum())
        if not heard:
            return []
        singly = say(", but count singly in the interval") if interval else ""
        text = say(
            "{heard, number} of these {every, number} {many} heard each other in a conversation: they are dealt out together{singly}.",
            heard=heard,
            every=every,
            many=names.many,
            singly=singly,
        )
        return [Told("conversations", text)]

    def _other_facts(self, row: int, high: int, low: int) -> list[Told]:
        """What holding other facts apart leaves of it, where that is not simply the same."""
        result, at = self.result.of_row(row)
        if not result.flat or result.asked.layers > 1:
            return []
        found = held_apart(result, at, high, low, self.others)
        said = [
            Told(one.standing, self._held_apart(one)) for one in found if one.standing not in ("stays", "inseparable")
        ]
        bound = [one for one in found if one.standing == "inseparable"]
        if bound:
            facts = listed([one.fact for one in bound])
            text = say(
                "It can’t be told apart from {facts}: most of the one group have nobody like them in the other.",
                facts=facts,
            )
            said.append(Told("inseparable", text))
        return said

    def _held_apart(self, one: HeldApart) -> str:
        left = points(abs(one.difference))
        ratio = (
            ""
            if not np.isfinite([one.ratio, one.low, one.high]).all()
            else say(", common odds ratio {ratio}", ratio=decimal(one.ratio, 1))
        )
        among = (
            ""
            if one.people == one.all
            else say(
                " (among the {people, number} of {all, number} who have their like in both groups)",
                people=one.people,
                all=one.all,
            )
        )
        if one.standing == "reverses":
            return say(
                "Held apart by {fact} it turns round: {left} the other way{ratio}{among}.",
                fact=one.fact,
                left=left,
                ratio=ratio,
                among=among,
            )
        if one.standing == "vanishes":
            return say(
                "Hardly anything of it is left within the groups of {fact}: {left}{ratio}{among}. Hold {fact} apart to see.",
                fact=one.fact,
                left=left,
                ratio=ratio,
                among=among,
            )
        return say(
            "Within the groups of {fact} it shrinks to {left}{ratio}{among}.",
            fact=one.fact,
            left=left,
            ratio=ratio,
            among=among,
        )

    def one_voice(self, told: set[int]) -> list[Finding]:
        """Rows that look like a group's theme by passages, most of which are one person's: told so that the passages
        aren't taken for a difference."""
        result = self.result
        people, passages = result.group_people, result.passages
        if result.shared_people or result.asked.layers > 1 or result.measure.id == "rating" or len(people) < 2:
            return []
        each = np.where(people > 0, passages / np.maximum(people, 1), np.nan)
        found = []
        for row in range(len(each)):
            if row in told or np.isfinite(each[row]).sum() < 2:
                continue
            high, low = int(np.nanargmax(each[row])), int(np.nanargmin(each[row]))
            count, most = int(passages[row, high]), int(result.most[row, high])
            if count < SMALL_GROUP or most <= count / 2 or each[row, high] < LARGE * each[row, low]:
                continue
            total, who = int(result.total_passages[row]), self.case_names[int(result.most_case[row, high])]
            text = say(
                "{count, number} of {total, number} passages come from {group_in_words}, but {most, number} of those are by {who} alone: more likely one {one}’s theme than the group’s.",
                count=count,
                total=total,
                group_in_words=group_in_words(result, high),
                most=most,
                who=who,
                one=self.names.one,
            )
            nan = float("nan")
            found.append((-count, Finding(row, (high, low), "one_voice", text, (), nan, nan, nan, nan)))
        return [one for _, one in sorted(found, key=lambda each: each[0])][:MOST_ONE_VOICE]


def in_words(family: Family, row: int) -> list[str]:
    """Every pair of a row that is sure or worth a look: ``daily above never: sure (p .005)``."""
    groups, layers = family.result.asked.groups.names, family.result.asked.layers
    said = []
    for pair in np.flatnonzero(family.sure[row] | family.look[row]).tolist():
        a, b = family.pairs[pair]
        high, low = (b, a) if family.difference[row, pair] < 0 else (a, b)
        names = [groups[at].split(" · ")[-1] if layers > 1 else groups[at] for at in (high, low)]
        p = float(family.p[row, pair])
        standing = say("sure") if family.sure[row, pair] else say("worth a look, not sure")
        said.append(
            say("{names} above {names2}: {standing}", names=names[0], names2=names[1], standing=standing)
            + ("" if np.isnan(p) else say(" (p {rounded_p} over all)", rounded_p=rounded_p(p)))
        )
    return said


def rounded_p(p: float) -> str:
    if p < 0.001:
        return say("under {least}", least=under_one(".001"))
    return under_one(f"{p:.2g}".lstrip("0"))


def nothing_stands_out(family: Family, names: Names) -> str:
    """What an empty list means, so that it isn't read as “no difference”."""
    result = family.result
    if result.asked.groups.count < 2 or not result.asked.rows:
        return say("Choose a code and two groups or more: then there is something to compare.")
    if not result.everyone:
        return say("Nobody in these groups is in scope, so there is nothing to compare.")
    why = {
        "one_group": say("Choose two groups or more: then there is something to compare."),
        "single": say("No group has more than one {one}: nothing is tested, so nothing stands out.", one=names.one),
        "nobody": say("Nobody is in all of these groups, so there is nobody to compare with themselves."),
        "shared": say(
            "Some {many} are in more than one group: nothing is tested between them, so nothing is called sure.",
            many=names.many,
        ),
        "too_many": say("There are too many rows and groups to test together: choose fewer."),
        "few_arrangements": say(
            "So few {many} can change places that no difference could be sure: read the columns of the table.",
            many=names.many,
        ),
    }.get(family.why_not)
    if why:
        return why
    seen = result.difference.seen[np.isfinite(result.difference.seen)] if result.difference is not None else np.zeros(0)
    start = say(
        "Nothing is sure or worth a look among {looked_at, number} {looked_at, plural, one {difference} other {differences}}.",
        looked_at=family.looked_at,
    )
    if not len(seen):
        return say("{start} That isn’t a proof of likeness: the groups may be too small.", start=start)
    return say(
        "{start} With groups of these sizes, differences under about {median} points would often not show.",
        start=start,
        median=round(100 * float(np.median(seen))),
    )
