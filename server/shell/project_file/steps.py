"""The trail's inverses out and in: steps on rows by their numbers. One that can't be told in the file isn't: what it would
take back stays."""

from typing import Any

from django.apps import apps

from server.projects.models import TrailEntry, TrailState
from server.projects.steps import MOST_KEPT, spans_of
from server.shell.project_file import rows, schemas
from server.shell.project_file.named import Json, Renumber, Within
from server.shell.project_file.parts import BY_MODEL, BY_NAME, Part

_KINDS = ("insert", "update", "update_all", "delete")


class _NotCarried(ValueError):
    """The step is on something that isn't in the file."""


def _out(steps: list[Json], to: Renumber) -> list[Json]:
    try:
        if any(_many(step) > MOST_KEPT for step in steps):
            return []
        return [_step(step, to, _row_out, _model_out) for step in steps]
    except _NotCarried:
        return []


def _into(steps: list[Json], to: Renumber) -> list[Json]:
    if any(_many(step) > MOST_KEPT for step in steps):
        raise ValueError("a step names more rows than can be taken back")
    return [_step(step, to, _row_in, _model_in) for step in steps]


def _many(step: Json) -> int:
    return sum(max(0, last - first + 1) for first, last in step.get("spans", []))


def _step(step: Json, to: Renumber, row: Any, model: Any) -> Json:
    """One step, whichever way: ``row`` says a row anew, ``model`` what it is a row of."""
    if step.get("do") not in _KINDS:
        raise _NotCarried
    part, called = model(step)
    found: Json = {"do": step["do"], **called}
    if step["do"] == "insert":
        return {**found, "rows": [row(part, one, to, True) for one in step["rows"]]}
    if "ids" in step:
        found["ids"] = [to(part, one) for one in step["ids"]]
    if "spans" in step:
        found["spans"] = spans_of([to(part, key) for first, last in step["spans"] for key in range(first, last + 1)])
    if "id" in step:
        found["id"] = to(part, step["id"])
    if "if_unused" in step:
        found["if_unused"] = bool(step["if_unused"])
    for name in ("now", "then"):
        if name in step:
            found[name] = row(part, step[name], to, False)
    return found


def _model_out(step: Json) -> tuple[str, Json]:
    part = BY_MODEL.get(apps.get_model(step["model"]), "")
    if part not in BY_NAME:
        raise _NotCarried
    return part, {"part": part}


def _model_in(step: Json) -> tuple[str, Json]:
    part = BY_NAME[step["part"]]
    if part.name == "project" and step["do"] != "update":
        raise ValueError("a step makes or takes away a project")
    return part.name, {"model": part.model._meta.label_lower}


def _row_out(name: str, said: Json, to: Renumber, whole: bool) -> Json:
    part = BY_NAME[name]
    found = rows.out(part, said.items(), to)
    return {rows.ID: to(name, said[_key(name)]), **found} if whole else found


def _row_in(name: str, said: Json, to: Renumber, whole: bool) -> Json:
    part = BY_NAME[name]
    (schemas.whole if whole else schemas.some)(part)(said)
    fields = rows.into(part, {key: value for key, value in said.items() if key != rows.ID}, to)
    if not whole:
        return fields
    own = {} if part.project != "project" else {"project_id": to("project", 1)}
    return {_key(name): to(name, said[rows.ID]), **own, **fields}


def _key(name: str) -> str:
    return str(BY_NAME[name].model._meta.pk.attname)


def _settled(row: Json, to: Renumber) -> Json:
    """An entry whose steps couldn't be told stays as it is."""
    if row["inverse"]:
        return row
    stays = {TrailState.DONE: TrailState.STAYS, TrailState.UNDONE: TrailState.GONE}
    return {**row, "state": stays.get(row["state"], row["state"])}


TRAIL = Part(
    "trail",
    TrailEntry,
    "Who did what when, and the steps that take it back",
    within={"inverse": Within(_out, _into)},
    row=_settled,
)
