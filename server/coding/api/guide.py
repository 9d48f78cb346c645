"""The interview guide over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.coding.find import LANGUAGES
from core.language import say
from server.coding import actions, guide, guide_files
from server.common.api import CountOut, read, text_file
from server.common.errors import Refusal
from server.common.exports import attached
from server.gather.readers.sandbox import read_files
from server.projects.models import MemberRole
from server.projects.views import ProjectView, by_revision
from server.scope.asked import ScopeIn

LONGEST, MOST_TURNS = 500, 5000


class GuideQuestionOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    text = serializers.CharField()
    codes = serializers.ListField(child=serializers.IntegerField())
    turns = serializers.IntegerField(help_text="Interviewers’ turns that ask it.")
    documents = serializers.IntegerField()


class GuideOut(serializers.Serializer[Any]):
    questions = GuideQuestionOut(many=True)
    turns = serializers.IntegerField(help_text="All turns with words of interviewers.")
    unmatched = serializers.IntegerField(help_text="Of these, those that ask nothing of the guide.")


class GuideQuestionIn(serializers.Serializer[Any]):
    id = serializers.IntegerField(allow_null=True)
    text = serializers.CharField(max_length=LONGEST, allow_blank=True)


class GuideIn(serializers.Serializer[Any]):
    questions = GuideQuestionIn(many=True)


class TiesIn(serializers.Serializer[Any]):
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=500)


class MatchIn(serializers.Serializer[Any]):
    language = serializers.ChoiceField(choices=LANGUAGES, default="english")


class AskedTurnOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    number = serializers.IntegerField()
    document = serializers.IntegerField()
    title = serializers.CharField()
    start = serializers.IntegerField(help_text="Code points, from the start of the text.")
    text = serializers.CharField()
    by_hand = serializers.BooleanField()


class AskedIn(serializers.Serializer[Any]):
    turns = serializers.ListField(child=serializers.IntegerField(), max_length=MOST_TURNS)
    question = serializers.IntegerField(allow_null=True, help_text="None: they ask nothing of the guide.")


class WhoIn(serializers.Serializer[Any]):
    variable = serializers.IntegerField(help_text="The fact about people that makes the groups.")
    within = serializers.IntegerField(min_value=1, max_value=50, required=False, help_text="Turns after a question.")
    scope = ScopeIn(required=False)


class AskedGroup(serializers.Serializer[Any]):
    name = serializers.CharField()
    mark = serializers.IntegerField()
    people = serializers.IntegerField()


class AskedCell(serializers.Serializer[Any]):
    asked = serializers.IntegerField(help_text="People to whom it was put.")
    asked_mention = serializers.IntegerField(help_text="Of these, people who mention what it asks about.")
    when_asked = serializers.IntegerField(help_text="People who mention it within the turns after it was put.")
    own_accord = serializers.IntegerField(help_text="People who mention it without that.")


class AskedRow(serializers.Serializer[Any]):
    question = serializers.IntegerField()
    text = serializers.CharField()
    codes = serializers.ListField(child=serializers.IntegerField())
    cells = AskedCell(many=True)


class WhoOut(serializers.Serializer[Any]):
    groups = AskedGroup(many=True)
    rows = AskedRow(many=True)
    people = serializers.IntegerField(help_text="Who talk with an interviewer.")
    not_interviewed = serializers.IntegerField(help_text="With material, but in none of it does an interviewer speak.")
    left_out = serializers.IntegerField(help_text="Of these, in no group: their value is missing.")
    within = serializers.IntegerField()


class GuideView(ProjectView):
    @extend_schema(responses=GuideOut)
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        return Response(guide.whole(self.member))

    @extend_schema(request=GuideIn, responses=GuideOut)
    def put(self, request: Request, project_id: int) -> Response:
        said = read(GuideIn, request)["questions"]
        actions.set_guide(self.member, [(one["id"], one["text"]) for one in said])
        return Response(guide.whole(self.member))


class GuideFileIn(serializers.Serializer[Any]):
    file = serializers.FileField(allow_empty_file=True)


class GuideFileOut(serializers.Serializer[Any]):
    questions = serializers.ListField(child=serializers.CharField())


class GuideFileView(ProjectView):
    needs = {"POST": MemberRole.CODER}

    @extend_schema(request={"multipart/form-data": GuideFileIn}, responses=GuideFileOut)
    def post(self, request: Request, project_id: int) -> Response:
        """The questions that stand in a file; nothing is written."""
        file = text_file(request)
        (answer,) = read_files([(file.name or "guide", file.read())], lambda made: "")
        lines = answer.get("content", {}).get("lines")
        if lines is None:
            raise Refusal(answer.get("problem") or say("That is no text. Choose a .docx, .txt or another text."))
        found = guide.questions_in([line[0] for line in lines])
        if not found:
            raise Refusal(say("No question was found in this file: none of its lines ends in a question mark."))
        return Response({"questions": found})


class GuideQuestionView(ProjectView):
    @extend_schema(request=TiesIn, responses={204: None})
    def patch(self, request: Request, project_id: int, question_id: int) -> Response:
        actions.tie_codes(self.member, question_id, read(TiesIn, request)["codes"])
        return Response(status=204)


class MatchView(ProjectView):
    @extend_schema(request=MatchIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response({"count": actions.match_guide(self.member, read(MatchIn, request)["language"])})


class AskedTurnsView(ProjectView):
    @extend_schema(
        parameters=[OpenApiParameter("question", int, description="Missing: turns that ask nothing of the guide.")],
        responses=AskedTurnOut(many=True),
    )
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        asked = request.query_params.get("question", "")
        if asked and not (asked.isdigit() and len(asked) < 19):
            raise Refusal(say("This question isn’t in the guide any more; somebody has deleted it."))
        return Response(guide.turns(self.member, int(asked) if asked else None))

    @extend_schema(request=AskedIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Say by hand what turns ask."""
        said = read(AskedIn, request)
        return Response({"count": actions.put_asked(self.member, said["turns"], said["question"])})


class PerhapsView(ProjectView):
    @extend_schema(
        parameters=[OpenApiParameter("language", str, enum=list(LANGUAGES))], responses=AskedTurnOut(many=True)
    )
    @by_revision
    def get(self, request: Request, project_id: int, question_id: int) -> Response:
        """Turns that ask nothing yet, and may ask this question."""
        language = request.query_params.get("language", "english")
        return Response(guide.perhaps(self.member, question_id, language))


class WhoWasAskedView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=WhoIn, responses=WhoOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(guide.who_was_asked(self.member, read(WhoIn, request)))


class WhoFileIn(WhoIn):
    format = serializers.ChoiceField(choices=["xlsx", "csv"])


class WhoFileView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=WhoFileIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int) -> HttpResponse:
        """Who was asked what, as a file."""
        said = read(WhoFileIn, request)
        return attached(
            *guide_files.written(self.member, said), self.member.project.name, "who-was-asked", said["format"]
        )
