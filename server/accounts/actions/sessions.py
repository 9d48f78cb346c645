"""Where somebody is signed in, ended."""

from allauth.usersessions.models import UserSession
from django.db.models import QuerySet
from django.http import HttpRequest

from core.language import say
from server.common.errors import NotFound
from server.projects.models import Account


def end_session(account: Account, session_id: int) -> None:
    found = UserSession.objects.filter(user=account, pk=session_id).first()
    if found is None:
        raise NotFound(say("There you aren’t signed in any more."))
    found.end()


def end_other_sessions(request: HttpRequest, account: Account) -> None:
    """All but this one."""
    _end(UserSession.objects.filter(user=account).exclude(session_key=request.session.session_key))


def end_sessions(account: Account) -> None:
    _end(UserSession.objects.filter(user=account))


def _end(sessions: QuerySet[UserSession]) -> None:
    for one in sessions:
        one.end()
