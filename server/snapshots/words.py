"""Where each word stands in a project's texts, kept in memory and in a file that all processes share.

A text is gone through once while it stays; of a large project that nobody has gone through yet that happens beside whoever asks.
The file says in numbers what the texts say in words: it is as much to be guarded as they are, and goes when something is
forgotten. It may be deleted at any time.
"""

import logging
import shutil
import threading
from contextlib import suppress
from pathlib import Path

from django.conf import settings
from django.db import connection, connections

from core.snapshot.snapshot import Snapshot
from core.snapshot.word_places import Places, WordPlaces, places_in, together
from server.common.database import Moved
from server.common.folders import one_of
from server.snapshots import arrays
from server.snapshots.memory import Kept, lock
from server.snapshots.queries import snapshot

FORM = 1
MOST_AT_ONCE = 3_000_000
"""Letters that are gone through while somebody waits; more of them beside."""
LEAST_KEPT = 200_000
"""Words from which a file is worth it."""
_AT_ONCE = 50
_RESTS_ON = ("gather.document",)
_Digests = tuple[tuple[int, str], ...]
_kept: Kept[int, tuple[tuple[str, int], _Digests, WordPlaces]] = Kept(4)
_beside: set[int] = set()
_log = logging.getLogger("cohortia")
_TEXTS = "SELECT id, md5(text), text FROM gather_document WHERE id = ANY(%s)"
_DIGESTS = "SELECT id, md5(text), length(text) FROM gather_document WHERE project_id = %s"


def words_of(project_id: int, held: Snapshot) -> WordPlaces | None:
    """The words of a snapshot's texts; None while they are gone through for the first time, which goes on beside."""
    since = held.since(*_RESTS_ON)
    kept = _kept.get(project_id)
    if kept is not None and kept[0] == since:
        return kept[2]
    digests, letters = _digests(project_id, held)
    known = _known(project_id, kept)
    missing = [pk for pk, digest in digests if (pk, digest) not in known]
    if sum(letters[pk] for pk in missing) <= MOST_AT_ONCE:
        return _made(project_id, since, digests, known)
    with lock:
        first = project_id not in _beside
        _beside.add(project_id)
    if first:
        threading.Thread(target=_go_through, args=(project_id, since, digests, known), daemon=True).start()
    return None


def prepare(project_id: int) -> None:
    """Go through what is new, after much was brought in, so that whoever looks for a word first needn't wait for it."""
    with suppress(Moved):
        held = snapshot(project_id)
        digests, _ = _digests(project_id, held)
        kept = _kept.get(project_id)
        _made(project_id, held.since(*_RESTS_ON), digests, _known(project_id, kept))


def _digests(project_id: int, held: Snapshot) -> tuple[_Digests, dict[int, int]]:
    """What each text is known by, in the snapshot's order, and how long it is."""
    with connection.cursor() as cursor:
        cursor.execute(_DIGESTS, [project_id])
        rows = {pk: (digest, length) for pk, digest, length in cursor.fetchall()}
    ids = held.document_ids.tolist()
    return tuple((pk, rows.get(pk, ("", 0))[0]) for pk in ids), {pk: rows.get(pk, ("", 0))[1] for pk in ids}


def _known(project_id: int, kept: tuple[tuple[str, int], _Digests, WordPlaces] | None) -> dict[tuple[int, str], Places]:
    """Texts that were gone through already, here or by another process."""
    found = None if kept is None else (kept[1], kept[2])
    if found is None:
        found = _read(project_id)
    if found is None:
        return {}
    return {name: found[1].of(place) for place, name in enumerate(found[0])}


def _made(
    project_id: int, since: tuple[str, int], digests: _Digests, known: dict[tuple[int, str], Places]
) -> WordPlaces:
    fresh: dict[int, Places] = {}
    wanted = set(digests)
    missing = [pk for pk, digest in digests if (pk, digest) not in known]
    for at in range(0, len(missing), _AT_ONCE):
        with connection.cursor() as cursor:
            cursor.execute(_TEXTS, [missing[at : at + _AT_ONCE]])
            for pk, digest, text in cursor.fetchall():
                if (pk, digest) not in wanted:
                    raise Moved
                fresh[pk] = places_in(text)
    nothing = places_in("")
    made = together([known[name] if name in known else fresh.get(name[0], nothing) for name in digests])
    _kept.put({project_id: (since, digests, made)})
    if set(known) != set(digests):
        # What a text that is gone said doesn't stay in the file either.
        if len(made.key) >= LEAST_KEPT:
            threading.Thread(target=_write, args=(project_id, digests, made), daemon=True).start()
        else:
            shutil.rmtree(_folder(project_id), ignore_errors=True)
    return made


def _go_through(
    project_id: int, since: tuple[str, int], digests: _Digests, known: dict[tuple[int, str], Places]
) -> None:
    try:
        _made(project_id, since, digests, known)
    except Moved:
        pass  # Whoever asks next has it gone through again.
    finally:
        with lock:
            _beside.discard(project_id)
        connections.close_all()


def _folder(project_id: int) -> Path:
    return Path(settings.SNAPSHOT_FOLDER) / str(project_id) / "words"


def _write(project_id: int, digests: _Digests, made: WordPlaces) -> None:
    held: dict[str, arrays.Array] = {"first": made.first, "key": made.key, "start": made.start}
    try:
        with one_of(1, f"words-{project_id}", patience=0) as mine:
            if not mine:
                return
            arrays.write(_folder(project_id), FORM, held, {"texts": digests})
            _drop_if_forgotten(project_id, digests)
    except OSError as problem:
        # A full disk: words are found all the same, only a process that starts has to go through the texts.
        _log.warning("where words stand wasn’t written to its file: %s", type(problem).__name__)
    finally:
        connections.close_all()


def _drop_if_forgotten(project_id: int, digests: _Digests) -> None:
    """What somebody forgot while it was written must not lie here."""
    with connection.cursor() as cursor:
        cursor.execute(_DIGESTS, [project_id])
        there = {(pk, digest) for pk, digest, _ in cursor.fetchall()}
    if not there.issuperset(digests):
        shutil.rmtree(_folder(project_id), ignore_errors=True)


def _read(project_id: int) -> tuple[_Digests, WordPlaces] | None:
    folder = _folder(project_id)
    try:
        found, said = arrays.read(folder, FORM)
        return tuple((int(pk), str(digest)) for pk, digest in said["texts"]), WordPlaces(**found)
    except FileNotFoundError:
        return None
    except (OSError, ValueError, KeyError, TypeError) as problem:
        _log.warning("where words stand: the file is damaged and was put aside: %s", type(problem).__name__)
        with suppress(OSError):
            shutil.rmtree(folder)
        return None
