"""Comparisons, their evidence and exports over HTTP. All of it reads; asking is by POST
because a question may name hundreds of codes."""

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from server.common.api import ProjectView, read
from server.common.exports import CSV, DOCX, XLSX, attached
from server.compare import evidence, exports, queries, standing
from server.compare.api.questions import ComparisonIn, EvidenceIn, ExportIn
from server.compare.api.results import AroundOut, ComparisonOut, EvidenceOut, StandsOut, SteadyOut
from server.compare.asking import ask


class CompareView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=ComparisonIn, responses=ComparisonOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(queries.comparison(self.member, read(ComparisonIn, request)))


class StandsOutView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=ComparisonIn, responses=StandsOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(standing.stands_out(self.member, read(ComparisonIn, request)))


class SteadyView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=ComparisonIn, responses=SteadyOut(many=True))
    def post(self, request: Request, project_id: int) -> Response:
        """How steady what stands out is: without any one, and under each other reasonable choice."""
        return Response(standing.how_steady(self.member, read(ComparisonIn, request)))


class EvidenceView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=EvidenceIn, responses=EvidenceOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(evidence.evidence_for(self.member, read(EvidenceIn, request)))


class AroundView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=EvidenceIn, responses=AroundOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Other codes on the passages behind one number, or in the same turns, said by the same people."""
        return Response(evidence.around_for(self.member, read(EvidenceIn, request)))


TABLES = {"xlsx": (exports.as_xlsx, XLSX), "csv": (exports.as_csv, CSV), "docx": (exports.as_docx, DOCX)}
PASSAGES = {"xlsx": (exports.passages_xlsx, XLSX), "docx": (exports.passages_docx, DOCX)}


class ExportView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=ExportIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int) -> HttpResponse:
        """The table, or all its passages, as a file."""
        said = read(ExportIn, request)
        project, kind = self.member.project, said["format"]
        result = queries.comparison(self.member, said)
        if said["what"] == "passages":
            write, content_type = PASSAGES[kind]
            made = write(exports.lines_of_comparison(ask(self.member, said), exports.sentence_of(result)))
        else:
            result = exports.with_small_hidden(result, said["least"], project.case_many)
            make, content_type = TABLES[kind]
            made = make(result, project.name, project.case_many)
        what = "comparison" if said["what"] == "table" else "passages"
        return attached(made, content_type, project.name, what, kind)
