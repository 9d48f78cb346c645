"""Reads on accounts: second factors, sessions, invitations."""

import hashlib
from dataclasses import dataclass
from datetime import UTC, datetime

from allauth.mfa.models import Authenticator
from allauth.usersessions.models import UserSession
from django.db.models import QuerySet

from core.language import message
from server.accounts.models import Invitation
from server.common.errors import NotFound
from server.projects.models import Account, MemberRole, Membership

_OVER = message("This invitation was used, is withdrawn, or is over. Ask whoever invited you for another one.")
_WAYS = {Authenticator.Type.TOTP: "code", Authenticator.Type.WEBAUTHN: "passkey"}


def ways_of(account: Account) -> list[str]:
    """By what the second step can be taken; none where there is no second step."""
    kinds = set(Authenticator.objects.filter(user=account).values_list("type", flat=True))
    ways = [way for kind, way in _WAYS.items() if kind in kinds]
    return [*ways, "recovery"] if ways and Authenticator.Type.RECOVERY_CODES in kinds else ways


@dataclass(frozen=True)
class Own:
    """What somebody sees of their own account."""

    email: str
    may_begin: bool
    totp: bool
    codes_left: int | None
    passkeys: list[Authenticator]
    sessions: list[UserSession]


def own(account: Account) -> Own:
    factors = list(Authenticator.objects.filter(user=account).order_by("id"))
    codes = [one for one in factors if one.type == Authenticator.Type.RECOVERY_CODES]
    return Own(
        account.email,
        account.may_begin,
        any(one.type == Authenticator.Type.TOTP for one in factors),
        len(codes[0].wrap().get_unused_codes()) if codes else None,
        [one for one in factors if one.type == Authenticator.Type.WEBAUTHN],
        sorted(UserSession.objects.purge_and_list(account), key=lambda one: one.last_seen_at, reverse=True),
    )


def invitations(member: Membership) -> QuerySet[Invitation]:
    return Invitation.objects.filter(project=member.project_id, until__gt=datetime.now(UTC)).select_related(
        "invited_by"
    )


def digest_of(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


def invitation(secret: str) -> Invitation:
    found = (
        Invitation.objects.filter(digest=digest_of(secret), until__gt=datetime.now(UTC))
        .select_related("project", "invited_by")
        .first()
    )
    if found is None:
        raise NotFound(_OVER)
    return found


def inviting(invitation: Invitation) -> Membership:
    """The owner who invited; where they aren't one any more, the invitation is over."""
    found = Membership.objects.select_related("project", "account").filter(
        project=invitation.project_id, account=invitation.invited_by_id, role=MemberRole.OWNER
    )
    member = found.first()
    if member is None:
        raise NotFound(_OVER)
    return member
