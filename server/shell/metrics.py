"""Figures for whoever watches over the server, in the open format that Prometheus reads."""

import secrets
import shutil

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Gauge, generate_latest, multiprocess

from server.common.proxies import client_of
from server.shell.health import OLDEST, WORKERS, number

_SAID = {
    "cohortia_workers": ("Workers with a sign of life within 30 seconds", WORKERS),
    "cohortia_queue_oldest_seconds": ("How long the oldest waiting work has waited", OLDEST),
    "cohortia_jobs_waiting": ("Work that waits", "SELECT count(*) FROM procrastinate_jobs WHERE status = 'todo'"),
    "cohortia_jobs_failed": (
        "Work that failed within a day",
        "SELECT count(*) FROM projects_job WHERE state = 'failed' AND created_at > now() - interval '1 day'",
    ),
    "cohortia_projects": ("Projects", "SELECT count(*) FROM projects_project"),
    "cohortia_database_bytes": ("Size of the database", "SELECT pg_database_size(current_database())"),
    "cohortia_database_connections": ("Connections to the database", "SELECT count(*) FROM pg_stat_activity"),
    "cohortia_backup_age_seconds": (
        "Since the last whole backup (-1: none)",
        "SELECT coalesce(extract(epoch FROM now() - max(made_at)), -1) FROM shell_backup WHERE whole",
    ),
}


def metrics(request: HttpRequest) -> HttpResponse:
    """Asked on the machine itself, or with the token of COHORTIA_METRICS_TOKEN; else there is no such address."""
    if not _may(request):
        return JsonResponse({"error": "There is no such address in the API."}, status=404)
    registry = CollectorRegistry()
    multiprocess.MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    for name, (said, statement) in _SAID.items():
        if (found := number(statement)) is not None:
            Gauge(name, said, registry=registry).set(found)
    Gauge("cohortia_database_up", "Whether the database answers", registry=registry).set(_answers())
    Gauge("cohortia_disk_free_bytes", "Free bytes of the data folder's disk", registry=registry).set(
        shutil.disk_usage(settings.LOCAL).free
    )
    return HttpResponse(generate_latest(registry), content_type=CONTENT_TYPE_LATEST)


def _may(request: HttpRequest) -> bool:
    token = settings.METRICS_TOKEN
    if token:
        return secrets.compare_digest(request.headers.get("Authorization", ""), f"Bearer {token}")
    return client_of(request) in ("127.0.0.1", "::1") and "X-Forwarded-For" not in request.headers


def _answers() -> bool:
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
        return True
    except DatabaseError:
        return False
