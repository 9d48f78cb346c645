"""Whether what is sent as conditions on passages is such; for other rooms too."""

from collections.abc import Callable
from typing import Any

from rest_framework import serializers

from core.language import say
from server.people.asked import check as check_condition

DEEPEST, WIDEST = 5, 40
UNITS = ["overlap", "turns", "paragraphs", "seconds"]
RELATIONS = ["inside", "contains", "overlaps", "near", "before", "after"]
HOW = ["all", "any", "none", "one"]


def _integers(said: Any, most: int = 2000) -> bool:
    return isinstance(said, list) and len(said) <= most and all(type(one) is int for one in said)


def _number(said: Any, least: float, most: float) -> bool:
    return isinstance(said, int | float) and not isinstance(said, bool) and least <= said <= most


def check(said: Any, depth: int = 0) -> None:
    """Refuse what isn’t a condition on passages."""
    if not isinstance(said, dict) or depth > DEEPEST:
        raise serializers.ValidationError(say("This query isn’t complete: build it from its blocks."))
    if "parts" in said:
        parts = said["parts"]
        if said.get("join", "all") not in ("all", "any") or not isinstance(parts, list) or len(parts) > WIDEST:
            raise serializers.ValidationError(
                say("Blocks are joined by “all” or “any”, at most {most} of them.", most=WIDEST)
            )
        for part in parts:
            check(part, depth + 1)
        return
    if depth == 0:
        raise serializers.ValidationError(say("A query begins with a block of conditions."))
    fits = _FITS.get(said.get("what", ""))
    if fits is None or not fits(said):
        raise serializers.ValidationError(say("A condition isn’t complete: choose what it asks about."))


def _said_fits(said: dict[str, Any]) -> bool:
    if said.get("condition") is not None:
        check_condition(said["condition"])
        return True
    return type(said.get("cohort")) is int or _integers(said.get("cases"), 100_000)


def _made_fits(said: dict[str, Any]) -> bool:
    rating = said.get("rating")
    rated = rating is None or (_integers(rating) and len(rating) == 2)
    days = all(said.get(name) is None or isinstance(said[name], str) for name in ("since", "until"))
    return rated and days and (said.get("coders") is None or _integers(said["coders"]))


_FITS: dict[str, Callable[[dict[str, Any]], bool]] = {
    "coded": lambda said: _integers(said.get("codes")) and bool(said["codes"]) and said.get("how", "any") in HOW,
    "placed": lambda said: (
        _integers(said.get("codes"))
        and bool(said["codes"])
        and said.get("relation") in RELATIONS
        and said.get("unit", "overlap") in UNITS
        and _number(said.get("within", 0), 0, 100_000)
    ),
    "made": _made_fits,
    "said": _said_fits,
    "within": lambda said: (
        _integers(said.get("documents"), 20_000)
        or (type(said.get("variable")) is int and isinstance(said.get("groups"), list))
    ),
    "text": lambda said: isinstance(said.get("text"), str) and 0 < len(said["text"].strip()) <= 500,
    "memo": lambda said: isinstance(said.get("text", ""), str) and len(said.get("text", "")) <= 500,
}
