"""Where each word stands in a project's texts, kept in memory and in a file that all processes share.

A text is gone through once while it stays; of a large project that nobody has gone through yet that happens beside whoever asks.
The file says in numbers what the texts say in words: it is as much to be guarded as they are, and goes when something is
forgotten. It may be deleted at any time.
"""

import logging
import shutil
import threading
from contextlib import suppress
from dataclasses import dataclass, replace
from pathlib import Path

from django.conf import settings
from django.db import connection, connections

from core.snapshot.snapshot import Snapshot
from core.snapshot.word_places import Places, WordPlaces, places_in, together
from server.common.database import Moved
from server.common.folders import one_of
from server.common.memory import Kept, lock
from server.projects.models import Touched
from server.snapshots import arrays
from server.snapshots.queries import snapshot

FORM = 2
MOST_AT_ONCE = 3_000_000
"""Letters that are gone through while somebody waits; more of them beside."""
LEAST_KEPT = 200_000
"""Words from which a file is worth it."""
_AT_ONCE = 50
_RESTS_ON = ("gather.document",)
_Digests = tuple[tuple[int, str], ...]


@dataclass(frozen=True)
class _Gone:
    """Texts gone through: since which revision they are as they are (``Snapshot.since``), and that revision's mark."""

    since: tuple[str, int]
    digests: _Digests
    words: WordPlaces
    mark: str | None


_kept: Kept[int, _Gone] = Kept(4)
_beside: set[int] = set()
_log = logging.getLogger("cohortia")
_TEXTS = "SELECT id, md5(text), text FROM gather_document WHERE id = ANY(%s)"
_DIGESTS = "SELECT id, md5(text), length(text) FROM gather_document WHERE project_id = %s"


def words_of(project_id: int, held: Snapshot) -> WordPlaces | None:
    """The words of a snapshot's texts; None while they are gone through for the first time, which goes on beside."""
    since = held.since(*_RESTS_ON)
    kept = _kept.get(project_id)
    if kept is not None and kept.since == since:
        return kept.words
    before = kept or _read(project_id)
    if before is not None and _untouched(project_id, before, since[1]):
        _kept.put({project_id: replace(before, since=since)})
        return before.words
    digests, letters = _digests(project_id, held)
    known = set(before.digests) if before else set()
    if sum(letters[pk] for pk, digest in digests if (pk, digest) not in known) <= MOST_AT_ONCE:
        return _made(project_id, since, digests, before)
    with lock:
        first = project_id not in _beside
        _beside.add(project_id)
    if first:
        threading.Thread(target=_go_through, args=(project_id, since, digests, before), daemon=True).start()
    return None


def prepare(project_id: int) -> None:
    """Go through what is new, after much was brought in, so that whoever looks for a word first needn't wait for it."""
    with suppress(Moved):
        held = snapshot(project_id)
        digests, _ = _digests(project_id, held)
        _made(project_id, held.since(*_RESTS_ON), digests, _kept.get(project_id) or _read(project_id))


def _digests(project_id: int, held: Snapshot) -> tuple[_Digests, dict[int, int]]:
    """What each text is known by, in the snapshot's order, and how long it is."""
    with connection.cursor() as cursor:
        cursor.execute(_DIGESTS, [project_id])
        rows = {pk: (digest, length) for pk, digest, length in cursor.fetchall()}
    ids = held.document_ids.tolist()
    return tuple((pk, rows.get(pk, ("", 0))[0]) for pk in ids), {pk: rows.get(pk, ("", 0))[1] for pk in ids}


def _untouched(project_id: int, before: _Gone, since: int) -> bool:
    """No text was touched since they were gone through: they needn't be looked at to know it."""
    return before.mark is not None and before.since[1] == since and before.mark == _mark(project_id, since)


def _mark(project_id: int, revision: int) -> str | None:
    """What tells a revision from one of that number in another past."""
    found = Touched.objects.filter(project=project_id, revision=revision).values_list("mark", flat=True).first()
    return found.hex if found else None


def _made(project_id: int, since: tuple[str, int], digests: _Digests, before: _Gone | None) -> WordPlaces:
    """Texts that were gone through before, here or by another process, aren't again."""
    made = before.words if before and before.digests == digests else _together(digests, before)
    gone = _Gone(since, digests, made, _mark(project_id, since[1]))
    _kept.put({project_id: gone})
    if before is None or set(before.digests) != set(digests):
        # What a text that is gone said doesn't stay in the file either.
        if len(made.key) >= LEAST_KEPT:
            threading.Thread(target=_write, args=(project_id, gone), daemon=True).start()
        else:
            shutil.rmtree(_folder(project_id), ignore_errors=True)
    return made


def _together(digests: _Digests, before: _Gone | None) -> WordPlaces:
    known: dict[tuple[int, str], Places] = {}
    if before is not None:
        known = {name: before.words.of(place) for place, name in enumerate(before.digests)}
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
    return together([known[name] if name in known else fresh.get(name[0], nothing) for name in digests])


def _go_through(project_id: int, since: tuple[str, int], digests: _Digests, before: _Gone | None) -> None:
    try:
        _made(project_id, since, digests, before)
    except Moved:
        pass  # Whoever asks next has it gone through again.
    finally:
        with lock:
            _beside.discard(project_id)
        connections.close_all()


def _folder(project_id: int) -> Path:
    return Path(settings.SNAPSHOT_FOLDER) / str(project_id) / "words"


def _write(project_id: int, gone: _Gone) -> None:
    made = gone.words
    held: dict[str, arrays.Array] = {"first": made.first, "key": made.key, "start": made.start}
    said = {"texts": gone.digests, "since": gone.since[1], "mark": gone.mark}
    try:
        with one_of(1, f"words-{project_id}", patience=0) as mine:
            if not mine:
                return
            arrays.write(_folder(project_id), FORM, held, said)
            _drop_if_forgotten(project_id, gone.digests)
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


def _read(project_id: int) -> _Gone | None:
    """What lies in the file; of its own past nothing is known but the revision and its mark."""
    folder = _folder(project_id)
    try:
        found, said = arrays.read(folder, FORM)
        digests = tuple((int(pk), str(digest)) for pk, digest in said["texts"])
        return _Gone(("", int(said["since"])), digests, WordPlaces(**found), said["mark"])
    except FileNotFoundError:
        return None
    except (OSError, ValueError, KeyError, TypeError) as problem:
        _log.warning("where words stand: the file is damaged and was put aside: %s", type(problem).__name__)
        with suppress(OSError):
            shutil.rmtree(folder)
        return None
