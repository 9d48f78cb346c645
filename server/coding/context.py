"""Passages in their context, by who said them."""

from typing import Any

import numpy as np
import numpy.typing as npt

from core.coding.places import Place, Region, Span, Stretch
from core.snapshot.masks import attribution_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.ranges import expand
from server.coding.models import Passage
from server.common.database import Moved
from server.gather.models import DocumentKind, Turn
from server.people.queries import facts_of
from server.projects.models import Membership

CONTEXT = 130
"""Code points of a turn shown on each side of a passage."""


def by_person(
    member: Membership, held: Snapshot, passages: npt.NDArray[np.int64], scope: Scope, limit: int
) -> dict[str, Any]:
    """Passages by who in scope said them, most first; those of nobody at the end."""
    said = held.attributions
    pair, at = expand(said.first[passages], said.first[passages + 1])
    kept = attribution_mask(held, scope)[at]
    passage, case = passages[pair[kept]], said.case[at[kept]].astype(np.int64)
    nobody = np.setdiff1d(passages, passage)
    passage, case = np.concatenate([passage, nobody]), np.concatenate([case, np.full(len(nobody), -1)])
    times = np.bincount(case + 1, minlength=1)
    order = np.lexsort((passage, case, -times[case + 1], case < 0))[:limit]
    shown = list(zip(passage[order].tolist(), case[order].tolist(), strict=True))
    about = facts_of(member, list({int(held.case_ids[one]) for _, one in shown if one >= 0}))
    words = passages_in_context(member, [int(held.passage_ids[one]) for one, _ in shown])
    persons: list[dict[str, Any]] = []
    for one, who in shown:
        key = int(held.case_ids[who]) if who >= 0 else None
        if not persons or persons[-1]["case"] != key:
            known = about.get(key or 0, {"identifier": "Nobody linked", "facts": []})
            persons.append({"case": key, **known, "total": int(times[who + 1]), "passages": []})
        persons[-1]["passages"].append(words[int(held.passage_ids[one])])
    return {
        "people": len(np.unique(case[case >= 0])),
        "passages": len(passages),
        "persons": persons,
        "more": max(0, len(passage) - limit),
    }


def passages_in_context(member: Membership, passage_ids: list[int]) -> dict[int, dict[str, Any]]:
    """Each passage's words with a little of its turn on both sides; ``Moved`` where one isn't there any more."""
    rows = Passage.objects.filter(pk__in=passage_ids, document__project=member.project_id).select_related("document")
    if len(rows) < len(set(passage_ids)):
        raise Moved
    by_document: dict[int, list[Turn]] = {}
    for turn in (
        Turn.objects.filter(document__in={row.document_id for row in rows}).order_by("number").select_related("speaker")
    ):
        by_document.setdefault(turn.document_id, []).append(turn)
    return {row.pk: _in_context(row, by_document.get(row.document_id, [])) for row in rows}


def _in_context(row: Passage, turns: list[Turn]) -> dict[str, Any]:
    place, text = row.place, row.document.text
    first, last = _touched(place, turns)
    shown = {"id": row.pk, "document": row.document_id, "title": row.document.title,
             "turn": first.number if first else 0, "speaker": first.speaker.label if first else "",
             "before": "", "after": "", "region": None, "span": None, "picture": ""}  # fmt: skip
    if isinstance(place, Stretch) and first and last:
        before, after = text[first.ink_start : row.start], text[row.end : last.ink_end]
        return shown | {"before": _tail(before), "text": row.said, "after": _head(after)}
    if isinstance(place, Span) and first and last:
        # What is heard in the span, though it may begin and end within a turn.
        heard = text[first.ink_start : last.ink_end]
        return shown | {"text": f"{row.said}: {_head(heard)}", "span": vars(place)}
    if isinstance(place, Region):
        paged = row.document.kind == DocumentKind.PDF
        picture = f"pages/{place.page}" if paged else f"media/picture/{place.page}"
        return shown | {"text": row.said, "region": vars(place), "picture": picture}
    return shown | {"text": row.said, "span": vars(place) if isinstance(place, Span) else None}


def _touched(place: Place, turns: list[Turn]) -> tuple[Turn | None, Turn | None]:
    """The first and the last turn that a passage overlaps."""
    if isinstance(place, Stretch):
        held = [turn for turn in turns if turn.end > place.start and turn.start < place.end]
    elif isinstance(place, Span):
        held = [
            turn for turn in turns
            if turn.begin is not None and turn.finish is not None
            and turn.begin < place.finish and turn.finish > place.begin
        ]  # fmt: skip
    else:
        held = turns[:1]
    return (held[0], held[-1]) if held else (None, None)


def _tail(text: str) -> str:
    return text if len(text) <= CONTEXT else "…" + text[-CONTEXT:].partition(" ")[2]


def _head(text: str) -> str:
    return text if len(text) <= CONTEXT else text[:CONTEXT].rpartition(" ")[0] + "…"
