"""Documents, their turns, texts and media over HTTP."""

from typing import Any

from django.http.response import HttpResponseBase
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.gather.stretches import PEAKS
from core.language import say
from server.common.api import CountOut, read
from server.common.errors import NotFound
from server.gather import actions, jobs, media, pages, queries
from server.gather.models import DocumentKind, SpeakerRole
from server.gather.shelf import shelf
from server.gather.shown import ShelfSpeaker
from server.gather.sound import heard, recording_of
from server.people.models import MISSING_CHOICES
from server.projects.shown import JobOut
from server.projects.views import ProjectView, by_revision


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
    values = serializers.DictField(child=DocumentFact(), help_text="By variable ID.")
    turns = serializers.IntegerField()
    passages = serializers.IntegerField()
    added_at = serializers.DateTimeField()
    last_coded = serializers.DateField(allow_null=True)
    speakers = ShelfSpeaker(many=True)


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
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        return Response(shelf(self.member))


class DeleteDocumentsView(ProjectView):
    @extend_schema(request=DocumentIds, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response({"count": actions.delete_documents(self.member, read(DocumentIds, request)["documents"])})


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
        if role == "recording" and (sound := heard(medium.digest)) and sound.light:
            return media.response(asked, sound.folder / "light", sound.light)
        return media.response(asked, media.here(medium.digest), medium.content_type)


class StretchOut(serializers.Serializer[Any]):
    begin = serializers.FloatField()
    finish = serializers.FloatField()
    channel = serializers.IntegerField()


class SoundOut(serializers.Serializer[Any]):
    """What was heard in a recording; ``ready`` false where nobody has listened to it on this machine yet."""

    ready = serializers.BooleanField()
    seconds = serializers.FloatField()
    peaks = serializers.IntegerField(help_text="A second: bytes of …/sound/peaks, 0 to 255.")
    warnings = serializers.ListField(child=serializers.CharField())
    stretches = StretchOut(many=True, help_text="In which somebody speaks.")


class SoundView(ProjectView):
    @extend_schema(responses=SoundOut)
    def get(self, request: Request, project_id: int, document_id: int) -> Response:
        document, medium = recording_of(self.member, document_id)
        found = heard(medium.digest)
        return Response(
            {
                "ready": found is not None,
                "seconds": found.seconds if found else document.seconds or 0.0,
                "peaks": PEAKS,
                "warnings": found.warnings if found else [],
                "stretches": StretchOut(found.stretches if found else [], many=True).data,
            }
        )

    @extend_schema(request=None, responses=JobOut)
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        """Have it listened to."""
        return Response(JobOut(jobs.start_listening(self.member, document_id)).data)


class PeaksView(ProjectView):
    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, document_id: int) -> HttpResponseBase:
        """How loud a recording is along it."""
        found = heard(recording_of(self.member, document_id)[1].digest)
        if found is None or not (found.folder / "peaks").exists():
            raise NotFound(say("Nobody has listened to this recording yet."))
        return media.response(request._request, found.folder / "peaks", "application/octet-stream")


class PageView(ProjectView):
    """The picture of a PDF's page, drawn when it is first looked at."""

    @extend_schema(responses={(200, "image/webp"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, document_id: int, number: int) -> HttpResponseBase:
        asked = request._request
        return media.response(asked, pages.picture(self.member, document_id, number), "image/webp")
