"""Conditions on passages told as a sentence: what stands over an export, and with a frozen result."""

from collections.abc import Iterable
from typing import Any

from server.coding import queries as coding
from server.compare.together import near_words
from server.gather.models import Document
from server.people import queries as people
from server.people.models import Variable
from server.projects.models import Membership

Json = dict[str, Any]
_HOW = {"any": "any of", "all": "all of", "none": "none of", "one": "exactly one of"}
_RELATIONS = {
    "inside": "lying inside a passage of",
    "contains": "lying around a passage of",
    "overlaps": "overlapping a passage of",
    "near": "lying near a passage of",
    "before": "lying before a passage of",
    "after": "lying after a passage of",
}
_OPERATORS = {"is": "is", "is_not": "is not", "at_least": "is at least", "below": "is below"}


def sentence_of_query(member: Membership, blocks: Json) -> str:
    """``Passages coded with any of “Waiting”, and said by people for whom Island is Holm.``"""
    return f"Passages {_Teller(member).blocks(blocks)}."


class _Teller:
    """Names are looked up once; what isn't there any more is told as gone."""

    def __init__(self, member: Membership) -> None:
        self.member = member
        self.codes = dict(coding.codes(member).values_list("id", "name"))
        self.variables = dict(Variable.objects.filter(project=member.project_id).values_list("id", "name"))

    def blocks(self, said: Json) -> str:
        parts = [self.blocks(part) if "parts" in part else self.one(part) for part in said["parts"]]
        if not parts:
            return "of any kind"
        joined = (
            parts[0] if len(parts) == 1 else (", and " if said.get("join", "all") == "all" else ", or ").join(parts)
        )
        if said.get("negated"):
            return f"not ({joined})"
        return f"({joined})" if len(parts) > 1 and said.get("join") == "any" else joined

    def one(self, said: Json) -> str:
        told: str = getattr(self, f"_{said['what']}")(said)
        return told

    def _named(self, ids: Iterable[int], names: dict[int, str]) -> str:
        return ", ".join(f"“{names.get(pk, 'deleted')}”" for pk in ids)

    def _beneath(self, said: Json) -> str:
        return " or a code beneath" if said.get("beneath", True) else ""

    def _coded(self, said: Json) -> str:
        how = "" if len(said["codes"]) == 1 and said.get("how") != "none" else f"{_HOW[said.get('how', 'any')]} "
        return f"coded with {how}{self._named(said['codes'], self.codes)}{self._beneath(said)}"

    def _placed(self, said: Json) -> str:
        far = said["relation"] in ("near", "before", "after")
        how = f", {near_words(said)}" if far and said.get("unit", "overlap") != "overlap" else ""
        own = "" if said["relation"] in ("before", "after") else ", itself among them"
        return f"{_RELATIONS[said['relation']]} {self._named(said['codes'], self.codes)}{self._beneath(said)}{how}{own}"

    def _said(self, said: Json) -> str:
        many = self.member.project.case_many
        if said.get("cohort") is not None:
            found = people.cohorts(self.member).filter(pk=said["cohort"]).values_list("name", flat=True).first()
            return f"said by the cohort “{found or 'deleted'}”"
        if said.get("cases") is not None:
            return f"said by {len(said['cases'])} {many} chosen one by one"
        return f"said by {many} for whom {self.condition(said['condition'])}"

    def condition(self, said: Json) -> str:
        """A condition on people, as a cohort's."""
        if "parts" in said:
            parts = [self.condition(part) for part in said["parts"]]
            told = (" and " if said.get("join", "all") == "all" else " or ").join(parts) or "nothing is asked"
            told = f"({told})" if len(parts) > 1 and said.get("join") == "any" else told
            return f"it isn’t so that {told}" if said.get("negated") else told
        if "cohorts" in said:
            held = dict(people.cohorts(self.member).values_list("id", "name"))
            return f"they are {'not ' if said.get('how') == 'none' else ''}in {self._named(said['cohorts'], held)}"
        if "codes" in said:
            how = {
                "any": "mention any of",
                "all": "mention all of",
                "none": "mention none of",
                "silent": "have material and mention none of",
            }
            return f"they {how[said.get('how', 'any')]} {self._named(said['codes'], self.codes)}"
        name = self.variables.get(said["variable"], "a deleted variable")
        if said["operator"] in ("is_missing", "has_value"):
            return f"{name} is {'missing' if said['operator'] == 'is_missing' else 'known'}"
        values = " or ".join("yes" if one is True else "no" if one is False else str(one) for one in said["values"])
        return f"{name} {_OPERATORS[said['operator']]} {values}"

    def _within(self, said: Json) -> str:
        if said.get("variable"):
            name = self.variables.get(said["variable"], "a deleted variable")
            return f"in documents whose {name} is {' or '.join(said.get('groups') or ['nothing'])}"
        rows = Document.objects.filter(project=self.member.project_id, pk__in=said.get("documents") or [])
        titles = list(rows.order_by("title").values_list("title", flat=True))
        shown = ", ".join(f"“{title}”" for title in titles[:5])
        return f"in {shown}" + (f" and {len(titles) - 5} more documents" if len(titles) > 5 else "")

    def _text(self, said: Json) -> str:
        return f"whose words hold “{said['text'].strip()}”"

    def _memo(self, said: Json) -> str:
        return f"with a memo that holds “{said['text'].strip()}”" if said.get("text", "").strip() else "with a memo"

    def _made(self, said: Json) -> str:
        coders = {row.pk: row.display_name for row in coding.coders(self.member)}
        by = f" by {self._named(said['coders'], coders)}" if said.get("coders") else ""
        rated = f" rated {said['rating'][0]} to {said['rating'][1]}" if said.get("rating") else ""
        days = "".join(f" {name} {said[name]}" for name in ("since", "until") if said.get(name))
        return f"coded{by}{rated}{days}"
