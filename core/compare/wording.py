"""A comparison in words: the sentence, what is left out, and cautions."""

from dataclasses import dataclass

import numpy as np

from core.compare.comparison import Comparison, ComparisonResult, Measure
from core.compare.counts import REASONS_LEFT_OUT
from core.compare.whole import Whole
from core.text.missing import IN_WORDS


@dataclass(frozen=True)
class Names:
    """The project's own words: what one case is called, and several; the column's variable;
    the chosen rows in words (``8 codes under Getting across``). ``second`` is the variable nested in the groups or
    making the layers; ``about`` whose fact the column's variable is, ``case`` or ``document``; ``not_shown`` how many
    groups a table leaves out because there are too many."""

    one: str
    many: str
    variable: str
    rows: str
    filtered: str = ""
    second: str = ""
    about: str = "case"
    not_shown: int = 0


@dataclass(frozen=True)
class Part:
    """A stretch of the sentence; ``slot`` names what choosing it changes, "" for plain words."""

    text: str
    slot: str = ""


def measure_words(measure: Measure, names: Names) -> str:
    return {
        "people": f"{names.many} who mention it",
        "passages": "passages",
        "per_person": f"passages a {names.one}",
        "words": "words about it",
        "rate": "passages per 1,000 words",
        "rating": "mean rating",
    }[measure]


def base_words(base: str, names: Names, measure: Measure = "people") -> str:
    unit = "words" if measure == "words" else "passages"
    return {
        "with_material": f"each group’s {names.many} with material",
        "everyone": f"all of each group’s {names.many}",
        "row": f"each row’s {unit}",
        "column": f"each group’s {unit}" + (" about any row" if measure == "words" else ""),
        "table": "all passages in the table",
        "talk": "all words of each group",
        "words": "each group’s own words",
        "ratings": "each group’s rated codings",
    }[base]


def sentence_parts(result: ComparisonResult, names: Names) -> list[Part]:
    """The sentence that builds the comparison and captions every form of it."""
    asked = result.asked
    taken = {"rate": ", out of ", "per_person": ", over ", "rating": ", over "}.get(asked.measure, ", as a share of ")
    parts = [
        Part("Compare "),
        Part(names.rows, "rows"),
        Part(" across "),
        Part(names.variable, "variable"),
        *_second_parts(asked, names),
        Part(", counting "),
        Part(measure_words(asked.measure, names), "measure"),
        Part(taken),
        Part(base_words(asked.base, names, asked.measure), "base"),
        Part(". Branches "),
        Part("rolled up" if asked.roll_up else "not rolled up", "roll_up"),
    ]
    if names.filtered:
        parts += [Part("; "), Part(names.filtered)]
    return [*parts, Part(".")]


def _second_parts(asked: Comparison, names: Names) -> list[Part]:
    if not names.second:
        return []
    return [Part(", held apart by " if asked.layers > 1 else " and, within each, "), Part(names.second, "second")]


def sentence(result: ComparisonResult, names: Names) -> str:
    return "".join(part.text for part in sentence_parts(result, names))


def left_out_parts(result: ComparisonResult, names: Names) -> list[tuple[str, int, str]]:
    """The sum that reconciles: (reason, passages, words), the table itself first."""
    variable = f"{names.variable} or {names.second}" if names.second else names.variable
    whose = f"in documents whose {variable}" if names.about == "document" else f"by {names.many} whose {variable}"
    said = {
        "in_table": "in this table",
        "interviewer_only": "interviewer only",
        "not_linked": f"not linked to a {names.one}",
        "other_only": "by neither a participant nor an interviewer",
        "outside": "in groups not shown" if names.about == "document" else f"by {names.many} of groups not shown",
        **{reason: f"{whose} is {word}" for reason, word in IN_WORDS.items()},
    }
    overall = result.left_out.overall
    return [
        (reason, int(overall[i]), said[reason]) for i, reason in enumerate(REASONS_LEFT_OUT) if i == 0 or overall[i]
    ]


def left_out_line(result: ComparisonResult, names: Names) -> str:
    """``Adds up: 263 passages in scope = 231 in this table + 17 interviewer only + …``"""
    parts = [f"{count:,} {words}" for _, count, words in left_out_parts(result, names)]
    total = result.left_out.in_scope
    rated = "rated " if result.asked.measure == "rating" else ""
    return f"Adds up: {total:,} {rated}passage{'' if total == 1 else 's'} in scope = {' + '.join(parts)}."


def cautions(result: ComparisonResult, names: Names) -> list[str]:
    """What a careful reader should know before believing a figure."""
    asked, said = result.asked, []
    if names.not_shown:
        said.append(f"{names.not_shown:,} more groups are not shown: choose which under “groups”.")
    said += _of_small_groups(result, names)
    if asked.measure == "people" and len(asked.rows) > 1:
        said.append(f"Shares don’t add to 100: one {names.one} can mention several codes.")
    if asked.measure == "passages":
        shared = int((result.passages.sum(axis=1) > result.total_passages).sum())
        if shared:
            said.append(
                f"In {shared} row{'' if shared == 1 else 's'} a passage is by {names.many} of two groups: "
                "it counts in both, and once under Everyone."
            )
    said += _of_shared_people(result, names)
    if asked.layers > 1 and asked.measure == "people":
        said.append(_of_layers(result, names))
    if asked.measure != "people" and not result.shared_people:
        what = {"words": "Words", "rating": "Ratings"}.get(asked.measure, "Passages")
        said.append(
            f"{what} are never tested as if each were a {names.one}: the test deals the groups out to {names.many} anew."
        )
    if result.heard_each_other and result.tests.made:
        said.append(
            f"{result.heard_each_other} of {result.everyone} {names.many} spoke in a conversation with others of this table: "
            f"they heard each other, so a test takes them for more independent than they are."
        )
    said += _of_ratings(result)
    if result.whole is not None:
        said.append(_of_whole(result.whole, names))
    said += _what_could_be_seen(result, names)
    if result.tests.made > 1:
        said.append(f"{result.tests.made} tests, one a row; p is shown corrected for that.")
    return said


def _what_could_be_seen(result: ComparisonResult, names: Names) -> list[str]:
    """So that “no difference” isn't read into groups too small to show one."""
    if result.difference is None or result.asked.difference is None:
        return []
    sizes = " and ".join(f"{int(result.group_people[group]):,}" for group in result.asked.difference)
    seen = result.difference.seen[np.isfinite(result.difference.seen)]
    if not len(seen):
        return [f"What could be seen: with {sizes} {names.many}, no difference would be sure to show."]
    points = round(100 * float(np.median(seen)))
    return [
        f"What could be seen: with {sizes} {names.many}, differences under about {points} points would often be missed."
    ]


def _of_small_groups(result: ComparisonResult, names: Names) -> list[str]:
    """One sentence a group while there are few, else one for all."""
    small, sizes = result.small_groups, result.group_people
    if len(small) > 1 and sizes.max() == 1:
        return [f"Every group is one {names.one}: read what they say; there is nothing to test."]
    if len(small) > 4:
        every = result.asked.groups.count
        return [f"{len(small)} of {every} groups have under five {names.many} in the base: read them as single voices."]
    said = []
    for group in small:
        name, size = result.asked.groups.names[group], int(sizes[group])
        if size:
            counted = f"only {size} {names.one if size == 1 else names.many}"
            said.append(f"{name} has {counted} in the base: read its figures as single voices.")
        else:
            said.append(f"{name} has no {names.many} in the base, so it has no figures.")
    return said


def _of_shared_people(result: ComparisonResult, names: Names) -> list[str]:
    shared = result.shared_people
    if not shared:
        return []
    who = f"1 {names.one} is" if shared == 1 else f"{shared} {names.many} are"
    kinds = set(result.tests.kind)
    if kinds & {"changes", "occasions"}:
        return [
            f"{who} in more than one group, so the groups aren’t independent: the test compares those who are in all of "
            "them with themselves. Shares are of everybody in a group."
        ]
    return [
        f"{who} in more than one group: there is no test between groups that share {names.many}, and no interval of a "
        "difference."
    ]


def _of_layers(result: ComparisonResult, names: Names) -> str:
    text = f"The test looks for a difference within the groups of {names.second} (Cochran–Mantel–Haenszel)."
    if result.within_layers is None:
        return text
    apart = int((result.within_layers.differ_p < 0.05).sum())
    if not apart:
        return text
    rows = "1 row" if apart == 1 else f"{apart} rows"
    return f"{text} In {rows} the difference isn’t alike in all of them (Breslow–Day): read each by itself."


def _of_ratings(result: ComparisonResult) -> list[str]:
    if result.asked.measure != "rating":
        return []
    if not result.total_count.any():
        return ["None of these codes has rated codings: give a code a scale, and rate its codings."]
    if result.asked.roll_up:
        return [
            "Rolled up, a code’s ratings and those of the codes beneath it are put together, whatever their scales."
        ]
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
