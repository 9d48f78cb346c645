"""The answers sheet over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.coding.find import LANGUAGES
from server.coding import answers
from server.common.api import read_frozen
from server.people.models import MISSING_CHOICES
from server.projects.models import MemberRole
from server.projects.views import ProjectView


class OpenQuestionOut(serializers.Serializer[Any]):
    question = serializers.CharField()
    answers = serializers.IntegerField()
    coded = serializers.IntegerField(help_text="Answers that carry a code.")


class AnswersIn(serializers.Serializer[Any]):
    question = serializers.CharField(max_length=300)
    order = serializers.ChoiceField(choices=answers.ORDERS, required=False)
    variable = serializers.IntegerField(required=False)
    language = serializers.ChoiceField(choices=LANGUAGES, required=False)
    documents = serializers.ListField(child=serializers.IntegerField(), required=False)
    cases = serializers.ListField(child=serializers.IntegerField(), required=False)


class AnswerCoding(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    code = serializers.IntegerField()
    coder = serializers.IntegerField()
    initials = serializers.CharField()
    start = serializers.IntegerField()
    end = serializers.IntegerField()


class AnswerOut(serializers.Serializer[Any]):
    document = serializers.IntegerField()
    title = serializers.CharField()
    start = serializers.IntegerField(help_text="Code points in the document.")
    end = serializers.IntegerField()
    text = serializers.CharField()
    words = serializers.IntegerField()
    case = serializers.IntegerField(allow_null=True)
    identifier = serializers.CharField()
    speaker = serializers.CharField()
    value = serializers.CharField(help_text="Of the variable asked for.")
    missing = serializers.ChoiceField(choices=MISSING_CHOICES, allow_null=True)
    codings = AnswerCoding(many=True)
    same = serializers.IntegerField(help_text="How many others gave the same answer.")
    alike = serializers.IntegerField(help_text="A number that the same answers share.")
    offered = serializers.ListField(
        child=serializers.IntegerField(), help_text="Codes that the same answers have and this one hasn’t."
    )


class AnswersOut(serializers.Serializer[Any]):
    question = serializers.CharField()
    answers = AnswerOut(many=True)


class AnswersView(ProjectView):
    """The open questions (GET), and the answers to one in the order asked for (POST)."""

    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(responses=OpenQuestionOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(answers.questions(self.member))

    @extend_schema(request=AnswersIn, responses=AnswersOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(answers.sheet(self.member, answers.Asked(**read_frozen(AnswersIn, request))))
