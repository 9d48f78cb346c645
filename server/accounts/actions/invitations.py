"""Inviting into a project, and coming in."""

import secrets
from datetime import UTC, datetime, timedelta

from django.db import transaction

from core.language import say, worded
from server.accounts import mail, queries
from server.accounts.models import Invitation
from server.common.errors import Conflict, NotFound
from server.common.languages import day
from server.projects.actions import create_account
from server.projects.models import ROLES, Account, MemberRole, Membership
from server.projects.trail import act

DAYS = 14


def invite(member: Membership, email: str, role: str, origin: str) -> tuple[Invitation, str]:
    """The invitation, and its link; sent by mail where an address is given and mail can be sent."""
    member.demand(MemberRole.OWNER)
    email = mail.checked(email)
    secret = secrets.token_urlsafe(32)
    until = datetime.now(UTC) + timedelta(days=DAYS)
    with act(member, "member.invite", needs=MemberRole.OWNER) as change:
        made = change.create(
            Invitation(
                project_id=member.project_id,
                email=email,
                role=role,
                digest=queries.digest_of(secret),
                invited_by=member.account,
                until=until,
            )
        )
        change.summary = say("Invited {n} as {role}", n=email or say("somebody by a link"), role=worded(ROLES[role]))
    link = mail.link(f"/invitation/{secret}", origin)
    if email and mail.can_be_sent():
        mail.send(
            email,
            say("{display_name} invites you into a Cohortia project", display_name=member.account.display_name),
            say(
                "{display_name} invites you into “{name}” as {role}.\n\n{link}\n\nThe link can be used once, until {until}.",
                display_name=member.account.display_name,
                name=member.project.name,
                role=worded(ROLES[role]),
                link=link,
                until=day(until),
            ),
        )
    return made, link


def withdraw(member: Membership, invitation_id: int) -> None:
    with act(member, "member.withdraw", needs=MemberRole.OWNER) as change:
        found = Invitation.objects.filter(project=member.project_id, pk=invitation_id)
        one = found.first()
        if one is None:
            raise NotFound(say("This invitation was used, or is withdrawn already."))
        change.delete(found)
        change.summary = say("Withdrew the invitation of {n}", n=one.email or say("somebody by a link"))


def take(secret: str, account: Account | None, username: str, display_name: str, password: str) -> Account:
    """Come in, with one's account or a new one. The invitation is used up."""
    with transaction.atomic():
        invitation = queries.invitation(secret)
        inviting = queries.inviting(invitation)
        if account is None:
            account = create_account(username, display_name, password)
            account.email, account.may_begin = invitation.email, invitation.role != MemberRole.VIEWER
            account.save(update_fields=["email", "may_begin"])
        with act(inviting, "member.join", needs=MemberRole.OWNER) as change:
            if not Invitation.objects.filter(pk=invitation.pk).delete()[0]:
                raise NotFound(say("This invitation was used meanwhile."))
            if Membership.objects.filter(project=invitation.project_id, account=account).exists():
                raise Conflict(say("You are in “{name}” already.", name=invitation.project.name))
            change.create(Membership(project_id=invitation.project_id, account=account, role=invitation.role))
            change.summary = say(
                "{display_name} came in as {role}, invited",
                display_name=account.display_name,
                role=worded(ROLES[invitation.role]),
            )
    return account
