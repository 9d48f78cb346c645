"""Comparisons, their evidence and exports over HTTP. All of it reads; asking is by POST
because a question may name hundreds of codes."""

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.language import say
from server.common.api import address_of, read
from server.common.exports import CSV, DOCX, TSV, XLSX, ZIP, attached
from server.compare import adjusting, evidence, exports, publishing, queries, standing
from server.compare.answers import answer
from server.compare.api.results import AdjustedOut, AroundOut, ComparisonOut, EvidenceOut, StandsOut, SteadyOut
from server.compare.asked import ComparisonIn, EvidenceIn, ExportIn
from server.projects.models import MemberRole
from server.projects.views import ProjectView


class CompareView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ComparisonIn, responses=ComparisonOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(queries.comparison(self.member, read(ComparisonIn, request)))


class StandsOutView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ComparisonIn, responses=StandsOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(standing.stands_out(self.member, read(ComparisonIn, request)))


class SteadyView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ComparisonIn, responses=SteadyOut(many=True))
    def post(self, request: Request, project_id: int) -> Response:
        """How steady what stands out is: without any one, and under each other reasonable choice."""
        return Response(standing.how_steady(self.member, read(ComparisonIn, request)))


class AdjustedView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ComparisonIn, responses=AdjustedOut)
    def post(self, request: Request, project_id: int) -> Response:
        """The shares that groups would have if they were alike in the facts that are held."""
        return Response(adjusting.adjusted_for(self.member, read(ComparisonIn, request)))


class EvidenceView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=EvidenceIn, responses=EvidenceOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(evidence.evidence_for(self.member, read(EvidenceIn, request)))


class AroundView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=EvidenceIn, responses=AroundOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Other codes on the passages behind one number, or in the same turns, said by the same people."""
        return Response(evidence.around_for(self.member, read(EvidenceIn, request)))


class LeavingIn(ComparisonIn):
    least = serializers.IntegerField(default=0, min_value=0, max_value=50)


class LeavingView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=LeavingIn, responses=ComparisonOut)
    def post(self, request: Request, project_id: int) -> Response:
        """The result as it may leave the project: what a figure is drawn from."""
        said = read(LeavingIn, request)
        found = answer(self.member, said)
        return Response(publishing.leaving(self.member, found, said["least"], say("a figure"))[0])


TABLES = {
    "xlsx": (exports.as_xlsx, XLSX),
    "csv": (exports.as_csv, CSV),
    "docx": (exports.as_docx, DOCX),
    "tsv": (exports.as_tsv, TSV),
    "zip": (exports.as_tidy, ZIP),
}
PASSAGES = {"xlsx": (exports.passages_xlsx, XLSX), "docx": (exports.passages_docx, DOCX)}


class ExportView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ExportIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int) -> HttpResponse:
        """The table, or all its passages, as a file."""
        said = read(ExportIn, request)
        project, kind = self.member.project, said["format"]
        found = answer(self.member, said)
        result, hidden = publishing.leaving(self.member, found, said["least"], f"{said['what']} as .{kind}")
        if said["what"] == "passages":
            write, content_type = PASSAGES[kind]
            gone = None if hidden is None else hidden.cells
            made = write(
                exports.lines_of_comparison(found.asked, exports.sentence_of(result), address_of(request), gone)
            )
        else:
            make, content_type = TABLES[kind]
            made = make(result, project.name, project.case_many)
        what = "comparison" if said["what"] == "table" else "passages"
        return attached(made, content_type, project.name, what, kind)
