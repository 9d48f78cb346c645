"""What conditions on passages found on a day, kept with their words, and what is different today."""

from typing import Any

import numpy as np

from core.language import say
from core.snapshot.masks import attribution_mask
from core.statistics.ranges import expand
from server.common.database import of_one_state
from server.common.errors import Refusal
from server.compare import searching
from server.compare.frozen import Pair, packed, told_apart, unpacked
from server.compare.models import FrozenResult
from server.compare.query_words import sentence_of_query
from server.projects.models import Membership
from server.scope.parts import scope_of, scope_words
from server.snapshots.queries import snapshot

Json = dict[str, Any]
_CELL = ("found", "")


def found_today(member: Membership, asked: Json) -> set[Pair]:
    """Each passage found with each person in scope who said it; 0 stands for nobody."""
    held = snapshot(member.project_id)
    scope = scope_of(member, held, asked.get("scope") or {})
    passages = np.flatnonzero(searching.passages_found(member, held, asked["blocks"], scope))
    said = held.attributions
    pair, at = expand(said.first[passages], said.first[passages + 1])
    kept = attribution_mask(held, scope)[at]
    spoken = held.passage_ids[passages[pair[kept]]].tolist()
    found = set(zip(spoken, held.case_ids[said.case[at[kept]]].tolist(), strict=True))
    return found | {(pk, 0) for pk in set(held.passage_ids[passages].tolist()) - set(spoken)}


def as_they_are(member: Membership, asked: Json) -> tuple[Json, str]:
    """Today's answer in short, and all that was found, packed."""
    pairs = found_today(member, asked)
    held = snapshot(member.project_id)
    said = asked.get("scope") or {}
    narrowed = scope_words(member, held, scope_of(member, held, said), said)
    sentence = sentence_of_query(member, asked["blocks"])
    result = {"sentence": f"{sentence[:-1]}; {narrowed}." if narrowed else sentence, **_sizes(pairs)}
    return result, packed({_CELL: pairs}, {})


def _sizes(pairs: set[Pair]) -> Json:
    return {"passages": len({one for one, _ in pairs}), "people": len({case for _, case in pairs if case})}


@of_one_state
def then_and_now(member: Membership, row: FrozenResult) -> Json:
    """What was found, and what came in and went out since; a sentence where it can't be asked again."""
    then, problem = unpacked(row), ""
    old = then.cells[_CELL]
    try:
        new = found_today(member, row.asked)
    except Refusal as refusal:
        new, problem = old, refusal.sentence
    told = told_apart(member, row, then, old, new, set(), say("the conditions don’t find it any more"))
    return {**row.result, "now": None if problem else _sizes(new), "problem": problem, **told}
