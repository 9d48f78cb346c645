"""What is asked of this room, for other rooms too: how a variable is made of others, and whether what is sent as a condition
is one."""

from typing import Any

from rest_framework import serializers

from core.language import say

MADE_OF = ["bands", "crossing", "count", "cohort"]
OPERATORS = ["is", "is_not", "at_least", "below", "is_missing", "has_value"]
DEEPEST = 5


class Definition(serializers.Serializer[Any]):
    """How a variable is made of others."""

    kind = serializers.ChoiceField(choices=MADE_OF)
    of = serializers.JSONField(required=False, help_text="Bands: a variable. Crossing: two.")
    cuts = serializers.ListField(child=serializers.JSONField(), required=False, max_length=50)
    what = serializers.ChoiceField(choices=["documents", "words", "passages"], required=False)
    code = serializers.IntegerField(required=False, allow_null=True)
    cohort = serializers.IntegerField(required=False)

    def validate(self, said: dict[str, Any]) -> dict[str, Any]:
        of, kind = said.get("of"), said["kind"]
        fits = {
            "bands": isinstance(of, int) and bool(said.get("cuts")),
            "crossing": isinstance(of, list) and len(of) == 2 and all(isinstance(one, int) for one in of),
            "count": "what" in said,
            "cohort": "cohort" in said,
        }[kind]
        if not fits:
            raise serializers.ValidationError(say("Say what the variable is made of."))
        return said


def check(said: Any, depth: int = 0) -> None:
    """Refuse what isn't a condition."""
    fits = isinstance(said, dict) and depth <= DEEPEST
    if fits and "parts" in said:
        fits = (
            said.get("join", "all") in ("all", "any") and isinstance(said["parts"], list) and len(said["parts"]) <= 50
        )
        if fits:
            for part in said["parts"]:
                check(part, depth + 1)
    elif fits and "codes" in said:
        fits = _names(said["codes"]) and said.get("how", "any") in ("any", "all", "none", "silent")
    elif fits and "cohorts" in said:
        fits = _names(said["cohorts"]) and said.get("how", "any") in ("any", "none")
    elif fits:
        values = said.get("values", [])
        fits = (
            isinstance(said.get("variable"), int)
            and said.get("operator") in OPERATORS
            and isinstance(values, list)
            and all(isinstance(one, str | int | float | bool) for one in values)
            and (said["operator"] not in ("at_least", "below") or len(values) == 1)
        )
    if not fits:
        raise serializers.ValidationError(say("This condition isn’t complete; choose a variable and a value."))


def _names(said: Any) -> bool:
    """Whether it is a list of keys, and not an empty one."""
    return isinstance(said, list) and 0 < len(said) <= 500 and all(type(one) is int for one in said)
