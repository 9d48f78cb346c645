"""Rows changed or deleted in one statement that says which they were: what a framework would ask for first, and name one by one."""

from typing import Any

from django.core.exceptions import EmptyResultSet
from django.db import connection, models
from django.db.models.sql import DeleteQuery, UpdateQuery


def changed(rows: models.QuerySet[Any], fields: dict[str, Any]) -> list[int]:
    """Set fields, by attribute name, of all these rows; the keys of those it was."""
    query: Any = _whole(rows).chain(UpdateQuery)
    query.add_update_values(fields)
    return _done(query, rows.model)[1]


def removed(rows: models.QuerySet[Any]) -> tuple[str, list[int]]:
    """Delete all these rows, on which nothing can rest: what they were as JSON, and their keys."""
    return _done(_whole(rows).chain(DeleteQuery), rows.model, written=True)


def _whole(rows: models.QuerySet[Any]) -> Any:
    """What tells the rows. What makes a list of them would be forgotten on the way, and more of them changed."""
    query = rows.order_by().query
    if query.distinct or query.combinator:
        raise TypeError("rows to be changed are told by what they are, not by the list they make")
    return query


def _done(query: Any, model: type[models.Model], written: bool = False) -> tuple[Any, list[int]]:
    key = model._meta.pk.column
    try:
        statement, params = query.get_compiler("default").as_sql()
    except EmptyResultSet:
        # Nothing can be among them, whatever there is.
        return None, []
    with connection.cursor() as cursor:
        cursor.execute(
            f'WITH done AS ({statement} RETURNING "{model._meta.db_table}".{"*" if written else key}) '
            f'SELECT {"json_agg(done)::text" if written else "NULL"}, array_agg("{key}" ORDER BY "{key}") FROM done',
            params,
        )
        rows, keys = cursor.fetchone()
    return rows, keys or []
