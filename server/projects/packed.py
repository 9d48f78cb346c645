"""Rows that differ in whose they are, in the database's own form for copying: made as arrays, a few instructions a row."""

from collections.abc import Iterator, Sequence
from datetime import date
from typing import Any

import numpy as np
import numpy.typing as npt
from django.db import models

Ints = npt.NDArray[np.int64]
HEAD, TAIL = b"PGCOPY\n\xff\r\n\0" + bytes(8), b"\xff\xff"
MOST_WORDS = 64
"""Different texts up to which rows are packed by them; more are written as text."""
_DAY_ZERO = date(2000, 1, 1).toordinal()
_FORMS: tuple[tuple[type, tuple[type[Any], ...], str, int], ...] = (
    (int, (models.BigAutoField, models.BigIntegerField, models.ForeignKey), ">i8", 8),
    (float, (models.FloatField,), ">f8", 8),
    (bool, (models.BooleanField,), "u1", 1),
    (date, (models.DateField,), ">i4", 4),
    (str, (models.CharField, models.TextField), "", 0),
)
"""What a value is in Python and as a column; how it is packed, and in how many bytes."""


def packable(fields: "Sequence[models.Field[Any, Any]]", shared: Sequence[tuple[Any, ...]]) -> bool:
    """Whether such rows can be packed: every value is of its column's plain kind, and there are few different texts."""
    for field, column in zip(fields, zip(*shared, strict=True), strict=True):
        kinds = set(map(type, column)) - {type(None)}
        if not all(any(kind is one and isinstance(field, columns) for one, columns, _, _ in _FORMS) for kind in kinds):
            return False
        if str in kinds and len(set(column)) > MOST_WORDS:
            return False
    return True


def packed(
    keys: Sequence[int], owners: Sequence[int], shared: Sequence[tuple[Any, ...]], which: Sequence[int]
) -> Iterator[bytes]:
    """The rows in PostgreSQL's binary form (documentation of COPY, *Binary Format*), those of one shape together: ``keys`` and
    ``owners`` (rows,), and the further columns of each, ``shared[which[row]]``."""
    yield HEAD
    key, owner, code = np.asarray(keys, np.int64), np.asarray(owners, np.int64), np.asarray(which, np.int64)
    shapes: dict[tuple[Any, ...], list[int]] = {}
    for place, row in enumerate(shared):
        shapes.setdefault(tuple(map(_shape, row)), []).append(place)
    shape_of = np.zeros(len(shared), np.int64)
    for number, places in enumerate(shapes.values()):
        shape_of[places] = number
    for number, shape in enumerate(shapes):
        rows = np.flatnonzero(shape_of[code] == number)
        if len(rows):
            yield _of_one_shape(shape, key[rows], owner[rows], shared, code[rows]).tobytes()
    yield TAIL


def _shape(value: Any) -> Any:
    """What is the same in all rows that are packed together: the kind of a value, a text itself."""
    return value if value is None or isinstance(value, str) else type(value)


def _of_one_shape(
    shape: tuple[Any, ...], key: Ints, owner: Ints, shared: Sequence[tuple[Any, ...]], code: Ints
) -> npt.NDArray[Any]:
    columns: list[tuple[str, str]] = [
        ("columns", ">i2"),
        ("l_key", ">i4"),
        ("key", ">i8"),
        ("l_owner", ">i4"),
        ("owner", ">i8"),
    ]
    for place, kind in enumerate(shape):
        columns.append((f"l{place}", ">i4"))
        if isinstance(kind, str):
            columns += [(f"v{place}", f"S{len(kind.encode())}")] if kind else []
        elif kind is not None:
            columns.append((f"v{place}", _form(kind)[0]))
    rows = np.zeros(len(key), np.dtype(columns))
    rows["columns"], rows["l_key"], rows["key"], rows["l_owner"], rows["owner"] = 2 + len(shape), 8, key, 8, owner
    for place, kind in enumerate(shape):
        if kind is None:
            rows[f"l{place}"] = -1
        elif isinstance(kind, str):
            rows[f"l{place}"] = len(kind.encode())
            if kind:
                rows[f"v{place}"] = kind.encode()
        else:
            rows[f"l{place}"] = _form(kind)[1]
            # Rows of another shape have nothing of this kind here.
            values = [_plain(row[place]) if type(row[place]) is kind else 0 for row in shared]
            rows[f"v{place}"] = np.array(values)[code]
    return rows


def _form(kind: type) -> tuple[str, int]:
    return next((form, size) for one, _, form, size in _FORMS if one is kind)


def _plain(value: Any) -> int | float:
    plain: int | float = value.toordinal() - _DAY_ZERO if isinstance(value, date) else value
    return plain
