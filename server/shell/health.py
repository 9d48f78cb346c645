"""Whether Cohortia lives, and whether it is ready for work: for whatever watches over it."""

import shutil
from collections.abc import Callable

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, JsonResponse

ROOM = 500 * 1024 * 1024
"""Bytes of the disk that must be free: a recording takes as much."""
WAITED = 300
"""Seconds that somebody's work may wait before one should look; the installation's own waits behind it."""
WORKERS = "SELECT count(*) FROM procrastinate_workers WHERE last_heartbeat > now() - interval '30 seconds'"
OLDEST = """
    SELECT coalesce(extract(epoch FROM now() - min(coalesce(scheduled_at, at))), 0) FROM procrastinate_jobs
    JOIN LATERAL (SELECT max(at) AS at FROM procrastinate_events WHERE job_id = procrastinate_jobs.id) asked ON true
    WHERE status = 'todo' AND NOT starts_with(task_name, 'shell.') AND (scheduled_at IS NULL OR scheduled_at < now())
"""


def live(request: HttpRequest) -> JsonResponse:
    """The process answers: nothing else is asked."""
    return JsonResponse({"ok": True})


def ready(request: HttpRequest) -> JsonResponse:
    """Each part, and 503 where one isn't well."""
    found = {name: check() for name, check in _CHECKS.items()}
    return JsonResponse({"ready": all(found.values()), **found}, status=200 if all(found.values()) else 503)


def number(statement: str) -> float | None:
    try:
        with connection.cursor() as cursor:
            cursor.execute(statement)
            return float(cursor.fetchone()[0])
    except DatabaseError:
        return None


def _database() -> bool:
    return number("SELECT 1") == 1


def _worker() -> bool:
    return bool(number(WORKERS))


def _queue() -> bool:
    oldest = number(OLDEST)
    return oldest is not None and oldest < WAITED


def _disk() -> bool:
    return shutil.disk_usage(settings.LOCAL).free >= ROOM


_CHECKS: dict[str, Callable[[], bool]] = {"database": _database, "worker": _worker, "queue": _queue, "disk": _disk}
