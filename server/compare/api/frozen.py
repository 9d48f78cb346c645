"""Frozen results over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.language import say
from server.coding.shown import Quoted
from server.common.api import CountOut, read
from server.common.errors import NotFound
from server.common.exports import attached
from server.compare import actions, frozen, frozen_passages
from server.compare.api.comparing import TABLES
from server.compare.api.results import ComparisonOut
from server.compare.api.searches import BlocksIn
from server.compare.asked import ComparisonIn, ShownIn
from server.compare.models import FROZEN_KINDS, ROW_KINDS
from server.compare.publishing import frozen_leaving
from server.projects.models import MemberRole
from server.projects.views import ProjectView


class FreezeIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    asked = ComparisonIn()
    shown = ShownIn()
    comparison = serializers.IntegerField(required=False, allow_null=True)


class FrozenListed(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=FROZEN_KINDS)
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


class PassageThen(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    document = serializers.IntegerField()
    title = serializers.CharField()
    text = serializers.CharField()
    people = serializers.ListField(child=serializers.CharField())
    why = serializers.CharField(allow_blank=True)


class CellChangeOut(serializers.Serializer[Any]):
    as_it_was = PassageThen(many=True)
    gained = GainedPassage(many=True)
    lost = PassageThen(many=True)


class FreezePassagesIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    asked = BlocksIn()


class Sizes(serializers.Serializer[Any]):
    passages = serializers.IntegerField()
    people = serializers.IntegerField()


class FrozenPassagesOut(CellChangeOut):
    sentence = serializers.CharField()
    passages = serializers.IntegerField()
    people = serializers.IntegerField()
    now = Sizes(allow_null=True)
    problem = serializers.CharField(allow_blank=True, help_text="Why it can’t be asked again; else empty.")


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
        row = frozen.frozen_result(self.member, frozen_id, "comparison")
        shown = {**FrozenListed(row).data, "asked": row.asked, "shown": row.shown, "result": row.result}
        return Response({**shown, "changes": frozen.changes_since(self.member, row)})

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, frozen_id: int) -> Response:
        actions.delete_frozen(self.member, frozen_id)
        return Response(status=204)


class FrozenExportView(ProjectView):
    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, frozen_id: int, ending: str) -> HttpResponse:
        """A frozen comparison as a file: ``xlsx``, ``csv`` or ``docx``, as it was."""
        row = frozen.frozen_result(self.member, frozen_id, "comparison")
        if ending not in TABLES:
            raise NotFound(say("A frozen result is written as xlsx, csv or docx."))
        make, kind = TABLES[ending]
        project = self.member.project
        result = frozen_leaving(self.member, frozen.dated(row), 0)
        made = make(result, project.name, project.case_many)
        return attached(made, kind, project.name, "frozen", ending)


class FrozenPassagesView(ProjectView):
    @extend_schema(request=FreezePassagesIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Freeze what conditions on passages find; answers with its ID."""
        said = read(FreezePassagesIn, request)
        asked = {name: said["asked"][name] for name in ("blocks", "scope") if said["asked"].get(name) is not None}
        return Response({"count": actions.freeze_passages(self.member, said["name"], asked).pk})


class OneFrozenPassagesView(ProjectView):
    @extend_schema(responses=FrozenPassagesOut)
    def get(self, request: Request, project_id: int, frozen_id: int) -> Response:
        """What was found then, and how today differs."""
        row = frozen.frozen_result(self.member, frozen_id, "passages")
        return Response(frozen_passages.then_and_now(self.member, row))


class FrozenCellView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=CellIn, responses=CellChangeOut)
    def post(self, request: Request, project_id: int, frozen_id: int) -> Response:
        """One cell’s passages then, which it has gained and lost since, and which coding did it."""
        said = read(CellIn, request)
        row = frozen.frozen_result(self.member, frozen_id, "comparison")
        return Response(frozen.change_of_cell(self.member, row, (f"{said['kind']}:{said['id']}", said["group"])))
