"""What a table leaves out, in words that add up."""

from dataclasses import dataclass

from core.compare.counts import REASONS_LEFT_OUT
from core.compare.result import Result
from core.compare.told.sentence import Names
from core.language import say, worded
from core.text.missing import IN_WORDS


@dataclass(frozen=True)
class LeftOutPart:
    """So many ``passages`` for one ``reason`` (of ``REASONS_LEFT_OUT``), in words."""

    reason: str
    passages: int
    words: str


def left_out_parts(result: Result, names: Names) -> list[LeftOutPart]:
    """The sum that reconciles, the table itself first."""
    variable = (
        say("{variable} or {second}", variable=names.variable, second=names.second) if names.second else names.variable
    )
    whose = (
        say("in documents whose {variable}", variable=variable)
        if names.about.startswith("document")
        else say("by {many} whose {variable}", many=names.many, variable=variable)
    )
    words = {
        "in_table": say("in this table"),
        "interviewer_only": say("interviewer only"),
        "not_linked": say("not linked to a {one}", one=names.one),
        "other_only": say("by neither a participant nor an interviewer"),
        "unasked": say("by {many} who weren’t asked about it", many=names.many),
        "outside": _outside(names),
        **{reason: say("{whose} is {word}", whose=whose, word=worded(word)) for reason, word in IN_WORDS.items()},
    }
    overall = result.left_out.overall
    return [
        LeftOutPart(reason, int(overall[place]), words[reason])
        for place, reason in enumerate(REASONS_LEFT_OUT)
        if place == 0 or overall[place]
    ]


def _outside(names: Names) -> str:
    if names.about == "document":
        return say("in groups not shown")
    if names.about == "document_cohorts":
        return say("in documents in none of these cohorts")
    if names.about == "cohorts":
        return say("by {many} in none of these cohorts", many=names.many)
    return say("by {many} of groups not shown", many=names.many)


def left_out_line(result: Result, names: Names) -> str:
    """``Adds up: 263 passages in scope = 231 in this table + 17 interviewer only + …``"""
    parts = [f"{part.passages:,} {part.words}" for part in left_out_parts(result, names)]
    total = result.left_out.in_scope
    rated = say("rated ") if result.asked.measure == "rating" else ""
    return say(
        "Adds up: {total, number} {rated}{total, plural, one {passage} other {passages}} in scope = {parts}.",
        total=total,
        rated=rated,
        parts=" + ".join(parts),
    )
