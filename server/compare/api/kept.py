"""Kept comparisons over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.common.api import CountOut, read
from server.compare import actions, called, queries
from server.compare.asked import ComparisonIn, ShownIn
from server.compare.models import ROW_KINDS
from server.projects.views import ProjectView, by_revision


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


class CellNoteOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    kind = serializers.ChoiceField(choices=ROW_KINDS)
    row = serializers.IntegerField()
    group = serializers.CharField(allow_blank=True)
    text = serializers.CharField()
    author = serializers.CharField(source="author.display_name")
    made_at = serializers.DateTimeField()


class CellNoteIn(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=ROW_KINDS)
    row = serializers.IntegerField()
    group = serializers.CharField(allow_blank=True, max_length=500)
    text = serializers.CharField(max_length=20_000)


class NoteTextIn(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=20_000)


class GoneOut(serializers.Serializer[Any]):
    """What a kept comparison asks about that isn’t there as it was."""

    what = serializers.ChoiceField(choices=["code", "theme", "query", "cohort", "variable", "category"])
    id = serializers.IntegerField()
    name = serializers.CharField(allow_blank=True)
    now = serializers.IntegerField(allow_null=True, help_text="The code that it was merged into.")
    became = serializers.CharField(allow_blank=True, help_text="What that is called; a category’s new label.")


class KeptComparisonOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    question = serializers.IntegerField(source="question_id", allow_null=True)
    asked = ComparisonIn()
    shown = ShownIn()
    author = serializers.CharField(source="author.display_name")
    made_at = serializers.DateTimeField()
    notes = CellNoteOut(many=True)
    gone = GoneOut(many=True)


class KeptView(ProjectView):
    @extend_schema(responses=KeptComparisonOut(many=True))
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        rows = list(queries.kept_comparisons(self.member).prefetch_related("notes__author"))
        for row in rows:
            row.gone = called.gone_from(self.member, row)  # type: ignore[attr-defined]
        return Response(KeptComparisonOut(rows, many=True).data)

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


class NotesView(ProjectView):
    @extend_schema(request=CellNoteIn, responses=CellNoteOut)
    def post(self, request: Request, project_id: int, kept_id: int) -> Response:
        said = read(CellNoteIn, request)
        return Response(CellNoteOut(actions.note_cell(self.member, kept_id, **said)).data)


class OneNoteView(ProjectView):
    @extend_schema(request=NoteTextIn, responses=CellNoteOut)
    def patch(self, request: Request, project_id: int, kept_id: int, note_id: int) -> Response:
        note = actions.change_note(self.member, kept_id, note_id, read(NoteTextIn, request)["text"])
        return Response(CellNoteOut(note).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, kept_id: int, note_id: int) -> Response:
        actions.delete_note(self.member, kept_id, note_id)
        return Response(status=204)
