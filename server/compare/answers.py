"""Answers that were given already: the table, what stands out, maps and exports of one question share one result."""

import json
from dataclasses import dataclass, replace
from typing import Any

from core.compare.by_part import compare, family_of
from core.compare.result import Result
from core.compare.sure import Family
from core.language import spoken
from server.common.memory import Kept
from server.compare.asking import Asked, ask
from server.projects.models import Membership
from server.snapshots.queries import snapshot

MOST_HELD = 24
"""Results kept in a process, over all projects."""
_NOT_ASKED = {"row", "group", "left_out", "limit", "format", "what", "least", "number", "rounded", "each"}
"""Parts of a request that choose what is shown of a result, not what it is."""
_held: Kept[tuple[int, str], "Answer"] = Kept(MOST_HELD)


@dataclass(frozen=True)
class Answer:
    """A question with the names it is told in, its result, and what of it is sure."""

    asked: Asked
    result: Result
    family: Family


def answer(member: Membership, said: dict[str, Any]) -> Answer:
    """The result for the project as it is: computed once a revision and question, part by part as it is asked for."""
    question = {name: part for name, part in said.items() if name not in _NOT_ASKED}
    key = (member.project_id, json.dumps([spoken().language, question], sort_keys=True, default=str))
    current = snapshot(member.project_id)
    found = _held.get(key)
    if found is not None and found.asked.snapshot is current:
        return replace(found, asked=replace(found.asked, member=member))
    asked = ask(member, said)
    result = compare(asked.snapshot, asked.comparison)
    found = Answer(asked, result, family_of(result))
    # An older revision's results would hold on to its snapshot.
    _held.drop(lambda one, held: one[0] == key[0] and held.asked.snapshot is not current)
    _held.put({key: found})
    return found
