"""In which language somebody is spoken to: as their account has it, or else their browser."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import translation
from django.utils.cache import patch_vary_headers

from core.language import speaking
from server.common.languages import catalogue_of, chosen


class Spoken:
    """All that is said while a request is answered is in the language of whoever asks."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        language = language_of(request)
        with speaking(catalogue_of(language)), translation.override(language):
            found = self._answer(request)
        found.headers.setdefault("Content-Language", language)
        patch_vary_headers(found, ["Accept-Language"])
        return found


def language_of(request: HttpRequest) -> str:
    # Without a session nobody is known, and the database needn't be asked.
    if settings.SESSION_COOKIE_NAME in request.COOKIES and request.user.is_authenticated and request.user.language:
        return str(request.user.language)
    return chosen(request.headers.get("Accept-Language", ""))
