"""What can't be done, as a sentence a researcher understands."""

from typing import Any

from django.db import DataError, IntegrityError
from django.http.response import HttpResponseBase
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import exception_handler

from core.language import say, worded
from server.common.trouble import answer_for


class Refusal(Exception):
    """Nothing was written; the sentence says why and what to do."""

    status = 400

    def __init__(self, sentence: str) -> None:
        self.sentence = worded(sentence)
        super().__init__(self.sentence)


class Conflict(Refusal):
    """Somebody else's change came first."""

    status = 409


class NotFound(Refusal):
    """It isn't there, or it isn't this member's to see."""

    status = 404


class NotAllowed(Refusal):
    """The member's role doesn't reach that far."""

    status = 403


class TooOften(Refusal):
    """Tried too often for now."""

    status = 429


def handle(error: Exception, context: dict[str, Any]) -> HttpResponseBase | None:
    """Every error of the API as ``{"error": sentence}``."""
    if isinstance(error, Refusal):
        return Response({"error": error.sentence}, status=error.status)
    if (troubled := answer_for(error)) is not None:
        return troubled
    if isinstance(error, IntegrityError):
        return Response({"error": say("This no longer fits what is in the project; reload and try again.")}, status=409)
    if isinstance(error, OverflowError | DataError):
        return Response(
            {"error": say("A number or text here is larger than anything that is kept; check it.")}, status=400
        )
    if isinstance(error, RecursionError):
        return Response({"error": say("This is nested more deeply than anything here is.")}, status=400)
    response = exception_handler(error, context)
    if response is None:
        return None
    if isinstance(error, exceptions.ValidationError):
        response.data = {"error": _sentence(error.detail)}
    elif isinstance(error, exceptions.NotAuthenticated):
        response.data = {"error": say("Please sign in.")}
    else:
        response.data = {"error": str(getattr(error, "detail", say("This request can’t be answered.")))}
    return response


def _sentence(detail: Any, path: str = "") -> str:
    if isinstance(detail, dict):
        return " ".join(_sentence(value, str(key)) for key, value in detail.items())
    if isinstance(detail, list):
        return " ".join(_sentence(value, path) for value in detail)
    where = "" if path in ("", "non_field_errors") or path.isdigit() else f"{path.replace('_', ' ').capitalize()}: "
    return f"{where}{detail}"
