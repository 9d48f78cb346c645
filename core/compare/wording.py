"""A comparison in words: the sentence, what is left out, and cautions."""

from dataclasses import dataclass

from core.compare.comparison import ComparisonResult, Measure
from core.compare.counts import REASONS_LEFT_OUT
from core.people.missing import IN_WORDS


@dataclass(frozen=True)
class Names:
    """The project's own words: what one case is called, and several; the column's variable;
    the chosen rows in words (``8 codes under Getting across``)."""

    one: str
    many: str
    variable: str
    rows: str
    filtered: str = ""


@dataclass(frozen=True)
class Part:
    """A stretch of the sentence; ``slot`` names what choosing it changes, "" for plain words."""

    text: str
    slot: str = ""


def measure_words(measure: Measure, names: Names) -> str:
    return {
        "people": f"{names.many} who mention it",
        "passages": "passages",
        "rate": "passages per 1,000 words",
    }[measure]


def base_words(base: str, names: Names) -> str:
    return {
        "with_material": f"each group’s {names.many} with material",
        "everyone": f"all of each group’s {names.many}",
        "row": "each row’s passages",
        "column": "each group’s passages",
        "table": "all passages in the table",
        "words": "each group’s own words",
    }[base]


def sentence_parts(result: ComparisonResult, names: Names) -> list[Part]:
    """The sentence that builds the comparison and captions every form of it."""
    asked = result.asked
    taken = ", out of " if asked.measure == "rate" else ", as a share of "
    parts = [
        Part("Compare "),
        Part(names.rows, "rows"),
        Part(" across "),
        Part(names.variable, "variable"),
        Part(", counting "),
        Part(measure_words(asked.measure, names), "measure"),
        Part(taken),
        Part(base_words(asked.base, names), "base"),
        Part(". Branches "),
        Part("rolled up" if asked.roll_up else "not rolled up", "roll_up"),
    ]
    if names.filtered:
        parts += [Part("; "), Part(names.filtered)]
    return [*parts, Part(".")]


def sentence(result: ComparisonResult, names: Names) -> str:
    return "".join(part.text for part in sentence_parts(result, names))


def left_out_parts(result: ComparisonResult, names: Names) -> list[tuple[str, int, str]]:
    """The sum that reconciles: (reason, passages, words), the table itself first."""
    said = {
        "in_table": "in this table",
        "interviewer_only": "interviewer only",
        "not_linked": f"not linked to a {names.one}",
        "other_only": "by neither a participant nor an interviewer",
        "outside": f"by {names.many} of groups not shown",
        **{reason: f"by {names.many} whose {names.variable} is {word}" for reason, word in IN_WORDS.items()},
    }
    overall = result.left_out.overall
    return [
        (reason, int(overall[i]), said[reason]) for i, reason in enumerate(REASONS_LEFT_OUT) if i == 0 or overall[i]
    ]


def left_out_line(result: ComparisonResult, names: Names) -> str:
    """``Adds up: 263 passages in scope = 231 in this table + 17 interviewer only + …``"""
    parts = [f"{count:,} {words}" for _, count, words in left_out_parts(result, names)]
    total = result.left_out.in_scope
    return f"Adds up: {total:,} passage{'' if total == 1 else 's'} in scope = {' + '.join(parts)}."


def cautions(result: ComparisonResult, names: Names) -> list[str]:
    """What a careful reader should know before believing a figure."""
    asked, said = result.asked, []
    for group in result.small_groups:
        size = int(result.group_people[group])
        counted = f"only {size} {names.one if size == 1 else names.many}" if size else f"no {names.many}"
        said.append(f"{asked.groups.names[group]} has {counted} in the base: read its figures as single voices.")
    if asked.measure == "people" and len(asked.rows) > 1:
        said.append(f"Shares don’t add to 100: one {names.one} can mention several codes.")
    if asked.measure == "passages":
        shared = int((result.passages.sum(axis=1) > result.total_passages).sum())
        if shared:
            said.append(
                f"In {shared} row{'' if shared == 1 else 's'} a passage is by {names.many} of two groups: "
                "it counts in both, and once under Everyone."
            )
    if asked.measure != "people":
        said.append(
            f"Passages are never tested as if each were a {names.one}: the test deals the groups out to {names.many} anew."
        )
    if result.tests.made > 1:
        said.append(f"{result.tests.made} tests, one a row; p is shown corrected for that.")
    return said
