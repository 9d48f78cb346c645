"""All rows that a project has, whatever room they are of."""

from collections.abc import Iterator
from functools import cache
from typing import Any

from django.db import models

from server.projects.models import Project


def rows_of(project_id: int) -> Iterator[models.QuerySet[Any]]:
    """The rows of each model that can't be without the project; those of a model before those of what it rests on."""
    for model, path in reversed(_paths()[1:]):
        yield model._default_manager.filter(**{path: project_id})


@cache
def _paths() -> list[tuple[type[models.Model], str]]:
    """Each model with the shortest way from it to the project, the nearest first; the project itself is first."""
    found: list[tuple[type[models.Model], str]] = [(Project, "pk")]
    known: set[type[models.Model]] = {Project}
    for model, path in found:
        for relation in model._meta.related_objects:
            field, other = relation.field, relation.related_model
            if field.null or isinstance(other, str) or other in known:
                continue
            known.add(other)
            found.append((other, field.name if model is Project else f"{field.name}__{path}"))
    return found
