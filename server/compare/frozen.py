"""Results as they were on a day: packing what every cell held, and telling what has changed since, and why."""

import base64
import json
import zlib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import numpy as np
from django.db.models import QuerySet

from core.compare.evidence import every_cell
from core.language import say
from server.coding import queries as coding
from server.coding.context import passages_in_context
from server.coding.models import Coding, Passage
from server.common.database import of_one_state
from server.common.errors import NotFound, Refusal
from server.compare import searching
from server.compare.answers import answer
from server.compare.asking import Asked, ask
from server.compare.models import FrozenResult
from server.compare.queries import result_out
from server.people.queries import case_names
from server.projects.models import Membership, Project
from server.snapshots.queries import snapshot

QUOTE = 400
"""Characters of each passage that are kept with a frozen result."""
MOST_SHOWN = 200
Json = dict[str, Any]
Pair = tuple[int, int]
"""A passage and a person, by ID."""


def frozen_results(member: Membership) -> QuerySet[FrozenResult]:
    visible = Project.objects.visible_to(member.account)
    return FrozenResult.objects.filter(project__in=visible, project=member.project_id).select_related("author")


def frozen_result(member: Membership, frozen_id: int, kind: str | None = None) -> FrozenResult:
    found = frozen_results(member).filter(pk=frozen_id, **({"kind": kind} if kind else {})).first()
    if found is None:
        raise NotFound(say("This frozen result isn’t here any more; somebody has deleted it."))
    return found


def dated(row: FrozenResult) -> Json:
    """A result as it was, saying so where its cautions stand."""
    note = say(
        "Frozen on {date} as “{name}”: figures and passages as they were then.",
        date=row.made_at.date().isoformat(),
        name=row.name,
    )
    return {**row.result, "cautions": [{"kind": "frozen", "text": note}, *row.result["cautions"]]}


def as_it_is(member: Membership, said: Json) -> tuple[Json, str]:
    """Today's result as the API says it, and what every cell holds, packed."""
    found = answer(member, said)
    return result_out(found.asked, found.result), packed(*_cells(found.asked))


def row_key(row: Any) -> str:
    return f"{row['kind']}:{row['id']}" if isinstance(row, dict) else f"{row.kind}:{row.id}"


def _cells(asked: Asked) -> tuple[dict[tuple[str, str], set[Pair]], dict[str, list[int]]]:
    """Passages and people of each (row, group), and who each group is made of."""
    held, ids = every_cell(asked.snapshot, asked.comparison), asked.snapshot
    keys = [row_key(row) for row in asked.rows]
    names = asked.comparison.groups.names
    cells: dict[tuple[str, str], set[Pair]] = {(key, name): set() for key in keys for name in names}
    passages, cases = ids.passage_ids[held.passage].tolist(), ids.case_ids[held.case].tolist()
    for row, group, passage, case in zip(held.row.tolist(), held.group.tolist(), passages, cases, strict=True):
        cells[keys[row], names[group]].add((passage, case))
    # Where all rows have the same people they are kept once.
    alone = len(held.bases) == 1
    bases = {
        name if alone else _of_row(keys[row], name): ids.case_ids[np.flatnonzero(base[:, place])].tolist()
        for rows, base in held.bases
        for row in (rows.tolist()[:1] if alone else rows.tolist())
        for place, name in enumerate(names)
    }
    return cells, bases


def _of_row(key: str, group: str) -> str:
    return f"{key} in {group}"


def _people(bases: dict[str, list[int]], key: tuple[str, str]) -> set[int]:
    """Who a row's figure in a group is made of."""
    return set(bases.get(_of_row(*key), bases.get(key[1], [])))


def packed(cells: Mapping[tuple[str, str], set[Pair]], bases: dict[str, list[int]]) -> str:
    """All of it in few bytes, with the words of every passage: it has to be readable when they are gone."""
    passages = {passage for pairs in cells.values() for passage, _ in pairs}
    rows = Passage.objects.filter(pk__in=passages).select_related("document")
    quotes = {row.pk: [row.document_id, row.document.title, row.said[:QUOTE]] for row in rows.iterator(chunk_size=2000)}
    content = {
        "cells": [[key, name, sorted(pairs)] for (key, name), pairs in cells.items()],
        "bases": bases,
        "passages": quotes,
    }
    return pack(content)


def pack(content: Json) -> str:
    return base64.b85encode(zlib.compress(json.dumps(content).encode())).decode()


@dataclass(frozen=True)
class Then:
    """What was packed: passages and people of every cell, who each group was made of, and by passage its document,
    title and words."""

    cells: dict[tuple[str, str], set[Pair]]
    bases: dict[str, list[int]]
    passages: dict[int, tuple[int, str, str]]


def unpacked(row: FrozenResult) -> Then:
    content = json.loads(zlib.decompress(base64.b85decode(row.held)))
    return Then(
        {(key, name): {(one, who) for one, who in pairs} for key, name, pairs in content["cells"]},
        content["bases"],
        {int(pk): tuple(kept) for pk, kept in content["passages"].items()},
    )


def _asked_now(member: Membership, said: Json) -> tuple[Json, list[str]]:
    """The same question as far as what it asks about is still there, and what isn't."""
    gone = []
    known: list[tuple[str, str, Iterable[int]]] = [
        ("codes", "code", coding.codes(member).values_list("id", flat=True)),
        ("themes", "theme", coding.themes(member).values_list("id", flat=True)),
        ("queries", "query", searching.saved_queries(member).values_list("id", flat=True)),
    ]
    asked = dict(said)
    for name, kind, ids in known:
        there = set(ids)
        gone += [f"{kind}:{pk}" for pk in said.get(name) or [] if pk not in there]
        asked[name] = [pk for pk in said.get(name) or [] if pk in there]
    return asked, gone


def changes_since(member: Membership, row: FrozenResult) -> Json:
    """Cell by cell, how a frozen result differs from today."""
    said, gone = _asked_now(member, row.asked)
    try:
        answered = answer(member, said)
    except Refusal as refusal:
        return {"problem": refusal.sentence, "gone": gone, "cells": [], "now": None}
    asked, now = answered.asked, result_out(answered.asked, answered.result)
    then = unpacked(row)
    cells, bases = _cells(asked)
    before, after = _figures(row.result), _figures(now)
    found = []
    for key in dict.fromkeys([*then.cells, *cells]):
        old, new = then.cells.get(key, set()), cells.get(key, set())
        if old == new and before.get(key) == after.get(key):
            continue
        found.append(
            {
                "kind": key[0].split(":")[0],
                "id": int(key[0].split(":")[1]),
                "group": key[1],
                "before": before.get(key),
                "now": after.get(key),
                "gained": len({passage for passage, _ in new} - {passage for passage, _ in old}),
                "lost": len({passage for passage, _ in old} - {passage for passage, _ in new}),
                "joined": len(_people(bases, key) - _people(then.bases, key)),
                "left": len(_people(then.bases, key) - _people(bases, key)),
            }
        )
    return {"problem": "", "gone": gone, "cells": found, "now": now}


def _figures(result: Json) -> dict[tuple[str, str], Json]:
    return {
        (row_key(row), group["name"]): {name: cell[name] for name in ("figure", "count", "base", "people", "passages")}
        for row in result["rows"]
        for group, cell in zip(result["groups"], row["cells"], strict=True)
    }


@of_one_state
def change_of_cell(member: Membership, row: FrozenResult, key: tuple[str, str]) -> Json:
    """The passages of one cell as they were then, and those it has gained and lost since, with the coding that did it."""
    said, _ = _asked_now(member, row.asked)
    then = unpacked(row)
    try:
        cells, _ = _cells(ask(member, said))
    except Refusal:
        cells = {}
    in_row = {passage for (kind, _), pairs in cells.items() if kind == key[0] for passage, _ in pairs}
    return told_apart(
        member, row, then, then.cells.get(key, set()), cells.get(key, set()), in_row, say("the code was taken off it")
    )


def told_apart(
    member: Membership,
    row: FrozenResult,
    then: Then,
    old: set[Pair],
    new: set[Pair],
    still: set[int],
    why_out: str,
) -> Json:
    """Passages that were there then, that came in and that went out since, with people and why; ``still`` are those
    whose code or condition holds today, though not in this place; ``why_out``: why one that still stands went out."""
    names = case_names(member, snapshot(member.project_id))
    before, now = {passage for passage, _ in old}, {passage for passage, _ in new}
    gained, lost = sorted(now - before)[:MOST_SHOWN], sorted(before - now)[:MOST_SHOWN]
    words = passages_in_context(member, gained)
    made = _codings_since(member, gained, row.made_at)
    there = set(Passage.objects.filter(pk__in=lost, document__project=member.project_id).values_list("id", flat=True))

    def people_of(passage: int, pairs: set[Pair]) -> list[str]:
        return sorted(names.get(case, "?") for one, case in pairs if one == passage and case)

    def as_it_was(passage: int, why: str = "") -> Json:
        document, title, text = then.passages[passage]
        return {"id": passage, "document": document, "title": title, "text": text,
                "people": people_of(passage, old), "why": why}  # fmt: skip

    def why_lost(passage: int) -> str:
        if passage in still:
            return say("still coded, but no longer in this group or scope")
        return why_out if passage in there else say("the passage was taken away")

    return {
        "as_it_was": [as_it_was(passage) for passage in sorted(before)[:MOST_SHOWN]],
        "gained": [
            {
                **words[pk],
                "people": people_of(pk, new),
                "why": made.get(pk, say("coded before: its group or scope is new here")),
            }
            for pk in gained
            if pk in words
        ],
        "lost": [as_it_was(passage, why_lost(passage)) for passage in lost],
    }


def _codings_since(member: Membership, passages: list[int], when: datetime) -> dict[int, str]:
    """Which coding made since brought each passage in."""
    rows = Coding.objects.filter(passage__in=passages, made_at__gt=when).select_related("code", "coder")
    return {
        row.passage_id: say(
            "{name}, by {display_name} on {date}",
            name=row.code.name,
            display_name=row.coder.display_name,
            date=row.made_at.date().isoformat(),
        )
        for row in rows.order_by("-made_at")
        if row.code.project_id == member.project_id
    }
