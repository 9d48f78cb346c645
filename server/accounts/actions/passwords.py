"""Passwords: changed, forgotten, made anew; and the address that a new one is sent to."""

from allauth.usersessions.models import UserSession
from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.tokens import default_token_generator
from django.db.models import Q
from django.http import HttpRequest
from django.utils.encoding import force_bytes, force_str
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from core.language import message, say, speaking, spoken
from server.accounts import limits, mail
from server.accounts.actions.sessions import end_other_sessions, end_sessions
from server.common.errors import Refusal
from server.common.languages import catalogue_of, offered
from server.projects.actions import check_password
from server.projects.models import Account

MAILS = 4
"""Links that one account is sent in a quarter of an hour, whoever asks: nobody's mailbox is filled."""
_OVER = message("This link is over: it was used, or is older than a day. Ask for another one.")


def check_current(account: Account, password: str) -> None:
    """Refused where it isn't the account's own; after some tries also where it is, for a while."""
    with limits.of_own(account, "current").counted():
        if not account.check_password(password):
            raise Refusal(say("The current password isn’t right."))


def change_password(request: HttpRequest, account: Account, current: str, new: str) -> None:
    """Whoever is signed in elsewhere with the old one isn't any more."""
    check_current(account, current)
    check_password(new, account)
    account.set_password(new)
    account.save(update_fields=["password"])
    before = request.session.session_key
    update_session_auth_hash(request, account)
    UserSession.objects.filter(session_key=before).update(session_key=request.session.session_key)
    end_other_sessions(request, account)


def change_language(account: Account, language: str) -> None:
    """In which language they are spoken to; "" as their browser has it."""
    if language and language not in offered():
        raise Refusal(say("This language isn’t spoken here."))
    account.language = language
    account.save(update_fields=["language"])


def change_email(account: Account, password: str, email: str) -> None:
    check_current(account, password)
    account.email = mail.checked(email)
    account.save(update_fields=["email"])


def forgotten(request: HttpRequest, name: str, origin: str) -> None:
    """Send whoever has this name or address a link. Nobody is told whether somebody has."""
    if not mail.can_be_sent():
        raise Refusal(
            say("No mail is sent from here. Ask an owner of your project, or whoever looks after the server.")
        )
    asked = limits.of_network(request, "forgotten")
    asked.check()
    asked.wrong()
    name = name.strip()
    known = Account.objects.filter(Q(username__iexact=name) | Q(email__iexact=name), is_active=True).exclude(email="")
    for account in known[:5]:
        sent = limits.Tries("sent", account.pk, MAILS)
        if not sent.left():
            continue
        sent.wrong()
        key, token = urlsafe_base64_encode(force_bytes(account.pk)), default_token_generator.make_token(account)
        link = mail.link(f"/new-password/{key}/{token}", origin)
        # They may have another language than whoever asks.
        with speaking(catalogue_of(account.language or spoken().language)):
            mail.send(
                account.email,
                say("A new password for Cohortia"),
                say(
                    "Somebody, most likely you, asked for a new password for “{username}”.\n\n{link}\n\nThe link can be used once, within a day. If it wasn’t you, do nothing: your password stays as it is.",
                    username=account.username,
                    link=link,
                ),
            )


def renew(key: str, token: str, password: str) -> Account:
    """A new password by the link that was sent; everybody who is signed in with the account isn't any more."""
    try:
        account = Account.objects.filter(pk=int(force_str(urlsafe_base64_decode(key))), is_active=True).first()
    except (ValueError, OverflowError):
        account = None
    if account is None or not default_token_generator.check_token(account, token):
        raise Refusal(_OVER)
    check_password(password, account)
    account.set_password(password)
    account.save(update_fields=["password"])
    end_sessions(account)
    return account
