"""Projects that a process holds are carried on as soon as anybody anywhere changes them: whoever asks next needn't wait for it.

The database tells each process. One that isn't told answers just the same, a little later.
"""

import logging
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import suppress

import psycopg
from django.conf import settings
from django.db import DEFAULT_DB_ALIAS, DatabaseError, connections

from server.common.database import Moved
from server.projects.models import Project
from server.snapshots.queries import is_held, snapshot

CHANNEL = "cohortia_touched"
"""On which the database tells the number of a project that was changed (the trigger ``tell_of_what_is_touched``)."""
REST = 2.0
"""Times as long as carrying took, nothing is carried on: of a very large project that many change, it would take all there is."""
MOMENT = 0.2
"""Seconds until what is derived of a snapshot is carried on as well."""
AGAIN = 5.0
"""Seconds until a database that went away is asked again."""
_log = logging.getLogger("cohortia")


def begin() -> None:
    """Follow beside, for as long as the process lives."""
    threading.Thread(target=_for_ever, daemon=True, name="following").start()


def follow(told: Iterator[set[int]], rest: Callable[[float], None] = time.sleep) -> None:
    """Carry on each project that is told of and that this process holds."""
    for projects in told:
        for project_id in filter(is_held, projects):
            rest(REST * _carry_on(project_id))


def _for_ever() -> None:
    while True:
        try:
            follow(_told())
        except (DatabaseError, psycopg.Error, OSError) as problem:
            _log.warning("what others change isn’t followed for now: %s", type(problem).__name__)
        except Exception:
            _log.exception("what others change isn’t followed for now")
        connections.close_all()
        time.sleep(AGAIN)


def _carry_on(project_id: int) -> float:
    """How long it took, in seconds."""
    spent = 0.0
    # Whoever asks is told what became of it.
    with suppress(Moved, Project.DoesNotExist):
        spent += _timed(lambda: snapshot(project_id))
        # Who asks meanwhile has what is asked for made at once: two that make it hinder each other.
        time.sleep(MOMENT)
        spent += _timed(lambda: snapshot(project_id).settle())
    return spent


def _timed(does: Callable[[], object]) -> float:
    begun = time.perf_counter()
    does()
    return time.perf_counter() - begun


def _told() -> Iterator[set[int]]:
    """Projects that were changed; those told of while others were carried on come together."""
    # A connection of its own: what is read stands on the other.
    beside = connections[settings.PROGRESS_DATABASE]
    with beside.cursor() as cursor:
        cursor.execute(f"LISTEN {CHANNEL}")
    listening = beside.connection
    while True:
        told = [one.payload for one in listening.notifies(stop_after=1)]
        told += [one.payload for one in listening.notifies(timeout=0)]
        connections[DEFAULT_DB_ALIAS].close_if_unusable_or_obsolete()
        yield {int(one) for one in told}
