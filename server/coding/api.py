"""The codebook, passages and codings over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.coding import actions, queries
from server.coding.actions import NewCode
from server.coding.models import COLOURS
from server.common.api import ProjectView, read
from server.gather import queries as gather
from server.gather.api.documents import PassageOut
from server.projects.api import AccountOut


class CodeOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    parent = serializers.IntegerField(source="parent_id", allow_null=True)
    name = serializers.CharField()
    colour = serializers.IntegerField()
    definition = serializers.CharField()
    covers = serializers.CharField()
    excludes = serializers.CharField()
    example = serializers.CharField()
    passages = serializers.IntegerField(default=0)
    documents = serializers.IntegerField(default=0)


class PinOut(serializers.Serializer[Any]):
    key = serializers.IntegerField()
    code = serializers.IntegerField()


class CodebookOut(serializers.Serializer[Any]):
    codes = CodeOut(many=True)
    pins = PinOut(many=True)
    coders = AccountOut(many=True)


class CodeIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    parent = serializers.IntegerField(source="parent_id", allow_null=True, required=False)
    colour = serializers.IntegerField(min_value=0, max_value=COLOURS - 1, required=False)
    definition = serializers.CharField(allow_blank=True, required=False, max_length=5000)
    covers = serializers.CharField(allow_blank=True, required=False, max_length=5000)
    excludes = serializers.CharField(allow_blank=True, required=False, max_length=5000)
    example = serializers.CharField(allow_blank=True, required=False, max_length=5000)


class CodeChange(CodeIn):
    name = serializers.CharField(max_length=160, required=False)
    before = serializers.IntegerField(source="before_id", required=False, help_text="Stand before this sibling.")


class NewCodeIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    parent = serializers.IntegerField(allow_null=True, required=False)


class CodingIn(serializers.Serializer[Any]):
    start = serializers.IntegerField(min_value=0)
    end = serializers.IntegerField(min_value=0)
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=50)
    new_codes = NewCodeIn(many=True, required=False)


class PinIn(serializers.Serializer[Any]):
    code = serializers.IntegerField(allow_null=True)


class CodebookView(ProjectView):
    @extend_schema(responses=CodebookOut)
    def get(self, request: Request, project_id: int) -> Response:
        return Response(
            {
                "codes": CodeOut(queries.codebook(self.member), many=True).data,
                "pins": [{"key": key, "code": code} for key, code in queries.pins(self.member).items()],
                "coders": AccountOut(queries.coders(self.member), many=True).data,
            }
        )

    @extend_schema(request=CodeIn, responses=CodeOut)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(CodeIn, request)
        return Response(
            CodeOut(actions.create_code(self.member, said.pop("name"), said.pop("parent_id", None), **said)).data
        )


class CodeView(ProjectView):
    @extend_schema(request=CodeChange, responses=CodeOut)
    def patch(self, request: Request, project_id: int, code_id: int) -> Response:
        return Response(
            CodeOut(actions.change_code(self.member, code_id, **read(CodeChange, request, partial=True))).data
        )

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, code_id: int) -> Response:
        actions.delete_code(self.member, code_id)
        return Response(status=204)


class PinView(ProjectView):
    @extend_schema(request=PinIn, responses={204: None})
    def put(self, request: Request, project_id: int, key: int) -> Response:
        actions.pin_code(self.member, key, read(PinIn, request)["code"])
        return Response(status=204)


class PassagesView(ProjectView):
    @extend_schema(responses=PassageOut(many=True))
    def get(self, request: Request, project_id: int, document_id: int) -> Response:
        return Response(queries.passages_of(gather.document(self.member, document_id)))

    @extend_schema(request=CodingIn, responses=PassageOut(many=True))
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        """Put codes on a stretch; answers with the document's passages as they are then."""
        said = read(CodingIn, request)
        new = [NewCode(code["name"], code.get("parent")) for code in said.get("new_codes", [])]
        passage = actions.apply_codes(self.member, document_id, said["start"], said["end"], said["codes"], new)
        return Response(queries.passages_of(passage.document))


class CodingView(ProjectView):
    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, coding_id: int) -> Response:
        actions.remove_coding(self.member, coding_id)
        return Response(status=204)


class MemoView(ProjectView):
    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, memo_id: int) -> Response:
        actions.delete_memo(self.member, memo_id)
        return Response(status=204)
