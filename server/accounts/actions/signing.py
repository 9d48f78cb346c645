"""Signing in: by a password and, where the account has one, a second factor; or by a passkey alone."""

import time
from typing import Any

from allauth.mfa.models import Authenticator
from allauth.mfa.webauthn.internal import auth as webauthn
from allauth.usersessions.models import UserSession
from django.contrib.auth import authenticate, login
from django.core.exceptions import ValidationError
from django.http import HttpRequest

from core.language import message
from server.accounts import limits
from server.accounts.queries import ways_of
from server.common.errors import Refusal, TooOften
from server.projects.models import Account

_BACKEND = "django.contrib.auth.backends.ModelBackend"
HALF, HALF_FOR = "half", 600
"""Where a session keeps who has given the password, and for how many seconds the second step may take."""
_WRONG = message("Name and password don’t go together. Check both, and whether Caps Lock is on.")
_WRONG_CODE = message("This code isn’t right, or was used already. Take the newest one.")
_TOO_LONG = message("That took too long. Begin again with your password.")
_WRONG_PASSKEY = message("This passkey isn’t known here.")


def by_password(request: HttpRequest, username: str, password: str) -> Account | None:
    """Signs in; None where a second step is to follow."""
    username = username.strip()
    of_network = limits.of_network(request)
    if not limits.is_known(request, username):
        of_network.check()
    account = authenticate(request, username=username, password=password)
    if not isinstance(account, Account):
        of_network.wrong()
        if getattr(request, "axes_locked_out", False):
            raise TooOften(limits.TOO_MANY)
        raise Refusal(_WRONG)
    if ways_of(account):
        request.session.cycle_key()
        request.session[HALF] = {"account": account.pk, "at": time.time()}
        return None
    return enter(request, account)


def by_code(request: HttpRequest, code: str) -> Account:
    """The second step: a code of the app, or one of those kept for when it is lost."""
    account = _half(request)
    with limits.of_own(account, "code").counted():
        _use_code(account, code.replace(" ", "").strip())
    return enter(request, account)


def _use_code(account: Account, code: str) -> None:
    kinds = [Authenticator.Type.TOTP, Authenticator.Type.RECOVERY_CODES]
    for factor in Authenticator.objects.filter(user=account, type__in=kinds):
        if factor.wrap().validate_code(code):
            factor.refresh_from_db()
            factor.record_usage()
            return
    raise Refusal(_WRONG_CODE)


def passkey_options(request: HttpRequest) -> dict[str, Any]:
    """What the browser needs to ask for a passkey: those of the account that has given its password, or any."""
    return webauthn.begin_authentication(_half(request) if HALF in request.session else None)


def by_passkey(request: HttpRequest, credential: dict[str, Any]) -> Account:
    limits.of_network(request).check()
    try:
        account = _half(request) if HALF in request.session else webauthn.extract_user_from_response(credential)
        if not isinstance(account, Account) or not account.is_active:
            raise Refusal(_WRONG_PASSKEY)
        webauthn.complete_authentication(account, credential).record_usage()
    except (ValidationError, ValueError, TypeError, KeyError, AttributeError) as problem:
        limits.of_network(request).wrong()
        raise Refusal(_WRONG_PASSKEY) from problem
    return enter(request, account)


def _half(request: HttpRequest) -> Account:
    half = request.session.get(HALF)
    account = Account.objects.filter(pk=half["account"], is_active=True).first() if half else None
    if half is None or account is None or time.time() - half["at"] > HALF_FOR:
        request.session.pop(HALF, None)
        raise Refusal(_TOO_LONG)
    return account


def enter(request: HttpRequest, account: Account) -> Account:
    """Signed in from now on, and listed so."""
    request.session.pop(HALF, None)
    login(request, account, backend=_BACKEND)
    UserSession.objects.create_from_request(request, user=account)
    return account
