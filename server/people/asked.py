"""Whether what is sent as a condition is one; for other rooms too."""

from typing import Any

from rest_framework import serializers

OPERATORS = ["is", "is_not", "at_least", "below", "is_missing", "has_value"]
DEEPEST = 5


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
        raise serializers.ValidationError("This condition isn’t complete; choose a variable and a value.")


def _names(said: Any) -> bool:
    """Whether it is a list of keys, and not an empty one."""
    return isinstance(said, list) and 0 < len(said) <= 500 and all(type(one) is int for one in said)
