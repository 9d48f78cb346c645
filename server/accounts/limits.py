"""How often wrong words may be tried from one network over all accounts, and by somebody on their own account.

How often one account may be tried from one address is django-axes' to count. Nobody locks anybody else out: what is tried
elsewhere doesn't count here, and a browser that has signed in before isn't stopped by what others try from its network.
"""

import ipaddress

from django.core import signing
from django.core.cache import cache
from django.http import HttpRequest, HttpResponse

from server.common.errors import TooOften
from server.common.proxies import client_of
from server.projects.models import Account

WAIT = 15 * 60
"""Seconds after which tries aren't counted any more."""
OF_NETWORK, OF_SESSION = 60, 8
"""Wrong tries: of any account's password from one network; of one's own code or current password."""
TOO_MANY = "Too many wrong tries from here. Wait a quarter of an hour, then try again; others aren’t held up by it."
_COOKIE = "known"
_KNOWN_FOR = 180 * 24 * 3600


class Tries:
    """Wrong tries of one kind, counted until ``WAIT`` seconds have gone by without one."""

    def __init__(self, kind: str, of: object, limit: int) -> None:
        self.key, self.limit = f"tries.{kind}.{of}", limit

    def check(self) -> None:
        if cache.get(self.key, 0) >= self.limit:
            raise TooOften(TOO_MANY)

    def wrong(self) -> None:
        cache.set(self.key, cache.get(self.key, 0) + 1, WAIT)

    def right(self) -> None:
        cache.delete(self.key)


def of_network(request: HttpRequest) -> Tries:
    return Tries("network", network_of(request), OF_NETWORK)


def of_session(account: Account, what: str) -> Tries:
    """Of somebody who is signed in, or half so, on what only they may know."""
    return Tries(what, account.pk, OF_SESSION)


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
    try:
        return username.casefold() in signing.loads(request.COOKIES.get(_COOKIE, ""), salt=_COOKIE, max_age=_KNOWN_FOR)
    except signing.BadSignature:
        return False


def make_known(request: HttpRequest, response: HttpResponse, username: str) -> None:
    try:
        names = signing.loads(request.COOKIES.get(_COOKIE, ""), salt=_COOKIE, max_age=_KNOWN_FOR)
    except signing.BadSignature:
        names = []
    names = list(dict.fromkeys([username.casefold(), *names]))[:5]
    value = signing.dumps(names, salt=_COOKIE)
    response.set_cookie(_COOKIE, value, _KNOWN_FOR, httponly=True, samesite="Lax", secure=request.is_secure())
