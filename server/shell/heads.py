"""What an address needs, said in the head of the page: it is there, or on its way, before the first script runs.

Which scripts and reads those are is said where the pages are (``web/src/shell/heads.ts``); the build writes it down.
"""

import json
import re
from copy import copy
from functools import lru_cache
from http import HTTPStatus
from pathlib import Path
from typing import NamedTuple

from django.conf import settings
from django.http import HttpRequest, QueryDict
from django.template.response import SimpleTemplateResponse
from django.urls import resolve
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe

from server.common.errors import NotFound
from server.projects.queries import membership
from server.projects.revisions import revision_of

SESSION = "/api/session"


class Head(NamedTuple):
    address: re.Pattern[str]
    scripts: list[str]
    letters: list[str]
    said: list[str]
    asked: list[str]


def head_of(request: HttpRequest) -> str:
    """Lines of HTML. A guest is shown the way in at whatever address, and is only told that nobody is there."""
    if settings.SESSION_COOKIE_NAME in request.COOKIES and request.user.is_authenticated:
        file = settings.WEB / "heads.json"
        heads = _heads(file, file.stat().st_mtime_ns) if file.exists() else []
        for head in heads:
            if found := head.address.fullmatch(request.path):
                return _all(request, head, found.groupdict())
    return _answer(request, SESSION)


def _all(request: HttpRequest, head: Head, numbers: dict[str, str]) -> str:
    # Before any of the reads: whatever moves from here on is asked for when the page is there.
    revision = _revision(request, numbers.get("projectId"))
    if revision is None:
        return _answer(request, SESSION)

    def within(addresses: list[str]) -> list[str]:
        return [re.sub(r":(\w+)", lambda name: numbers[name[1]], one) for one in addresses]

    return (
        revision
        + _lines('<link rel="modulepreload" crossorigin href="{}">', head.scripts)
        + _lines('<link rel="preload" as="font" type="font/woff2" crossorigin href="{}">', head.letters)
        + _lines('<link rel="preload" as="fetch" crossorigin="anonymous" href="{}">', within(head.asked))
        + "".join(_answer(request, one) for one in within(head.said))
    )


def _lines(link: str, addresses: list[str]) -> SafeString:
    return format_html_join("", link, ((one,) for one in addresses))


def _answer(request: HttpRequest, address: str) -> str:
    """What the API says to whoever asks, as it would if it were asked; nothing where that is a refusal."""
    view, given, named = resolve(address)
    asked = copy(request)
    asked.method, asked.path, asked.path_info = "GET", address, address
    asked.META = {**request.META, "QUERY_STRING": ""}
    # What the page's own address says behind its "?" is the page's.
    asked.GET = QueryDict()
    answer = view(asked, *given, **named)
    if answer.status_code != HTTPStatus.OK:
        return ""
    if isinstance(answer, SimpleTemplateResponse):
        answer.render()
    # Nothing in it can end the element that it stands in.
    said = mark_safe(answer.content.decode().replace("<", "\\u003c"))
    return format_html('<script type="application/json" data-said="{}">{}</script>', address, said)


def _revision(request: HttpRequest, project: str | None) -> SafeString | None:
    """The revision that all early reads are at least of; None for what isn't the account's."""
    if project is None:
        return SafeString("")
    try:
        member = membership(request.user, int(project))  # type: ignore[arg-type]
    except NotFound:
        return None
    return format_html('<meta name="revision" data-project="{}" content="{}">', project, revision_of(member.project_id))


@lru_cache(maxsize=1)
def _heads(file: Path, written: int) -> list[Head]:
    """As the build that was written then says it."""
    return [
        Head(
            re.compile(re.sub(r":(\w+)", r"(?P<\1>[0-9]{1,18})", one["address"])),
            one["scripts"],
            one["letters"],
            one["said"],
            one["asked"],
        )
        for one in json.loads(file.read_text("utf-8"))
    ]
