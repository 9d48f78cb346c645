"""What the trail keeps, written as JSON: thousands of rows at once."""

import json
from typing import Any

import orjson
from django.core.serializers.json import DjangoJSONEncoder
from django.db import models
from psycopg.types.json import Json


class InJson(DjangoJSONEncoder):
    """The framework's way of writing days, moments and the like, everything else several times as fast."""

    def encode(self, o: Any) -> str:
        return orjson.dumps(o, default=self.default, option=_AS_THE_FRAMEWORK).decode()


_AS_THE_FRAMEWORK = orjson.OPT_PASSTHROUGH_DATETIME | orjson.OPT_NON_STR_KEYS


class AsWritten(models.JSONField):
    """JSON that the database keeps as it is written: to be read back whole, seldom to be asked about. Taken apart for asking,
    as it otherwise is, twenty thousand rows take four times as long to write."""

    def db_type(self, connection: Any) -> str:
        return "json"

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        return value if value is None else Json(value, dumps=lambda said: json.dumps(said, cls=self.encoder))

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> Any:
        """The driver has read it already."""
        return value
