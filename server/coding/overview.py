"""Reads on the whole codebook: counts, what wants a look, themes, and passages gathered by person."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from core.coding import health
from core.coding.words import FIELDS
from core.language import say
from core.snapshot.masks import passage_mask, rows_in
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.tables import places
from core.statistics.ranges import expand
from server.coding import queries
from server.coding.context import passages_in_context
from server.coding.models import Coding, Theme
from server.common.database import of_one_state
from server.people.queries import facts_of
from server.projects.models import Membership
from server.scope.parts import scope_of
from server.snapshots.queries import snapshot

MOST = 400
"""Passages that are read at once."""


def codebook(member: Membership) -> list[dict[str, Any]]:
    """All codes in order, each with the passages, people and documents that it has itself, and the passages of its branch,
    each once."""
    held = snapshot(member.project_id)
    passages, people, documents = health.uses(held)
    branch = np.diff(held.branch_rows.pair_first)
    columns = (passages, people, documents, branch)
    at = {int(pk): place for place, pk in enumerate(held.code_ids)}
    found = []
    for row in queries.codes(member):
        place = at.get(row.pk)
        counts = (0,) * 4 if place is None else tuple(int(column[place]) for column in columns)
        found.append(
            {
                **{name: getattr(row, name) for name in _SHOWN},
                "parent": row.parent_id,
                **dict(zip(("passages", "people", "documents", "branch_passages"), counts, strict=True)),
            }
        )
    return found


def counts_in_scope(member: Membership, said: dict[str, Any]) -> list[dict[str, int]]:
    """Passages, people and documents of each code, as far as they are in the scope given."""
    held = snapshot(member.project_id)
    scope = scope_of(member, held, said)
    columns = (*health.uses(held, scope), health.branch_passages(held, scope))
    rows = zip(held.code_ids.tolist(), *(column.tolist() for column in columns), strict=True)
    return [dict(zip(("code", "passages", "people", "documents", "branch_passages"), row, strict=True)) for row in rows]


_SHOWN = ("id", "name", "colour", *FIELDS, "parked")


def wants_a_look(member: Membership) -> dict[str, Any]:
    """Codes used by nobody, by one person only, without definition; pairs that may be one."""
    held = snapshot(member.project_id)
    codes = codebook(member)
    parents = {one["parent"] for one in codes}
    ids = held.code_ids.tolist()
    by_name = health.alike_by_name([one["name"] for one in codes])
    pairs = [(codes[one.left]["id"], codes[one.right]["id"], one) for one in by_name]
    pairs += [(ids[one.left], ids[one.right], one) for one in health.alike_by_passages(held)]
    return {
        "unused": [one["id"] for one in codes if not one["passages"] and one["id"] not in parents],
        "one_person": [one["id"] for one in codes if one["people"] == 1],
        "undefined": [one["id"] for one in codes if not one["definition"].strip()],
        "alike": [{"left": a, "right": b, "by": one.by, "likeness": one.likeness} for a, b, one in pairs],
    }


def themes(member: Membership) -> dict[str, Any]:
    """Research questions, and themes with their codes and how far they reach."""
    held, found = snapshot(member.project_id), []
    for theme, counts in _counted(member, held, Scope()):
        found.append(
            {
                **{name: getattr(theme, name) for name in ("id", "name", "statement")},
                "question": theme.question_id,
                "codes": [placing.code_id for placing in theme.placings.all()],
                **counts,
            }
        )
    questions = [{"id": row.pk, "text": row.text} for row in queries.questions(member)]
    return {"questions": questions, "themes": found}


def themes_in_scope(member: Membership, said: dict[str, Any]) -> list[dict[str, int]]:
    """Passages, people and documents of each theme, as far as they are in the scope given."""
    held = snapshot(member.project_id)
    return [{"theme": theme.pk, **counts} for theme, counts in _counted(member, held, scope_of(member, held, said))]


def _counted(member: Membership, held: Snapshot, scope: Scope) -> Iterator[tuple[Theme, dict[str, int]]]:
    """Each theme with its passages, people and documents in scope."""
    at = {int(pk): place for place, pk in enumerate(held.code_ids)}
    for theme in queries.themes(member).prefetch_related("placings"):
        codes = [at[row.code_id] for row in theme.placings.all() if row.code_id in at]
        counts = health.uses_together(held, codes, scope)
        yield theme, dict(zip(("passages", "people", "documents"), counts, strict=True))


def merge_preview(member: Membership, into_id: int, from_ids: list[int]) -> dict[str, Any]:
    """What merging would do: how many passages each code has, how many carry both and become one, and which
    ratings were given on another scale than the one that stays."""
    into, held = queries.code(member, into_id), snapshot(member.project_id)
    codes = [queries.code(member, code_id) for code_id in dict.fromkeys(from_ids) if code_id != into_id]
    at = places(held.code_ids, np.array([into.pk, *(code.pk for code in codes)], np.int64)).tolist()
    counts = health.merging(held, at[0], at[1:])
    scale = queries.merged_scale(into, codes)
    return {
        "into": into.pk,
        "passages": counts.kept,
        "together": counts.together,
        "scale_low": scale[0],
        "scale_high": scale[1],
        "codes": [
            {
                "code": code.pk,
                "passages": passages,
                "both": both,
                "beneath": code.children.count(),
                "rated_otherwise": queries.otherwise_rated(code, scale).count(),
            }
            for code, (passages, both) in zip(codes, counts.others, strict=True)
        ],
    }


@of_one_state
def reading(member: Membership, code_ids: list[int], said: dict[str, Any], beneath: bool = True) -> dict[str, Any]:
    """All passages of some codes in scope by person, most first, each with all codes that it carries."""
    held = snapshot(member.project_id)
    scope = scope_of(member, held, said)
    chosen = [int(place) for place in places(held.code_ids, np.array(code_ids, np.int64)) if place >= 0]
    rows = rows_in(held, scope, roll_up=beneath)
    among = np.zeros(len(held.passage_ids), bool)
    for place in chosen:
        among[rows.passages_of(place)] = True
    passages = np.flatnonzero(among & passage_mask(held, scope))
    entries = held.attributions
    pair, at = expand(entries.first[passages], entries.first[passages + 1])
    if scope.cases is not None:
        kept = scope.cases[entries.case[at]]
        pair, at = pair[kept], at[kept]
    passage, case = passages[pair], entries.case[at].astype(np.int64)
    nobody = np.setdiff1d(passages, passage)
    passage = np.concatenate([passage, nobody])
    case = np.concatenate([case, np.full(len(nobody), -1, np.int64)])
    times = np.bincount(case + 1, minlength=1)
    order = np.lexsort((passage, case, -times[case + 1], case < 0))[:MOST]
    about = facts_of(member, held, [int(held.case_ids[one]) for one in np.unique(case) if one >= 0])
    shown = [(int(held.passage_ids[passage[one]]), int(case[one])) for one in order]
    words = passages_in_context(member, [pk for pk, _ in shown])
    carried: dict[int, list[int]] = {}
    for pk, code in Coding.objects.filter(passage__in=words).values_list("passage_id", "code_id").distinct():
        carried.setdefault(pk, []).append(code)
    persons: list[dict[str, Any]] = []
    for pk, one in shown:
        key = int(held.case_ids[one]) if one >= 0 else None
        if not persons or persons[-1]["case"] != key:
            known = about.get(key or 0, {"identifier": say("Nobody linked"), "facts": []})
            persons.append({"case": key, **known, "total": int(times[one + 1]), "passages": []})
        persons[-1]["passages"].append({**words[pk], "codes": sorted(carried.get(pk, []))})
    return {
        "passages": len(passages),
        "people": len(np.unique(case[case >= 0])),
        "persons": persons,
        "more": max(0, len(passage) - MOST),
    }
