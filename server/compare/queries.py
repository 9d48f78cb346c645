"""Comparisons and the evidence behind them, as plain values for the API and the exports."""

from typing import Any

import numpy as np
import numpy.typing as npt
from django.db.models import QuerySet

from core.coding.places import Place, Region, Span, Stretch
from core.compare import wording
from core.compare.attribution import expand
from core.compare.comparison import BASES, ComparisonResult, compare
from core.compare.counts import REASONS_LEFT_OUT
from core.compare.evidence import evidence
from core.compare.findings import findings, nothing_stands_out
from core.compare.methods import methods_paragraph
from core.compare.scope import Scope, attribution_mask, passage_mask
from core.compare.snapshot import Snapshot
from core.people.derived import in_words
from server.coding.models import Passage
from server.common.errors import NotFound
from server.compare.asking import Asked, ask, case_names, scope_of
from server.compare.axes import layerings
from server.compare.models import KeptComparison, SavedScope
from server.compare.snapshots import snapshot
from server.gather.models import DocumentKind, Turn
from server.people import facts
from server.people import queries as people
from server.projects.models import Membership, Project

CONTEXT = 130
"""Code points of a turn shown on each side of a passage."""


def kept_comparisons(member: Membership) -> QuerySet[KeptComparison]:
    visible = Project.objects.visible_to(member.account)
    return KeptComparison.objects.filter(project__in=visible, project=member.project_id).select_related("author")


def kept_comparison(member: Membership, kept_id: int) -> KeptComparison:
    found = kept_comparisons(member).filter(pk=kept_id).first()
    if found is None:
        raise NotFound("This comparison isn’t kept any more; somebody has let go of it.")
    return found


def saved_scopes(member: Membership) -> QuerySet[SavedScope]:
    visible = Project.objects.visible_to(member.account)
    return SavedScope.objects.filter(project__in=visible, project=member.project_id).select_related("author")


def saved_scope(member: Membership, scope_id: int) -> SavedScope:
    found = saved_scopes(member).filter(pk=scope_id).first()
    if found is None:
        raise NotFound("This scope isn’t saved any more; somebody has let go of it.")
    return found


def comparison(member: Membership, said: dict[str, Any]) -> dict[str, Any]:
    """The whole result of a comparison, ready for JSON."""
    asked = ask(member, said)
    return result_out(asked, compare(asked.snapshot, asked.comparison))


def result_out(asked: Asked, result: ComparisonResult) -> dict[str, Any]:
    groups, names = asked.comparison.groups, asked.names
    methods, sources = methods_paragraph(result, names)
    pair = list(asked.comparison.difference or (1, 0))
    return {
        "revision": asked.snapshot.revision,
        "sentence": [{"text": part.text, "slot": part.slot} for part in wording.sentence_parts(result, names)],
        "measure": asked.comparison.measure,
        "base": asked.comparison.base,
        "bases": [
            {"id": base, "words": wording.base_words(base, names, asked.comparison.measure)}
            for base in BASES[asked.comparison.measure]
        ],
        "all_groups": list(asked.columns.first.every),
        "outer": [] if asked.columns.outer is None else list(asked.columns.outer.groups.names),
        "layered": asked.columns.layered,
        "ordered": groups.ordered,
        "cuts": asked.columns.first.cuts,
        "groups": [
            {
                **asked.columns.about(i),
                "people": int(result.group_people[i]),
                "passages": int(result.group_passages[i]),
                "words": int(result.group_words[i]),
            }
            for i in range(groups.count)
        ],
        "rows": _rows(asked, result, case_names(asked.member)),
        "difference": pair if result.difference else None,
        "layer_pair": pair if result.within_layers else None,
        "left_out": [
            {"reason": reason, "passages": count, "words": words}
            for reason, count, words in wording.left_out_parts(result, names)
        ],
        "in_scope": result.left_out.in_scope,
        "left_out_line": wording.left_out_line(result, names),
        "cautions": wording.cautions(result, names),
        "methods": methods,
        "sources": sources,
        "tests_made": result.tests.made,
        "shared_people": result.shared_people,
        "everyone": result.everyone,
        "whole": None if result.whole is None else vars(result.whole),
    }


def _rows(asked: Asked, result: ComparisonResult, talkative: dict[int, str]) -> list[dict[str, Any]]:
    """One entry a row. Arrays become lists whole: a value at a time would cost most of the request."""
    tests, gap = result.tests, result.difference
    cells = _columns(
        people=result.people,
        passages=result.passages,
        figure=result.figure,
        count=result.count,
        base=result.base,
        median=result.median,
        deviation=result.deviation,
        low=result.low,
        high=result.high,
        residual=result.residual,
        most=result.most,
        most_by=_names(asked, result.most_case, talkative),
    )
    totals = _columns(
        people=result.total_people,
        passages=result.total_passages,
        figure=result.total_figure,
        count=result.total_count,
        base=result.total_base,
        most=result.total_most,
        most_by=_names(asked, result.total_most_case, talkative),
    )
    tested = _columns(
        kind=np.array(tests.kind, object),
        statistic=tests.statistic,
        p=tests.p,
        error=tests.error,
        holm=tests.holm,
        benjamini_hochberg=tests.benjamini_hochberg,
        effect=tests.effect,
    )
    more = {
        name: None if found is None else _columns(**found)
        for name, found in (
            ("difference", None if gap is None else vars(gap)),
            ("trend", None if result.trend is None else vars(result.trend)),
            ("layers", None if result.within_layers is None else vars(result.within_layers)),
            ("changes", None if result.changes is None else vars(result.changes)),
        )
    }
    left = result.left_out.by_row.tolist()
    return [
        {
            **row._asdict(),
            "cells": [
                dict(zip(cells, values, strict=True))
                for values in zip(*(column[i] for column in cells.values()), strict=True)
            ],
            "total": {name: column[i] for name, column in totals.items()},
            "left_out": dict(zip(REASONS_LEFT_OUT, left[i], strict=True)),
            "test": {name: column[i] for name, column in tested.items()},
            **{
                name: None if found is None else {field: column[i] for field, column in found.items()}
                for name, found in more.items()
            },
        }
        for i, row in enumerate(asked.rows)
    ]


def _columns(**arrays: npt.NDArray[Any]) -> dict[str, list[Any]]:
    """Arrays as lists; JSON knows no NaN and no infinity: both become null."""
    lists = {}
    for name, array in arrays.items():
        if array.dtype.kind == "f":
            finite = np.isfinite(array)
            array = np.round(array, 9).astype(object)
            array[~finite] = None
        lists[name] = array.tolist()
    return lists


def _names(asked: Asked, places: npt.NDArray[np.int64], names: dict[int, str]) -> npt.NDArray[Any]:
    """The case at each place by name, None for −1."""
    ids = asked.snapshot.case_ids
    by_place = np.array([*(names.get(int(pk)) for pk in ids), None], object)
    return by_place[places]


def stands_out(member: Membership, said: dict[str, Any]) -> dict[str, Any]:
    """The largest and surest differences in words."""
    asked = ask(member, said)
    result = compare(asked.snapshot, asked.comparison)
    ids = asked.snapshot.case_ids.tolist()
    cases = case_names(member)
    found = findings(
        asked.snapshot,
        result,
        [row.name for row in asked.rows],
        [cases.get(pk, "?") for pk in ids],
        asked.names,
        layerings(member, asked.snapshot, asked.columns),
    )
    return {
        "findings": [
            {**vars(one), "name": asked.rows[one.row].name, "colour": asked.rows[one.row].colour} for one in found
        ],
        "otherwise": "" if found else nothing_stands_out(result, asked.names),
    }


def evidence_for(member: Membership, said: dict[str, Any]) -> dict[str, Any]:
    """The passages behind one number, by person, and the people who did not say it."""
    asked = ask(member, said)
    found = evidence(asked.snapshot, asked.comparison, said.get("row"), said.get("group"), said.get("left_out"))
    limit = said.get("limit") or 200
    pairs = list(zip(found.passage[:limit].tolist(), found.case[:limit].tolist(), strict=True))
    ids = asked.snapshot.case_ids
    shown = {int(ids[case]) for _, case in pairs if case >= 0}
    silent = [int(ids[case]) for case in found.silent]
    about = facts_of(member, [*shown, *silent])
    passages = passages_in_context(member, [int(asked.snapshot.passage_ids[passage]) for passage, _ in pairs])
    every = np.bincount(found.case + 1, minlength=len(ids) + 1)
    persons: list[dict[str, Any]] = []
    for passage, case in pairs:
        key = int(ids[case]) if case >= 0 else None
        if not persons or persons[-1]["case"] != key:
            known = about.get(key or 0, {"identifier": "Nobody linked", "facts": []})
            persons.append({"case": key, **known, "total": int(every[case + 1]), "passages": []})
        persons[-1]["passages"].append(passages[int(asked.snapshot.passage_ids[passage])])
    return {
        "people": int((np.unique(found.case) >= 0).sum()),
        "passages": len(np.unique(found.passage)),
        "persons": persons,
        "silent": [{"case": pk, **about[pk]} for pk in silent],
        "more": max(0, len(found.passage) - limit),
    }


def facts_of(member: Membership, case_ids: list[int]) -> dict[int, dict[str, Any]]:
    """Each case's identifier and its first values, for the chips beside its name."""
    first = [variable for variable in people.variables(member) if variable.kind != "text"][:4]
    known = facts.known(first, case_ids)
    return {
        pk: {"identifier": name, "facts": [_chip(known[row.pk], case_ids.index(pk)) for row in first]}
        for pk, name in case_names(member, case_ids).items()
    }


def _chip(known: facts.Known, place: int) -> dict[str, str]:
    held = known.held[place]
    text = (held.missing or "").replace("_", " ") if held.value is None else in_words(held.value)
    return {"variable": known.variable.name, "text": text}


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


def scope_counts(member: Membership, said: dict[str, Any]) -> dict[str, Any]:
    """What a scope leaves in play; its parts are put together one after the other to tell which left nothing."""
    held = snapshot(member.project_id)
    scope = scope_of(member, held, said)

    def coded(one: Scope) -> int:
        kept = one.coding_mask(held)
        passages = held.coding_passage if kept is None else held.coding_passage[kept]
        return int(passage_mask(held, one)[np.unique(passages)].sum())

    emptied = ""
    if not coded(scope):
        so_far: dict[str, Any] = {}
        for name in [name for name in SCOPE_PARTS if said.get(name) is not None]:
            so_far[name] = said[name]
            if not coded(scope_of(member, held, so_far)):
                emptied = name
                break
    kept = scope.coding_mask(held)
    return {
        "cases": len(held.case_ids) if scope.cases is None else int(scope.cases.sum()),
        "documents": len(held.document_ids) if scope.documents is None else int(scope.documents.sum()),
        "codings": len(held.coding_code) if kept is None else int(kept.sum()),
        "passages": coded(scope),
        "of_cases": len(held.case_ids),
        "of_documents": len(held.document_ids),
        "of_codings": len(held.coding_code),
        "of_passages": coded(Scope()),
        "emptied_by": emptied,
    }


SCOPE_PARTS = ("cases", "who", "documents", "coders", "codes", "since", "until", "query")


def passages_in_context(member: Membership, passage_ids: list[int]) -> dict[int, dict[str, Any]]:
    """Each passage's words with a little of its turn on both sides."""
    rows = Passage.objects.filter(pk__in=passage_ids, document__project=member.project_id).select_related("document")
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
