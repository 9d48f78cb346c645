"""Closing one's account: its work stays under a neutral name, and nobody signs in with it any more."""

import secrets

from allauth.mfa.models import Authenticator
from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.contrib.sessions.models import Session
from django.db import transaction

from core.language import say
from server.accounts.actions.passwords import check_current
from server.accounts.actions.sessions import end_sessions
from server.accounts.models import Invitation, StandInMail
from server.coding.models import Pin
from server.common.errors import Refusal
from server.gather import media
from server.gather.models import StagedFile
from server.projects.models import Account, Job, JobState, MemberRole, Membership, TrailEntry
from server.projects.trail import act
from server.shell.models import ArrivedProject

NEUTRAL = "A former member"


def close_account(account: Account, password: str) -> None:
    """Close it for good. Refused with a wrong password, while work of theirs is under way, and where a project would be left
    without an owner."""
    check_current(account, password)
    if Job.objects.filter(account=account, state__in=[JobState.WAITING, JobState.RUNNING]).exists():
        raise Refusal(say("Work of yours is under way: wait for it, or cancel it first."))
    waiting, arrived = StagedFile.objects.filter(account=account), ArrivedProject.objects.filter(account=account)
    digests = media.of_staged(waiting) | set(arrived.values_list("digest", flat=True))
    with transaction.atomic():
        for member in (
            Membership.objects.filter(account=account).select_related("project", "account").order_by("project_id")
        ):
            _leave(member)
        waiting.delete()
        arrived.delete()
        Job.objects.filter(account=account).delete()
        Pin.objects.filter(account=account).delete()
        _unname(account)
    media.forget(digests)


def _leave(member: Membership) -> None:
    others = Membership.objects.filter(project=member.project_id, role=MemberRole.OWNER).exclude(pk=member.pk)
    with act(member, "member.leave", needs=MemberRole.VIEWER) as change:
        if member.role == MemberRole.OWNER and not others.exists():
            raise Refusal(
                say(
                    "You are the only owner of “{name}”: make somebody else owner there, or delete the project first.",
                    name=member.project.name,
                )
            )
        change.needs = MemberRole.OWNER
        change.delete(Membership.objects.filter(pk=member.pk))
        change.summary = say("{neutral} left: the account was closed", neutral=NEUTRAL)


def _unname(account: Account) -> None:
    """Take the name from the account, from what the trails say of its membership, and from what was noted of its signing in."""
    name, username, address = account.display_name, account.username, account.email
    for entry in TrailEntry.objects.filter(verb__startswith="member", summary__contains=name):
        TrailEntry.objects.filter(pk=entry.pk).update(summary=entry.summary.replace(name, NEUTRAL))
    account.display_name, account.username = NEUTRAL, f"closed-{secrets.token_hex(12)}"
    account.first_name = account.last_name = account.email = ""
    account.is_active, account.last_login = False, None
    account.set_unusable_password()
    account.save()
    for log in (AccessAttempt, AccessFailureLog, AccessLog):
        log.objects.filter(username=username).delete()
    Authenticator.objects.filter(user=account).delete()
    Invitation.objects.filter(invited_by=account).delete()
    if address:
        Invitation.objects.filter(email__iexact=address).delete()
        StandInMail.objects.filter(to__iexact=address).delete()
    end_sessions(account)
    for session in Session.objects.all().iterator():
        if session.get_decoded().get("_auth_user_id") == str(account.pk):
            session.delete()
