"""A JSON Schema for the rows of each part, made from the tables: shipped in the file, and what it is held to coming in."""

from collections.abc import Callable
from functools import cache
from typing import Any

import fastjsonschema
from django.contrib.postgres.fields import ArrayField
from django.db import models

from server.projects.models import MemberRole
from server.shell.project_file import rows
from server.shell.project_file.named import Json
from server.shell.project_file.parts import Part

DRAFT = "http://json-schema.org/draft-07/schema#"


def schema_of(part: Part) -> Json:
    """What every line of a part is."""
    columns = {column.name: _of(column) for column in rows.columns_of(part)}
    for name, value in part.later.items():
        columns[name]["default"] = value
    return {
        "$schema": DRAFT,
        "title": part.name,
        "description": f"{part.about}. One row a line; “id” is the row’s own number in this file.",
        "type": "object",
        "properties": {rows.ID: _NUMBER, **columns},
        "required": [rows.ID, *(name for name in columns if name not in part.later)],
        "additionalProperties": False,
    }


_NUMBER = {"type": "integer", "minimum": 1}
PEOPLE: Json = {
    "$schema": DRAFT,
    "title": "people",
    "description": "Whoever is a member, or wrote or coded something. “role” is null for who isn’t a member any more.",
    "type": "object",
    "properties": {
        rows.ID: _NUMBER,
        "username": {"type": "string", "maxLength": 150},
        "name": {"type": "string", "minLength": 1, "maxLength": 120},
        "role": {"enum": [*reversed(MemberRole.values), None]},
    },
    "required": [rows.ID, "username", "name", "role"],
    "additionalProperties": False,
}


def _of(column: rows.Column) -> Json:
    field = column.field
    found = {**_plain(column), **({"description": f"a row of {column.refers}"} if column.refers else {})}
    if field.choices and "enum" in found and field.null:
        found["enum"] = [*found["enum"], None]
    if field.null and "type" in found:
        found["type"] = [found["type"], "null"]
    return found


_KINDS: tuple[tuple[Any, Json], ...] = (
    (models.PositiveSmallIntegerField, {"type": "integer", "minimum": 0, "maximum": 32_767}),
    (models.PositiveIntegerField, {"type": "integer", "minimum": 0, "maximum": 2**31 - 1}),
    (models.PositiveBigIntegerField, {"type": "integer", "minimum": 0, "maximum": 2**63 - 1}),
    (models.IntegerField, {"type": "integer", "minimum": -(2**63), "maximum": 2**63 - 1}),
    (models.FloatField, {"type": "number"}),
    (models.BooleanField, {"type": "boolean"}),
    (models.DateTimeField, {"type": "string", "format": "date-time"}),
    (models.DateField, {"type": "string", "format": "date"}),
    (ArrayField, {"type": "array", "items": {"type": "integer", "minimum": 0, "maximum": 2**31 - 1}, "minItems": 1}),
    (models.JSONField, {}),
)


def _plain(column: rows.Column) -> Json:
    field = column.field
    if column.refers:
        return dict(_NUMBER)
    if column.within and column.within.packed:
        return {"type": "object"}
    for kind, said in _KINDS:
        if isinstance(field, kind):
            return dict(said)
    found: Json = {"type": "string"}
    if field.choices:
        known = [value for value, _ in field.flatchoices]
        found["enum"] = ["", *known] if field.blank and "" not in known else known
    if field.max_length:
        found["maxLength"] = field.max_length
    return found


Check = Callable[[Any], Any]


@cache
def whole(part: Part) -> Check:
    """Raises ``fastjsonschema.JsonSchemaException`` for what isn't a row of the part."""
    return fastjsonschema.compile(schema_of(part))


@cache
def some(part: Part) -> Check:
    """The same for some fields of a row."""
    # What a step leaves out stays as it was.
    return fastjsonschema.compile({**schema_of(part), "required": []}, use_default=False)


person: Check = fastjsonschema.compile(PEOPLE)
