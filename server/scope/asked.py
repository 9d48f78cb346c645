"""A scope as it is sent, for every view that is narrowed by one."""

from datetime import date
from typing import Any

from rest_framework import serializers

from server.scope.grammar import AnyField, fields_of
from server.scope.parts import PARTS


class ScopeIn(serializers.Serializer[Any]):
    def get_fields(self) -> dict[str, AnyField]:
        return fields_of([part.said for part in PARTS])

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """Days stay words: what is asked is kept as JSON."""
        found: dict[str, Any] = super().to_internal_value(data)
        return {name: value.isoformat() if isinstance(value, date) else value for name, value in found.items()}
