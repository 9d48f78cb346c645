"""What every view of the API shares."""

from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.core.handlers.wsgi import WSGIRequest
from rest_framework import serializers
from rest_framework.request import Request

from core.language import say
from server.common.errors import Refusal


class Said(serializers.Serializer[Any]):
    """What was done, in words."""

    said = serializers.CharField()


class CountOut(serializers.Serializer[Any]):
    count = serializers.IntegerField()


def read(
    kind: type[serializers.Serializer[Any]], request: Request | WSGIRequest, partial: bool = False
) -> dict[str, Any]:
    """The request's body, checked; only what was sent when ``partial``."""
    serializer = kind(data=request.data, partial=partial)  # type: ignore[union-attr]
    serializer.is_valid(raise_exception=True)
    return dict(serializer.validated_data)


def text_file(request: Request) -> UploadedFile:
    """The one text that came with a form; refused where none did, or one larger than any text may be."""
    file = request.FILES.get("file")
    if not isinstance(file, UploadedFile):
        raise Refusal(say("No file arrived. Choose one."))
    limit = settings.FILE_LIMITS["transcript"]
    if (file.size or 0) > limit:
        raise Refusal(say("A text may have up to {limit} MB.", limit=limit // settings.MEGABYTE))
    return file


def address_of(request: Request) -> str:
    """What links that leave begin with: the address that is set, or where the request came to."""
    return settings.ADDRESS or request.build_absolute_uri("/").rstrip("/")


def read_frozen(kind: type[serializers.Serializer[Any]], request: Request) -> dict[str, Any]:
    """The request's body, checked, its lists as tuples: what a frozen question is made of."""
    return frozen(read(kind, request))


def frozen(said: dict[str, Any]) -> dict[str, Any]:
    """The same with its lists as tuples."""
    return {name: tuple(value) if isinstance(value, list) else value for name, value in said.items()}
