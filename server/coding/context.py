"""Passages in their context, by who said them."""

from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt
from django.db import connection

from core.coding.places import Region, Span, Stretch
from core.language import say
from core.snapshot.masks import attribution_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.ranges import expand
from server.coding.models import Passage
from server.common.database import Moved
from server.gather.models import DocumentKind
from server.people.queries import facts_of
from server.projects.models import Membership
from server.snapshots.texts import texts_of

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
    about = facts_of(member, held, list({int(held.case_ids[one]) for _, one in shown if one >= 0}))
    words = passages_in_context(member, [int(held.passage_ids[one]) for one, _ in shown])
    persons: list[dict[str, Any]] = []
    for one, who in shown:
        key = int(held.case_ids[who]) if who >= 0 else None
        if not persons or persons[-1]["case"] != key:
            known = about.get(key or 0, {"identifier": say("Nobody linked"), "facts": []})
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
    rows = (
        Passage.objects.filter(pk__in=passage_ids, document__project=member.project_id)
        .select_related("document")
        .defer("document__text")
    )
    if len(rows) < len(set(passage_ids)):
        raise Moved
    around = _around([row.pk for row in rows])
    return {row.pk: _in_context(row, around.get(row.pk)) for row in rows}


class _Around(NamedTuple):
    """The first turn that a passage overlaps, and the text of all that it does, cut to what may be shown."""

    number: int
    speaker: str
    begins: int
    """Where the cut begins in the document."""
    text: str


def _around(passages: list[int]) -> dict[int, _Around]:
    """By passage. Each text is unpacked once and cut here: the database would unpack it and count through it for each passage."""
    with connection.cursor() as cursor:
        cursor.execute(_CUTS, {"ids": passages, "context": CONTEXT + 1})
        cuts: dict[int, list[tuple[int, int, str, int, int]]] = {}
        for pk, document, *cut in cursor.fetchall():
            cuts.setdefault(document, []).append((pk, *cut))
    return {
        pk: _Around(number, speaker, low, text[low : max(high, low)])
        for document, text in texts_of(list(cuts))
        for pk, number, speaker, low, high in cuts[document]
    }


_CUTS = """
    WITH touched AS (
        SELECT p.id, p.document_id, p.begin IS NULL AND p.page IS NULL AS in_text, p.start, p."end",
            min(t.number) AS number, min(t.ink_start) AS first, max(t.ink_end) AS last
        FROM coding_passage p JOIN gather_turn t ON t.document_id = p.document_id AND CASE
            WHEN p.page IS NOT NULL THEN t.start = 0
            WHEN p.begin IS NOT NULL THEN t.begin < p.finish AND t.finish > p.begin
            ELSE t."end" > p.start AND t.start < p."end" END
        WHERE p.id = ANY(%(ids)s) GROUP BY p.id),
    cut AS (
        SELECT *, CASE WHEN in_text THEN greatest(first, start - %(context)s) ELSE first END AS low,
            CASE WHEN in_text THEN least(last, "end" + %(context)s) ELSE least(last, first + %(context)s) END AS high
        FROM touched)
    SELECT cut.id, cut.document_id, cut.number, s.label, cut.low, cut.high FROM cut
    JOIN gather_turn t ON t.document_id = cut.document_id AND t.number = cut.number
    JOIN gather_speaker s ON s.id = t.speaker_id"""


def _in_context(row: Passage, around: _Around | None) -> dict[str, Any]:
    place = row.place
    shown = {"id": row.pk, "document": row.document_id, "title": row.document.title,
             "turn": around.number if around else 0, "speaker": around.speaker if around else "",
             "before": "", "after": "", "region": None, "span": None, "picture": ""}  # fmt: skip
    if isinstance(place, Stretch) and around:
        start, end = row.start - around.begins, row.end - around.begins
        before, after = around.text[: max(start, 0)], around.text[max(end, 0) :]
        return shown | {"before": _tail(before), "text": around.text[max(start, 0) : end], "after": _head(after)}
    if isinstance(place, Span) and around:
        # What is heard in the span, though it may begin and end within a turn.
        return shown | {"text": f"{row.said}: {_head(around.text)}", "span": vars(place)}
    if isinstance(place, Region):
        paged = row.document.kind == DocumentKind.PDF
        picture = f"pages/{place.page}" if paged else f"media/picture/{place.page}"
        return shown | {"text": row.said, "region": vars(place), "picture": picture}
    return shown | {"text": row.said, "span": vars(place) if isinstance(place, Span) else None}


def _tail(text: str) -> str:
    return text if len(text) <= CONTEXT else "…" + text[-CONTEXT:].partition(" ")[2]


def _head(text: str) -> str:
    return text if len(text) <= CONTEXT else text[:CONTEXT].rpartition(" ")[0] + "…"
