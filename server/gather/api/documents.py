"""Documents, their turns, texts and media over HTTP."""

from typing import Any

from django.http.response import HttpResponseBase
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.coding.places import FULL
from server.coding import queries as coding
from server.common.api import CountOut, ProjectView, read
from server.common.database import one_state
from server.gather import actions, media, pages, queries
from server.gather.models import Document, DocumentKind, Section, SpeakerRole
from server.people import facts
from server.people import queries as people
from server.people.models import MISSING_CHOICES, Subject
from server.report.models import MemoKind


class ShelfSpeaker(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    label = serializers.CharField()
    role = serializers.ChoiceField(choices=SpeakerRole.choices)
    case = serializers.IntegerField(source="case_id", allow_null=True)
    case_name = serializers.CharField(source="case.identifier", allow_null=True, default=None)


class DocumentFact(serializers.Serializer[Any]):
    text = serializers.CharField()
    missing = serializers.ChoiceField(choices=MISSING_CHOICES, allow_null=True)


class ShelfDocument(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    title = serializers.CharField()
    kind = serializers.ChoiceField(choices=DocumentKind.choices)
    source_name = serializers.CharField()
    words = serializers.IntegerField()
    seconds = serializers.FloatField(allow_null=True)
    thumbnail = serializers.BooleanField()
    values = serializers.DictField(child=DocumentFact(), source="facts", help_text="By variable ID.")
    turns = serializers.IntegerField(source="turn_count")
    passages = serializers.IntegerField(source="passage_count")
    added_at = serializers.DateTimeField()
    last_coded = serializers.DateTimeField(allow_null=True)
    speakers = ShelfSpeaker(many=True)


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


class PassageMemo(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    text = serializers.CharField()
    kind = serializers.ChoiceField(choices=MemoKind.choices)
    author = serializers.CharField()
    author_id = serializers.IntegerField()
    source = serializers.CharField(help_text="Whose comment in the file it was.")


class CodingOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    code = serializers.IntegerField()
    coder = serializers.IntegerField()
    initials = serializers.CharField()
    coder_name = serializers.CharField()
    rating = serializers.IntegerField(allow_null=True, help_text="1 to 5, on the code’s own scale.")


class RegionOut(serializers.Serializer[Any]):
    """A part of a picture or page; edges in ten-thousandths of its width and height."""

    page = serializers.IntegerField(min_value=1)
    left = serializers.IntegerField(min_value=0, max_value=FULL)
    top = serializers.IntegerField(min_value=0, max_value=FULL)
    right = serializers.IntegerField(min_value=0, max_value=FULL)
    bottom = serializers.IntegerField(min_value=0, max_value=FULL)


class SpanOut(serializers.Serializer[Any]):
    """Seconds of a recording."""

    begin = serializers.FloatField(min_value=0)
    finish = serializers.FloatField(min_value=0)


class PassageOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    start = serializers.IntegerField(help_text="Code points, from the start of the text; 0 for a region or span.")
    end = serializers.IntegerField()
    region = RegionOut(allow_null=True)
    span = SpanOut(allow_null=True)
    codings = CodingOut(many=True)
    memos = PassageMemo(many=True)


class ProposedOut(serializers.Serializer[Any]):
    """A code proposed for new passages of a speaker, or of the whole document."""

    code = serializers.IntegerField()
    speaker = serializers.IntegerField(allow_null=True)


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


class DocumentIds(serializers.Serializer[Any]):
    documents = serializers.ListField(child=serializers.IntegerField(), max_length=5000)


class SplitIn(serializers.Serializer[Any]):
    at = serializers.IntegerField(min_value=0, help_text="Code points, from the start of the text.")


class GiveIn(serializers.Serializer[Any]):
    speaker = serializers.IntegerField(source="speaker_id", allow_null=True)
    label = serializers.CharField(max_length=120, required=False, allow_blank=True)
    role = serializers.ChoiceField(choices=SpeakerRole.choices, required=False)


class DocumentsView(ProjectView):
    @extend_schema(responses=ShelfDocument(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        rows = list(queries.shelf(self.member))
        known = facts.of_documents(list(people.variables(self.member, Subject.DOCUMENT)), [row.pk for row in rows])
        for place, row in enumerate(rows):
            row.thumbnail = any(medium.role == "thumbnail" for medium in row.media.all())  # type: ignore[attr-defined]
            row.facts = {  # type: ignore[attr-defined]
                str(pk): people.shown(one.held[place]) for pk, one in known.items()
            }
        return Response(ShelfDocument(rows, many=True).data)


class DeleteDocumentsView(ProjectView):
    @extend_schema(request=DocumentIds, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response({"count": actions.delete_documents(self.member, read(DocumentIds, request)["documents"])})


class DocumentView(ProjectView):
    @extend_schema(responses=DocumentOut)
    def get(self, request: Request, project_id: int, document_id: int) -> Response:
        with one_state():
            return Response(_document_out(queries.document(self.member, document_id)))

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
        "passages": coding.passages_of(document),
        "proposed": coding.proposed_in(document),
    }


class SplitTurnView(ProjectView):
    @extend_schema(request=SplitIn, responses={204: None})
    def post(self, request: Request, project_id: int, document_id: int, number: int) -> Response:
        actions.split_turn(self.member, document_id, number, read(SplitIn, request)["at"])
        return Response(status=204)


class JoinTurnView(ProjectView):
    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, project_id: int, document_id: int, number: int) -> Response:
        actions.join_turn(self.member, document_id, number)
        return Response(status=204)


class GiveTurnView(ProjectView):
    @extend_schema(request=GiveIn, responses={204: None})
    def post(self, request: Request, project_id: int, document_id: int, number: int) -> Response:
        actions.give_turn(self.member, document_id, number, **read(GiveIn, request))
        return Response(status=204)


class MediumView(ProjectView):
    """A picture or recording of a document, or the part of it that a player asks for."""

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, document_id: int, role: str, number: int) -> HttpResponseBase:
        medium = queries.medium(self.member, document_id, role, number)
        asked = request._request
        return media.response(asked, media.here(medium.digest), medium.content_type)


class PageView(ProjectView):
    """The picture of a PDF's page, drawn when it is first looked at."""

    @extend_schema(responses={(200, "image/webp"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, document_id: int, number: int) -> HttpResponseBase:
        asked = request._request
        return media.response(asked, pages.picture(self.member, document_id, number), "image/webp")
