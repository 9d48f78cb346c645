"""Comparisons, kept ones and scopes, as plain values for the API and the exports."""

from collections.abc import Mapping
from typing import Any

import numpy as np
import numpy.typing as npt
from django.db.models import QuerySet

from core.compare.counts import REASONS_LEFT_OUT
from core.compare.measures import MEASURES
from core.compare.question import ACCORDS
from core.compare.result import Result
from core.compare.told.cautions import cautions
from core.compare.told.left_out import left_out_line, left_out_parts
from core.compare.told.methods import methods_paragraph
from core.compare.told.sentence import accord_words, base_words, sentence_parts
from core.language import say, worded
from core.snapshot.masks import cases_in_play, coded_in_play, documents_in_play, has_material
from core.snapshot.scope import Scope
from server.common.collecting import no_rings
from server.common.errors import NotFound
from server.compare.answers import answer
from server.compare.asking import Asked
from server.compare.models import KeptComparison, SavedScope
from server.people.queries import case_names
from server.projects.models import Membership, Project
from server.scope.parts import PARTS, scope_of
from server.snapshots.queries import snapshot


def kept_comparisons(member: Membership) -> QuerySet[KeptComparison]:
    visible = Project.objects.visible_to(member.account)
    return KeptComparison.objects.filter(project__in=visible, project=member.project_id).select_related("author")


def kept_comparison(member: Membership, kept_id: int) -> KeptComparison:
    found = kept_comparisons(member).filter(pk=kept_id).first()
    if found is None:
        raise NotFound(say("This comparison isn’t kept any more; somebody has let go of it."))
    return found


def saved_scopes(member: Membership) -> QuerySet[SavedScope]:
    visible = Project.objects.visible_to(member.account)
    return SavedScope.objects.filter(project__in=visible, project=member.project_id).select_related("author")


def saved_scope(member: Membership, scope_id: int) -> SavedScope:
    found = saved_scopes(member).filter(pk=scope_id).first()
    if found is None:
        raise NotFound(say("This scope isn’t saved any more; somebody has let go of it."))
    return found


def comparison(member: Membership, said: dict[str, Any]) -> dict[str, Any]:
    """The whole result of a comparison, ready for JSON."""
    found = answer(member, said)
    with no_rings():
        return result_out(found.asked, found.result)


def result_out(asked: Asked, result: Result) -> dict[str, Any]:
    groups, names = asked.comparison.groups, asked.names
    methods, sources = methods_paragraph(result, names)
    pair = list(asked.comparison.difference or (1, 0))
    return {
        "revision": asked.snapshot.revision,
        "sentence": [vars(part) for part in sentence_parts(result, names)],
        "measure": asked.comparison.measure,
        "base": asked.comparison.base,
        "bases": [
            {"id": base, "words": base_words(asked.comparison.measure, base, names)}
            for base in result.measure.bases
            if base != "asked" or asked.comparison.guide is not None
        ],
        "accord": asked.comparison.accord,
        "accords": _accords(asked),
        "measures": [{"id": one.id, "words": names.put(one.counted), "hint": names.put(one.hint)} for one in MEASURES],
        "figures": {
            "taken": worded(result.measure.taken),
            "share": result.measure.share,
            "unit": names.put(result.measure.unit),
            "head": worded(result.measure.head),
            "cell": worded(result.measure.cell),
            "amount": result.measure.amount,
            "noun": [names.put(word) for word in result.measure.noun],
        },
        "all_groups": list(asked.columns.first.every),
        "outer": [] if asked.columns.outer is None else list(asked.columns.outer.groups.names),
        "layered": asked.columns.layered,
        "ordered": groups.ordered,
        "cuts": asked.columns.first.cuts,
        "period": asked.columns.first.period,
        "groups": [
            {
                **asked.columns.about(i),
                "people": int(result.group_people[i]),
                "passages": int(result.group_passages[i]),
                "words": int(result.group_words[i]),
            }
            for i in range(groups.count)
        ],
        "rows": _rows(asked, result, case_names(asked.member, asked.snapshot)),
        "difference": pair if result.difference else None,
        "layer_pair": pair if result.within_layers else None,
        "left_out": [vars(part) for part in left_out_parts(result, names)],
        "in_scope": result.left_out.in_scope,
        "left_out_line": left_out_line(result, names),
        "cautions": [vars(one) for one in cautions(result, names)],
        "methods": methods,
        "sources": sources,
        "tests_made": result.tests.made,
        "shared_people": result.shared_people,
        "everyone": result.everyone,
        "whole": None if result.whole is None else vars(result.whole),
    }


def _accords(asked: Asked) -> list[dict[str, str]]:
    """What may be counted of who was asked; nothing to choose without a guide that names codes."""
    if asked.comparison.guide is None or asked.comparison.measure == "rating":
        return []
    return [{"id": one, "words": accord_words(one)} for one in ACCORDS]


def _rows(asked: Asked, result: Result, talkative: Mapping[int, str]) -> list[dict[str, Any]]:
    """One entry a row. Arrays become lists whole: a value at a time would cost most of the request."""
    tests, gap, held = result.tests, result.difference, result.within_layers
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
            ("layers", None if held is None else {**vars(held), "infinite": np.isposinf(held.odds_ratio)}),
            ("changes", None if result.changes is None else vars(result.changes)),
        )
    }
    left = result.left_out.by_row.tolist()
    return [
        {
            **row._asdict(),
            "cells": [
                # Written out: put together from names and values, two thousand cells take five times as long.
                {
                    "people": people,
                    "passages": passages,
                    "figure": figure,
                    "count": count,
                    "base": base,
                    "median": median,
                    "deviation": deviation,
                    "low": low,
                    "high": high,
                    "residual": residual,
                    "most": most,
                    "most_by": most_by,
                }
                for people, passages, figure, count, base, median, deviation, low, high, residual, most, most_by in zip(
                    *(column[i] for column in cells.values()), strict=True
                )
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
        if array.dtype.kind != "f":
            lists[name] = array.tolist()
            continue
        finite = np.isfinite(array)
        if not finite.any():
            lists[name] = np.full(array.shape, None).tolist()
            continue
        lists[name] = found = np.round(array, 9).tolist()
        for *row, last in np.argwhere(~finite).tolist():
            (found[row[0]] if row else found)[last] = None
    return lists


def _names(asked: Asked, places: npt.NDArray[np.int64], names: Mapping[int, str]) -> npt.NDArray[Any]:
    """The case at each place by name, None for −1."""
    ids = asked.snapshot.case_ids
    by_place = np.array([*(names.get(int(pk)) for pk in ids), None], object)
    return by_place[places]


def scope_counts(member: Membership, said: dict[str, Any]) -> dict[str, Any]:
    """What a scope leaves in play; its parts are put together one after the other to tell which left nothing."""
    held = snapshot(member.project_id)
    scope = scope_of(member, held, said)

    def coded(one: Scope) -> int:
        return int(coded_in_play(held, one).sum())

    emptied = ""
    if not coded(scope):
        so_far: dict[str, Any] = {}
        for name in [part.said.name for part in PARTS if said.get(part.said.name) is not None]:
            so_far[name] = said[name]
            if not coded(scope_of(member, held, so_far)):
                emptied = name
                break
    kept = scope.coding_mask(held)
    return {
        "cases": len(held.case_ids) if scope.cases is None else int(scope.cases.sum()),
        "with_material": int(has_material(held, scope).sum()),
        "documents": len(held.document_ids) if scope.documents is None else int(scope.documents.sum()),
        "codings": len(held.coding_code) if kept is None else int(kept.sum()),
        "passages": coded(scope),
        "of_cases": len(held.case_ids),
        "of_documents": len(held.document_ids),
        "of_codings": len(held.coding_code),
        "of_passages": coded(Scope()),
        "emptied_by": emptied,
        "play_cases": _in_play(held.case_ids, cases_in_play(held, scope)),
        "play_documents": _in_play(held.document_ids, documents_in_play(held, scope)),
    }


def _in_play(ids: npt.NDArray[np.int64], mask: npt.NDArray[np.bool_] | None) -> list[int] | None:
    return None if mask is None else ids[mask].tolist()


def passages_in_play(member: Membership, said: dict[str, Any], document_id: int) -> list[int]:
    """The passages of a document that are in scope and carry a coding that is."""
    held = snapshot(member.project_id)
    document = np.flatnonzero(held.document_ids == document_id)
    if not len(document):
        raise NotFound(say("This document isn’t in the project any more."))
    mask = coded_in_play(held, scope_of(member, held, said)) & (held.passage_document == document[0])
    found: list[int] = held.passage_ids[mask].tolist()
    return found
