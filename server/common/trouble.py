"""What goes wrong with the machine rather than with the request: a database that restarts, a disk that is full."""

import errno
import logging
import sys
from typing import NamedTuple

import psycopg
from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse

from core.language import message, say, worded
from server.common.logs import request_id

logger = logging.getLogger(__name__)
_NO_ROOM = {errno.ENOSPC, errno.EDQUOT, errno.EFBIG}
_SOON = "5"
"""Seconds after which to try again."""


class Trouble(NamedTuple):
    status: int
    sentence: str


_FULL = Trouble(
    507, message("The server’s disk is full: nothing was kept. Tell whoever looks after the server, then do it again.")
)
_AWAY = Trouble(
    503, message("The database can’t be reached just now. Nothing was kept; this is tried again in a moment.")
)
_SLOW = Trouble(503, message("Others are at work on just this. Nothing was kept; try again in a moment."))


def trouble_of(error: BaseException | None) -> Trouble | None:
    """The trouble that an error, or what it came from, stands for."""
    while error is not None:
        if isinstance(error, OSError) and error.errno in _NO_ROOM:
            return _FULL
        code = getattr(error, "sqlstate", None)
        if code in ("53100", "53000"):
            return _FULL
        if code in ("55P03", "57014", "40P01", "40001"):
            return _SLOW
        if isinstance(error, OperationalError | InterfaceError) and error.__cause__ is None:
            return _AWAY
        if (code is not None and code[:2] in ("08", "53", "57")) or _is_lost(error):
            return _AWAY
        error = error.__cause__
    return None


def _is_lost(error: BaseException) -> bool:
    """The connection broke before the server said why."""
    return isinstance(error, psycopg.OperationalError | psycopg.InterfaceError) and error.sqlstate is None


def answer_for(error: BaseException | None) -> HttpResponse | None:
    """A sentence as JSON, where it is such a trouble."""
    found = trouble_of(error)
    if found is None:
        return None
    logger.error("%s: %s", type(error).__name__, found.sentence)
    return JsonResponse({"error": worded(found.sentence)}, status=found.status, headers={"Retry-After": _SOON})


def failed(request: HttpRequest) -> HttpResponse:
    """Django's last resort: JSON with a sentence, never a page."""
    number = say(" as {request_id}", request_id=request_id.get()) if request_id.get() else ""
    said = say(
        "Something went wrong inside Cohortia; it is noted in the server’s log{number}. Nothing was kept.",
        number=number,
    )
    return answer_for(sys.exc_info()[1]) or JsonResponse({"error": said}, status=500)


def forged(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A write that doesn't come from a page of ours, or from one that was open too long."""
    said = say("This page is out of date, or the request came from elsewhere. Reload the page, then do it again.")
    return JsonResponse({"error": said}, status=403)


def misread(request: HttpRequest, exception: Exception) -> HttpResponse:
    """A request that can't be understood, or asks for a name that isn't this server's."""
    return JsonResponse({"error": say("This request can’t be answered here.")}, status=400)
