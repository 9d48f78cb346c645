"""The typing desk, and texts that come to a recording later, over HTTP."""

import json
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.gather.transcript import Transcript
from core.language import say
from server.coding import actions, jobs
from server.coding.api.texts import DecisionsIn, LostOut, decisions_of
from server.common.api import CountOut, read, text_file
from server.common.errors import Refusal
from server.gather import queries, transcriber
from server.gather.models import SpeakerRole
from server.gather.texts import text_in
from server.projects.models import MemberRole
from server.projects.shown import JobOut
from server.projects.views import ProjectView


class TimesIn(serializers.Serializer[Any]):
    begin = serializers.FloatField(min_value=0, help_text="Seconds into the recording.")
    finish = serializers.FloatField(min_value=0)


class NumberOut(serializers.Serializer[Any]):
    number = serializers.IntegerField()


class SplitAtIn(serializers.Serializer[Any]):
    at = serializers.IntegerField(min_value=0, help_text="Code points into the turn’s words.")
    time = serializers.FloatField(min_value=0, help_text="Seconds into the recording.")


class TextIn(serializers.Serializer[Any]):
    file = serializers.FileField(allow_empty_file=True)
    decisions = serializers.CharField(required=False, help_text="JSON: passage ID → remove or keep.")


class TextSpeaker(serializers.Serializer[Any]):
    label = serializers.CharField()
    role = serializers.ChoiceField(choices=SpeakerRole.choices)
    turns = serializers.IntegerField()
    words = serializers.IntegerField()


class TextOut(serializers.Serializer[Any]):
    """What a text would do; nothing is written."""

    words_before = serializers.IntegerField()
    words = serializers.IntegerField()
    turns = serializers.IntegerField()
    passages = serializers.IntegerField(help_text="Passages in the text that it has now.")
    lost = LostOut(many=True)
    speakers = TextSpeaker(many=True)
    warnings = serializers.ListField(child=serializers.CharField())
    first = serializers.ListField(child=serializers.CharField(), help_text="How its first turns read.")


class TranscriberOut(serializers.Serializer[Any]):
    there = serializers.BooleanField()
    name = serializers.CharField()
    stand_in = serializers.BooleanField()


class TurnsView(ProjectView):
    @extend_schema(request=TimesIn, responses=NumberOut)
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        """An empty turn."""
        return Response({"number": actions.add_turn(self.member, document_id, **read(TimesIn, request))})


class LaidTurnsView(ProjectView):
    @extend_schema(request=None, responses=CountOut)
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        """Empty turns where somebody is heard to speak."""
        return Response({"count": actions.lay_turns(self.member, document_id)})


class TurnView(ProjectView):
    @extend_schema(request=TimesIn, responses={204: None})
    def patch(self, request: Request, project_id: int, document_id: int, number: int) -> Response:
        actions.retime_turn(self.member, document_id, number, **read(TimesIn, request))
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, document_id: int, number: int) -> Response:
        actions.remove_turn(self.member, document_id, number)
        return Response(status=204)


class SplitAtView(ProjectView):
    @extend_schema(request=SplitAtIn, responses={204: None})
    def post(self, request: Request, project_id: int, document_id: int, number: int) -> Response:
        actions.split_at(self.member, document_id, number, **read(SplitAtIn, request))
        return Response(status=204)


class TextPreviewView(ProjectView):
    needs = {"POST": MemberRole.CODER}

    @extend_schema(request={"multipart/form-data": TextIn}, responses=TextOut)
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        found, warnings = self.found(request, document_id)
        would = actions.would_take(self.member, document_id, found)
        first = [found.text[turn.ink_start : turn.ink_end][:160] for turn in found.turns[:3]]
        return Response(
            {
                **vars(would),
                "lost": [vars(one) for one in would.lost],
                "speakers": TextSpeaker(found.speakers, many=True).data,
                "warnings": warnings,
                "first": first,
            }
        )

    def found(self, request: Request, document_id: int) -> tuple[Transcript, list[str]]:
        document = queries.document(self.member, document_id)
        file = text_file(request)
        return text_in(document, file.name or "text", file.read())


class TextView(TextPreviewView):
    @extend_schema(request={"multipart/form-data": TextIn}, responses={204: None})
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        """Give a recording this text; passages go with their words."""
        found, _ = self.found(request, document_id)
        actions.take_text(self.member, document_id, found, _decisions(str(request.POST.get("decisions") or "{}")))
        return Response(status=204)


def _decisions(said: str) -> dict[int, Any]:
    """They come within a form: as JSON."""
    try:
        checked = DecisionsIn(data={"decisions": json.loads(said)})
    except ValueError as problem:
        raise Refusal(say("What becomes of the passages can’t be understood; nothing was changed.")) from problem
    checked.is_valid(raise_exception=True)
    return decisions_of(checked.validated_data)


class TranscriberView(ProjectView):
    @extend_schema(responses=TranscriberOut)
    def get(self, request: Request, project_id: int) -> Response:
        """Who would make a text of a recording."""
        found = transcriber.asked()
        return Response(
            {
                "there": found is not None,
                "name": found.name if found else "",
                "stand_in": found.stand_in if found else False,
            }
        )


class TranscribeView(ProjectView):
    @extend_schema(request=None, responses=JobOut)
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        return Response(JobOut(jobs.start_transcribing(self.member, document_id)).data)
