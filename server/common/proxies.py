"""Who asks, where proxies stand between: only those named in COHORTIA_PROXIES are believed."""

import ipaddress
import logging
import socket
from collections.abc import Callable
from functools import lru_cache

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase

logger = logging.getLogger(__name__)
Network = ipaddress.IPv4Network | ipaddress.IPv6Network


class Proxies:
    """Puts the client's own address and scheme in place of the proxy's. What others say of themselves is taken away."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        if _trusted(client_of(request)):
            forwarded = request.META.get("HTTP_X_FORWARDED_FOR", "").split(",")
            request.META["REMOTE_ADDR"] = _client([one.strip() for one in forwarded if one.strip()], client_of(request))
        else:
            for name in ("HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_PROTO", "HTTP_X_FORWARDED_HOST", "HTTP_FORWARDED"):
                request.META.pop(name, None)
        return self._answer(request)


def client_of(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))


def _client(forwarded: list[str], nearest: str) -> str:
    """The last address that no proxy of ours has: what stands before it may be made up."""
    for one in reversed(forwarded):
        nearest = one
        if not _trusted(one):
            break
    return nearest


def _trusted(address: str) -> bool:
    try:
        found = ipaddress.ip_address(address)
    except ValueError:
        return False
    return any(found in network for network in _networks(tuple(settings.PROXIES)))


@lru_cache
def _networks(proxies: tuple[str, ...]) -> tuple[Network, ...]:
    """Addresses, networks, or names of machines as they are known when first asked."""
    found: list[Network] = []
    for one in proxies:
        try:
            found.append(ipaddress.ip_network(one, strict=False))
        except ValueError:
            try:
                found += [ipaddress.ip_network(info[4][0]) for info in socket.getaddrinfo(one, None)]
            except OSError:
                logger.error("the proxy %s isn’t known by name: nobody is believed in its place", one)
    return tuple(found)
