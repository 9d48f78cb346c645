"""What a refused request still sends is taken in: a connection that is closed on it would take the answer with it."""

from collections.abc import Callable

from django.http import HttpRequest
from django.http.request import UnreadablePostError
from django.http.response import HttpResponseBase

_PIECE = 64 * 1024
_ENOUGH = 700 * 1024 * 1024
"""Bytes; as many as deploy/nginx lets through."""


class Unread:
    """A refusal is given only when the sender has said all: before that they don't listen.

    Source: RFC 9112, 9.6, on closing a connection that still receives (from memory).
    """

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        found = self._answer(request)
        if found.status_code >= 400:
            _take_in(request)
        return found


def _take_in(request: HttpRequest) -> None:
    taken = 0
    try:
        while taken < _ENOUGH and (piece := request.read(_PIECE)):
            taken += len(piece)
    except UnreadablePostError:
        """The sender has gone."""
