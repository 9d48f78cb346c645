"""Snapshots as files that all processes of a machine share: a second process starts from them, not from the database.

One folder a snapshot (``arrays``), named by revision and mark; what is damaged, or isn't of the project's own past, is never
used. They hold numbers only, no word of an interview, and may be deleted at any time: the database is the only truth.
"""

import logging
import shutil
import threading
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import fields
from pathlib import Path
from typing import Any
from uuid import UUID

import numpy.typing as npt
from django.conf import settings

from core.snapshot.attribution import Attributions
from core.snapshot.incidence import Incidence
from core.snapshot.snapshot import Snapshot
from core.snapshot.talks import Talks
from server.common.folders import one_of
from server.snapshots import arrays

FORM = 2
"""Rises when what is written changes: files of another form are left aside."""
LEAST = 2_000_000
"""Bytes from which a snapshot is worth a file: a smaller one is read from the database as fast."""
EVERY = 200
"""Revisions after which the file is written anew."""
_DERIVED = {"attributions": Attributions, "talks": Talks, "own_rows": Incidence, "branch_rows": Incidence}
_written: dict[int, int] = {}
_writing = threading.Lock()
_log = logging.getLogger("cohortia")


def keep(project_id: int, snapshot: Snapshot, mark: UUID | None) -> None:
    """Write the snapshot beside whoever asked for it, where the last file lies far behind."""
    last = _written.get(project_id)
    if mark is None or snapshot.memory < LEAST or (last is not None and 0 <= snapshot.revision - last < EVERY):
        return
    _written[project_id] = snapshot.revision
    threading.Thread(target=_kept_beside, args=(project_id, snapshot, mark), daemon=True).start()


def _kept_beside(project_id: int, snapshot: Snapshot, mark: UUID) -> None:
    try:
        with _writing, one_of(1, f"snapshot-{project_id}", patience=0) as mine:
            if mine:
                write(project_id, snapshot, mark)
    except OSError as problem:
        # A full disk: everything is counted all the same, only a process that starts has to read the database.
        _log.warning("a snapshot wasn’t written to its file: %s", type(problem).__name__)


def write(project_id: int, snapshot: Snapshot, mark: UUID) -> None:
    """The snapshot with its derived parts, in place of older files of the project."""
    own = _folder(project_id)
    target = own / f"{snapshot.revision}-{mark.hex}"
    if target.exists():
        return
    said = {"moved": dict(snapshot.moved), "past": snapshot.past}
    arrays.write(target, FORM, dict(_arrays(snapshot)), said)
    for older in _folders(project_id):
        if older != target:
            shutil.rmtree(older, ignore_errors=True)
    _bound(own)


def newest(project_id: int, is_of: Callable[[int, UUID], bool]) -> tuple[Snapshot, UUID] | None:
    """The latest that lies in a file and is of the project's own past, with its mark; None where there is none, or it is
    damaged."""
    for folder in _folders(project_id):
        revision, _, named = folder.name.partition("-")
        try:
            mark = UUID(hex=named)
            if not is_of(int(revision), mark):
                continue
            found = _read(folder, int(revision))
        except (OSError, ValueError, KeyError, TypeError) as problem:
            _log.warning("a snapshot’s file is damaged and was put aside: %s", type(problem).__name__)
            shutil.rmtree(folder, ignore_errors=True)
            continue
        _written[project_id] = found.revision
        return found, mark
    return None


def remove(project_id: int) -> None:
    """Delete the project's files: nothing of what was forgotten stays, not even its numbers."""
    _written.pop(project_id, None)
    shutil.rmtree(_folder(project_id), ignore_errors=True)


def _read(folder: Path, revision: int) -> Snapshot:
    found, said = arrays.read(folder, FORM)
    columns: dict[str, Any] = {name: array for name, array in found.items() if "." not in name}
    snapshot = Snapshot(revision=revision, moved=said["moved"], past=said["past"], **columns)
    for part, kind in _DERIVED.items():
        vars(snapshot)[part] = kind(**{one.name: found[f"{part}.{one.name}"] for one in fields(kind)})
    return snapshot


def _arrays(snapshot: Snapshot) -> Iterator[tuple[str, npt.NDArray[Any]]]:
    for one in fields(snapshot):
        if one.name not in ("revision", "moved", "past"):
            yield one.name, getattr(snapshot, one.name)
    for part, kind in _DERIVED.items():
        for one in fields(kind):
            yield f"{part}.{one.name}", getattr(getattr(snapshot, part), one.name)


def _folder(project_id: int) -> Path:
    return Path(settings.SNAPSHOT_FOLDER) / str(project_id)


def _folders(project_id: int) -> list[Path]:
    """Those of a project, the latest first."""
    with suppress(FileNotFoundError):
        named = [one for one in _folder(project_id).iterdir() if one.name.partition("-")[0].isdecimal()]
        return sorted(named, key=lambda one: -int(one.name.partition("-")[0]))
    return []


def _bound(own: Path) -> None:
    """Delete the files of other projects, those written longest ago first, until all fit."""
    sizes = {
        folder: sum(file.stat().st_size for file in folder.rglob("*.npy"))
        for folder in Path(settings.SNAPSHOT_FOLDER).iterdir()
    }
    for folder in sorted(sizes, key=lambda one: one.stat().st_mtime):
        if sum(sizes.values()) <= settings.SNAPSHOT_DISK:
            return
        if folder != own:
            del sizes[folder]
            shutil.rmtree(folder, ignore_errors=True)
