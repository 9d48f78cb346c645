"""Sessions watched: when somebody was last seen, and that one who was away too long isn't signed in any more."""

import time
from collections.abc import Callable

from allauth.usersessions.models import UserSession
from django.conf import settings
from django.contrib.auth import logout
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone

NOTED = 60
"""Seconds between two notes of when somebody was seen."""
WARNED = 15 * 60
"""Seconds before the end in which open pages are told of it (WCAG 2.2.1)."""
ENDS = "X-Session-Ends"
_SEEN = "seen"


class Idle:
    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        if "_auth_user_id" in request.session:
            self._look(request)
        answer = self._answer(request)
        left = _left(request)
        if left is not None and left < WARNED:
            answer[ENDS] = str(max(0, round(left)))
        return answer

    def _look(self, request: HttpRequest) -> None:
        now, seen = time.time(), request.session.get(_SEEN)
        if seen is not None and now - seen > settings.IDLE_SECONDS:
            logout(request)
        elif (seen is None or now - seen > NOTED) and not _by_itself(request):
            request.session[_SEEN] = now
            UserSession.objects.filter(session_key=request.session.session_key).update(last_seen_at=timezone.now())


def _left(request: HttpRequest) -> float | None:
    """Seconds until whoever asks is signed out for doing nothing; None where nobody is signed in."""
    seen = request.session.get(_SEEN)
    if seen is None or "_auth_user_id" not in request.session:
        return None
    return settings.IDLE_SECONDS - (time.time() - seen)


def _by_itself(request: HttpRequest) -> bool:
    """A page that is open asks by itself: that is nobody's being there."""
    return request.method == "GET" and request.path.endswith(("/pulse", "/status", "/session"))
