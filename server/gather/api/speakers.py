"""Speakers, their links and what is worth a look, over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.text.names import names_somebody
from server.common.api import CountOut, read
from server.gather import actions, queries
from server.gather.models import SpeakerRole
from server.gather.shown import ShelfSpeaker
from server.people import queries as people
from server.projects.views import ProjectView

CERTAINTIES = ["sure", "likely", "possible"]


class SpeakerOut(ShelfSpeaker):
    document = serializers.IntegerField(source="document_id")
    title = serializers.CharField(source="document.title")


class SpeakerIn(serializers.Serializer[Any]):
    case = serializers.IntegerField(source="case_id", allow_null=True, required=False)
    role = serializers.ChoiceField(choices=SpeakerRole.choices, required=False)
    label = serializers.CharField(max_length=120, required=False)


class UnlinkedOut(serializers.Serializer[Any]):
    speaker = serializers.IntegerField()
    label = serializers.CharField()
    document = serializers.IntegerField()
    title = serializers.CharField()
    passages = serializers.IntegerField()
    case = serializers.IntegerField(allow_null=True)
    case_name = serializers.CharField(allow_null=True)
    reason = serializers.CharField()
    conflict = serializers.BooleanField()
    certainty = serializers.ChoiceField(choices=CERTAINTIES, allow_null=True)
    named = serializers.BooleanField(help_text="Whether the label is one person wherever it stands.")


class Link(serializers.Serializer[Any]):
    speaker = serializers.IntegerField()
    case = serializers.IntegerField()


class LinksIn(serializers.Serializer[Any]):
    links = Link(many=True)


class SettledIn(serializers.Serializer[Any]):
    speakers = serializers.ListField(child=serializers.IntegerField(), min_length=1, max_length=20_000)
    settled = serializers.ChoiceField(choices=actions.SETTLED)
    case = serializers.IntegerField(required=False, help_text="Whom they all are, where they are one.")


class NamedDocument(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    title = serializers.CharField()


class NamedCase(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    identifier = serializers.CharField()


class CaseInSeveral(NamedCase):
    documents = serializers.ListField(child=serializers.CharField())


class CheckOut(serializers.Serializer[Any]):
    documents_without_case = NamedDocument(many=True)
    cases_without_material = NamedCase(many=True)
    cases_in_several = CaseInSeveral(many=True)
    silent_speakers = SpeakerOut(many=True)


class UnlinkedView(ProjectView):
    @extend_schema(responses=UnlinkedOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        waiting = {speaker.pk: speaker for speaker in queries.unlinked(self.member)}
        names = dict(people.cases(self.member).values_list("id", "identifier"))
        touched = queries.passages_touched(self.member)
        return Response(
            [
                {
                    "speaker": proposal.speaker,
                    "label": waiting[proposal.speaker].label,
                    "document": waiting[proposal.speaker].document_id,
                    "title": waiting[proposal.speaker].document.title,
                    "passages": touched.get(proposal.speaker, 0),
                    "case": proposal.case,
                    "case_name": names.get(proposal.case or 0),
                    "reason": proposal.reason,
                    "conflict": proposal.conflict,
                    "certainty": proposal.certainty,
                    "named": names_somebody(waiting[proposal.speaker].label),
                }
                for proposal in queries.link_proposals(self.member)
            ]
        )

    @extend_schema(request=None, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Link every speaker whose case is certain."""
        return Response({"count": actions.link_sure_speakers(self.member)})


class SpeakerView(ProjectView):
    @extend_schema(request=SpeakerIn, responses=SpeakerOut)
    def patch(self, request: Request, project_id: int, speaker_id: int) -> Response:
        return Response(
            SpeakerOut(actions.change_speaker(self.member, speaker_id, **read(SpeakerIn, request, partial=True))).data
        )


class LinksView(ProjectView):
    @extend_schema(request=LinksIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Link the speakers chosen, all at once."""
        links = {one["speaker"]: one["case"] for one in read(LinksIn, request)["links"]}
        return Response({"count": actions.link_chosen(self.member, links)})


class SettledView(ProjectView):
    @extend_schema(request=SettledIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Say who several speakers are, all at once."""
        said = read(SettledIn, request)
        count = actions.settle_speakers(self.member, said["speakers"], said["settled"], said.get("case"))
        return Response({"count": count})


class CheckView(ProjectView):
    @extend_schema(responses=CheckOut)
    def get(self, request: Request, project_id: int) -> Response:
        found = queries.check(self.member)
        several = [
            {"id": row.pk, "identifier": row.identifier, "documents": titles} for row, titles in found.cases_in_several
        ]
        return Response(
            {
                "documents_without_case": NamedDocument(found.documents_without_case, many=True).data,
                "cases_without_material": NamedCase(found.cases_without_material, many=True).data,
                "cases_in_several": several,
                "silent_speakers": SpeakerOut(found.silent_speakers, many=True).data,
            }
        )
