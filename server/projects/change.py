"""The changes of one action, and the steps that take them back: written as data while they are made.

An inverse is a list of steps, carried out in order; carrying them out yields the inverse of
the inverse, so that redo is the same thing once more.

    {"do": "delete", "model": "coding.coding", "ids": [3], "if_unused": false}
    {"do": "insert", "model": "coding.coding", "rows": [{…}]}
    {"do": "update", "model": "coding.code", "id": 5, "now": {…}, "then": {…}}
    {"do": "update_all", "model": "coding.coding", "spans": [[3, 9]], "now": {…}, "then": {…}}
    {"do": "shift", "model": "gather.turn", "spans": [[3, 9]], "fields": ["start", "end"], "by": -12}
    {"do": "splice", "model": "gather.document", "id": 5, "field": "text", "at": 40, "now": "…", "then": "…"}
"""

from collections.abc import Callable, Sequence
from typing import Any, TypeVar

from django.contrib.postgres.aggregates import ArrayAgg
from django.db import connection, models

from server.projects.at_once import changed
from server.projects.models import MemberRole, Membership
from server.projects.packed import packable, packed
from server.projects.steps import Step, among, as_copied, delete_step, deleted, field_of, label_of, reserve, spans_of

Row = TypeVar("Row", bound=models.Model)


class Change:
    """Makes the changes of one action and keeps their inverse."""

    def __init__(self, member: Membership, verb: str, needs: MemberRole = MemberRole.CODER) -> None:
        self.needs = needs
        self.member = member
        self.project_id = member.project_id
        self.verb = verb
        self.summary = ""
        self.inverse: list[Step] = []

    def create(self, row: Row, if_unused: bool = False) -> Row:
        """Insert one row. ``if_unused``: undoing leaves it where something else now rests on it."""
        row.save(force_insert=True)
        self.inverse.insert(0, delete_step(type(row), [row.pk], if_unused))
        return row

    def create_many(self, rows: Sequence[Row], if_unused: bool = False) -> list[Row]:
        if not rows:
            return []
        model = type(rows[0])
        made = model._default_manager.bulk_create(rows, batch_size=2000)
        self.inverse.insert(0, delete_step(model, [row.pk for row in made], if_unused))
        return made

    def copy(self, model: type[models.Model], columns: Sequence[str], rows: Sequence[tuple[Any, ...]]) -> Sequence[int]:
        """Insert many plain rows at the database's own speed; their keys, in order. ``columns`` are attribute names; columns that
        aren't named are empty."""
        lines = [as_copied(row) for row in rows]
        return self._copy(
            model,
            columns,
            len(lines),
            lambda keys: "".join([f"{pk}\t{line}\n" for pk, line in zip(keys, lines, strict=True)]).encode(),
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
        if packable([field_of(model, name) for name in columns[1:]], shared):
            self._copy(
                model, columns, len(owners), lambda keys: b"".join(packed(keys, owners, shared, which)), binary=True
            )
            return
        tails = [f"\t{as_copied(row)}\n" for row in shared]
        self._copy(
            model,
            columns,
            len(owners),
            lambda keys: "".join(
                [f"{pk}\t{one}{tails[at]}" for pk, one, at in zip(keys, owners, which, strict=True)]
            ).encode(),
        )

    def _copy(
        self,
        model: type[models.Model],
        columns: Sequence[str],
        count: int,
        written: Callable[[Sequence[int]], bytes],
        binary: bool = False,
    ) -> Sequence[int]:
        if not count:
            return []
        table, key = model._meta.db_table, str(model._meta.pk.column)
        listed = ", ".join(f'"{field_of(model, name).column}"' for name in columns)
        with connection.cursor() as cursor:
            keys = reserve(cursor, table, key, count, getattr(model, "KEY_BLOCKS", ""))
            form = " WITH (FORMAT BINARY)" if binary else ""
            with cursor.copy(f'COPY "{table}" ("{key}", {listed}) FROM STDIN{form}') as out:
                out.write(written(keys))
        self.inverse.insert(0, {"do": "delete", "model": label_of(model), "spans": spans_of(keys), "if_unused": False})
        return keys

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
        row.save(update_fields=[field_of(type(row), name).name for name in changed])
        self.inverse.insert(
            0, {"do": "update", "model": label_of(type(row)), "id": row.pk, "now": changed, "then": before}
        )
        return True

    def update_all(
        self, rows: models.QuerySet[Any], were: Sequence[tuple[Any, ...]] | None = None, **fields: Any
    ) -> int:
        """Set the same fields (by attribute name) of many rows, in one statement for each way they were before. ``were``: the ways
        as far as two of them, where the caller knows them: nobody has to look through the rows for them."""
        ways = list(rows.order_by().values_list(*fields).distinct()[:2]) if were is None else were
        if len(ways) == 1 and ways[0] != tuple(fields.values()):
            return self._turned(rows.model, changed(rows, fields), ways[0], fields)
        # One row for each way they were: of twenty thousand rows, reading them takes longer than changing them.
        every = rows.order_by().values_list(*fields).annotate(keys=ArrayAgg("pk", order_by="pk"))
        count = 0
        for *values, keys in list(every) if len(ways) > 1 else ():
            if tuple(values) != tuple(fields.values()):
                among(rows.model, keys).update(**fields)
                count += self._turned(rows.model, keys, values, fields)
        return count

    def _turned(self, model: type[models.Model], keys: Sequence[int], were: Sequence[Any], now: dict[str, Any]) -> int:
        if not keys:
            return 0
        then = dict(zip(now, were, strict=True))
        step = {"do": "update_all", "model": label_of(model), "spans": spans_of(keys), "now": now, "then": then}
        self.inverse.insert(0, step)
        return len(keys)

    def shift(self, rows: models.QuerySet[Any], by: int, *fields: str) -> None:
        """Add the same number to fields of many rows: what stands behind a word that was put in."""
        keys = list(rows.order_by("pk").values_list("pk", flat=True))
        if not keys or not by:
            return
        among(rows.model, keys).update(**{name: models.F(name) + by for name in fields})
        step = {
            "do": "shift",
            "model": label_of(rows.model),
            "spans": spans_of(keys),
            "fields": list(fields),
            "by": -by,
        }
        self.inverse.insert(0, step)

    def splice(self, row: models.Model, field: str, start: int, end: int, text: str) -> None:
        """Put ``text`` in place of ``[start, end)`` of a long text: only these words are kept for taking it back."""
        before: str = getattr(row, field)
        setattr(row, field, before[:start] + text + before[end:])
        row.save(update_fields=[field])
        step = {"do": "splice", "model": label_of(type(row)), "id": row.pk, "field": field, "at": start}
        self.inverse.insert(0, {**step, "now": text, "then": before[start:end]})

    def delete(self, rows: models.QuerySet[Any]) -> int:
        """Delete rows and all that rests on them; all of it comes back by undo."""
        steps, count = deleted(rows)
        self.inverse[:0] = steps
        return count
