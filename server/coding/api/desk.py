"""A document as the reading desk shows it: its text, who speaks, and all that is coded in it."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.coding import queries
from server.coding.shown import PassageOut, ProposedOut
from server.common.api import read
from server.common.database import one_state
from server.gather import actions, pages
from server.gather import queries as gather
from server.gather.models import Document, DocumentKind, Section
from server.gather.shown import ShelfSpeaker
from server.projects.views import ProjectView


class TurnOut(serializers.Serializer[Any]):
    number = serializers.IntegerField()
    speaker = serializers.IntegerField(source="speaker_id")
    start = serializers.IntegerField()
    end = serializers.IntegerField()
    words = serializers.IntegerField()
    time = serializers.CharField()
    begin = serializers.FloatField(allow_null=True, help_text="Seconds into the recording.")
    finish = serializers.FloatField(allow_null=True)


class SectionOut(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=Section.KINDS)
    title = serializers.CharField()
    level = serializers.IntegerField()
    start = serializers.IntegerField()
    end = serializers.IntegerField()


class MediumOut(serializers.Serializer[Any]):
    role = serializers.CharField()
    number = serializers.IntegerField()
    content_type = serializers.CharField()
    width = serializers.IntegerField()
    height = serializers.IntegerField()


class DocumentOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    title = serializers.CharField()
    kind = serializers.ChoiceField(choices=DocumentKind.choices)
    source_name = serializers.CharField()
    seconds = serializers.FloatField(allow_null=True)
    text = serializers.CharField(trim_whitespace=False)
    words = serializers.IntegerField()
    speakers = ShelfSpeaker(many=True)
    turns = TurnOut(many=True)
    sections = SectionOut(many=True)
    media = MediumOut(many=True)
    pages = serializers.IntegerField(help_text="Pages of a PDF; 0 for others.")
    passages = PassageOut(many=True)
    proposed = ProposedOut(many=True)


class DocumentTitle(serializers.Serializer[Any]):
    title = serializers.CharField(max_length=300)


class DocumentView(ProjectView):
    @extend_schema(responses=DocumentOut)
    def get(self, request: Request, project_id: int, document_id: int) -> Response:
        with one_state():
            return Response(_document_out(gather.document(self.member, document_id)))

    @extend_schema(request=DocumentTitle, responses=DocumentTitle)
    def patch(self, request: Request, project_id: int, document_id: int) -> Response:
        document = actions.rename_document(self.member, document_id, **read(DocumentTitle, request))
        return Response({"title": document.title})


_TURN = ("number", "speaker", "start", "end", "words", "time", "begin", "finish")
_TURN_COLUMNS = ["speaker_id" if name == "speaker" else name for name in _TURN]


def _document_out(document: Document) -> dict[str, Any]:
    return {
        "id": document.pk,
        "title": document.title,
        "kind": document.kind,
        "source_name": document.source_name,
        "seconds": document.seconds,
        "text": document.text,
        "words": document.words,
        "speakers": ShelfSpeaker(document.speakers.select_related("case"), many=True).data,
        # Plain rows: a long transcript has hundreds, and a serializer takes a tenth of a second for them.
        "turns": [dict(zip(_TURN, row, strict=True)) for row in document.turns.values_list(*_TURN_COLUMNS)],
        "sections": SectionOut(document.sections.all(), many=True).data,
        "media": MediumOut(document.media.exclude(role="pages"), many=True).data,
        "pages": pages.count(document),
        "passages": queries.passages_of(document),
        "proposed": queries.proposed_in(document),
    }
