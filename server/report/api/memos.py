"""Memos over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.common.api import CountOut, read
from server.common.kinds import MemoKind
from server.projects.views import ProjectView, by_revision
from server.report import actions, queries
from server.report.models import ATTACHED


class MemoIn(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=20_000)
    kind = serializers.ChoiceField(choices=MemoKind.choices, required=False)


class NewMemoIn(MemoIn):
    passage = serializers.IntegerField(required=False)
    code = serializers.IntegerField(required=False)
    theme = serializers.IntegerField(required=False)
    document = serializers.IntegerField(required=False)
    case = serializers.IntegerField(required=False)
    comparison = serializers.IntegerField(required=False)
    start = serializers.IntegerField(
        required=False, min_value=0, help_text="With an end: on these words of the document."
    )
    end = serializers.IntegerField(required=False, min_value=0)


class MemoOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    text = serializers.CharField()
    kind = serializers.ChoiceField(choices=MemoKind.choices)
    author = serializers.CharField()
    author_id = serializers.IntegerField()
    source = serializers.CharField()
    made_at = serializers.DateTimeField()
    on = serializers.ChoiceField(choices=[*ATTACHED, "project"])
    on_id = serializers.IntegerField(allow_null=True)
    name = serializers.CharField(help_text="What it is on, in words.")
    document = serializers.IntegerField(allow_null=True)


class MemosView(ProjectView):
    @extend_schema(responses=MemoOut(many=True))
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        return Response(queries.memos(self.member))

    @extend_schema(request=NewMemoIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(NewMemoIn, request)
        start, end = said.pop("start", None), said.pop("end", None)
        stretch = None
        if start is not None and end is not None and "document" in said:
            stretch = (said.pop("document"), start, end)
        memo = actions.write_memo(
            self.member, said.pop("text"), said.pop("kind", MemoKind.ANALYTIC), stretch=stretch, **said
        )
        return Response({"count": memo.pk})


class MemoView(ProjectView):
    @extend_schema(request=MemoIn, responses={204: None})
    def patch(self, request: Request, project_id: int, memo_id: int) -> Response:
        said = read(MemoIn, request, partial=True)
        actions.change_memo(self.member, memo_id, said.get("text"), said.get("kind"))
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, memo_id: int) -> Response:
        actions.delete_memo(self.member, memo_id)
        return Response(status=204)


class MemoDocumentView(ProjectView):
    @extend_schema(request=None, responses=CountOut)
    def post(self, request: Request, project_id: int, memo_id: int) -> Response:
        """Make a document of a memo; answers with the document’s ID."""
        return Response({"count": actions.memo_into_document(self.member, memo_id).pk})
