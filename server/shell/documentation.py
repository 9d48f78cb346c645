"""The API, as it describes itself, and a page to read it on; for whoever signs in."""

from typing import Any

from django.conf import settings
from django.http import FileResponse, HttpResponse
from drf_spectacular.utils import extend_schema
from drf_spectacular.views import SpectacularSwaggerSplitView
from rest_framework.renderers import BaseRenderer
from rest_framework.request import Request
from rest_framework.views import APIView


class _Plain(BaseRenderer):
    """Whatever is asked for, the file as it lies."""

    media_type = "application/yaml"
    format = "yaml"

    def render(self, data: Any, *args: Any, **kwargs: Any) -> bytes:
        return b""


@extend_schema(exclude=True)
class SchemaView(APIView):
    renderer_classes = [_Plain]

    def get(self, request: Request) -> FileResponse | HttpResponse:
        """The schema that the tests hold the code to."""
        return FileResponse((settings.ROOT / "server" / "schema.yaml").open("rb"), content_type="application/yaml")


class PageView(SpectacularSwaggerSplitView):
    """Its scripts and styles are this server's own."""

    url = "/api/schema"
    title = "Cohortia’s API"
