"""One's own account over HTTP: password, address, second factors, where one is signed in; and a project's invitations."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.accounts import actions, queries
from server.accounts.api.signing import Asked, Credential, origin_of
from server.common.api import read
from server.projects.models import MemberRole
from server.projects.shown import ErrorOut
from server.projects.views import ProjectView, account_of


class PasswordChange(serializers.Serializer[Any]):
    current = serializers.CharField(max_length=200, trim_whitespace=False)
    new = serializers.CharField(max_length=200, trim_whitespace=False)


class Password(serializers.Serializer[Any]):
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class EmailChange(Password):
    email = serializers.CharField(max_length=254, allow_blank=True)


class LanguageChange(serializers.Serializer[Any]):
    language = serializers.CharField(
        max_length=12, allow_blank=True, help_text="Its tag (BCP 47), or nothing: as the browser has it."
    )


class NewPasskey(Credential):
    name = serializers.CharField(max_length=80, allow_blank=True)


class CodeOfApp(serializers.Serializer[Any]):
    code = serializers.CharField(max_length=40)


class PasskeyOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.SerializerMethodField()
    created_at = serializers.DateTimeField()
    last_used_at = serializers.DateTimeField(allow_null=True)

    def get_name(self, passkey: Any) -> str:
        return str(passkey.wrap().name)


class SignedInOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    ip = serializers.CharField()
    agent = serializers.CharField(source="user_agent")
    created_at = serializers.DateTimeField()
    last_seen_at = serializers.DateTimeField()
    here = serializers.SerializerMethodField()

    def get_here(self, session: Any) -> bool:
        return bool(session.session_key == self.context["session"])


class OwnOut(serializers.Serializer[Any]):
    email = serializers.CharField()
    may_begin = serializers.BooleanField()
    totp = serializers.BooleanField(help_text="Whether an app's codes are asked for.")
    codes_left = serializers.IntegerField(allow_null=True, help_text="Codes for when the app or the passkey is lost.")
    passkeys = PasskeyOut(many=True)
    sessions = SignedInOut(many=True)


class TotpOut(serializers.Serializer[Any]):
    secret = serializers.CharField()
    address = serializers.CharField()
    picture = serializers.CharField(help_text="The address as a picture to be read by the app: SVG.")


class CodesOut(serializers.Serializer[Any]):
    codes = serializers.ListField(child=serializers.CharField())


class InvitationIn(serializers.Serializer[Any]):
    email = serializers.CharField(max_length=254, allow_blank=True)
    role = serializers.ChoiceField(choices=MemberRole.choices)


class InvitationOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    email = serializers.CharField()
    role = serializers.ChoiceField(choices=MemberRole.choices)
    invited_by = serializers.CharField(source="invited_by.display_name")
    until = serializers.DateTimeField()
    link = serializers.CharField(default="", help_text="Only in the answer to its making: it is kept nowhere.")


class PasswordView(APIView):
    @extend_schema(request=PasswordChange, responses={204: None})
    def put(self, request: Request) -> Response:
        actions.change_password(request._request, account_of(request), **read(PasswordChange, request))
        return Response(status=204)


class OwnView(APIView):
    @extend_schema(responses=OwnOut)
    def get(self, request: Request) -> Response:
        context = {"session": request._request.session.session_key}
        return Response(OwnOut(queries.own(account_of(request)), context=context).data)

    @extend_schema(request=EmailChange, responses={204: None})
    def patch(self, request: Request) -> Response:
        actions.change_email(account_of(request), **read(EmailChange, request))
        return Response(status=204)


class LanguageView(APIView):
    @extend_schema(request=LanguageChange, responses={204: None})
    def put(self, request: Request) -> Response:
        actions.change_language(account_of(request), **read(LanguageChange, request))
        return Response(status=204)


class TotpView(APIView):
    @extend_schema(request=Password, responses=TotpOut)
    def post(self, request: Request) -> Response:
        return Response(
            TotpOut(actions.begin_totp(request._request, account_of(request), **read(Password, request))).data
        )

    @extend_schema(request=CodeOfApp, responses=CodesOut)
    def put(self, request: Request) -> Response:
        codes = actions.confirm_totp(request._request, account_of(request), **read(CodeOfApp, request))
        return Response({"codes": codes})


class TotpOffView(APIView):
    @extend_schema(request=Password, responses={204: None})
    def post(self, request: Request) -> Response:
        actions.end_totp(account_of(request), **read(Password, request))
        return Response(status=204)


class CodesView(APIView):
    @extend_schema(request=Password, responses=CodesOut)
    def post(self, request: Request) -> Response:
        return Response({"codes": actions.new_codes(account_of(request), **read(Password, request))})


class NewPasskeyView(APIView):
    @extend_schema(request=Password, responses=Asked)
    def post(self, request: Request) -> Response:
        return Response(actions.begin_passkey(request._request, account_of(request), **read(Password, request)))


class PasskeysView(APIView):
    @extend_schema(request=NewPasskey, responses={200: CodesOut, 400: ErrorOut})
    def post(self, request: Request) -> Response:
        codes = actions.add_passkey(request._request, account_of(request), **read(NewPasskey, request))
        return Response({"codes": codes})


class RemovePasskeyView(APIView):
    @extend_schema(request=Password, responses={204: None})
    def post(self, request: Request, passkey_id: int) -> Response:
        actions.remove_passkey(account_of(request), passkey_id, **read(Password, request))
        return Response(status=204)


class OtherSessionsView(APIView):
    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request) -> Response:
        actions.end_other_sessions(request._request, account_of(request))
        return Response(status=204)


class OneSessionView(APIView):
    @extend_schema(responses={204: None})
    def delete(self, request: Request, session_id: int) -> Response:
        actions.end_session(account_of(request), session_id)
        return Response(status=204)


class InvitationsView(ProjectView):
    needs = {"GET": MemberRole.OWNER, "POST": MemberRole.OWNER}

    @extend_schema(responses=InvitationOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(InvitationOut(queries.invitations(self.member), many=True).data)

    @extend_schema(request=InvitationIn, responses=InvitationOut)
    def post(self, request: Request, project_id: int) -> Response:
        made, link = actions.invite(self.member, **read(InvitationIn, request), origin=origin_of(request))
        return Response({**InvitationOut(made).data, "link": link})


class OneInvitationView(ProjectView):
    needs = {"DELETE": MemberRole.OWNER}

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, invitation_id: int) -> Response:
        actions.withdraw(self.member, invitation_id)
        return Response(status=204)
