"""The steps that take an action back, carried out; what they are is written in ``server.projects.change``."""

import json
from collections.abc import Callable, Sequence
from itertools import chain, groupby
from typing import Any

import numpy as np
import orjson
from django.apps import apps
from django.db import connection, models
from django.db.models.deletion import Collector
from django.db.models.functions import Coalesce, Length

from core.language import say
from server.common.errors import Conflict
from server.common.in_json import InJson
from server.projects.at_once import removed

Step = dict[str, Any]
SPLICED: dict[type[models.Model], Callable[[Any], None]] = {}
"""What is made from a spliced text, by what its rows are: made anew when that is taken back."""
MOST_KEPT = 300_000
"""Rows of one kind up to which undoing keeps them, so that it can be done again."""
MOST_LETTERS = 60_000_000
"""Code points of text in rows of one kind, likewise: the database holds no entry larger than 256 MB."""
COPIED = 200
"""Rows from which they are put in at the database’s own speed."""
AT_ONCE = 5_000
"""Rows of one kind deleted at once: between two pieces, how far it is is told."""


def weight(steps: list[Step]) -> int:
    """How many rows the steps touch."""
    return sum(len(step["rows"]) if "rows" in step else 1 if "id" in step else len(_keys(step)) for step in steps)


def carry_out(steps: list[Step], tell: Callable[[int, int], None] | None = None) -> list[Step]:
    """Carry out the steps of an inverse; returns the steps that take them back again. ``tell`` hears how many are done, of how many."""
    back: list[Step] = []
    together = _together(steps)
    own = {(step["model"], key) for step in steps if step["do"] == "delete" for key in _keys(step)}
    for number, step in enumerate(together):
        if tell:
            tell(number, len(together))
        model = apps.get_model(step["model"])
        if step["do"] == "insert":
            back[:0] = _insert(model, step["rows"])
        elif step["do"] in _CHANGING:
            back[:0] = _CHANGING[step["do"]](model, step)
        else:
            back[:0] = _delete(model, step, own)
    return back


def _together(steps: list[Step]) -> list[Step]:
    """Deletions that follow each other, those of one kind at once: a thousand documents are a few steps, not thousands.
    In pieces, so that how far it is can be told."""
    found: list[Step] = []
    for plainly, run in groupby(steps, lambda step: step["do"] == "delete" and not step.get("if_unused")):
        if not plainly:
            found += run
            continue
        keys: dict[str, list[Any]] = {}
        for step in run:
            keys.setdefault(step["model"], []).extend(_keys(step))
        for model, of_it in keys.items():
            kept = _can_be_kept(apps.get_model(model), of_it)
            for at in range(0, len(of_it), AT_ONCE):
                piece = of_it[at : at + AT_ONCE]
                found.append({"do": "delete", "model": model, "spans": spans_of(piece), "kept": kept})
    return found


def _delete(model: type[models.Model], step: Step, own: set[tuple[str, Any]]) -> list[Step]:
    if not step.get("kept", True):
        _sweep(model, step["spans"])
        return [{"do": "swept", "model": step["model"]}]
    rows = list(among(model, list(_keys(step))))
    found = _collect(model, rows)
    if not step.get("if_unused"):
        if resting := _strangers(_resting_on(model, found), own):
            raise Conflict(
                say(
                    "This can’t be taken back any more: what was added to it since would go too ({resting}).",
                    resting=resting,
                )
            )
    elif _resting_on(model, found):
        rows = [row for row in rows if not _resting_on(model, _collect(model, [row]))]
        found = _collect(model, rows)
    undoing = _deleted(found) if rows else []
    return [{**one, "if_unused": True} for one in undoing] if step.get("if_unused") else undoing


def _insert(model: type[models.Model], rows: list[dict[str, Any]]) -> list[Step]:
    if len(rows) >= COPIED and not shared(model) and all(map(_is_plain, rows[0].values())):
        _copy_in(model, rows)
        return [delete_step(model, [row[model._meta.pk.attname] for row in rows], False)]
    made = [
        model(
            **{
                name: field_of(model, name).to_python(value) if value is not None else None
                for name, value in row.items()
            }
        )
        for row in rows
    ]
    model._default_manager.bulk_create(made, batch_size=2000, ignore_conflicts=shared(model))
    return [delete_step(model, [row.pk for row in made], shared(model))]


def _is_plain(value: Any) -> bool:
    """Whether the database reads it as it was written down."""
    return value is None or isinstance(value, str | int | float | bool)


def _copy_in(model: type[models.Model], rows: list[dict[str, Any]]) -> None:
    names = list(rows[0])
    columns = ", ".join(f'"{field_of(model, name).column}"' for name in names)
    with connection.cursor() as cursor, cursor.copy(f'COPY "{model._meta.db_table}" ({columns}) FROM STDIN') as out:
        out.write("".join(f"{as_copied([row[name] for name in names])}\n" for row in rows))


def _update(model: type[models.Model], step: Step) -> list[Step]:
    row = model._default_manager.filter(pk=step["id"]).first()
    if row is None:
        raise Conflict(say("This can’t be taken back any more: it has been deleted since."))
    current = plain({name: getattr(row, name) for name in step["now"]})
    if current != step["now"]:
        raise Conflict(say("This can’t be taken back any more: it has been changed again since."))
    for name, value in step["then"].items():
        setattr(row, name, field_of(model, name).to_python(value) if value is not None else None)
    row.save(update_fields=[field_of(model, name).name for name in step["then"]])
    return [{**step, "now": step["then"], "then": step["now"]}]


@models.OneToOneField.register_lookup
@models.Field.register_lookup
class _AnyOf(models.Lookup):
    """One list as one value: ten thousands of them in a statement take the database longer than the change."""

    lookup_name = "any_of"
    prepare_rhs = False

    def as_sql(self, compiler: Any, connection: Any) -> Any:
        column, params = self.process_lhs(compiler, connection)
        return f"{column} = ANY(%s)", (*params, self.rhs)


def among(model: type[models.Model], keys: Sequence[int]) -> models.QuerySet[Any]:
    # Written out here: of a list, the framework and the driver would look at each.
    return model._default_manager.filter(pk__any_of="{" + ",".join(map(str, keys)) + "}")


def _update_all(model: type[models.Model], step: Step) -> list[Step]:
    keys = list(_keys(step))
    now = {
        name: field_of(model, name).to_python(value) if value is not None else None
        for name, value in step["now"].items()
    }
    conditions = {f"{name}__isnull" if value is None else name: value is None or value for name, value in now.items()}
    then = {
        name: field_of(model, name).to_python(value) if value is not None else None
        for name, value in step["then"].items()
    }
    # Where some aren't as they were left, what was changed of the others is taken back with the whole.
    if among(model, keys).filter(**conditions).update(**then) != len(keys):
        raise Conflict(say("This can’t be taken back any more: it has been changed again or deleted since."))
    return [{**step, "now": step["then"], "then": step["now"]}]


def _shift(model: type[models.Model], step: Step) -> list[Step]:
    keys = list(_keys(step))
    if among(model, keys).update(**{name: models.F(name) + step["by"] for name in step["fields"]}) != len(keys):
        raise Conflict(say("This can’t be taken back any more: it has been deleted since."))
    return [{**step, "by": -step["by"]}]


def _splice(model: type[models.Model], step: Step) -> list[Step]:
    row = model._default_manager.filter(pk=step["id"]).first()
    if row is None:
        raise Conflict(say("This can’t be taken back any more: it has been deleted since."))
    text, at, end = getattr(row, step["field"]), step["at"], step["at"] + len(step["now"])
    if text[at:end] != step["now"]:
        raise Conflict(say("This can’t be taken back any more: it has been changed again since."))
    setattr(row, step["field"], text[:at] + step["then"] + text[end:])
    row.save(update_fields=[step["field"]])
    if model in SPLICED:
        SPLICED[model](row)
    return [{**step, "now": step["then"], "then": step["now"]}]


_CHANGING: dict[str, Callable[[type[models.Model], Step], list[Step]]] = {
    "update": _update,
    "update_all": _update_all,
    "shift": _shift,
    "splice": _splice,
}


def _collect(model: type[models.Model], rows: list[Any]) -> Collector:
    collector = Collector(using="default", origin=None)
    # Rows have to be read to be kept, so none may be deleted unseen.
    collector.can_fast_delete = lambda *args, **kwargs: False  # type: ignore[method-assign]
    collector.collect(rows)
    return collector


def deleted(rows: models.QuerySet[Any]) -> tuple[list[Step], int]:
    """Delete rows and all that rests on them; the steps that bring them back, and how many rows there were."""
    if not rows.model._meta.related_objects:
        return _gone(rows)
    found = list(rows)
    return (_deleted(_collect(rows.model, found)), len(found)) if found else ([], 0)


def _gone(rows: models.QuerySet[Any]) -> tuple[list[Step], int]:
    """The same where nothing can rest on them: the database writes down itself what it deletes."""
    written, keys = removed(rows)
    if not keys:
        return [], 0
    step = {
        "do": "insert", "model": label_of(rows.model), "rows": orjson.Fragment(written), "spans": spans_of(keys)
    }  # fmt: skip
    return [step], len(keys)


def _deleted(collector: Collector) -> list[Step]:
    """Delete what is collected; the steps that bring it back."""
    inserts: list[Step] = []
    for kind, instances in collector.data.items():
        inserts.append({"do": "insert", "model": label_of(kind), "rows": [_row(instance) for instance in instances]})
    updates: list[Step] = []
    for (field, value), querysets in collector.field_updates.items():
        found: list[Any] = list(chain.from_iterable(querysets))  # type: ignore[arg-type]
        for instance in found:
            updates.append(
                {
                    "do": "update",
                    "model": label_of(type(instance)),
                    "id": instance.pk,
                    "now": {field.attname: value},
                    "then": {field.attname: getattr(instance, field.attname)},
                }
            )
    ((kind, rows), *others) = collector.data.items()
    if others or updates:
        collector.delete()
    else:
        # One statement for all of them, where nothing else goes or is changed with them.
        among(kind, [row.pk for row in rows])._raw_delete("default")
    return [*inserts, *updates]


def _resting_on(model: type[models.Model], collected: Collector) -> list[models.Model]:
    return [row for kind, found in collected.data.items() if kind is not model for row in found]


def _strangers(resting: list[models.Model], own: set[tuple[str, Any]]) -> str:
    """What would vanish though this action didn't make it, in words."""
    kept: dict[Any, int] = {}
    for row in resting:
        label = label_of(type(row))
        if (label, row.pk) not in own and not getattr(row, "GOES_UNSAID", False):
            kept[row._meta] = kept.get(row._meta, 0) + 1
    return " and ".join(
        f"{count} {meta.verbose_name if count == 1 else meta.verbose_name_plural}" for meta, count in kept.items()
    )


BLOCK = 1_000_000
"""Keys that one number of a sequence of blocks stands for."""
_MANY = 1_000
"""Keys from which a block is worth it."""


def reserve(cursor: Any, table: str, key: str, count: int, blocks: str = "") -> Sequence[int]:
    """Keys that are nobody else's: nearly always one run of them, which needn't be fetched. ``blocks``: the sequence by which whole
    blocks of the table's keys are given, if there is one (``KEY_BLOCKS`` of the model)."""
    if blocks and _MANY < count <= BLOCK:
        cursor.execute("SELECT nextval(%s)", [blocks])
        (first,) = cursor.fetchone()
        return range(first, first + count)
    numbers = "SELECT nextval((SELECT pg_get_serial_sequence(%s, %s))::regclass) AS n FROM generate_series(1, %s)"
    cursor.execute(f"SELECT min(n), max(n) FROM ({numbers}) AS taken", [table, key, count])
    first, last = cursor.fetchone()
    if last - first + 1 == count:
        return range(first, last + 1)
    cursor.execute(numbers, [table, key, count])
    return [one for (one,) in cursor.fetchall()]


_ESCAPED = str.maketrans({"\\": "\\\\", "\t": "\\t", "\n": "\\n", "\r": "\\r"})


def as_copied(row: Sequence[Any]) -> str:
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


def spans_of(keys: Sequence[int]) -> list[list[int]]:
    """Keys as the runs that they come in: a million are a few pairs."""
    if isinstance(keys, range):
        return [[keys[0], keys[-1]]]
    found = np.asarray(keys, np.int64)
    ends = np.flatnonzero(np.diff(found) != 1)
    first, last = np.append(0, ends + 1), np.append(ends, len(found) - 1)
    return np.stack([found[first], found[last]], axis=1).tolist() if len(found) else []


def _keys(step: Step) -> Sequence[Any]:
    if "spans" not in step:
        return step["ids"]
    if len(step["spans"]) == 1:
        return range(step["spans"][0][0], step["spans"][0][1] + 1)
    return [key for first, last in step["spans"] for key in range(first, last + 1)]


def _sweep(model: type[models.Model], spans: list[list[int]]) -> None:
    """Delete more rows than can be kept for doing it again."""
    key = model._meta.pk.column
    for first, last in spans:
        with connection.cursor() as cursor:
            cursor.execute(f'DELETE FROM "{model._meta.db_table}" WHERE "{key}" BETWEEN %s AND %s', [first, last])


def _can_be_kept(model: type[models.Model], keys: Sequence[Any]) -> bool:
    """Whether so many rows, with so much text, fit into an entry of the trail."""
    if len(keys) > MOST_KEPT:
        return False
    texts = [field.name for field in model._meta.concrete_fields if isinstance(field, models.TextField)]
    if not texts:
        return True
    letters = sum((Coalesce(models.Sum(Length(name)), 0) for name in texts), models.Value(0))
    return among(model, keys).aggregate(letters=letters)["letters"] <= MOST_LETTERS


def shared(model: type[models.Model]) -> bool:
    """Whether a row of this kind may be there already, made by somebody else meanwhile, and serves both."""
    return getattr(model, "SHARED", False)


def delete_step(model: type[models.Model], ids: list[Any], if_unused: bool) -> Step:
    return {"do": "delete", "model": label_of(model), "ids": ids, "if_unused": if_unused}


def _row(instance: models.Model) -> dict[str, Any]:
    return {field.attname: getattr(instance, field.attname) for field in instance._meta.concrete_fields}


def field_of(model: type[models.Model], attname: str) -> Any:
    return next(field for field in model._meta.concrete_fields if field.attname == attname)


def label_of(model: type[models.Model]) -> str:
    return model._meta.label_lower


def plain(value: Any) -> Any:
    """As it reads back from the database's JSON."""
    return json.loads(json.dumps(value, cls=InJson))
