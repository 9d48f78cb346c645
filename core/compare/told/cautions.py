"""What a careful reader should know before believing a figure: each caution says of what kind it is."""

import numpy as np

from core.compare.result import Result
from core.compare.told.sentence import Names, Told
from core.statistics import intervals, power
from core.statistics.whole import Whole


def cautions(result: Result, names: Names) -> list[Told]:
    """All that apply, what the table leaves out first, the number of tests last."""
    asked = result.asked
    said = [*_not_shown(names), *_of_small_groups(result, names)]
    if asked.measure == "people" and len(asked.rows) > 1 and result.whole is None:
        said.append(Told("several_rows", f"Shares don’t add to 100: one {names.one} can mention several codes."))
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
        said.append(Told("tests", f"{result.tests.made} tests, one a row; p is shown corrected for that."))
    return said


def _not_shown(names: Names) -> list[Told]:
    if not names.not_shown:
        return []
    return [Told("not_shown", f"{names.not_shown:,} more groups are not shown: choose which under “groups”.")]


def _of_shared_passages(result: Result, names: Names) -> list[Told]:
    if result.asked.measure != "passages":
        return []
    shared = int((result.passages.sum(axis=1) > result.total_passages).sum())
    if not shared:
        return []
    text = (
        f"In {shared} row{'' if shared == 1 else 's'} a passage is by {names.many} of two groups: "
        "it counts in both, and once under Everyone."
    )
    return [Told("shared_passages", text)]


def _of_shuffles(result: Result, names: Names) -> list[Told]:
    if not result.measure.shuffled or result.shared_people:
        return []
    inside = f", inside each group of {names.second}" if result.asked.layers > 1 else ""
    text = (
        f"{result.measure.shuffled} are never tested as if each were a {names.one}: the test deals the groups out to "
        f"{names.many} anew{inside}."
    )
    if result.made.compared == "parts":
        text += " It compares the shares that are shown, however large the groups are."
    return [Told("shuffled", text)]


def _too_few(result: Result, names: Names) -> list[Told]:
    """Where a mean or a rate stands without an interval."""
    if result.made.compared != "ratios" or result.shared_people:
        return []
    filled = np.isfinite(result.figure) & (result.count > 0)
    bare = int((filled & ~np.isfinite(result.low)).sum())
    if not bare:
        return []
    figures = f"{bare:,} figure{' has' if bare == 1 else 's have'}"
    text = (
        f"{figures} too few {names.many} for an interval: it takes {intervals.FEWEST_PEOPLE} in the group, "
        f"{intervals.FEWEST_MENTIONS} of whom add to it, and not all alike."
    )
    return [Told("no_interval", text)]


def _of_conversations(result: Result, names: Names) -> list[Told]:
    if not result.heard_each_other or not result.tests.made:
        return []
    heard = (
        f"{result.heard_each_other} of {result.everyone} {names.many} spoke in a conversation with others of this table"
    )
    if result.of_people:
        text = f"{heard}: they heard each other, so the test of a row takes them for more independent than they are. What is called sure keeps them together."
    else:
        text = f"{heard}: they heard each other, so they are kept together when the groups are dealt out."
    return [Told("conversations", text)]


def _what_could_be_seen(result: Result, names: Names) -> list[Told]:
    """So that “no difference” isn't read into groups too small to show one. Rows that all or nobody mention tell nothing."""
    if result.difference is None or result.asked.difference is None:
        return []
    first, second = (int(result.group_people[group]) for group in result.asked.difference)
    seen = result.difference.seen[np.isfinite(result.difference.seen)]
    usual = float(np.median(seen)) if len(seen) else power.smallest_difference(0.5, first, second)
    start = f"What could be seen: with {first:,} and {second:,} {names.many}"
    if np.isnan(usual):
        return [Told("could_be_seen", f"{start}, no difference would be sure to show.")]
    return [
        Told("could_be_seen", f"{start}, differences under about {round(100 * usual)} points would often be missed.")
    ]


def _of_small_groups(result: Result, names: Names) -> list[Told]:
    """One sentence a group while there are few, else one for all."""
    small, sizes = result.small_groups, result.group_people
    if len(small) > 1 and sizes.max() == 1:
        return [
            Told("single", f"No group has more than one {names.one}: read what they say; there is nothing to test.")
        ]
    if len(small) > 4:
        every = result.asked.groups.count
        text = f"{len(small)} of {every} groups have under five {names.many} in the base: read them as single voices."
        return [Told("small_group", text)]
    said = []
    for group in small:
        name, size = result.asked.groups.names[group], int(sizes[group])
        if size:
            counted = f"only {size} {names.one if size == 1 else names.many}"
            said.append(Told("small_group", f"{name} has {counted} in the base: read its figures as single voices."))
        else:
            said.append(Told("empty_group", f"{name} has no {names.many} in the base, so it has no figures."))
    return said


def _of_shared_people(result: Result, names: Names) -> list[Told]:
    shared = result.shared_people
    if not shared:
        return []
    who = f"1 {names.one} is" if shared == 1 else f"{shared} {names.many} are"
    kinds = set(result.tests.kind)
    if kinds & {"changes", "occasions"}:
        text = (
            f"{who} in more than one group, so the groups aren’t independent: the test compares those who are in all of "
            "them with themselves. Shares are of everybody in a group."
        )
    else:
        text = (
            f"{who} in more than one group: there is no test between groups that share {names.many}, and no interval of a "
            "difference."
        )
    return [Told("shared_people", text)]


def _of_layers(result: Result, names: Names) -> str:
    test = " (Cochran–Mantel–Haenszel)" if result.of_people else ""
    text = f"The test looks for a difference within the groups of {names.second}{test}."
    if result.within_layers is None:
        return text
    apart = int((result.within_layers.differ_holm < 0.05).sum())
    if not apart:
        return text
    rows = "1 row" if apart == 1 else f"{apart} rows"
    return f"{text} In {rows} the difference isn’t alike in all of them (Breslow–Day, corrected over the rows): read each by itself."


def _of_ratings(result: Result) -> list[Told]:
    if result.asked.measure != "rating":
        return []
    if not result.total_count.any():
        return [Told("no_ratings", "None of these codes has rated codings: give a code a scale, and rate its codings.")]
    if result.asked.roll_up:
        text = "Rolled up, a code’s ratings and those of the codes beneath it are put together, whatever their scales."
        return [Told("scales", text)]
    return []


def _of_whole(whole: Whole, names: Names) -> str:
    """Only where everyone mentions exactly one row: then the table is one table in the usual sense."""
    test = (
        f"exact p {whole.p:.4f} (simulated, ± {2 * whole.error:.4f})"
        if whole.exact
        else f"χ² {whole.statistic:.2f}, df {whole.degrees}, p {_p(whole.p)}"
    )
    return (
        f"Each {names.one} mentions exactly one of these, so this is one table: {test}; Cramér’s V {whole.v:.3f}, "
        f"corrected {whole.effect:.3f}."
    )


def _p(p: float) -> str:
    return "< .0001" if p < 0.0001 else f"{p:.4f}".lstrip("0")
