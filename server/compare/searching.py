"""Conditions on passages from their JSON: checked against the project, and turned into what the core asks."""

from typing import Any

import numpy as np
import numpy.typing as npt
from django.db.models import QuerySet

from core.language import say
from core.passages.search import (
    Among,
    Block,
    Blocks,
    Coded,
    KeptPassages,
    Made,
    Placed,
    Said,
    Search,
    Within,
)
from core.snapshot.nearness import Nearness
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.tables import places
from server.coding.models import Passage
from server.common.errors import NotFound, Refusal
from server.compare.models import SavedQuery
from server.people import facts
from server.people import queries as people
from server.people.models import Subject
from server.projects.models import Membership, Project
from server.scope.axes import groups_of
from server.scope.parts import day_of
from server.snapshots.texts import texture_of

Bools = npt.NDArray[np.bool_]
Json = dict[str, Any]

_CONTAINS = """SELECT p.id FROM coding_passage p JOIN gather_document d ON d.id = p.document_id
    WHERE d.project_id = %s AND p.start < p."end"
    AND position(lower(%s) IN lower(substring(d.text FROM p.start + 1 FOR p."end" - p.start))) > 0"""


def saved_queries(member: Membership) -> QuerySet[SavedQuery]:
    visible = Project.objects.visible_to(member.account)
    return SavedQuery.objects.filter(project__in=visible, project=member.project_id).select_related("author")


def saved_query(member: Membership, query_id: int) -> SavedQuery:
    found = saved_queries(member).filter(pk=query_id).first()
    if found is None:
        raise NotFound(say("This query isn’t saved any more; somebody has let go of it."))
    return found


def passages_found(member: Membership, held: Snapshot, blocks: Json, scope: Scope | None = None) -> Bools:
    """Which passages the conditions keep, (passages,)."""
    with_texts = texture_of(member.project_id, held) if _asks_paragraphs(blocks) else None
    return Search(held, scope or Scope(), with_texts).found(block_of(member, held, blocks))


def counts_of(member: Membership, held: Snapshot, blocks: Json, scope: Scope) -> KeptPassages:
    """How many passages each part keeps, by itself and with those before it."""
    with_texts = texture_of(member.project_id, held) if _asks_paragraphs(blocks) else None
    return Search(held, scope, with_texts).kept(block_of(member, held, blocks))


def block_of(member: Membership, held: Snapshot, said: Json) -> Block:
    """One condition; the API has checked its shape."""
    if "parts" in said:
        parts = tuple(block_of(member, held, part) for part in said["parts"])
        return Blocks(said.get("join", "all"), parts, bool(said.get("negated")))
    return _MAKE[said["what"]](member, held, said)


def _codes(held: Snapshot, ids: list[int]) -> tuple[int, ...]:
    found = places(held.code_ids, np.asarray(ids, np.int64))
    if (found < 0).any():
        raise NotFound(say("A code that this query asks about isn’t in the codebook any more; choose another."))
    return tuple(found.tolist())


def _coded(member: Membership, held: Snapshot, said: Json) -> Block:
    return Coded(said.get("how", "any"), _codes(held, said["codes"]), said.get("beneath", True))


def _placed(member: Membership, held: Snapshot, said: Json) -> Block:
    nearness = Nearness(said.get("unit", "overlap"), float(said.get("within", 0)))
    return Placed(said["relation"], _codes(held, said["codes"]), said.get("beneath", True), nearness)


def _made(member: Membership, held: Snapshot, said: Json) -> Block:
    coders = places(held.coder_ids, np.asarray(said.get("coders") or [], np.int64))
    rating = said.get("rating")
    if said.get("coders") and not (coders >= 0).any():
        return Among(np.zeros(len(held.passage_ids), bool))
    return Made(
        tuple(one for one in coders.tolist() if one >= 0),
        (int(rating[0]), int(rating[1])) if rating else None,
        (day_of(said.get("since")), day_of(said.get("until"))),
    )


def _said(member: Membership, held: Snapshot, said: Json) -> Block:
    ids = held.case_ids.tolist()
    if said.get("cohort") is not None:
        return Said(np.asarray(facts.members_of(people.cohort(member, said["cohort"], Subject.CASE), ids), bool))
    if said.get("cases") is not None:
        return Said(np.isin(held.case_ids, np.asarray(said["cases"], np.int64)))
    return Said(facts.fulfilling(member.project_id, facts.condition_of(said["condition"]), ids))


def _within(member: Membership, held: Snapshot, said: Json) -> Block:
    if said.get("documents") is not None:
        return Within(np.isin(held.document_ids, np.asarray(said["documents"], np.int64)))
    variable = people.variable(member, said["variable"], None)
    if variable.of != Subject.DOCUMENT:
        raise Refusal(
            say(
                "“{name}” is a fact about {many}, not about documents.",
                name=variable.name,
                many=member.project.case_many,
            )
        )
    groups = groups_of(held, variable).groups
    wanted = [groups.names.index(name) for name in said.get("groups", []) if name in groups.names]
    return Within(np.isin(groups.labels, wanted))


def _text(member: Membership, held: Snapshot, said: Json) -> Block:
    rows = Passage.objects.raw(_CONTAINS, [member.project_id, said["text"]])
    return Among(np.isin(held.passage_ids, np.asarray([row.pk for row in rows], np.int64)))


def _memo(member: Membership, held: Snapshot, said: Json) -> Block:
    memos = member.project.memos.filter(passage__isnull=False)
    if said.get("text"):
        memos = memos.filter(text__icontains=said["text"])
    ids = list(memos.values_list("passage_id", flat=True))
    return Among(np.isin(held.passage_ids, np.asarray(ids, np.int64)))


_MAKE = {
    "coded": _coded,
    "placed": _placed,
    "made": _made,
    "said": _said,
    "within": _within,
    "text": _text,
    "memo": _memo,
}


def _asks_paragraphs(said: Json) -> bool:
    if "parts" in said:
        return any(_asks_paragraphs(part) for part in said["parts"])
    return said.get("unit") == "paragraphs"


def first_to_empty(kept: KeptPassages, said: Json) -> list[int] | None:
    """The way to the condition that left nothing: places among parts, from the outside in; None while some are left."""
    if kept.count:
        return None
    for place, part in enumerate(kept.parts):
        if said.get("join", "all") == "all" and not part.so_far:
            return [place] + ((first_to_empty(part, said["parts"][place]) or []) if not part.count else [])
    return []
