"""What a table leaves out, in words that add up."""

from dataclasses import dataclass

from core.compare.counts import REASONS_LEFT_OUT
from core.compare.result import Result
from core.compare.told.sentence import Names
from core.text.missing import IN_WORDS


@dataclass(frozen=True)
class LeftOutPart:
    """So many ``passages`` for one ``reason`` (of ``REASONS_LEFT_OUT``), in words."""

    reason: str
    passages: int
    words: str


def left_out_parts(result: Result, names: Names) -> list[LeftOutPart]:
    """The sum that reconciles, the table itself first."""
    variable = f"{names.variable} or {names.second}" if names.second else names.variable
    whose = f"in documents whose {variable}" if names.about == "document" else f"by {names.many} whose {variable}"
    words = {
        "in_table": "in this table",
        "interviewer_only": "interviewer only",
        "not_linked": f"not linked to a {names.one}",
        "other_only": "by neither a participant nor an interviewer",
        "outside": _outside(names),
        **{reason: f"{whose} is {word}" for reason, word in IN_WORDS.items()},
    }
    overall = result.left_out.overall
    return [
        LeftOutPart(reason, int(overall[place]), words[reason])
        for place, reason in enumerate(REASONS_LEFT_OUT)
        if place == 0 or overall[place]
    ]


def _outside(names: Names) -> str:
    if names.about == "document":
        return "in groups not shown"
    if names.about == "cohorts":
        return f"by {names.many} in none of these cohorts"
    return f"by {names.many} of groups not shown"


def left_out_line(result: Result, names: Names) -> str:
    """``Adds up: 263 passages in scope = 231 in this table + 17 interviewer only + …``"""
    parts = [f"{part.passages:,} {part.words}" for part in left_out_parts(result, names)]
    total = result.left_out.in_scope
    rated = "rated " if result.asked.measure == "rating" else ""
    return f"Adds up: {total:,} {rated}passage{'' if total == 1 else 's'} in scope = {' + '.join(parts)}."
