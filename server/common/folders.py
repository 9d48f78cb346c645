"""Temporary folders of our own, inside the data folder: whatever happens, no word of an interview is left elsewhere."""

import fcntl
import os
import shutil
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings

_ALIVE = ".alive"
_UNTOUCHED = 3600
"""Seconds after which a file that no folder of ours holds (an upload that broke off) has been left."""


@contextmanager
def temporary_folder(purpose: str) -> Iterator[Path]:
    """A folder that goes when the work is done; what a killed process leaves is swept at the next start."""
    base = Path(settings.TEMPORARY_FOLDER)
    base.mkdir(parents=True, exist_ok=True, mode=0o700)
    making = Path(tempfile.mkdtemp(prefix=".making-", dir=base))
    alive = os.open(making / _ALIVE, os.O_CREAT | os.O_RDWR, 0o600)
    # Held as long as the process lives, by whatever it dies of; it has its name only when it is held.
    fcntl.flock(alive, fcntl.LOCK_EX)
    folder = making.rename(base / f"{purpose}-{making.name.removeprefix('.making-')}")
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)
        os.close(alive)


@contextmanager
def one_of(slots: int, purpose: str, patience: float) -> Iterator[bool]:
    """One of so many slots that all processes of this machine share, held by a lock that dies with its process; False where
    none was free within ``patience`` seconds."""
    base = Path(settings.LOCAL) / "slots"
    base.mkdir(parents=True, exist_ok=True, mode=0o700)
    handles = [os.open(base / f"{purpose}-{number}", os.O_CREAT | os.O_RDWR, 0o600) for number in range(slots)]
    try:
        until = time.monotonic() + patience
        while not (held := any(map(_taken, handles))) and time.monotonic() < until:
            time.sleep(_LOOKS_AGAIN)
        yield held
    finally:
        for handle in handles:
            os.close(handle)


_LOOKS_AGAIN = 0.05


def _taken(handle: int) -> bool:
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    return True


def sweep() -> int:
    """Remove what processes that are no more left; how many folders and files."""
    base = Path(settings.TEMPORARY_FOLDER)
    left = [path for path in base.iterdir() if _is_left(path)] if base.exists() else []
    for path in left:
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        else:
            path.unlink(missing_ok=True)
    return len(left)


def _is_left(path: Path) -> bool:
    """A folder that nobody holds; anything else that nobody has touched for an hour."""
    try:
        alive = os.open(path / _ALIVE, os.O_RDWR)
    except OSError:
        return path.lstat().st_mtime < time.time() - _UNTOUCHED
    try:
        fcntl.flock(alive, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    finally:
        os.close(alive)
    return True
