"""Where words and paragraphs lie in a project's texts; each text is looked through once and kept while it stays."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from django.db import connection

from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture, Weave, texture, weave
from server.common.memory import Kept

MOST_KEPT = 4000
"""Texts whose words are kept in memory at once."""

_AT_ONCE = 50
"""Texts read at once."""
_woven: Kept[tuple[int, str], Weave] = Kept(MOST_KEPT)
_whole: Kept[int, tuple[tuple[str, int], Texture]] = Kept(2)
_RESTS_ON = ("gather.document", "gather.turn")

_DIGESTS = """SELECT id, md5(text) || ':' || coalesce(
    (SELECT md5(string_agg(ink_start || '-' || ink_end, ',' ORDER BY number)) FROM gather_turn WHERE document_id = d.id), '')
    AS digest FROM gather_document d WHERE project_id = %s"""


def texture_of(project_id: int, held: Snapshot) -> Texture:
    """The texture of a snapshot's texts."""
    since = held.since(*_RESTS_ON)
    kept = _whole.get(project_id)
    if kept is not None and kept[0] == since:
        return kept[1] if kept[1].snapshot is held else _kept(project_id, since, replace(kept[1], snapshot=held))
    with connection.cursor() as cursor:
        cursor.execute(_DIGESTS, [project_id])
        digests: dict[int, str] = dict(cursor.fetchall())
    known = {pk: _woven.get((pk, digests.get(pk, ""))) for pk in held.document_ids.tolist()}
    missing = [pk for pk, one in known.items() if one is None]
    bounds = _bounds(held)
    fresh = {(pk, digests[pk]): weave(text, bounds.get(pk, [])) for pk, text in texts_of(missing)}
    empty = Weave(np.zeros((0, 2), np.int32), np.zeros(0, np.int32))
    found = [one or fresh.get((pk, digests.get(pk, "")), empty) for pk, one in known.items()]
    _woven.put(fresh)
    return _kept(project_id, since, texture(held, found))


def texts_of(documents: list[int]) -> Iterator[tuple[int, str]]:
    """Documents with their texts, some at a time."""
    for at in range(0, len(documents), _AT_ONCE):
        with connection.cursor() as cursor:
            cursor.execute("SELECT id, text FROM gather_document WHERE id = ANY(%s)", [documents[at : at + _AT_ONCE]])
            yield from cursor.fetchall()


def _kept(project_id: int, since: tuple[str, int], made: Texture) -> Texture:
    _whole.put({project_id: (since, made)})
    return made


def _bounds(held: Snapshot) -> dict[int, list[tuple[int, int]]]:
    ids = held.document_ids[held.turn_document].tolist()
    found: dict[int, list[tuple[int, int]]] = {}
    for pk, start, end in zip(ids, held.turn_start.tolist(), held.turn_end.tolist(), strict=True):
        found.setdefault(pk, []).append((start, end))
    return found
