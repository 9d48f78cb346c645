"""One row out of the database and into it again: fields by name, IDs as numbers."""

import json
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from typing import Any

from django.contrib.postgres.fields import ArrayField
from django.db import models

from server.shell.project_file.named import Json, Renumber, Within
from server.shell.project_file.parts import BY_MODEL, Part

ID = "id"
"""What a row's own number in the file is called."""


@dataclass(frozen=True)
class Column:
    """A field that is in the file; ``refers`` is the part whose rows it names."""

    field: "models.Field[Any, Any]"
    name: str
    attname: str
    refers: str | None
    within: Within | None


@cache
def columns_of(part: Part) -> tuple[Column, ...]:
    """The fields of a part but for its key and its project."""
    found = []
    for one in part.model._meta.concrete_fields:
        model = one.related_model
        if one.name == "project" or (one.primary_key and model is None):
            continue
        refers = BY_MODEL[model] if isinstance(model, type) else None
        found.append(Column(one, one.name, one.attname, refers, part.within.get(one.name)))
    return tuple(found)


@cache
def _by_attname(part: Part) -> dict[str, Column]:
    return {column.attname: column for column in columns_of(part)}


@cache
def _by_name(part: Part) -> dict[str, Column]:
    return {column.name: column for column in columns_of(part)}


def out(part: Part, pairs: Iterable[tuple[str, Any]], to: Renumber) -> Json:
    """A row, or some of its fields by attribute name, as the file says it."""
    known = _by_attname(part)
    found = {}
    for attname, value in pairs:
        column = known.get(attname)
        if column is not None:
            found[column.name] = _said(column, value, to)
    return part.row(found, to) if len(found) == len(known) else found


def _said(column: Column, value: Any, to: Renumber) -> Any:
    if value is None or column.refers:
        return None if value is None else to(str(column.refers), value)
    return column.within.out(value, to) if column.within else value


def into(part: Part, said: Json, to: Renumber) -> dict[str, Any]:
    """The same back: by attribute name. Raises ``KeyError``, ``TypeError`` or ``ValueError`` where it isn't a row."""
    known = _by_name(part)
    found = {}
    for name, value in (part.row(said, to) if len(said) == len(known) else said).items():
        column = known[name]
        found[column.attname] = _kept(column, value, to)
    return found


def _kept(column: Column, value: Any, to: Renumber) -> Any:
    if value is None:
        return None
    if column.refers:
        return to(column.refers, value)
    if column.within:
        value = column.within.into(value, to)
        column.within.check(value)
    return value


def as_copied_value(column: Column, value: Any) -> Any:
    """As the database's copying takes it."""
    if isinstance(column.field, models.JSONField) and value is not None:
        return json.dumps(value)
    if isinstance(column.field, ArrayField):
        return f"{{{','.join(map(str, value))}}}"
    return value
