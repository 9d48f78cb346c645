"""What single forms of a comparison need, over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.language import say
from server.common.api import read
from server.common.errors import Refusal
from server.common.exports import TSV, XLSX, ZIP, attached
from server.compare import exports, forms, overview
from server.compare.asked import COLUMNS, ComparisonIn
from server.compare.models import ROW_KINDS
from server.projects.models import MemberRole
from server.projects.views import ProjectView
from server.scope.asked import ScopeIn


class Point(serializers.Serializer[Any]):
    x = serializers.FloatField()
    y = serializers.FloatField()
    contributions = serializers.ListField(child=serializers.FloatField(), help_text="To each of the two axes.")
    quality = serializers.FloatField(help_text="How much of its distance the two axes show.")
    mass = serializers.FloatField()


class MapOut(serializers.Serializer[Any]):
    order = serializers.ListField(child=serializers.IntegerField(), help_text="Rows so that like ones stand together.")
    inertia = serializers.ListField(child=serializers.FloatField())
    total = serializers.FloatField()
    rows = serializers.ListField(child=Point(allow_null=True))
    groups = serializers.ListField(child=Point(allow_null=True))


class EachIn(ComparisonIn):
    each = serializers.ChoiceField(choices=["people", "documents"], default="people")


class EachOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    groups = serializers.ListField(child=serializers.IntegerField())
    counts = serializers.ListField(
        child=serializers.ListField(child=serializers.IntegerField(allow_null=True)),
        help_text="By row, then by its groups; null for who wasn’t asked about the row, where that is the base.",
    )


class OneByOneOut(serializers.Serializer[Any]):
    each = EachOut(many=True)
    nobody = serializers.ListField(
        child=serializers.CharField(), help_text="Documents in scope in which nobody is linked: in no group."
    )


class SpreadIn(ComparisonIn):
    number = serializers.IntegerField(help_text="A number variable of cases.")


class Values(serializers.Serializer[Any]):
    values = serializers.ListField(child=serializers.FloatField())
    median = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True, help_text="Lower quartile.")
    high = serializers.FloatField(allow_null=True)


class SpreadRow(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=ROW_KINDS)
    id = serializers.IntegerField()
    name = serializers.CharField()
    colour = serializers.IntegerField(allow_null=True)
    mention = Values()
    silent = Values()
    p = serializers.FloatField(allow_null=True)
    holm = serializers.FloatField(allow_null=True)
    effect = serializers.FloatField(allow_null=True, help_text="Rank-biserial correlation.")


class SpreadOut(serializers.Serializer[Any]):
    variable = serializers.CharField()
    unknown = serializers.IntegerField(help_text="People without the number.")
    people = serializers.IntegerField()
    exact = serializers.BooleanField()
    of_days = serializers.BooleanField(help_text="The numbers are days since 1970-01-01.")
    rows = SpreadRow(many=True)


class OverviewIn(serializers.Serializer[Any]):
    columns = serializers.ChoiceField(choices=COLUMNS, default="variable")
    variable = serializers.IntegerField(required=False, allow_null=True)
    groups = serializers.ListField(child=serializers.CharField(), required=False, allow_null=True, max_length=500)
    cuts = serializers.ListField(child=serializers.FloatField(), required=False, allow_null=True, max_length=50)
    scope = ScopeIn(required=False)


class ProgressIn(OverviewIn):
    base = serializers.IntegerField(required=False, min_value=1, max_value=1000)
    run = serializers.IntegerField(required=False, min_value=1, max_value=100)
    threshold = serializers.FloatField(required=False, min_value=0, max_value=1)


class HeldByGroup(serializers.Serializer[Any]):
    passages = serializers.IntegerField()
    people = serializers.IntegerField()
    own_passages = serializers.IntegerField()
    own_people = serializers.IntegerField()


class HeldCode(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    parent = serializers.IntegerField(allow_null=True)
    colour = serializers.IntegerField()
    passages = serializers.IntegerField()
    people = serializers.IntegerField()
    branch_passages = serializers.IntegerField()
    branch_people = serializers.IntegerField()
    by_group = HeldByGroup(many=True)


class GroupName(serializers.Serializer[Any]):
    name = serializers.CharField()
    label = serializers.CharField()
    outer = serializers.CharField(allow_blank=True)
    mark = serializers.IntegerField()


class HoldingsOut(serializers.Serializer[Any]):
    groups = GroupName(many=True)
    group_people = serializers.ListField(child=serializers.IntegerField())
    codes = HeldCode(many=True)


class DocumentProgress(serializers.Serializer[Any]):
    document = serializers.IntegerField()
    title = serializers.CharField()
    codings = serializers.IntegerField()
    codes = serializers.IntegerField()
    words = serializers.IntegerField()


class DayProgress(serializers.Serializer[Any]):
    day = serializers.DateField()
    codings = serializers.IntegerField()
    new_codes = serializers.IntegerField()


class CoderProgress(serializers.Serializer[Any]):
    coder = serializers.IntegerField()
    name = serializers.CharField()
    codings = serializers.IntegerField()


class Curve(serializers.Serializer[Any]):
    name = serializers.CharField()
    titles = serializers.ListField(child=serializers.CharField())
    fresh = serializers.ListField(child=serializers.IntegerField())
    heard = serializers.ListField(child=serializers.IntegerField())
    ratio = serializers.ListField(child=serializers.FloatField(allow_null=True))
    base_codes = serializers.IntegerField()
    reached = serializers.IntegerField(allow_null=True)


class ProgressOut(serializers.Serializer[Any]):
    documents = DocumentProgress(many=True)
    days = DayProgress(many=True)
    coders = CoderProgress(many=True)
    saturation = Curve(many=True)


class MapView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ComparisonIn, responses=MapOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(forms.map_of(self.member, read(ComparisonIn, request)))


class OneByOneView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=EachIn, responses=OneByOneOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(forms.one_by_one(self.member, read(EachIn, request)))


class SpreadView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=SpreadIn, responses=SpreadOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(forms.spread(self.member, read(SpreadIn, request)))


class HoldingsView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=OverviewIn, responses=HoldingsOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(overview.holdings(self.member, read(OverviewIn, request)))


class HoldingsExportIn(OverviewIn):
    format = serializers.ChoiceField(choices=["xlsx", "tsv", "zip"], default="xlsx")


HOLDINGS = {
    "xlsx": (exports.holdings_xlsx, XLSX),
    "tsv": (exports.holdings_tsv, TSV),
    "zip": (exports.holdings_tidy, ZIP),
}


class HoldingsExportView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=HoldingsExportIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int) -> HttpResponse:
        """What the codebook holds, as a file."""
        project = self.member.project
        said = read(HoldingsExportIn, request)
        found = overview.holdings(self.member, said)
        found = exports.holdings_hidden(found, project.hide_below, project.round_to)
        make, kind = HOLDINGS[said["format"]]
        return attached(
            make(found, project.name, project.case_many), kind, project.name, "codebook-holds", said["format"]
        )


class ProgressExportView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ProgressIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int) -> HttpResponse:
        """How coding went along, and saturation, as .xlsx."""
        project = self.member.project
        if project.hide_below > 1 or project.round_to:
            raise Refusal(
                say(
                    "How coding went is told document by document, and a document is mostly one {one}’s: it doesn’t leave a project that hides small cells or rounds its counts.",
                    one=project.case_one,
                )
            )
        found = overview.progress(self.member, read(ProgressIn, request))
        made = exports.progress_xlsx(found, project.name, project.case_many)
        return attached(made, XLSX, project.name, "coding-went", "xlsx")


class ProgressView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ProgressIn, responses=ProgressOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(overview.progress(self.member, read(ProgressIn, request)))
