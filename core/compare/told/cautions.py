"""What a careful reader should know before believing a figure: each caution says of what kind it is."""

import numpy as np

from core.compare.asked import never_asked
from core.compare.result import SMALL_GROUP, Result
from core.compare.told.sentence import Names, Told
from core.language import decimal, say, under_one
from core.statistics import intervals, power
from core.statistics.whole import Whole


def cautions(result: Result, names: Names) -> list[Told]:
    """All that apply, what the table leaves out first, the number of tests last."""
    asked = result.asked
    said = [*_not_shown(names), *_of_small_groups(result, names), *_of_asked(result, names)]
    if asked.measure == "people" and len(asked.rows) > 1 and result.whole is None:
        said.append(
            Told("several_rows", say("Shares don’t add to 100: one {one} can mention several codes.", one=names.one))
        )
    said += _of_shared_passages(result, names)
    said += _of_shared_people(result, names)
    if asked.layers > 1:
        said.append(Told("layers", _of_layers(result, names)))
    said += _of_shuffles(result, names)
    said += _too_few(result, names)
    said += _of_conversations(result, names)
    said += _of_ratings(result)
    if result.whole is not None:
        said.append(Told("whole", _of_whole(result.whole, names)))
    said += _what_could_be_seen(result, names)
    if result.tests.made > 1:
        said.append(
            Told("tests", say("{made} tests, one a row; p is shown corrected for that.", made=result.tests.made))
        )
    return said


def _not_shown(names: Names) -> list[Told]:
    if not names.not_shown:
        return []
    return [
        Told(
            "not_shown",
            say(
                "{not_shown, number} more groups are not shown: choose which under “groups”.", not_shown=names.not_shown
            ),
        )
    ]


def _of_asked(result: Result, names: Names) -> list[Told]:
    """Where it decides anything who was asked: rows that nobody was asked about, figures of few who were, and how it is known."""
    asked = result.asked
    if asked.base != "asked" and asked.accord == "either":
        return []
    never, said = len(never_asked(result.snapshot, asked)), []
    if never:
        text = (
            say(
                "No question of the guide asks about {never, number} of these {rows, number} rows: they have no figure. Questions name their codes under Code, Guide.",
                never=never,
                rows=len(asked.rows),
            )
            if asked.base == "asked"
            else say(
                "No question of the guide asks about {never, number} of these {rows, number} rows: nothing of them can have been said when asked. Questions name their codes under Code, Guide.",
                never=never,
                rows=len(asked.rows),
            )
        )
        said.append(Told("never_asked", text))
    if asked.accord != "either":
        text = say(
            "When asked means soon after a turn that was matched to a question of the guide: what answers other words counts as said of their own accord. Documents in which no interviewer says anything, such as a survey’s, aren’t counted."
        )
        said.append(Told("accord_as_matched", text))
    if asked.base != "asked":
        return said
    few = int(((result.base > 0) & (result.base < SMALL_GROUP)).sum())
    if few:
        text = say(
            "{few, plural, one {In 1 figure} other {In # figures}} fewer than five {many} were asked: read {few, plural, one {it} other {them}} as single voices.",
            few=few,
            many=names.many,
        )
        said.append(Told("few_asked", text))
    text = say(
        "Who was asked is known from interviewers’ turns that were matched to the guide: whoever was asked in other words counts as not asked."
    )
    return [*said, Told("asked_as_matched", text)]


def _of_shared_passages(result: Result, names: Names) -> list[Told]:
    if result.asked.measure != "passages":
        return []
    shared = int((result.passages.sum(axis=1) > result.total_passages).sum())
    if not shared:
        return []
    text = say(
        "In {shared} {shared, plural, one {row} other {rows}} a passage is by {many} of two groups: it counts in both, and once under Everyone.",
        shared=shared,
        many=names.many,
    )
    return [Told("shared_passages", text)]


def _of_shuffles(result: Result, names: Names) -> list[Told]:
    if not result.measure.shuffled or result.shared_people:
        return []
    inside = say(", inside each group of {second}", second=names.second) if result.asked.layers > 1 else ""
    text = say(
        "{shuffled} are never tested as if each were a {one}: the test deals the groups out to {many} anew{inside}.",
        shuffled=say(result.measure.shuffled),
        one=names.one,
        many=names.many,
        inside=inside,
    )
    if result.made.compared == "parts":
        text += say(" It compares the shares that are shown, however large the groups are.")
    return [Told("shuffled", text)]


def _too_few(result: Result, names: Names) -> list[Told]:
    """Where a mean or a rate stands without an interval."""
    if result.made.compared != "ratios" or result.shared_people:
        return []
    filled = np.isfinite(result.figure) & (result.count > 0)
    bare = int((filled & ~np.isfinite(result.low)).sum())
    if not bare:
        return []
    figures = say("{bare, number} {bare, plural, one {figure has} other {figures have}}", bare=bare)
    text = say(
        "{figures} too few {many} for an interval: it takes {fewest_people} in the group, {fewest_mentions} of whom add to it, and not all alike.",
        figures=figures,
        many=names.many,
        fewest_people=intervals.FEWEST_PEOPLE,
        fewest_mentions=intervals.FEWEST_MENTIONS,
    )
    return [Told("no_interval", text)]


def _of_conversations(result: Result, names: Names) -> list[Told]:
    if not result.heard_each_other or not result.tests.made:
        return []
    heard = say(
        "{heard_each_other} of {everyone} {many} spoke in a conversation with others of this table",
        heard_each_other=result.heard_each_other,
        everyone=result.everyone,
        many=names.many,
    )
    if result.of_people:
        text = say(
            "{heard}: they heard each other, so the test of a row takes them for more independent than they are. What is called sure keeps them together.",
            heard=heard,
        )
    else:
        text = say(
            "{heard}: they heard each other, so they are kept together when the groups are dealt out.", heard=heard
        )
    return [Told("conversations", text)]


def _what_could_be_seen(result: Result, names: Names) -> list[Told]:
    """So that “no difference” isn't read into groups too small to show one. Rows that all or nobody mention tell nothing."""
    if result.difference is None or result.asked.difference is None:
        return []
    first, second = (int(result.group_people[group]) for group in result.asked.difference)
    seen = result.difference.seen[np.isfinite(result.difference.seen)]
    usual = float(np.median(seen)) if len(seen) else power.smallest_difference(0.5, first, second)
    start = say(
        "What could be seen: with {first, number} and {second, number} {many}",
        first=first,
        second=second,
        many=names.many,
    )
    if result.asked.base == "asked":
        start = say("What could be seen: among {many} who were asked", many=names.many)
    if np.isnan(usual):
        return [Told("could_be_seen", say("{start}, no difference would be sure to show.", start=start))]
    return [
        Told(
            "could_be_seen",
            say(
                "{start}, differences under about {usual} points would often be missed.",
                start=start,
                usual=round(100 * usual),
            ),
        )
    ]


def _of_small_groups(result: Result, names: Names) -> list[Told]:
    """One sentence a group while there are few, else one for all."""
    small, sizes = result.small_groups, result.group_people
    if len(small) > 1 and sizes.max() == 1:
        return [
            Told(
                "single",
                say("No group has more than one {one}: read what they say; there is nothing to test.", one=names.one),
            )
        ]
    if len(small) > 4:
        every = result.asked.groups.count
        text = say(
            "{small} of {every} groups have under five {many} in the base: read them as single voices.",
            small=len(small),
            every=every,
            many=names.many,
        )
        return [Told("small_group", text)]
    said = []
    for group in small:
        name, size = result.asked.groups.names[group], int(sizes[group])
        if size:
            counted = say("only {size} {which}", size=size, which=names.one if size == 1 else names.many)
            said.append(
                Told(
                    "small_group",
                    say(
                        "{name} has {counted} in the base: read its figures as single voices.",
                        name=name,
                        counted=counted,
                    ),
                )
            )
        else:
            said.append(
                Told(
                    "empty_group",
                    say("{name} has no {many} in the base, so it has no figures.", name=name, many=names.many),
                )
            )
    return said


def _of_shared_people(result: Result, names: Names) -> list[Told]:
    shared = result.shared_people
    if not shared:
        return []
    who = say(
        "{shared, plural, one {1 {one} is} other {{shared} {many} are}}", shared=shared, one=names.one, many=names.many
    )
    kinds = set(result.tests.kind)
    if kinds & {"changes", "occasions"}:
        text = say(
            "{who} in more than one group, so the groups aren’t independent: the test compares those who are in all of them with themselves. Shares are of everybody in a group.",
            who=who,
        )
    else:
        text = say(
            "{who} in more than one group: there is no test between groups that share {many}, and no interval of a difference.",
            who=who,
            many=names.many,
        )
    return [Told("shared_people", text)]


def _of_layers(result: Result, names: Names) -> str:
    test = " (Cochran–Mantel–Haenszel)" if result.of_people else ""
    text = say("The test looks for a difference within the groups of {second}{test}.", second=names.second, test=test)
    if result.within_layers is None:
        return text
    apart = int((result.within_layers.differ_holm < 0.05).sum())
    if not apart:
        return text
    rows = say("1 row") if apart == 1 else say("{apart} rows", apart=apart)
    return say(
        "{text} In {rows} the difference isn’t alike in all of them (Breslow–Day, corrected over the rows): read each by itself.",
        text=text,
        rows=rows,
    )


def _of_ratings(result: Result) -> list[Told]:
    if result.asked.measure != "rating":
        return []
    if not result.total_count.any():
        return [
            Told("no_ratings", say("None of these codes has rated codings: give a code a scale, and rate its codings."))
        ]
    if result.asked.roll_up:
        text = say(
            "Rolled up, a code’s ratings and those of the codes beneath it are put together, whatever their scales."
        )
        return [Told("scales", text)]
    return []


def _of_whole(whole: Whole, names: Names) -> str:
    """Only where everyone mentions exactly one row: then the table is one table in the usual sense."""
    test = (
        say("exact p {p} (simulated, ± {error})", p=decimal(whole.p, 4), error=decimal(2 * whole.error, 4))
        if whole.exact
        else say(
            "χ² {statistic}, df {degrees}, p {p}",
            statistic=decimal(whole.statistic, 2),
            degrees=whole.degrees,
            p=_p(whole.p),
        )
    )
    return say(
        "Each {one} mentions exactly one of these, so this is one table: {test}; Cramér’s V {v}, corrected {effect}.",
        one=names.one,
        test=test,
        v=decimal(whole.v, 3),
        effect=decimal(whole.effect, 3),
    )


def _p(p: float) -> str:
    return under_one("< .0001" if p < 0.0001 else f"{p:.4f}".lstrip("0"))
