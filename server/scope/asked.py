"""A scope as it is sent, for every view that is narrowed by one."""

from datetime import date
from typing import Any

from rest_framework import serializers

from server.scope.parts import PARTS


class ScopeIn(serializers.Serializer[Any]):
    def get_fields(self) -> dict[str, "serializers.Field[Any, Any, Any, Any]"]:
        return {part.name: part.field() for part in PARTS}

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """Days stay words: what is asked is kept as JSON."""
        found: dict[str, Any] = super().to_internal_value(data)
        return {name: value.isoformat() if isinstance(value, date) else value for name, value in found.items()}
