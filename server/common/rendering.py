"""Answers as JSON, fast: a comparison of 400 codes carries some 24,000 figures."""

from collections.abc import Mapping
from typing import Any

import orjson
from rest_framework.renderers import BaseRenderer
from rest_framework.utils.encoders import JSONEncoder

_others = JSONEncoder()


class FastJSONRenderer(BaseRenderer):
    """JSON in UTF-8; what the encoder doesn't know (lazy texts, querysets) goes the framework's own way."""

    media_type = "application/json"
    format = "json"
    charset = None

    def render(
        self, data: Any, accepted_media_type: str | None = None, renderer_context: Mapping[str, Any] | None = None
    ) -> bytes:
        """Bytes of ``data``; nothing at all where there is no body to send."""
        return b"" if data is None else orjson.dumps(data, default=_others.default)
