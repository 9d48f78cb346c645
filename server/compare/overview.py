"""What the codebook holds and how coding went along: tiles and ring, by document, day and coder, and saturation."""

from datetime import timedelta
from typing import Any

import numpy as np
import numpy.typing as npt

from core.compare.by_part import compare
from core.compare.groups import Groups, by_talk
from core.compare.question import Comparison
from core.snapshot.columns import DAY_ZERO
from core.snapshot.masks import attribution_mask, passage_mask, rows_in
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.saturation import saturation
from server.coding import queries as coding
from server.gather.models import Document
from server.projects.models import Membership
from server.scope.axes import Columns, columns_of
from server.scope.parts import scope_of
from server.snapshots.queries import snapshot

Json = dict[str, Any]
MOST_GROUPS = 12


def _asked(member: Membership, said: Json) -> tuple[Snapshot, Scope, Columns | None]:
    held = snapshot(member.project_id)
    columns = columns_of(member, held, said) if said.get("variable") else None
    return held, scope_of(member, held, said.get("scope") or {}), columns


def holdings(member: Membership, said: Json) -> Json:
    """Every code with its own and its branch's passages and people, whole and by group."""
    held, scope, columns = _asked(member, said)
    every = tuple(range(len(held.code_ids)))
    groups = Groups(("everyone",), np.zeros(len(held.case_ids), np.int32)) if columns is None else columns.groups
    own, branch = (
        compare(held, Comparison(every, groups, roll_up=rolled, scope=scope, measure="people", base="with_material"))
        for rolled in (False, True)
    )
    names = {row.pk: row for row in coding.codes(member)}
    return {
        "groups": [] if columns is None else [columns.about(place) for place in range(groups.count)][:MOST_GROUPS],
        "group_people": own.group_people.tolist()[:MOST_GROUPS],
        "codes": [
            {
                "id": pk,
                "name": names[pk].name,
                "parent": names[pk].parent_id,
                "colour": names[pk].colour,
                "passages": int(own.total_passages[place]),
                "people": int(own.total_people[place]),
                "branch_passages": int(branch.total_passages[place]),
                "branch_people": int(branch.total_people[place]),
                "by_group": [
                    {"passages": int(branch.passages[place, group]), "people": int(branch.people[place, group]),
                     "own_passages": int(own.passages[place, group]), "own_people": int(own.people[place, group])}
                    for group in range(min(groups.count, MOST_GROUPS))
                ],
            }
            for place, pk in enumerate(held.code_ids.tolist())
            if pk in names
        ],
    }  # fmt: skip


def progress(member: Membership, said: Json) -> Json:
    """How coding went along: by document, by day, by coder; and whether enough was heard, whole and by group."""
    held, scope, columns = _asked(member, said)
    kept = scope.coding_mask(held)
    codings = np.ones(len(held.coding_code), bool) if kept is None else kept
    codings = codings & passage_mask(held, scope)[held.coding_passage]
    documents = _documents(member, held, scope)
    return {
        "documents": _by_document(held, codings, documents),
        "days": _by_day(held, codings),
        "coders": _by_coder(member, held, codings),
        "saturation": _saturation(held, scope, columns, documents, said),
    }


def _documents(member: Membership, held: Snapshot, scope: Scope) -> list[tuple[int, str, str]]:
    """Documents in scope in the order they came: place in the snapshot, title, day."""
    at = {int(pk): place for place, pk in enumerate(held.document_ids)}
    rows = Document.objects.filter(project=member.project_id).order_by("added_at", "title")
    found = [
        (at[pk], title, day.date().isoformat())
        for pk, title, day in rows.values_list("id", "title", "added_at")
        if pk in at
    ]
    return [one for one in found if scope.documents is None or scope.documents[one[0]]]


def _by_document(held: Snapshot, codings: npt.NDArray[np.bool_], documents: list[tuple[int, str, str]]) -> list[Json]:
    of = held.passage_document[held.coding_passage[codings]]
    codes = held.coding_code[codings]
    count = np.bincount(of, minlength=len(held.document_ids))
    pairs = np.unique(of.astype(np.int64) * max(len(held.code_ids), 1) + codes)
    different = np.bincount(pairs // max(len(held.code_ids), 1), minlength=len(held.document_ids))
    words = np.bincount(held.turn_document, weights=held.turn_words, minlength=len(held.document_ids))
    return [
        {"document": int(held.document_ids[place]), "title": title, "codings": int(count[place]),
         "codes": int(different[place]), "words": int(words[place])}
        for place, title, _ in documents
    ]  # fmt: skip


def _by_day(held: Snapshot, codings: npt.NDArray[np.bool_]) -> list[Json]:
    days, count = np.unique(held.coding_day[codings], return_counts=True)
    fresh = np.full(len(held.code_ids), np.iinfo(np.int64).max)
    np.minimum.at(fresh, held.coding_code[codings], held.coding_day[codings])
    return [
        {"day": (DAY_ZERO + timedelta(days=int(day))).isoformat(), "codings": int(times),
         "new_codes": int((fresh == day).sum())}
        for day, times in zip(days.tolist(), count.tolist(), strict=True)
    ]  # fmt: skip


def _by_coder(member: Membership, held: Snapshot, codings: npt.NDArray[np.bool_]) -> list[Json]:
    names = {row.pk: row.display_name for row in coding.coders(member)}
    count = np.bincount(held.coding_coder[codings], minlength=len(held.coder_ids))
    return [
        {"coder": int(pk), "name": names.get(int(pk), "?"), "codings": int(count[place])}
        for place, pk in enumerate(held.coder_ids.tolist())
    ]


def _saturation(
    held: Snapshot, scope: Scope, columns: Columns | None, documents: list[tuple[int, str, str]], said: Json
) -> list[Json]:
    """Interviews in the order they came: those that hold words of somebody in scope, for a group those of its people."""
    choice = {name: said.get(name) for name in ("base", "run", "threshold")}
    base, run = choice["base"] or 4, choice["run"] or 2
    threshold = 0.05 if choice["threshold"] is None else choice["threshold"]
    said_mask = attribution_mask(held, scope)
    found = [_one_curve(held, scope, said_mask, None, documents, (base, run, threshold), "everyone")]
    if columns is not None:
        member_of = by_talk(columns.groups, held.talks).member
        for group, name in enumerate(columns.groups.names[:MOST_GROUPS]):
            found.append(
                _one_curve(held, scope, said_mask, member_of[:, group], documents, (base, run, threshold), name)
            )
    return found


def _one_curve(
    held: Snapshot,
    scope: Scope,
    said: npt.NDArray[np.bool_],
    talks: npt.NDArray[np.bool_] | None,
    documents: list[tuple[int, str, str]],
    choice: tuple[int, int, float],
    name: str,
) -> Json:
    among = held.talks.real & held.talks.mask(scope)
    if talks is not None:
        among &= talks
        said = said & talks[held.talks.of_attribution]
    heard = np.zeros(len(held.document_ids), bool)
    heard[held.talks.document[among]] = True
    spoken = np.zeros(len(held.passage_ids), bool)
    spoken[held.attributions.passage[said]] = True
    says = np.zeros((len(held.document_ids), len(held.code_ids)), bool)
    rows = rows_in(held, scope, False)
    code, passage = rows.pairs_of(np.arange(len(held.code_ids)))
    kept = spoken[passage]
    says[held.passage_document[passage[kept]], code[kept]] = True
    order = [(place, title) for place, title, _ in documents if heard[place]]
    curve = saturation(says[[place for place, _ in order]], *choice)
    return {
        "name": name,
        "titles": [title for _, title in order],
        "fresh": curve.fresh.tolist(),
        "heard": curve.heard.tolist(),
        "ratio": [None if np.isnan(one) else round(float(one), 4) for one in curve.ratio],
        "base_codes": curve.base_codes,
        "reached": curve.reached,
    }
