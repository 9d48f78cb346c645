"""Where somebody is signed in, ended."""

from allauth.usersessions.models import UserSession
from django.http import HttpRequest

from server.common.errors import NotFound
from server.projects.models import Account


def end_session(account: Account, session_id: int) -> None:
    found = UserSession.objects.filter(user=account, pk=session_id).first()
    if found is None:
        raise NotFound("There you aren’t signed in any more.")
    found.end()


def end_other_sessions(request: HttpRequest, account: Account) -> int:
    """All but this one; how many."""
    return _end(UserSession.objects.filter(user=account).exclude(session_key=request.session.session_key))


def end_sessions(account: Account) -> int:
    return _end(UserSession.objects.filter(user=account))


def _end(sessions) -> int:  # type: ignore[no-untyped-def]
    ended = 0
    for one in sessions:
        one.end()
        ended += 1
    return ended
