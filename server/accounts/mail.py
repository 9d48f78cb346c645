"""Mails: written here, sent by a worker; or kept in the stand-in mailbox, where the demo shows them."""

from collections.abc import Sequence

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.mail import EmailMessage
from django.core.mail.backends.base import BaseEmailBackend
from django.core.validators import validate_email

from core.language import say
from server.accounts.models import StandInMail
from server.common.errors import Refusal

SHOWN = 50


class StandIn(BaseEmailBackend):
    """Keeps mails instead of sending them."""

    def send_messages(self, email_messages: Sequence[EmailMessage]) -> int:
        for mail in email_messages:
            for to in mail.to:
                StandInMail.objects.create(to=to, subject=str(mail.subject), text=str(mail.body))
        kept = StandInMail.objects.values_list("id", flat=True)[:SHOWN]
        StandInMail.objects.exclude(pk__in=list(kept)).delete()
        return len(email_messages)


def checked(address: str) -> str:
    """An address as it is kept, or none; refused where it can't be one."""
    address = address.strip()
    if address:
        try:
            validate_email(address)
        except ValidationError as error:
            raise Refusal(say("This isn’t an address that mail can be sent to.")) from error
    return address


def can_be_sent() -> bool:
    return bool(settings.MAIL)


def send(to: str, subject: str, text: str) -> None:
    """By the queue: how long it takes tells nobody whether the address is known."""
    from server.accounts.jobs import send_mail

    send_mail.defer(to=to, subject=subject, text=text)


def link(path: str, origin: str) -> str:
    """An address of the web application: where the request came to, or what the setting says."""
    return f"{settings.ADDRESS or origin}{path}"
