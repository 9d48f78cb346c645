"""Undo: every action writes its inverse, as data, while it makes its changes.

An inverse is a list of steps, carried out in order; carrying them out yields the inverse of
the inverse, so that redo is the same thing once more.

    {"do": "delete", "model": "coding.coding", "ids": [3], "if_unused": false}
    {"do": "insert", "model": "coding.coding", "rows": [{…}]}
    {"do": "update", "model": "coding.code", "id": 5, "now": {…}, "then": {…}}
    {"do": "update_all", "model": "coding.coding", "spans": [[3, 9]], "now": {…}, "then": {…}}
"""

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from itertools import chain
from typing import Any, TypeVar

from django.apps import apps
from django.core.serializers.json import DjangoJSONEncoder
from django.db import IntegrityError, connection, models, transaction
from django.db.models.deletion import Collector

from server.common.errors import Conflict, NotAllowed
from server.projects.models import Membership, Project, TrailEntry, TrailState

Step = dict[str, Any]
MOST_KEPT = 300_000
"""Rows of one step up to which undoing keeps them, so that it can be done again."""
Row = TypeVar("Row", bound=models.Model)


class Change:
    """Makes the changes of one action and keeps their inverse."""

    def __init__(self, member: Membership, verb: str) -> None:
        self.member = member
        self.project_id = member.project_id
        self.verb = verb
        self.summary = ""
        self.inverse: list[Step] = []

    def create(self, row: Row, if_unused: bool = False) -> Row:
        """Insert one row. ``if_unused``: undoing leaves it where something else now rests on it."""
        row.save(force_insert=True)
        self.inverse.insert(0, _delete_step(type(row), [row.pk], if_unused))
        return row

    def create_many(self, rows: Sequence[Row], if_unused: bool = False) -> list[Row]:
        if not rows:
            return []
        model = type(rows[0])
        made = model._default_manager.bulk_create(rows, batch_size=2000)
        self.inverse.insert(0, _delete_step(model, [row.pk for row in made], if_unused))
        return made

    def copy(self, model: type[models.Model], columns: Sequence[str], rows: Sequence[tuple[Any, ...]]) -> None:
        """Insert many plain rows at the database's own speed. ``columns`` are attribute names; columns that
        aren't named are empty. The rows are not read back: what needs their keys uses ``create_many``."""
        lines = [_as_copied(row) for row in rows]
        self._copy(
            model, columns, len(lines), lambda keys: [f"{pk}\t{line}\n" for pk, line in zip(keys, lines, strict=True)]
        )

    def copy_alike(
        self,
        model: type[models.Model],
        columns: Sequence[str],
        owners: Sequence[int],
        shared: Sequence[tuple[Any, ...]],
        which: Sequence[int],
    ) -> None:
        """The same where rows differ only in whose they are, the first column: ``owners`` (rows,); the other
        columns of each are ``shared[which[row]]``."""
        tails = [f"\t{_as_copied(row)}\n" for row in shared]
        self._copy(
            model,
            columns,
            len(owners),
            lambda keys: [f"{pk}\t{one}{tails[at]}" for pk, one, at in zip(keys, owners, which, strict=True)],
        )

    def _copy(
        self,
        model: type[models.Model],
        columns: Sequence[str],
        count: int,
        lines: Callable[[Sequence[int]], list[str]],
    ) -> None:
        if not count:
            return
        table, key = model._meta.db_table, str(model._meta.pk.column)
        listed = ", ".join(f'"{_field(model, name).column}"' for name in columns)
        with connection.cursor() as cursor:
            keys = _reserve(cursor, table, key, count)
            with cursor.copy(f'COPY "{table}" ("{key}", {listed}) FROM STDIN') as out:
                out.write("".join(lines(keys)))
        self.inverse.insert(0, {"do": "delete", "model": _label(model), "spans": _spans(keys), "if_unused": False})

    def settle(self) -> None:
        """Have the database judge what was written so far, rather than all of it at the very end."""
        with connection.cursor() as cursor:
            # How to look a row up is found once a session: not by reading all of a table because it is small as yet.
            cursor.execute("SET LOCAL enable_seqscan = off; SET CONSTRAINTS ALL IMMEDIATE")
            cursor.execute("SET CONSTRAINTS ALL DEFERRED; SET LOCAL enable_seqscan = on")

    def update(self, row: models.Model, **fields: Any) -> bool:
        """Set fields by attribute name (``parent_id``, not ``parent``); False if nothing changes."""
        changed = {name: value for name, value in fields.items() if getattr(row, name) != value}
        if not changed:
            return False
        before = {name: getattr(row, name) for name in changed}
        for name, value in changed.items():
            setattr(row, name, value)
        row.save(update_fields=[_field(type(row), name).name for name in changed])
        self.inverse.insert(
            0, {"do": "update", "model": _label(type(row)), "id": row.pk, "now": changed, "then": before}
        )
        return True

    def update_all(self, rows: models.QuerySet[Any], **fields: Any) -> int:
        """Set the same fields (by attribute name) of many rows, in one statement for each way they were before."""
        model = rows.model
        before: dict[tuple[Any, ...], list[Any]] = {}
        for pk, *values in rows.order_by("pk").values_list("pk", *fields):
            if tuple(values) != tuple(fields.values()):
                before.setdefault(tuple(values), []).append(pk)
        for values, keys in before.items():
            then = dict(zip(fields, values, strict=True))
            model._default_manager.filter(pk__in=keys).update(**fields)
            step = {"do": "update_all", "model": _label(model), "spans": _spans(keys), "now": fields, "then": then}
            self.inverse.insert(0, step)
        return sum(map(len, before.values()))

    def delete(self, rows: models.QuerySet[Any]) -> int:
        """Delete rows and all that rests on them; all of it comes back by undo."""
        steps, count = _delete(rows.model, list(rows))
        self.inverse[:0] = steps
        return count


@contextmanager
def act(member: Membership, needs: str, verb: str) -> Iterator[Change]:
    """The frame of every write: permission, one transaction, the trail, the project's revision."""
    if not member.may(needs):
        raise NotAllowed(f"Your role in this project is {member.role}; this needs a {needs}.")
    with transaction.atomic():
        project = Project.objects.select_for_update().get(pk=member.project_id)
        change = Change(member, verb)
        yield change
        if change.inverse:
            # What was undone before can't be redone on top of something new.
            TrailEntry.objects.filter(project=project, actor=member.account, state=TrailState.UNDONE).update(
                state=TrailState.GONE
            )
            _write_entry(project, change)


def _write_entry(project: Project, change: Change) -> None:
    project.revision += 1
    project.save(update_fields=["revision"])
    TrailEntry.objects.create(
        project=project,
        actor=change.member.account,
        revision=project.revision,
        verb=change.verb,
        summary=change.summary,
        inverse=_plain(change.inverse),
    )


def last_done(member: Membership) -> TrailEntry | None:
    """What undo would take back for this member."""
    return _own(member, TrailState.DONE).order_by("-revision").first()


def last_undone(member: Membership) -> TrailEntry | None:
    """What redo would do again for this member."""
    return _own(member, TrailState.UNDONE).order_by("revision").first()


def undo(member: Membership) -> TrailEntry | None:
    """Take back the member's own last action; None where there is none."""
    return _turn(member, last_done, TrailState.UNDONE)


def redo(member: Membership) -> TrailEntry | None:
    """Do again what the member last took back; None where there is nothing."""
    return _turn(member, last_undone, TrailState.DONE)


def _own(member: Membership, state: TrailState) -> models.QuerySet[TrailEntry]:
    return TrailEntry.objects.filter(project=member.project_id, actor=member.account_id, state=state)


def _turn(member: Membership, choose: Any, state: TrailState) -> TrailEntry | None:
    if not member.may("coder"):
        raise NotAllowed("A viewer has nothing to undo.")
    try:
        with transaction.atomic():
            project = Project.objects.select_for_update().get(pk=member.project_id)
            entry: TrailEntry | None = choose(member)
            if entry is None:
                return None
            back = carry_out(entry.inverse)
            swept = any(step["do"] == "swept" for step in back)
            entry.inverse = [] if swept else _plain(back)
            entry.state = TrailState.GONE if swept else state
            entry.save(update_fields=["inverse", "state"])
            project.revision = models.F("revision") + 1
            project.save(update_fields=["revision"])
            with connection.cursor() as cursor:
                cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
            return entry
    except IntegrityError as error:
        raise Conflict(
            "This can’t be taken back any more: something it rests on has been changed or deleted since."
        ) from error


def carry_out(steps: list[Step]) -> list[Step]:
    """Carry out the steps of an inverse; returns the steps that take them back again."""
    back: list[Step] = []
    for step in steps:
        model = apps.get_model(step["model"])
        if step["do"] == "insert":
            back[:0] = _insert(model, step["rows"])
        elif step["do"] == "update":
            back[:0] = _update(model, step)
        elif step["do"] == "update_all":
            back[:0] = _update_all(model, step)
        elif len(keys := _keys(step)) > MOST_KEPT and "spans" in step:
            _sweep(model, step["spans"])
            back.insert(0, {"do": "swept"})
        else:
            rows = list(model._default_manager.filter(pk__in=keys))
            if step.get("if_unused"):
                rows = [row for row in rows if not _resting_on(model, [row])]
            elif resting := _strangers(model, rows, steps):
                raise Conflict(f"This can’t be taken back any more: {resting} have been added to it since.")
            back[:0] = [
                {**undoing, "if_unused": True} if step.get("if_unused") else undoing
                for undoing in _delete(model, rows)[0]
            ]
    return back


def _insert(model: type[models.Model], rows: list[dict[str, Any]]) -> list[Step]:
    made = [
        model(
            **{name: _field(model, name).to_python(value) if value is not None else None for name, value in row.items()}
        )
        for row in rows
    ]
    model._default_manager.bulk_create(
        made, batch_size=2000, ignore_conflicts=model._meta.label_lower == "coding.passage"
    )
    return [_delete_step(model, [row.pk for row in made], model._meta.label_lower == "coding.passage")]


def _update(model: type[models.Model], step: Step) -> list[Step]:
    row = model._default_manager.filter(pk=step["id"]).first()
    if row is None:
        raise Conflict("This can’t be taken back any more: it has been deleted since.")
    current = _plain({name: getattr(row, name) for name in step["now"]})
    if current != step["now"]:
        raise Conflict("This can’t be taken back any more: it has been changed again since.")
    for name, value in step["then"].items():
        setattr(row, name, _field(model, name).to_python(value) if value is not None else None)
    row.save(update_fields=[_field(model, name).name for name in step["then"]])
    return [{**step, "now": step["then"], "then": step["now"]}]


def _update_all(model: type[models.Model], step: Step) -> list[Step]:
    keys = list(_keys(step))
    now = {
        name: _field(model, name).to_python(value) if value is not None else None for name, value in step["now"].items()
    }
    conditions = {f"{name}__isnull" if value is None else name: value is None or value for name, value in now.items()}
    rows = model._default_manager.filter(pk__in=keys, **conditions)
    if rows.count() != len(keys):
        raise Conflict("This can’t be taken back any more: it has been changed again or deleted since.")
    then = {
        name: _field(model, name).to_python(value) if value is not None else None
        for name, value in step["then"].items()
    }
    rows.update(**then)
    return [{**step, "now": step["then"], "then": step["now"]}]


def _collect(model: type[models.Model], rows: list[Any]) -> Collector:
    collector = Collector(using="default", origin=None)
    # Rows have to be read to be kept, so none may be deleted unseen.
    collector.can_fast_delete = lambda *args, **kwargs: False  # type: ignore[method-assign]
    collector.collect(rows)
    return collector


def _delete(model: type[models.Model], rows: list[Any]) -> tuple[list[Step], int]:
    if not rows:
        return [], 0
    collector = _collect(model, rows)
    inserts: list[Step] = []
    for kind, instances in collector.data.items():
        inserts.append({"do": "insert", "model": _label(kind), "rows": [_row(instance) for instance in instances]})
    updates: list[Step] = []
    for (field, value), querysets in collector.field_updates.items():
        found: list[Any] = list(chain.from_iterable(querysets))  # type: ignore[arg-type]
        for instance in found:
            updates.append(
                {
                    "do": "update",
                    "model": _label(type(instance)),
                    "id": instance.pk,
                    "now": {field.attname: value},
                    "then": {field.attname: getattr(instance, field.attname)},
                }
            )
    collector.delete()
    return [*inserts, *updates], len(rows)


def _resting_on(model: type[models.Model], rows: list[Any]) -> list[models.Model]:
    collected = _collect(model, rows).data
    return [row for kind, found in collected.items() if kind is not model for row in found]


def _strangers(model: type[models.Model], rows: list[Any], steps: list[Step]) -> str:
    """What would vanish with ``rows`` though this action didn't make it, in words."""
    own = {(step["model"], key) for step in steps if step["do"] == "delete" for key in _keys(step)}
    kept: dict[str, int] = {}
    for row in _resting_on(model, rows):
        label = _label(type(row))
        if (label, row.pk) not in own and label not in ("coding.pin",):
            name = str(row._meta.verbose_name_plural)
            kept[name] = kept.get(name, 0) + 1
    return " and ".join(f"{count} {name}" for name, count in kept.items())


def _reserve(cursor: Any, table: str, key: str, count: int) -> Sequence[int]:
    """Keys that are nobody else's: nearly always one run of them, which needn't be fetched."""
    numbers = "SELECT nextval((SELECT pg_get_serial_sequence(%s, %s))::regclass) AS n FROM generate_series(1, %s)"
    cursor.execute(f"SELECT min(n), max(n) FROM ({numbers}) AS taken", [table, key, count])
    first, last = cursor.fetchone()
    if last - first + 1 == count:
        return range(first, last + 1)
    cursor.execute(numbers, [table, key, count])
    return [one for (one,) in cursor.fetchall()]


_ESCAPED = str.maketrans({"\\": "\\\\", "\t": "\\t", "\n": "\\n", "\r": "\\r"})


def _as_copied(row: Sequence[Any]) -> str:
    """A row in the database's text format for copying."""
    return "\t".join(
        [
            "\\N"
            if value is None
            else value.translate(_ESCAPED)
            if isinstance(value, str)
            else ("t" if value else "f")
            if isinstance(value, bool)
            else str(value)
            for value in row
        ]
    )


def _spans(keys: Sequence[int]) -> list[list[int]]:
    """Keys as the runs that they come in: a million are a few pairs."""
    if isinstance(keys, range):
        return [[keys[0], keys[-1]]]
    spans: list[list[int]] = []
    for key in keys:
        if spans and key == spans[-1][1] + 1:
            spans[-1][1] = key
        else:
            spans.append([key, key])
    return spans


def _keys(step: Step) -> Sequence[Any]:
    if "spans" not in step:
        return step["ids"]
    if len(step["spans"]) == 1:
        return range(step["spans"][0][0], step["spans"][0][1] + 1)
    return [key for first, last in step["spans"] for key in range(first, last + 1)]


def _sweep(model: type[models.Model], spans: list[list[int]]) -> None:
    """Delete more rows than can be kept for doing it again."""
    for first, last in spans:
        with connection.cursor() as cursor:
            cursor.execute(f'DELETE FROM "{model._meta.db_table}" WHERE id BETWEEN %s AND %s', [first, last])


def _delete_step(model: type[models.Model], ids: list[Any], if_unused: bool) -> Step:
    return {"do": "delete", "model": _label(model), "ids": ids, "if_unused": if_unused}


def _row(instance: models.Model) -> dict[str, Any]:
    return {field.attname: getattr(instance, field.attname) for field in instance._meta.concrete_fields}


def _field(model: type[models.Model], attname: str) -> Any:
    return next(field for field in model._meta.concrete_fields if field.attname == attname)


def _label(model: type[models.Model]) -> str:
    return model._meta.label_lower


def _plain(value: Any) -> Any:
    """As it reads back from the database's JSON."""
    import json

    return json.loads(json.dumps(value, cls=DjangoJSONEncoder))
