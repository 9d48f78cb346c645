"""How often wrong words may be tried from one network over all accounts, and by somebody on their own account.

How often one account may be tried from one address is django-axes' to count. Nobody locks anybody else out: what is tried
elsewhere doesn't count here, and a browser that has signed in before isn't stopped by what others try from its network.
"""

import ipaddress
from collections.abc import Iterator
from contextlib import contextmanager

from django.core import signing
from django.core.cache import cache
from django.db import connection
from django.http import HttpRequest, HttpResponse

from core.language import message
from server.common.errors import Refusal, TooOften
from server.common.proxies import client_of
from server.projects.models import Account

WAIT = 15 * 60
"""Seconds after which tries aren't counted any more."""
OF_NETWORK, OF_OWN = 60, 8
"""Wrong tries: of any account's password from one network; of one's own code or current password."""
TOO_MANY = message(
    "Too many wrong tries from here. Wait a quarter of an hour, then try again; others aren’t held up by it."
)
_LOCKS = 8324
"""First key of the advisory locks of one try at a time."""
_COOKIE = "known"
_KNOWN_FOR = 180 * 24 * 3600


class Tries:
    """Wrong tries of one kind, counted until ``WAIT`` seconds have gone by without one."""

    def __init__(self, kind: str, of: object, limit: int) -> None:
        self.key, self.limit = f"tries.{kind}.{of}", limit

    def left(self) -> bool:
        return bool(cache.get(self.key, 0) < self.limit)

    def check(self) -> None:
        if not self.left():
            raise TooOften(TOO_MANY)

    def wrong(self) -> None:
        cache.set(self.key, cache.get(self.key, 0) + 1, WAIT)

    @contextmanager
    def counted(self) -> Iterator[None]:
        """A try: wrong where it is refused, else all is forgotten. One at a time, or many at once would count as one."""
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_advisory_lock(%s, hashtext(%s))", [_LOCKS, self.key])
            try:
                self.check()
                try:
                    yield
                except Refusal:
                    self.wrong()
                    raise
                cache.delete(self.key)
            finally:
                cursor.execute("SELECT pg_advisory_unlock(%s, hashtext(%s))", [_LOCKS, self.key])


def of_network(request: HttpRequest, kind: str = "network") -> Tries:
    return Tries(kind, network_of(request), OF_NETWORK)


def of_own(account: Account, what: str) -> Tries:
    """Of somebody who is signed in, or half so, on what only they may know."""
    return Tries(what, account.pk, OF_OWN)


def network_of(request: HttpRequest) -> str:
    """What one household or lab has: an address of version 4, the first 64 bits of one of version 6."""
    try:
        address = ipaddress.ip_address(client_of(request))
    except ValueError:
        return "unknown"
    wide = 32 if address.version == 4 else 64
    return str(ipaddress.ip_network((address, wide), strict=False).network_address)


def is_known(request: HttpRequest, username: str) -> bool:
    """Whether this browser has signed in with the name before."""
    return username.casefold() in _known(request)


def make_known(request: HttpRequest, response: HttpResponse, username: str) -> None:
    names = list(dict.fromkeys([username.casefold(), *_known(request)]))[:5]
    value = signing.dumps(names, salt=_COOKIE)
    response.set_cookie(_COOKIE, value, _KNOWN_FOR, httponly=True, samesite="Lax", secure=request.is_secure())


def _known(request: HttpRequest) -> list[str]:
    try:
        return list(signing.loads(request.COOKIES.get(_COOKIE, ""), salt=_COOKIE, max_age=_KNOWN_FOR))
    except signing.BadSignature:
        return []
