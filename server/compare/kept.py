"""Kept comparisons over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.common.api import CountOut, ProjectView, read
from server.compare import actions, queries
from server.compare.api import ComparisonIn

FORMS = ["table", "bars", "gaps"]


class ShownIn(serializers.Serializer[Any]):
    """How a kept comparison is drawn."""

    form = serializers.ChoiceField(choices=FORMS, default="table")
    order = serializers.ChoiceField(choices=["codebook", "size", "difference"], default="codebook")
    tint = serializers.ChoiceField(choices=["expected", "share", "none"], default="expected")
    least = serializers.IntegerField(min_value=0, default=0)


class KeptComparisonIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    question = serializers.IntegerField(allow_null=True, required=False)
    asked = ComparisonIn()
    shown = ShownIn()


class KeptChangeIn(serializers.Serializer[Any]):
    """Any of these; what is sent is the whole of it, since a part of a question asks nothing."""

    name = serializers.CharField(max_length=160, required=False)
    question = serializers.IntegerField(allow_null=True, required=False)
    asked = ComparisonIn(required=False)
    shown = ShownIn(required=False)


class KeptComparisonOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    question = serializers.IntegerField(source="question_id", allow_null=True)
    asked = ComparisonIn()
    shown = ShownIn()
    author = serializers.CharField(source="author.display_name")
    made_at = serializers.DateTimeField()


class KeptView(ProjectView):
    @extend_schema(responses=KeptComparisonOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(KeptComparisonOut(queries.kept_comparisons(self.member), many=True).data)

    @extend_schema(request=KeptComparisonIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Keep a comparison; answers with its ID."""
        said = read(KeptComparisonIn, request)
        kept = actions.keep_comparison(self.member, said["name"], said["asked"], said["shown"], said.get("question"))
        return Response({"count": kept.pk})


class OneKeptView(ProjectView):
    @extend_schema(request=KeptChangeIn, responses={204: None})
    def patch(self, request: Request, project_id: int, kept_id: int) -> Response:
        actions.change_kept(self.member, kept_id, **read(KeptChangeIn, request))
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, kept_id: int) -> Response:
        actions.delete_kept(self.member, kept_id)
        return Response(status=204)
