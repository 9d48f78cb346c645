"""In which language somebody is spoken to: as their account has it, or else their browser."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import translation
from django.utils.cache import patch_vary_headers
from django.utils.translation.trans_real import parse_accept_lang_header

from core.language import speaking
from server.common.languages import catalogue_of, offered
from server.projects.models import Account


class Spoken:
    """All that is said while a request is answered is in the language of whoever asks."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        language = language_of(request)
        with speaking(catalogue_of(language)), translation.override(language):
            found = self._answer(request)
        # Of a recording or a picture it says nothing.
        if found.headers.get("Content-Type", "").startswith(("text/html", "application/json")):
            found.headers["Content-Language"] = language
            patch_vary_headers(found, ["Accept-Language"])
        return found


def language_of(request: HttpRequest) -> str:
    # Without a session nobody is known, and the database needn't be asked.
    known = settings.SESSION_COOKIE_NAME in request.COOKIES and request.user.is_authenticated
    return language_for(request.user if known else None, request)  # type: ignore[arg-type]


def language_for(account: Account | None, request: HttpRequest) -> str:
    """As the account has it; else the first of those the browser wants that is spoken here."""
    if account and account.language:
        return account.language
    wanted = parse_accept_lang_header(request.headers.get("Accept-Language", ""))
    return next((tag for name, much in wanted if much and (tag := name.split("-")[0]) in offered()), "en")
