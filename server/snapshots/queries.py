"""A project's snapshot: kept in memory, carried on by what each revision touched, and read whole where that isn't known.

An answer is for one revision, and never for an older one than the database shows to whoever asks.
"""

import threading
from collections import OrderedDict
from dataclasses import dataclass, field
from uuid import UUID, uuid4

import numpy as np
import numpy.typing as npt
from django.conf import settings
from django.db import connection

from core.snapshot.carried import carried
from core.snapshot.carrying import News, NotCarried, Touched
from core.snapshot.snapshot import Snapshot
from core.snapshot.tables import COLUMNS, assembled
from server.common import memory
from server.common.database import Moved, one_state
from server.projects import models
from server.projects.models import Project
from server.snapshots import files, reading

MOST_ROWS = 50_000
"""Passages or codings that are read one by one; of more, all are read."""
KINDS = {
    "documents": "gather.document",
    "cases": "people.case",
    "codes": "coding.code",
    "speakers": "gather.speaker",
    "turns": "gather.turn",
    "passages": "coding.passage",
    "codings": "coding.coding",
}
"""The models whose rows a snapshot is made of."""


@dataclass
class _Kept:
    """A project's snapshot in this process, and the lock of whoever brings it up to date."""

    snapshot: Snapshot | None = None
    mark: UUID | None = None
    lock: threading.Lock = field(default_factory=threading.Lock)


_kept: OrderedDict[int, _Kept] = OrderedDict()


def snapshot(project_id: int) -> Snapshot:
    """The project as it is now."""
    with memory.lock:
        kept = _kept.setdefault(project_id, _Kept())
        _kept.move_to_end(project_id)
    revision, mark = _now(project_id)
    held = kept.snapshot
    if held is not None and held.revision == revision and kept.mark == mark:
        return held
    nested = connection.in_atomic_block
    with kept.lock, one_state():
        revision, mark = _now(project_id)
        held = kept.snapshot
        if held is not None and held.revision == revision and kept.mark == mark:
            return held
        if nested and held is not None and held.revision > revision:
            # Whoever asks sees an older state than others have seen already.
            raise Moved
        fresh = _brought_up(project_id, kept, revision)
        kept.snapshot, kept.mark = fresh, mark
    _trim()
    files.keep(project_id, fresh, mark)
    return fresh


def is_held(project_id: int) -> bool:
    """Whether this process has the project, at whatever revision."""
    with memory.lock:
        kept = _kept.get(project_id)
    return kept is not None and kept.snapshot is not None


def forget() -> None:
    """Empty the memory, of all that is made of snapshots too (tests and benchmarks)."""
    with memory.lock:
        _kept.clear()
        memory.forget()


def load(project_id: int) -> Snapshot:
    """Read a project into arrays, all from one state of the database."""
    with one_state():
        return _whole(project_id, _now(project_id)[0])


_NOW = """SELECT p.revision, t.mark FROM projects_project p
    LEFT JOIN projects_touched t ON t.project_id = p.id AND t.revision = p.revision WHERE p.id = %s"""


def _now(project_id: int) -> tuple[int, UUID | None]:
    """The project's revision, and the mark that is that revision's alone."""
    with connection.cursor() as cursor:
        cursor.execute(_NOW, [project_id])
        found: tuple[int, UUID | None] | None = cursor.fetchone()
    if found is None:
        raise Project.DoesNotExist
    return found


def _brought_up(project_id: int, kept: _Kept, revision: int) -> Snapshot:
    """The snapshot at this revision, from what is held or lies in a file, or read whole."""
    held, steps = kept.snapshot, None
    if held is not None:
        steps = _steps(project_id, held.revision, kept.mark, revision)
    if held is None or steps is None:
        found = files.newest(project_id, lambda at, mark: _steps(project_id, at, mark, revision) is not None)
        if found is not None:
            held, steps = found[0], _steps(project_id, found[0].revision, found[1], revision)
    if held is None or steps is None:
        return _whole(project_id, revision)
    if held.revision == revision:
        return held
    try:
        news = _news(project_id, revision, steps)
        return carried(held, news) if news else _whole(project_id, revision)
    except NotCarried:
        return _whole(project_id, revision)


_Steps = list[tuple[int, dict[str, list[list[int]] | None]]]


def _steps(project_id: int, since: int, mark: UUID | None, revision: int) -> _Steps | None:
    """What each revision touched after one that is held; None where that isn't known, or what is held is not of this project's
    own past but of one that a backup took back."""
    rows = models.Touched.objects.filter(project=project_id, revision__gte=since, revision__lte=revision)
    found = list(rows.order_by("revision").values_list("revision", "mark", "rows"))
    if (
        not found
        or len(found) != revision - since + 1
        or found[0][1] != mark
        or any(rows is None for _, _, rows in found[1:])
    ):
        return None
    return [(at, touched or {}) for at, _, touched in found[1:]]


def _whole(project_id: int, revision: int) -> Snapshot:
    return assembled(revision, {name: reading.whole(project_id, name) for name in COLUMNS}, uuid4().hex)


def _news(project_id: int, revision: int, steps: _Steps) -> News | None:
    """What came between; None where it is so much that all may as well be read."""
    kinds: dict[str, int] = {}
    runs: dict[str, list[list[int] | None]] = {}
    for at, touched in steps:
        for kind, some in touched.items():
            kinds[kind] = at
            runs.setdefault(kind, []).extend([None] if some is None else some)
    rows: dict[str, Touched] = {}
    for name in ("passages", "codings"):
        if KINDS[name] in kinds:
            numbers = _numbers(runs[KINDS[name]])
            if numbers is None:
                return None
            rows[name] = Touched(numbers, reading.some(project_id, name, numbers.tolist()))
    whole = {name: reading.whole(project_id, name) for name in COLUMNS if KINDS[name] in kinds and name not in rows}
    return News(revision, whole, rows.get("passages"), rows.get("codings"), kinds)


def _numbers(runs: list[list[int] | None]) -> npt.NDArray[np.int64] | None:
    known = [run for run in runs if run is not None]
    if len(known) < len(runs) or sum(last - first + 1 for first, last in known) > MOST_ROWS:
        return None
    every = [np.arange(first, last + 1, dtype=np.int64) for first, last in known]
    return np.unique(np.concatenate([np.zeros(0, np.int64), *every]))


def _trim() -> None:
    """Forget what was used longest ago until the rest fits."""
    with memory.lock:
        held = [(pk, kept.snapshot.memory) for pk, kept in _kept.items() if kept.snapshot is not None]
        over = sum(size for _, size in held) - settings.SNAPSHOT_MEMORY
        for pk, size in held[:-1]:
            if over <= 0:
                break
            del _kept[pk]
            over -= size
