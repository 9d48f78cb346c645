"""Where words and paragraphs lie in a project's texts; each text is looked through once and kept while it stays."""

import threading
from collections import OrderedDict

import numpy as np
from django.db import connection

from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture, Weave, texture, weave
from server.gather.models import Document

MOST_KEPT = 4000
"""Texts whose words are kept in memory at once."""

_woven: OrderedDict[tuple[int, str], Weave] = OrderedDict()
_lock = threading.Lock()
_whole: dict[int, tuple[int, Texture]] = {}

_DIGESTS = """SELECT id, md5(text) || ':' || coalesce(
    (SELECT md5(string_agg(ink_start || '-' || ink_end, ',' ORDER BY number)) FROM gather_turn WHERE document_id = d.id), '')
    AS digest FROM gather_document d WHERE project_id = %s"""


def texture_of(project_id: int, held: Snapshot) -> Texture:
    """The texture of a snapshot's texts."""
    kept = _whole.get(project_id)
    if kept is not None and kept[0] == held.revision:
        return kept[1]
    with connection.cursor() as cursor:
        cursor.execute(_DIGESTS, [project_id])
        digests: dict[int, str] = dict(cursor.fetchall())
    missing = [pk for pk in held.document_ids.tolist() if (pk, digests.get(pk, "")) not in _woven]
    bounds = _bounds(held)
    texts = Document.objects.filter(pk__in=missing).values_list("id", "text")
    fresh = {(pk, digests[pk]): weave(text, bounds.get(pk, [])) for pk, text in texts.iterator(chunk_size=50)}
    with _lock:
        _woven.update(fresh)
        empty = Weave(np.zeros((0, 2), np.int32), np.zeros(0, np.int32))
        found = [_woven.get((pk, digests.get(pk, "")), empty) for pk in held.document_ids.tolist()]
        while len(_woven) > MOST_KEPT:
            _woven.popitem(last=False)
        made = texture(held, found)
        _whole.clear()
        _whole[project_id] = (held.revision, made)
    return made


def _bounds(held: Snapshot) -> dict[int, list[tuple[int, int]]]:
    ids = held.document_ids[held.turn_document].tolist()
    found: dict[int, list[tuple[int, int]]] = {}
    for pk, start, end in zip(ids, held.turn_start.tolist(), held.turn_end.tolist(), strict=True):
        found.setdefault(pk, []).append((start, end))
    return found
