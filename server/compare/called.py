"""What the things that a kept comparison asks about were called, and what has become of those that are gone."""

from collections.abc import Callable
from typing import Any

from django.db.models import QuerySet

from server.coding import queries as coding
from server.compare import searching
from server.compare.asked import QUESTION
from server.compare.models import Became, KeptComparison
from server.people import queries as people
from server.people.models import Variable
from server.projects.models import Membership

Json = dict[str, Any]


def names_in(member: Membership, asked: Json) -> Json:
    """By kind and ID, the names of everything asked about, and the categories of its variables."""
    wanted = _ids(asked)
    return {kind: _names(rows(member), wanted[kind]) for kind, rows in _ROWS.items()}


_ROWS: dict[str, Callable[[Membership], QuerySet[Any]]] = {
    "code": coding.codes,
    "theme": coding.themes,
    "query": searching.saved_queries,
    "cohort": people.cohorts,
    "variable": lambda member: Variable.objects.filter(project=member.project_id),
}


def _ids(asked: Json) -> dict[str, list[int]]:
    """By kind, whatever the question names, once each; what narrows its scope is said there."""
    found: dict[str, list[int]] = {kind: [] for kind in _ROWS}
    for part in QUESTION:
        if part.kind:
            found[part.kind] += part.ids(asked)
    return {kind: list(dict.fromkeys(pk for pk in ids if pk)) for kind, ids in found.items()}


def _names(rows: Any, wanted: list[int]) -> dict[str, str]:
    return {str(pk): name for pk, name in rows.filter(pk__in=wanted).values_list("id", "name")}


def gone_from(member: Membership, kept: KeptComparison) -> list[Json]:
    """What a kept comparison asks about that isn't there as it was: merged, renamed or deleted; and what it became."""
    asked, now = kept.asked, names_in(member, kept.asked)
    became = list(Became.objects.filter(project=member.project_id))
    found: list[Json] = []
    for kind, ids in _ids(asked).items():
        for pk in ids:
            if str(pk) in now[kind]:
                continue
            name = kept.called.get(kind, {}).get(str(pk), "")
            target = _followed(became, kind, 0, str(pk)) if kind == "code" else None
            code = coding.codes(member).filter(pk=int(target)).first() if target else None
            found.append(
                {
                    "what": kind,
                    "id": pk,
                    "name": name,
                    "now": code.pk if code else None,
                    "became": code.name if code else "",
                }
            )
    return found + _categories(member, asked, became)


def _categories(member: Membership, asked: Json, became: list[Became]) -> list[Json]:
    found: list[Json] = []
    for variable_id, field in ((asked.get("variable"), "groups"), (asked.get("second"), "second_groups")):
        chosen = asked.get(field)
        row = Variable.objects.filter(project=member.project_id, pk=variable_id).first() if variable_id else None
        if not chosen or row is None or asked.get("cuts"):
            continue
        labels = set(row.categories.values_list("label", flat=True))
        for name in chosen:
            if not labels or name in labels or name in ("yes", "no"):
                continue
            target = _followed(became, "category", row.pk, name)
            found.append(
                {
                    "what": "category",
                    "id": row.pk,
                    "name": name,
                    "now": None,
                    "became": target if target in labels else "",
                }
            )
    return found


def _followed(became: list[Became], what: str, within: int, gone: str) -> str | None:
    """The end of the chain: a code merged into one that was merged again."""
    at, seen = gone, {gone}
    while True:
        later = [row.now for row in became if (row.what, row.within, row.gone) == (what, within, at)]
        if not later or later[-1] in seen:
            return None if at == gone else at
        at = later[-1]
        seen.add(at)
