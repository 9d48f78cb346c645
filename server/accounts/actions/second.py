"""Second factors: an app's codes, passkeys, and codes kept for when both are lost."""

from typing import Any

from allauth.mfa.models import Authenticator
from allauth.mfa.recovery_codes.internal.auth import RecoveryCodes
from allauth.mfa.totp.internal import auth as totp
from allauth.mfa.webauthn.internal import auth as webauthn
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest

from core.language import say
from server.accounts.actions.passwords import check_current
from server.accounts.adapter import Adapter
from server.common.errors import Conflict, NotFound, Refusal
from server.projects.models import Account

MOST_PASSKEYS = 12
_ALLOWED = "may add a passkey"


def begin_totp(request: HttpRequest, account: Account, password: str) -> dict[str, str]:
    """A secret for the app, as words, as an address and as a picture; kept only once a code of it is given."""
    check_current(account, password)
    if Authenticator.objects.filter(user=account, type=Authenticator.Type.TOTP).exists():
        raise Conflict(say("An app gives codes for this account already. Turn that off first."))
    secret = request.session["totp"] = totp.generate_totp_secret()
    address = Adapter().build_totp_url(account, secret)
    return {"secret": secret, "address": address, "picture": Adapter().build_totp_svg(address)}


def confirm_totp(request: HttpRequest, account: Account, code: str) -> list[str]:
    """The app is asked for from now on; codes for when it is lost."""
    secret = request.session.get("totp")
    if not secret or not totp.validate_totp_code(secret, code.replace(" ", "")):
        raise Refusal(
            say("This code isn’t right. Check that the app’s device has the right time, then take the newest code.")
        )
    with transaction.atomic():
        del request.session["totp"]
        # What set it up doesn't sign in as well.
        totp.TOTP.activate(account, secret).validate_code(code.replace(" ", ""))
        return _codes(account)


def end_totp(account: Account, password: str) -> None:
    check_current(account, password)
    Authenticator.objects.filter(user=account, type=Authenticator.Type.TOTP).delete()
    _without_factors(account)


def new_codes(account: Account, password: str) -> list[str]:
    """Ten new ones; the old ones are over."""
    check_current(account, password)
    if not Authenticator.objects.filter(user=account).exists():
        raise Refusal(say("Codes are for when the app or the passkey is lost: set one of these up first."))
    Authenticator.objects.filter(user=account, type=Authenticator.Type.RECOVERY_CODES).delete()
    return _codes(account)


def begin_passkey(request: HttpRequest, account: Account, password: str) -> dict[str, Any]:
    """What the browser needs to make a passkey that stands for name, password and second factor."""
    check_current(account, password)
    if Authenticator.objects.filter(user=account, type=Authenticator.Type.WEBAUTHN).count() >= MOST_PASSKEYS:
        raise Refusal(say("At most {most_passkeys} passkeys; remove one first.", most_passkeys=MOST_PASSKEYS))
    request.session[_ALLOWED] = True
    return webauthn.begin_registration(account, passwordless=True)


def add_passkey(request: HttpRequest, account: Account, name: str, credential: dict[str, Any]) -> list[str]:
    """Codes for when it is lost, where there are none yet."""
    if not request.session.pop(_ALLOWED, False):
        raise Refusal(say("Begin again with your password."))
    try:
        webauthn.complete_registration(credential)
    except (ValidationError, ValueError, TypeError, KeyError, AttributeError) as problem:
        raise Refusal(say("The browser made no passkey that can be used here. Try again.")) from problem
    with transaction.atomic():
        webauthn.WebAuthn.add(account, name.strip() or "Passkey", credential)
        there = Authenticator.objects.filter(user=account, type=Authenticator.Type.RECOVERY_CODES).exists()
        return [] if there else _codes(account)


def remove_passkey(account: Account, passkey_id: int, password: str) -> None:
    check_current(account, password)
    found = Authenticator.objects.filter(user=account, type=Authenticator.Type.WEBAUTHN, pk=passkey_id)
    if not found.delete()[0]:
        raise NotFound(say("This passkey isn’t there any more."))
    _without_factors(account)


def _codes(account: Account) -> list[str]:
    return RecoveryCodes.activate(account).get_unused_codes()


def _without_factors(account: Account) -> None:
    """Codes alone are no second factor."""
    if not Authenticator.objects.filter(user=account).exclude(type=Authenticator.Type.RECOVERY_CODES).exists():
        Authenticator.objects.filter(user=account).delete()
