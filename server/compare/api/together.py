"""Codes with codes over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.coding.shown import Quoted
from server.common.api import read
from server.common.exports import CSV, TSV, XLSX, ZIP, attached
from server.compare import exports, together
from server.compare.asked import COLUMNS
from server.compare.blocks import UNITS
from server.projects.models import MemberRole
from server.projects.views import ProjectView
from server.scope.asked import ScopeIn


class TogetherIn(serializers.Serializer[Any]):
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=400)
    measure = serializers.ChoiceField(choices=together.MEASURES, default="people")
    unit = serializers.ChoiceField(choices=UNITS, default="overlap")
    within = serializers.FloatField(default=0, min_value=0, max_value=100_000)
    roll_up = serializers.BooleanField(default=False)
    columns = serializers.ChoiceField(choices=COLUMNS, default="variable")
    variable = serializers.IntegerField(required=False, allow_null=True)
    groups = serializers.ListField(child=serializers.CharField(), required=False, allow_null=True, max_length=500)
    cuts = serializers.ListField(child=serializers.FloatField(), required=False, allow_null=True, max_length=50)
    scope = ScopeIn(required=False)


class MeetingsIn(TogetherIn):
    row = serializers.IntegerField(min_value=0)
    column = serializers.IntegerField(min_value=0)
    group = serializers.IntegerField(min_value=0, required=False, allow_null=True)
    limit = serializers.IntegerField(required=False, min_value=1, max_value=1000)


class NamedCode(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    colour = serializers.IntegerField()


class MeetTable(serializers.Serializer[Any]):
    counts = serializers.ListField(child=serializers.ListField(child=serializers.IntegerField()))
    likeness = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField(allow_null=True)), help_text="Jaccard’s coefficient."
    )


class MeetGroup(MeetTable):
    name = serializers.CharField()
    label = serializers.CharField()
    outer = serializers.CharField(allow_blank=True)
    mark = serializers.IntegerField()


class TogetherOut(serializers.Serializer[Any]):
    revision = serializers.IntegerField()
    sentence = serializers.CharField()
    measure = serializers.ChoiceField(choices=together.MEASURES)
    codes = NamedCode(many=True)
    lineage = serializers.ListField(
        child=serializers.ListField(child=serializers.IntegerField()), help_text="Pairs, one beneath the other."
    )
    whole = MeetTable()
    groups = MeetGroup(many=True)
    variable = serializers.CharField(allow_blank=True)
    passages_left_out = serializers.IntegerField()


class QuotedBy(Quoted):
    people = serializers.ListField(child=serializers.CharField())


class MeetingOut(serializers.Serializer[Any]):
    first = QuotedBy()
    second = QuotedBy()


class MeetingsOut(serializers.Serializer[Any]):
    total = serializers.IntegerField()
    meetings = MeetingOut(many=True)
    more = serializers.IntegerField()


class TogetherView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=TogetherIn, responses=TogetherOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(together.together(self.member, read(TogetherIn, request)))


class TogetherExportIn(TogetherIn):
    format = serializers.ChoiceField(choices=["xlsx", "csv", "tsv", "zip"])


TABLES = {
    "xlsx": (exports.together_xlsx, XLSX),
    "csv": (exports.together_csv, CSV),
    "tsv": (exports.together_tsv, TSV),
    "zip": (exports.together_tidy, ZIP),
}


class TogetherExportView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=TogetherExportIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int) -> HttpResponse:
        """The table of codes with codes as a file."""
        said = read(TogetherExportIn, request)
        make, kind = TABLES[said["format"]]
        project = self.member.project
        found = together.together(self.member, said)
        if project.hide_below > 1 or project.round_to:
            people = together.together(self.member, {**said, "measure": "people"})
            found = exports.together_hidden(found, people, project.hide_below, project.round_to)
        made = make(found, project.name, project.case_many)
        return attached(made, kind, project.name, "codes-with-codes", said["format"])


class MeetingsView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=MeetingsIn, responses=MeetingsOut)
    def post(self, request: Request, project_id: int) -> Response:
        """The two passages of each meeting behind one number."""
        return Response(together.meetings_behind(self.member, read(MeetingsIn, request)))
