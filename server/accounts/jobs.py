"""Mails, sent by a worker; tried again where the mail server is away."""

from django.core.mail import send_mail as send
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app


@app.task(name="accounts.send_mail", retry=RetryStrategy(max_attempts=6, exponential_wait=4))
def send_mail(to: str, subject: str, text: str) -> None:
    send(subject, text, None, [to])
