"""Conditions on passages told as a sentence: what stands over an export, and with a frozen result."""

from collections.abc import Iterable
from typing import Any

from core.language import message, say, worded
from server.coding import queries as coding
from server.compare.together import near_words
from server.gather.models import Document
from server.people import queries as people
from server.people.models import Variable
from server.projects.models import Membership

Json = dict[str, Any]
_HOW = {
    "any": message("any of"),
    "all": message("all of"),
    "none": message("none of"),
    "one": message("exactly one of"),
}
_RELATIONS = {
    "inside": message("lying inside a passage of"),
    "contains": message("lying around a passage of"),
    "overlaps": message("overlapping a passage of"),
    "near": message("lying near a passage of"),
    "before": message("lying before a passage of"),
    "after": message("lying after a passage of"),
}
_OPERATORS = {
    "is": message("is"),
    "is_not": message("is not"),
    "at_least": message("is at least"),
    "below": message("is below"),
}


def sentence_of_query(member: Membership, blocks: Json) -> str:
    """``Passages coded with any of “Waiting”, and said by people for whom Island is Holm.``"""
    return say("Passages {blocks}.", blocks=_Teller(member).blocks(blocks))


class _Teller:
    """Names are looked up once; what isn't there any more is told as gone."""

    def __init__(self, member: Membership) -> None:
        self.member = member
        self.codes = dict(coding.codes(member).values_list("id", "name"))
        self.variables = dict(Variable.objects.filter(project=member.project_id).values_list("id", "name"))

    def blocks(self, said: Json) -> str:
        parts = [self.blocks(part) if "parts" in part else self.one(part) for part in said["parts"]]
        if not parts:
            return say("of any kind")
        joined = (
            parts[0]
            if len(parts) == 1
            else (say(", and ") if said.get("join", "all") == "all" else say(", or ")).join(parts)
        )
        if said.get("negated"):
            return say("not ({joined})", joined=joined)
        return f"({joined})" if len(parts) > 1 and said.get("join") == "any" else joined

    def one(self, said: Json) -> str:
        told: str = getattr(self, f"_{said['what']}")(said)
        return told

    def _named(self, ids: Iterable[int], names: dict[int, str]) -> str:
        return ", ".join(
            say("“{name}”", name=names[pk]) if pk in names else say("“{name}”", name=say("deleted")) for pk in ids
        )

    def _beneath(self, said: Json) -> str:
        return say(" or a code beneath") if said.get("beneath", True) else ""

    def _coded(self, said: Json) -> str:
        how = (
            "" if len(said["codes"]) == 1 and said.get("how") != "none" else f"{worded(_HOW[said.get('how', 'any')])} "
        )
        return say(
            "coded with {how}{named}{beneath}",
            how=how,
            named=self._named(said["codes"], self.codes),
            beneath=self._beneath(said),
        )

    def _placed(self, said: Json) -> str:
        far = said["relation"] in ("near", "before", "after")
        how = f", {near_words(said)}" if far and said.get("unit", "overlap") != "overlap" else ""
        own = "" if said["relation"] in ("before", "after") else say(", itself among them")
        return f"{worded(_RELATIONS[said['relation']])} {self._named(said['codes'], self.codes)}{self._beneath(said)}{how}{own}"

    def _said(self, said: Json) -> str:
        many = self.member.project.case_many
        if said.get("cohort") is not None:
            found = people.cohorts(self.member).filter(pk=said["cohort"]).values_list("name", flat=True).first()
            return say("said by the cohort “{name}”", name=found or say("deleted"))
        if said.get("cases") is not None:
            return say("said by {said} {many} chosen one by one", said=len(said["cases"]), many=many)
        return say("said by {many} for whom {condition}", many=many, condition=self.condition(said["condition"]))

    def condition(self, said: Json) -> str:
        """A condition on people, as a cohort's."""
        if "parts" in said:
            parts = [self.condition(part) for part in said["parts"]]
            told = (say(" and ") if said.get("join", "all") == "all" else say(" or ")).join(parts) or say(
                "nothing is asked"
            )
            told = f"({told})" if len(parts) > 1 and said.get("join") == "any" else told
            return say("it isn’t so that {told}", told=told) if said.get("negated") else told
        if "cohorts" in said:
            held = dict(people.cohorts(self.member).values_list("id", "name"))
            return (
                say("they are not in {named}", named=self._named(said["cohorts"], held))
                if said.get("how") == "none"
                else say("they are in {named}", named=self._named(said["cohorts"], held))
            )
        if "codes" in said:
            how = {
                "any": say("mention any of"),
                "all": say("mention all of"),
                "none": say("mention none of"),
                "silent": say("have material and mention none of"),
            }
            return say(
                "they {how} {named}", how=how[said.get("how", "any")], named=self._named(said["codes"], self.codes)
            )
        name = self.variables.get(said["variable"], say("a deleted variable"))
        if said["operator"] in ("is_missing", "has_value"):
            return (
                say("{name} is missing", name=name)
                if said["operator"] == "is_missing"
                else say("{name} is known", name=name)
            )
        values = say(" or ").join(
            say("yes") if one is True else say("no") if one is False else str(one) for one in said["values"]
        )
        return f"{name} {worded(_OPERATORS[said['operator']])} {values}"

    def _within(self, said: Json) -> str:
        if said.get("variable"):
            name = self.variables.get(said["variable"], say("a deleted variable"))
            return say(
                "in documents whose {name} is {groups}",
                name=name,
                groups=say(" or ").join(said.get("groups") or [say("nothing")]),
            )
        rows = Document.objects.filter(project=self.member.project_id, pk__in=said.get("documents") or [])
        titles = list(rows.order_by("title").values_list("title", flat=True))
        shown = ", ".join(say("“{name}”", name=title) for title in titles[:5])
        return say("in {shown}", shown=shown) + (
            say(" and {titles} more documents", titles=len(titles) - 5) if len(titles) > 5 else ""
        )

    def _text(self, said: Json) -> str:
        return say("whose words hold “{said}”", said=said["text"].strip())

    def _memo(self, said: Json) -> str:
        return (
            say("with a memo that holds “{said}”", said=said["text"].strip())
            if said.get("text", "").strip()
            else say("with a memo")
        )

    def _made(self, said: Json) -> str:
        coders = {row.pk: row.display_name for row in coding.coders(self.member)}
        by = say(" by {named}", named=self._named(said["coders"], coders)) if said.get("coders") else ""
        rated = (
            say(" rated {said} to {said2}", said=said["rating"][0], said2=said["rating"][1])
            if said.get("rating")
            else ""
        )
        days = (say(" since {day}", day=said["since"]) if said.get("since") else "") + (
            say(" until {day}", day=said["until"]) if said.get("until") else ""
        )
        return say("coded{by}{rated}{days}", by=by, rated=rated, days=days)
