"""Frozen results over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.common.api import CountOut, ProjectView, read
from server.compare import actions, frozen
from server.compare.api.comparing import ComparisonIn, ComparisonOut, Quoted
from server.compare.api.kept import ShownIn
from server.compare.models import ROW_KINDS


class FreezeIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    asked = ComparisonIn()
    shown = ShownIn()
    comparison = serializers.IntegerField(required=False, allow_null=True)


class FrozenListed(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    comparison = serializers.IntegerField(source="comparison_id", allow_null=True)
    author = serializers.CharField(source="author.display_name")
    made_at = serializers.DateTimeField()


class FigureThen(serializers.Serializer[Any]):
    figure = serializers.FloatField(allow_null=True)
    count = serializers.IntegerField()
    base = serializers.IntegerField()
    people = serializers.IntegerField()
    passages = serializers.IntegerField()


class CellChange(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=ROW_KINDS)
    id = serializers.IntegerField()
    group = serializers.CharField()
    before = FigureThen(allow_null=True)
    now = FigureThen(allow_null=True)
    gained = serializers.IntegerField(help_text="Passages.")
    lost = serializers.IntegerField()
    joined = serializers.IntegerField(help_text="People of the group.")
    left = serializers.IntegerField()


class ChangesSince(serializers.Serializer[Any]):
    problem = serializers.CharField(allow_blank=True, help_text="Why it can’t be asked again; else empty.")
    gone = serializers.ListField(child=serializers.CharField(), help_text="Rows that aren’t in the project any more.")
    cells = CellChange(many=True)
    now = ComparisonOut(allow_null=True)


class FrozenOut(FrozenListed):
    asked = ComparisonIn()
    shown = ShownIn()
    result = ComparisonOut()
    changes = ChangesSince()


class CellIn(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=ROW_KINDS)
    id = serializers.IntegerField()
    group = serializers.CharField()


class GainedPassage(Quoted):
    people = serializers.ListField(child=serializers.CharField())
    why = serializers.CharField()


class LostPassage(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    document = serializers.IntegerField()
    title = serializers.CharField()
    text = serializers.CharField()
    people = serializers.ListField(child=serializers.CharField())
    why = serializers.CharField()


class CellChangeOut(serializers.Serializer[Any]):
    gained = GainedPassage(many=True)
    lost = LostPassage(many=True)


class FrozenView(ProjectView):
    @extend_schema(responses=FrozenListed(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(FrozenListed(frozen.frozen_results(self.member).defer("result", "held"), many=True).data)

    @extend_schema(request=FreezeIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Freeze a result; answers with its ID."""
        said = read(FreezeIn, request)
        made = actions.freeze(self.member, said["name"], said["asked"], said["shown"], said.get("comparison"))
        return Response({"count": made.pk})


class OneFrozenView(ProjectView):
    @extend_schema(responses=FrozenOut)
    def get(self, request: Request, project_id: int, frozen_id: int) -> Response:
        """A result as it was, and how it differs from today."""
        row = frozen.frozen_result(self.member, frozen_id)
        shown = {**FrozenListed(row).data, "asked": row.asked, "shown": row.shown, "result": row.result}
        return Response({**shown, "changes": frozen.changes_since(self.member, row)})

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, frozen_id: int) -> Response:
        actions.delete_frozen(self.member, frozen_id)
        return Response(status=204)


class FrozenCellView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=CellIn, responses=CellChangeOut)
    def post(self, request: Request, project_id: int, frozen_id: int) -> Response:
        """Which passages one cell has gained and lost since, and which coding did it."""
        said = read(CellIn, request)
        row = frozen.frozen_result(self.member, frozen_id)
        return Response(frozen.change_of_cell(self.member, row, (f"{said['kind']}:{said['id']}", said["group"])))
