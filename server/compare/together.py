"""Codes with codes: how often they meet, whole and by group, and the meetings behind one number."""

from typing import Any

import numpy as np

from core.compare.groups import by_talk
from core.language import message, say
from core.passages.together import Meetings, Together, by_group, meetings, met
from core.snapshot.lineage import lineage
from core.snapshot.nearness import Nearness, TooNear
from core.snapshot.tables import places
from server.coding.context import passages_in_context
from server.common.database import of_one_state
from server.common.errors import NotFound, Refusal
from server.compare.asking import codes_of
from server.people.queries import case_names
from server.projects.models import Membership
from server.scope.axes import Columns, columns_of
from server.scope.parts import scope_of
from server.snapshots.queries import snapshot
from server.snapshots.texts import texture_of

MOST_CODES, MOST_GROUPS = 400, 12
MEASURES = ["people", "passages", "documents", "pairs"]
Json = dict[str, Any]


def _asked(member: Membership, said: Json) -> tuple[Meetings, Columns | None]:
    held = snapshot(member.project_id)
    chosen = places(held.code_ids, np.asarray(said["codes"], np.int64))
    if (chosen < 0).any():
        raise NotFound(say("A code of this table isn’t in the codebook any more; choose the codes again."))
    if len(chosen) > MOST_CODES:
        raise Refusal(say("Choose at most {most_codes} codes.", most_codes=MOST_CODES))
    nearness = Nearness(said.get("unit", "overlap"), float(said.get("within", 0)))
    texture = texture_of(member.project_id, held) if nearness.unit == "paragraphs" else None
    scope = scope_of(member, held, said.get("scope") or {})
    found = meetings(held, chosen.astype(np.int64), scope, nearness, said.get("roll_up", False), texture)
    columns = columns_of(member, held, said) if said.get("variable") else None
    if columns is not None and columns.groups.count > MOST_GROUPS:
        raise Refusal(say("Side by side fit at most {most_groups} groups: choose fewer.", most_groups=MOST_GROUPS))
    return found, columns


def together(member: Membership, said: Json) -> Json:
    """The table of codes with codes; by group too where a variable is given."""
    found, columns = _asked(member, said)
    measure = said.get("measure", "people")
    try:
        whole = _table(found.among(), measure)
        groups = [] if columns is None else [_table(table, measure) for table in by_group(found, columns.groups)]
    except TooNear as many:
        raise Refusal(str(many)) from many
    names = codes_of(member, found.snapshot)
    return {
        "revision": found.snapshot.revision,
        "codes": [{"id": pk, "name": names[pk].name, "colour": names[pk].colour} for pk in said["codes"]],
        "measure": measure,
        "lineage": _related(found, said),
        "whole": whole,
        "groups": [] if columns is None else [{**columns.about(place), **table} for place, table in enumerate(groups)],
        "variable": "" if columns is None else columns.first.name,
        "sentence": _sentence(member, said, names, columns),
        "passages_left_out": _left_out(found),
    }


def _table(table: Together, measure: str) -> Json:
    likeness = table.likeness("passages" if measure == "pairs" else measure)
    return {
        "counts": getattr(table, measure).tolist(),
        "likeness": [[None if np.isnan(one) else round(float(one), 4) for one in row] for row in likeness],
    }


def _related(found: Meetings, said: Json) -> list[list[int]]:
    """Pairs of places one of which lies beneath the other: rolled up, they meet by themselves."""
    if not said.get("roll_up", False):
        return []
    below, above = lineage(found.snapshot.code_parent)
    at = {int(code): place for place, code in enumerate(found.chosen)}
    return [
        [at[a], at[b]] for a, b in zip(below.tolist(), above.tolist(), strict=True) if a != b and a in at and b in at
    ]


def _left_out(found: Meetings) -> int:
    """Passages of these codes that nobody in scope said: they can't meet anything here."""
    coded = np.unique(found.rows.pairs_of(found.chosen)[1])
    spoken = np.zeros(len(found.snapshot.passage_ids), bool)
    spoken[found.snapshot.attributions.passage[found.said]] = True
    return int((~spoken[coded]).sum())


NEAR = {
    "overlap": message("on the same words"),
    "turns": message("within {within, plural, one {# turn} other {# turns}} of each other"),
    "paragraphs": message("within {within, plural, one {# paragraph} other {# paragraphs}} of each other"),
    "seconds": message("within {within, plural, one {# second} other {# seconds}} of each other"),
}
SAME = {
    "turns": message("in the same turn"),
    "paragraphs": message("in the same paragraph"),
    "seconds": message("at the same time"),
}


def near_words(said: Json) -> str:
    unit, within = said.get("unit", "overlap"), said.get("within", 0)
    if unit != "overlap" and not within:
        return say(SAME[unit])
    return say(NEAR[unit], within=int(within) if within == int(within) else within)


def _sentence(member: Membership, said: Json, names: Any, columns: Columns | None) -> str:
    many = member.project.case_many
    counted = {
        "people": say("{many} who say both", many=many),
        "passages": say("passages of the row’s code that meet one of the column’s"),
        "documents": say("documents that hold both"),
        "pairs": say("pairs of passages"),
    }[said.get("measure", "people")]
    across = "" if columns is None else say(", by {name}", name=columns.first.name)
    return say(
        "{said} codes with each other, {near_words}, counting {counted}{across}.",
        said=len(said["codes"]),
        near_words=near_words(said),
        counted=counted,
        across=across,
    )


@of_one_state
def meetings_behind(member: Membership, said: Json) -> Json:
    """The two passages of each meeting in one cell, in their context."""
    found, columns = _asked(member, said)
    limit = said.get("limit") or 60
    keep = None
    if columns is not None and said.get("group") is not None:
        shared = by_talk(columns.groups, found.snapshot.talks)
        if said["group"] >= columns.groups.count:
            raise NotFound(say("There is no such group in this table."))
        keep = shared.member[found.snapshot.talks.of_attribution, said["group"]]
    size = len(found.chosen)
    if max(said["row"], said["column"]) >= size:
        raise NotFound(say("There is no such cell in this table."))
    try:
        of_people = said.get("measure", "people") == "people"
        pairs = met(found, said["row"], said["column"], keep, of_people)
    except TooNear as many:
        raise Refusal(str(many)) from many
    ids, held = found.snapshot.passage_ids, found.snapshot
    shown = pairs[:limit]
    words = passages_in_context(member, list({int(ids[one]) for pair in shown for one in (pair.first, pair.second)}))
    names, said_by = case_names(member, found.snapshot), held.attributions

    def quoted(passage: int) -> Json:
        cases = said_by.case[said_by.first[passage] : said_by.first[passage + 1]]
        return {**words[int(ids[passage])], "people": [names.get(int(held.case_ids[case]), "?") for case in cases]}

    def meeting(first: Json, second: Json) -> Json:
        """Where people are counted, each meeting is of those who said both."""
        if of_people:
            both = [name for name in first["people"] if name in second["people"]]
            first, second = {**first, "people": both}, {**second, "people": both}
        return {"first": first, "second": second}

    return {
        "total": len(pairs),
        "meetings": [meeting(quoted(pair.first), quoted(pair.second)) for pair in shown],
        "more": max(0, len(pairs) - limit),
    }
