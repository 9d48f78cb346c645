"""Exhibits and digests over HTTP."""

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
from server.common.exports import DOCX, attached
from server.people.shown import SilentPerson
from server.projects.views import ProjectView
from server.report import actions, exports, queries


class ExhibitIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    audience = serializers.CharField(max_length=200, required=False, allow_blank=True)
    question = serializers.IntegerField(required=False, allow_null=True)
    passages = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=500)


class ExhibitChange(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160, required=False)
    audience = serializers.CharField(max_length=200, required=False, allow_blank=True)
    question = serializers.IntegerField(required=False, allow_null=True)
    pieces = serializers.ListField(
        child=serializers.IntegerField(),
        required=False,
        max_length=1000,
        help_text="In the order they are to stand in.",
    )


class ExhibitListed(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    audience = serializers.CharField(allow_blank=True)
    question = serializers.IntegerField(source="question_id", allow_null=True)
    author = serializers.CharField(source="author.display_name")
    size = serializers.IntegerField(help_text="Passages in it.")


class PieceOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    caption = serializers.CharField(allow_blank=True)
    cut_start = serializers.IntegerField()
    cut_end = serializers.IntegerField()
    shown = serializers.CharField(help_text="Its words without what is left off.")
    passage = Quoted()
    people = SilentPerson(many=True)


class ExhibitOut(ExhibitListed):
    pieces = PieceOut(many=True)


class PiecesIn(serializers.Serializer[Any]):
    passages = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=500)
    query = serializers.IntegerField(required=False, allow_null=True, help_text="All that this saved query finds.")


class PieceChange(serializers.Serializer[Any]):
    caption = serializers.CharField(required=False, allow_blank=True, max_length=2000)
    cut_start = serializers.IntegerField(required=False, min_value=0, max_value=10_000_000)
    cut_end = serializers.IntegerField(required=False, min_value=0, max_value=10_000_000)


class DigestIn(serializers.Serializer[Any]):
    case = serializers.IntegerField()
    code = serializers.IntegerField(required=False, allow_null=True)
    theme = serializers.IntegerField(required=False, allow_null=True)
    text = serializers.CharField(allow_blank=True, max_length=20_000, help_text="Nothing takes the digest away.")


class DigestOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    case = serializers.IntegerField(source="case_id")
    identifier = serializers.CharField(source="case.identifier")
    code = serializers.IntegerField(source="code_id", allow_null=True)
    theme = serializers.IntegerField(source="theme_id", allow_null=True)
    text = serializers.CharField()
    author = serializers.CharField(source="author.display_name")
    changed_at = serializers.DateTimeField()


class ExhibitsView(ProjectView):
    @extend_schema(responses=ExhibitListed(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(ExhibitListed(queries.exhibits(self.member), many=True).data)

    @extend_schema(request=ExhibitIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Make an exhibit; answers with its ID."""
        return Response({"count": actions.make_exhibit(self.member, **read(ExhibitIn, request)).pk})


class ExhibitView(ProjectView):
    @extend_schema(responses=ExhibitOut)
    def get(self, request: Request, project_id: int, exhibit_id: int) -> Response:
        row = queries.exhibit(self.member, exhibit_id)
        return Response({**ExhibitListed(row).data, "pieces": queries.pieces_of(self.member, row)})

    @extend_schema(request=ExhibitChange, responses={204: None})
    def patch(self, request: Request, project_id: int, exhibit_id: int) -> Response:
        actions.change_exhibit(self.member, exhibit_id, **read(ExhibitChange, request, partial=True))
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, exhibit_id: int) -> Response:
        actions.delete_exhibit(self.member, exhibit_id)
        return Response(status=204)


class PiecesView(ProjectView):
    @extend_schema(request=PiecesIn, responses=CountOut)
    def post(self, request: Request, project_id: int, exhibit_id: int) -> Response:
        """Put passages into an exhibit; answers with how many were new to it."""
        said = read(PiecesIn, request)
        _, count = actions.add_to_exhibit(self.member, exhibit_id, said.get("passages") or [], said.get("query"))
        return Response({"count": count})


class PieceView(ProjectView):
    @extend_schema(request=PieceChange, responses={204: None})
    def patch(self, request: Request, project_id: int, exhibit_id: int, piece_id: int) -> Response:
        actions.change_piece(self.member, exhibit_id, piece_id, **read(PieceChange, request, partial=True))
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, exhibit_id: int, piece_id: int) -> Response:
        actions.take_out(self.member, exhibit_id, piece_id)
        return Response(status=204)


FORMATS = {"docx": (exports.exhibit_docx, DOCX), "md": (exports.exhibit_md, "text/markdown; charset=utf-8")}


class ExhibitFileView(ProjectView):
    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, exhibit_id: int, ending: str) -> HttpResponse:
        """An exhibit as a file: ``docx`` or ``md``."""
        row = queries.exhibit(self.member, exhibit_id)
        if ending not in FORMATS:
            raise NotFound(say("An exhibit is written as docx or md."))
        make, kind = FORMATS[ending]
        return attached(make(row, queries.pieces_of(self.member, row)), kind, row.name, "exhibit", ending)


class DigestsView(ProjectView):
    @extend_schema(responses=DigestOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(DigestOut(queries.digests(self.member), many=True).data)

    @extend_schema(request=DigestIn, responses={204: None})
    def put(self, request: Request, project_id: int) -> Response:
        """Write a digest in place of the one that was there."""
        said = read(DigestIn, request)
        actions.write_digest(self.member, said["case"], said["text"], code=said.get("code"), theme=said.get("theme"))
        return Response(status=204)
