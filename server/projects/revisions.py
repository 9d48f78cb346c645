"""What each revision of a project touched: snapshots are carried on by it, others ask whether what they rest on moved."""

from collections.abc import Iterable, Sequence
from contextvars import ContextVar
from typing import NamedTuple

import numpy as np
from django.apps import apps

from server.projects.models import Project, Touched
from server.projects.steps import Step, spans_of

KEPT = 2000
"""Revisions of a project of which it is known what they touched."""
MOST_SPANS = 4000
"""Runs of rows of one kind that are written down; beyond, it says only that the kind was touched."""
Rows = dict[str, list[list[int]] | None]
_heard: ContextVar[list["Raised"] | None] = ContextVar("heard", default=None)


class Raised(NamedTuple):
    """A revision that was made; the kinds of rows it touched, None for any."""

    project: int
    revision: int
    kinds: frozenset[str] | None


def listen() -> list[Raised]:
    """A list to which every revision that is made from here on, by whoever asks here, is added."""
    heard: list[Raised] = []
    _heard.set(heard)
    return heard


def touched_by(steps: Iterable[Step]) -> Rows:
    """Which rows the steps touch, by model: their numbers in runs, None for more than is written down."""
    runs: dict[str, list[list[int]]] = {}
    everything: set[str] = set()
    for step in steps:
        if step["do"] == "swept":
            everything.add(step["model"])
        else:
            runs.setdefault(step["model"], []).extend(_runs(step))
    joined = {model: _joined(found) for model, found in runs.items()}
    found: Rows = {model: spans if len(spans) <= MOST_SPANS else None for model, spans in joined.items()}
    return found | dict.fromkeys(everything)


def _runs(step: Step) -> list[list[int]]:
    if "spans" in step:
        return [list(span) for span in step["spans"]]
    if "rows" in step:
        key = apps.get_model(step["model"])._meta.pk.attname
        return spans_of(sorted(row[key] for row in step["rows"]))
    return [[step["id"]] * 2] if "id" in step else spans_of(sorted(step["ids"]))


def _joined(runs: list[list[int]]) -> list[list[int]]:
    """Runs in order, those that touch as one."""
    if len(runs) < 2:
        return runs
    found = np.asarray(runs, np.int64)
    found = found[np.argsort(found[:, 0], kind="stable")]
    # How far all runs up to each reach: where the next begins beyond, it is apart.
    reach = np.maximum.accumulate(found[:, 1])
    apart = np.flatnonzero(found[1:, 0] > reach[:-1] + 1)
    first, last = found[np.append(0, apart + 1), 0], reach[np.append(apart, len(found) - 1)]
    return np.stack([first, last], axis=1).tolist()


def raise_revision(project: Project, rows: Rows | None) -> int:
    """The next revision of a project that is held; ``rows``: what it touched, None for anything."""
    project.revision += 1
    Project.objects.filter(pk=project.pk).update(revision=project.revision)
    Touched.objects.create(project=project, revision=project.revision, rows=rows)
    if (heard := _heard.get()) is not None:
        heard.append(Raised(project.pk, project.revision, None if rows is None else frozenset(rows)))
    if not project.revision % 100:
        Touched.objects.filter(project=project, revision__lte=project.revision - KEPT).delete()
    return project.revision


def revision_of(project_id: int) -> int:
    return Project.objects.values_list("revision", flat=True).get(pk=project_id)


def moved_since(project_id: int, revision: int, rests_on: Sequence[str]) -> bool:
    """Whether anybody has changed, since this revision, rows of models whose labels begin with one of these."""
    later = Touched.objects.filter(project=project_id, revision__gt=revision).values_list("rows", flat=True)
    if len(later) < revision_of(project_id) - revision:
        return True
    return any(rows is None or any(label.startswith(tuple(rests_on)) for label in rows) for rows in later)
