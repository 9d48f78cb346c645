"""What every answer says to browsers and to whatever lies between: nothing of a project is kept on the way."""

from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

_NOT_USED = ("accelerometer", "camera", "display-capture", "geolocation", "gyroscope", "magnetometer", "microphone", "midi",
             "payment", "usb")  # fmt: skip
POLICY = ", ".join(f"{name}=()" for name in _NOT_USED)


class Headers:
    """Source: OWASP ASVS 5, 3.4 and 14.3 (from memory)."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        found = self._answer(request)
        found["Permissions-Policy"] = POLICY
        found["Cross-Origin-Resource-Policy"] = "same-origin"
        if request.path.startswith("/api/") and "Cache-Control" not in found:
            found["Cache-Control"] = "no-store"
        return found


class Pressed(GZipMiddleware):
    """Presses answers small, but never a part of a file: its range counts the bytes as they lie."""

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        if response.status_code == 206 or response.has_header("Accept-Ranges"):
            return response
        return super().process_response(request, response)
