"""What is sure and what is worth a look: in words, as marks on the table, and how steady it is."""

from typing import Any

import numpy as np

from core.compare.steady import Choice, Range, Steady, discussions, steady
from core.compare.sure import Family
from core.compare.told.findings import Finding, findings, nothing_stands_out
from core.compare.told.methods import of_the_rule
from server.common.numbers import finite
from server.compare.answers import Answer, answer
from server.gather.models import Document
from server.people import queries as people
from server.people.queries import case_names
from server.projects.models import Account, Membership
from server.scope.axes import layerings

Json = dict[str, Any]
MOST_MARKS = 2_000
"""Differences that are marked in a table at most; those nearest to sure first."""


def stands_out(member: Membership, said: Json) -> Json:
    """The largest and surest differences in words, and every one that is sure or worth a look."""
    found = answer(member, said)
    asked, family = found.asked, found.family
    cases = case_names(member, asked.snapshot)
    names = [cases.get(pk, "?") for pk in asked.snapshot.case_ids.tolist()]
    others = layerings(member, asked.snapshot, asked.columns)
    told = findings(family, [row.name for row in asked.rows], names, asked.names, others)
    methods, sources = of_the_rule(family, asked.names)
    return {
        "findings": [_finding(found, one) for one in told],
        "marks": _marks(family),
        "share": found.result.measure.share,
        "looked_at": family.looked_at,
        "sure": int(family.sure.sum()),
        "look": int(family.look.sum()),
        "by_chance": round(family.by_chance, 1),
        "otherwise": "" if told else nothing_stands_out(family, asked.names),
        "methods": methods,
        "sources": sources,
    }


def _finding(found: Answer, one: Finding) -> Json:
    row = found.asked.rows[one.row]
    figures = {name: finite(getattr(one, name)) for name in ("difference", "low", "high", "p")}
    cautions = [vars(caution) for caution in one.cautions]
    return {**vars(one), **figures, "cautions": cautions, "name": row.name, "colour": row.colour}


def _marks(family: Family) -> list[Json]:
    rows, pairs = np.nonzero(family.sure | family.look)
    p = np.nan_to_num(family.p[rows, pairs], nan=1.0)
    order = np.lexsort((pairs, rows, p, ~family.sure[rows, pairs]))[:MOST_MARKS]
    return [
        {
            "row": int(rows[at]),
            "groups": list(family.pairs[pairs[at]]),
            "standing": "sure" if family.sure[rows[at], pairs[at]] else "look",
            "p": finite(family.p[rows[at], pairs[at]]),
        }
        for at in order.tolist()
    ]


def how_steady(member: Membership, said: Json) -> list[Json]:
    """Of each finding: without any one person, document or coder, and under each other reasonable choice."""
    found = answer(member, said)
    asked, family = found.asked, found.family
    told = findings(family, [row.name for row in asked.rows], ["?"] * len(asked.snapshot.case_ids), asked.names, [])
    shown = [one for one in told if one.standing != "one_voice"]
    every = steady(found.result, [(one.row, *one.groups) for one in shown])
    without = _Names(member, found)
    apart = discussions(asked.snapshot)
    alone = asked.snapshot.document_ids[~apart].tolist()
    return [
        {
            "row": one.row,
            "groups": list(one.groups),
            "people": without.range(each.people, "people"),
            "documents": without.range(each.documents, "documents"),
            "coders": without.range(each.coders, "coders"),
            "choices": [_choice(choice, alone) for choice in each.choices],
            "holds": sum(choice.holds for choice in each.choices),
        }
        for one, each in zip(shown, every, strict=True)
        if _something(each)
    ]


def _something(each: Steady) -> bool:
    return bool(each.people or each.documents or each.coders or each.choices)


def _choice(choice: Choice, alone: list[int]) -> Json:
    return {
        **vars(choice),
        "difference": finite(choice.difference),
        "documents": None if choice.discussions else alone,
    }


class _Names:
    """Who or what a range is without, by name."""

    def __init__(self, member: Membership, found: Answer) -> None:
        self.held, self.member = found.asked.snapshot, member

    def range(self, one: Range | None, kind: str) -> Json | None:
        if one is None:
            return None
        return {
            "count": one.count,
            "least": finite(one.least),
            "least_without": self._name(kind, one.least_without),
            "most": finite(one.most),
            "most_without": self._name(kind, one.most_without),
        }

    def _name(self, kind: str, place: int) -> str:
        if kind == "people":
            pk = int(self.held.case_ids[place])
            return people.cases(self.member).values_list("identifier", flat=True).filter(pk=pk).first() or "?"
        if kind == "documents":
            pk = int(self.held.document_ids[place])
            found = Document.objects.filter(project=self.member.project_id, pk=pk)
            return found.values_list("title", flat=True).first() or "?"
        pk = int(self.held.coder_ids[place])
        return Account.objects.filter(pk=pk).values_list("display_name", flat=True).first() or "?"
