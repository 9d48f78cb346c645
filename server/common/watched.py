"""Each request watched: its number, how long it took, which questions to the database were slow."""

import logging
import re
import sys
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from django.conf import settings
from django.db import connection
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils.functional import SimpleLazyObject, empty
from prometheus_client import Counter, Histogram

from server.common.logs import request_id

logger = logging.getLogger("cohortia.requests")
slow = logging.getLogger("cohortia.slow")
_GIVEN = re.compile(r"[A-Za-z0-9-]{8,64}")
SECONDS = Histogram(
    "cohortia_request_seconds",
    "How long requests took",
    ["method", "route", "status"],
    buckets=(0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30, 60),
)
SLOW = Counter("cohortia_slow_queries_total", "Questions to the database that took long", ["asked_by"])


class Watched:
    """Numbers a request (or keeps the number that the proxy gave it), and writes one line of it: its route, never its address."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        given = request.headers.get("X-Request-ID", "")
        number = given if _GIVEN.fullmatch(given) else uuid.uuid4().hex
        token, start = request_id.set(number), time.perf_counter()
        try:
            with slow_questions_named():
                found = self._answer(request)
            self._note(request, found.status_code, time.perf_counter() - start)
            found["X-Request-ID"] = number
            return found
        finally:
            request_id.reset(token)

    def _note(self, request: HttpRequest, status: int, seconds: float) -> None:
        route = request.resolver_match.route if request.resolver_match else "none"
        method = request.method if request.method in _METHODS else "other"
        SECONDS.labels(method, route, status).observe(seconds)
        user = request.__dict__.get("user")
        # Nobody has looked yet who it is: nor is it looked now, which would ask the database.
        unknown = isinstance(user, SimpleLazyObject) and user.__dict__["_wrapped"] is empty
        account = None if unknown else getattr(user, "pk", None)
        logger.info(
            "answered",
            extra={
                "method": method,
                "route": route,
                "status": status,
                "seconds": round(seconds, 4),
                "account": account,
            },
        )


_METHODS = {"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"}


@contextmanager
def slow_questions_named() -> Iterator[None]:
    """Questions to the database that take longer than the setting says are written down, by who asked them."""
    with connection.execute_wrapper(_timed):
        yield


def _timed(execute: Callable[..., Any], sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
    start = time.perf_counter()
    try:
        return execute(sql, params, many, context)
    finally:
        seconds = time.perf_counter() - start
        if seconds >= settings.SLOW_QUERY:
            asked_by = _asked_by()
            SLOW.labels(asked_by).inc()
            # As it stands in the code, without what was filled in.
            slow.warning(
                "slow question",
                extra={"asked_by": asked_by, "seconds": round(seconds, 3), "statement": " ".join(sql.split())[:400]},
            )


def _asked_by() -> str:
    """The function of ours that is nearest to the question."""
    frame = sys._getframe(2)
    while frame is not None:
        name = frame.f_globals.get("__name__", "")
        if name.startswith("server.") and name != __name__:
            return f"{name}.{frame.f_code.co_name}"
        if frame.f_back is None:
            break
        frame = frame.f_back
    return "elsewhere"
