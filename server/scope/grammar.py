"""How what is asked is said: each part once, for the API, for what is kept, for files that leave, and for the web's addresses."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from rest_framework import serializers

AnyField = serializers.Field[Any, Any, Any, Any]
Way = Literal["ids", "id", "labels", "numbers", "word", "flag", "count", "condition", "inner"]
"""A list of rows, one row, names of groups, cut points, one word of some, yes or no, a number from 0 on, blocks of conditions,
parts of its own."""
Kind = Literal["code", "theme", "query", "cohort", "variable", "document", "case", "person"]


@dataclass(frozen=True)
class Said:
    """A part of what is asked. ``name``: in the API, and as it is kept; ``field`` reads it from a request. ``way``: how an
    address says it, under ``address`` ("" where it doesn't), left out where it is ``usual``. ``kind``: of the rows it names."""

    name: str
    way: Way
    field: Callable[[], AnyField]
    address: str = ""
    usual: Any = None
    kind: Kind | None = None
    words: tuple[str, ...] = ()

    def ids(self, asked: dict[str, Any]) -> list[int]:
        """The rows that it names in what is asked."""
        value = asked.get(self.name)
        if self.kind is None or value is None:
            return []
        return list(value) if self.way == "ids" else [value]


class _Ids(serializers.ListField):
    """Numbers of rows, hundreds at once: looked at one by one only where something else is among them."""

    def run_child_validation(self, data: list[Any]) -> list[Any]:
        return data if all(type(one) is int for one in data) else super().run_child_validation(data)


def ids(most: int, about: str = "", required: bool = False, nullable: bool = True) -> Callable[[], AnyField]:
    return lambda: _Ids(
        child=serializers.IntegerField(),
        required=required,
        max_length=most,
        allow_null=nullable,
        help_text=about or None,
    )


def one_row(about: str = "") -> Callable[[], AnyField]:
    return lambda: serializers.IntegerField(required=False, allow_null=True, help_text=about or None)


def labels(most: int) -> Callable[[], AnyField]:
    return lambda: serializers.ListField(
        child=serializers.CharField(), required=False, allow_null=True, max_length=most
    )


def flag(usual: bool) -> Callable[[], AnyField]:
    return lambda: serializers.BooleanField(default=usual)


def word(words: tuple[str, ...], usual: str | None, about: str = "") -> Callable[[], AnyField]:
    if usual is None:
        return lambda: serializers.ChoiceField(choices=words, required=False, help_text=about or None)
    return lambda: serializers.ChoiceField(choices=words, default=usual, help_text=about or None)


def fields_of(parts: list[Said]) -> dict[str, AnyField]:
    """What reads all of them from a request."""
    return {part.name: part.field() for part in parts}
