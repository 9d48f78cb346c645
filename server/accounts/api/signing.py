"""Signing in and out, forgotten passwords, invitations taken: what is asked by whoever isn't signed in."""

from typing import Any

from django.conf import settings
from django.contrib.auth import logout
from django.middleware.csrf import get_token
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.language import say
from server.accounts import actions, limits, mail, queries
from server.accounts.actions.signing import HALF
from server.accounts.models import StandInMail
from server.accounts.speaking import language_for
from server.common.api import read
from server.common.errors import NotFound
from server.common.languages import offered
from server.projects.models import Account, MemberRole
from server.projects.shown import AccountOut, ErrorOut

WAYS = ["code", "passkey", "recovery"]


class SessionOut(serializers.Serializer[Any]):
    account = AccountOut(allow_null=True)
    second = serializers.ListField(
        child=serializers.ChoiceField(choices=WAYS), help_text="By what the second step is to be taken; empty: none is."
    )
    mail = serializers.BooleanField(help_text="Whether mails are sent from here.")
    mailbox = serializers.BooleanField(help_text="Whether they go to the stand-in mailbox of the demo.")
    may_begin = serializers.BooleanField(help_text="Whether the account makes projects of its own.")
    language = serializers.CharField(help_text="In which language they are spoken to (BCP 47).")
    language_chosen = serializers.CharField(help_text="Which one the account has chosen; empty: as the browser has it.")
    languages = serializers.ListField(child=serializers.CharField(), help_text="All that are spoken here.")


class SignIn(serializers.Serializer[Any]):
    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class Code(serializers.Serializer[Any]):
    code = serializers.CharField(max_length=40)


class Credential(serializers.Serializer[Any]):
    credential = serializers.DictField(help_text="As the browser gives it.")


class Asked(serializers.Serializer[Any]):
    publicKey = serializers.DictField(help_text="What the browser is to be asked, as it takes it in JSON.")


class Forgotten(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=254)


class Renewed(serializers.Serializer[Any]):
    key = serializers.CharField(max_length=40)
    token = serializers.CharField(max_length=100)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class InvitationShown(serializers.Serializer[Any]):
    project = serializers.CharField(source="project.name")
    invited_by = serializers.CharField(source="invited_by.display_name")
    role = serializers.ChoiceField(choices=MemberRole.choices)
    email = serializers.CharField()
    until = serializers.DateTimeField()


class NewAccount(serializers.Serializer[Any]):
    username = serializers.CharField(max_length=150, required=False, default="", allow_blank=True)
    display_name = serializers.CharField(max_length=120, required=False, default="", allow_blank=True)
    password = serializers.CharField(
        max_length=200, required=False, default="", allow_blank=True, trim_whitespace=False
    )


class MailOut(serializers.Serializer[Any]):
    to = serializers.CharField()
    subject = serializers.CharField()
    text = serializers.CharField()
    sent_at = serializers.DateTimeField()


@method_decorator(csrf_protect, name="dispatch")
class Outside(APIView):
    """Asked by whoever isn't signed in; still only from our own pages."""

    permission_classes = [AllowAny]


def _session(request: Request, account: Account | None) -> Response:
    half = request._request.session.get(HALF) if account is None else None
    waiting = Account.objects.filter(pk=half["account"]).first() if half else None
    said = {
        "account": account,
        "second": queries.ways_of(waiting) if waiting else [],
        "mail": mail.can_be_sent(),
        "mailbox": settings.MAIL == "stand-in",
        "may_begin": bool(account and account.may_begin),
        "language": language_for(account, request._request),
        "language_chosen": account.language if account else "",
        "languages": offered(),
    }
    answer = Response(SessionOut(said).data)
    if account and not limits.is_known(request._request, account.username):
        limits.make_known(request._request, answer, account.username)
    return answer


def origin_of(request: Request) -> str:
    return request._request.build_absolute_uri("/").rstrip("/")


class SessionView(Outside):
    @extend_schema(responses=SessionOut)
    def get(self, request: Request) -> Response:
        get_token(request._request)
        return _session(request, request.user if isinstance(request.user, Account) else None)

    @extend_schema(request=SignIn, responses={200: SessionOut, 400: ErrorOut})
    def post(self, request: Request) -> Response:
        return _session(request, actions.by_password(request._request, **read(SignIn, request)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request) -> Response:
        logout(request._request)
        return Response(status=204)


class SecondView(Outside):
    @extend_schema(request=Code, responses={200: SessionOut, 400: ErrorOut})
    def post(self, request: Request) -> Response:
        return _session(request, actions.by_code(request._request, **read(Code, request)))


class PasskeyView(Outside):
    @extend_schema(responses=Asked)
    def get(self, request: Request) -> Response:
        return Response(actions.passkey_options(request._request))

    @extend_schema(request=Credential, responses={200: SessionOut, 400: ErrorOut})
    def post(self, request: Request) -> Response:
        return _session(request, actions.by_passkey(request._request, **read(Credential, request)))


class ForgottenView(Outside):
    @extend_schema(request=Forgotten, responses={204: None, 400: ErrorOut})
    def post(self, request: Request) -> Response:
        actions.forgotten(request._request, read(Forgotten, request)["name"], origin_of(request))
        return Response(status=204)


class RenewedView(Outside):
    @extend_schema(request=Renewed, responses={204: None, 400: ErrorOut})
    def post(self, request: Request) -> Response:
        actions.renew(**read(Renewed, request))
        return Response(status=204)


class InvitationView(Outside):
    @extend_schema(responses=InvitationShown)
    def get(self, request: Request, secret: str) -> Response:
        found = queries.invitation(secret)
        queries.inviting(found)
        return Response(InvitationShown(found).data)

    @extend_schema(request=NewAccount, responses={200: SessionOut, 400: ErrorOut})
    def post(self, request: Request, secret: str) -> Response:
        own = request.user if isinstance(request.user, Account) else None
        account = actions.take(secret, own, **read(NewAccount, request))
        if own is None:
            actions.enter(request._request, account)
        return _session(request, account)


class MailboxView(Outside):
    @extend_schema(responses=MailOut(many=True))
    def get(self, request: Request) -> Response:
        if settings.MAIL != "stand-in":
            raise NotFound(say("Mails are sent from here: there is no mailbox."))
        return Response(MailOut(StandInMail.objects.all(), many=True).data)
