"""Themes and research questions over HTTP, and the passages of codes read by person."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.coding import actions, overview, queries
from server.coding.shown import Quoted
from server.common.api import read
from server.people.shown import Fact
from server.projects.models import MemberRole
from server.projects.views import ProjectView, by_revision
from server.scope.asked import ScopeIn


class QuestionOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    text = serializers.CharField()


class ThemeOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    statement = serializers.CharField()
    question = serializers.IntegerField(allow_null=True)
    codes = serializers.ListField(child=serializers.IntegerField())
    passages = serializers.IntegerField()
    people = serializers.IntegerField()
    documents = serializers.IntegerField()


class ThemesOut(serializers.Serializer[Any]):
    questions = QuestionOut(many=True)
    themes = ThemeOut(many=True)


class QuestionIn(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=500)


class ThemeIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    statement = serializers.CharField(allow_blank=True, required=False, max_length=5000)
    question = serializers.IntegerField(source="question_id", allow_null=True, required=False)
    codes = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=500)


class MadeOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()


class ThemeCount(serializers.Serializer[Any]):
    theme = serializers.IntegerField()
    passages = serializers.IntegerField()
    people = serializers.IntegerField()
    documents = serializers.IntegerField()


class ThemeCountsView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ScopeIn, responses=ThemeCount(many=True))
    def post(self, request: Request, project_id: int) -> Response:
        """Each theme’s counts as far as they are in scope."""
        return Response(overview.themes_in_scope(self.member, read(ScopeIn, request)))


class ThemesView(ProjectView):
    @extend_schema(responses=ThemesOut)
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        return Response(overview.themes(self.member))

    @extend_schema(request=ThemeIn, responses=MadeOut)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(ThemeIn, request)
        theme = actions.create_theme(
            self.member, said["name"], said.get("statement", ""), said.get("question_id"), said.get("codes", [])
        )
        return Response({"id": theme.pk})


class ThemeView(ProjectView):
    @extend_schema(request=ThemeIn, responses=MadeOut)
    def patch(self, request: Request, project_id: int, theme_id: int) -> Response:
        said = read(ThemeIn, request, partial=True)
        actions.change_theme(self.member, theme_id, **said)
        return Response({"id": theme_id})

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, theme_id: int) -> Response:
        actions.delete_theme(self.member, theme_id)
        return Response(status=204)


class QuestionsView(ProjectView):
    @extend_schema(request=QuestionIn, responses=MadeOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response({"id": actions.create_question(self.member, read(QuestionIn, request)["text"]).pk})


class QuestionView(ProjectView):
    @extend_schema(request=QuestionIn, responses=MadeOut)
    def patch(self, request: Request, project_id: int, question_id: int) -> Response:
        actions.change_question(self.member, question_id, read(QuestionIn, request)["text"])
        return Response({"id": question_id})

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, question_id: int) -> Response:
        actions.delete_question(self.member, question_id)
        return Response(status=204)


class ReadPassage(Quoted):
    codes = serializers.ListField(child=serializers.IntegerField())


class ReadPerson(serializers.Serializer[Any]):
    case = serializers.IntegerField(allow_null=True)
    identifier = serializers.CharField()
    facts = Fact(many=True)
    total = serializers.IntegerField()
    passages = ReadPassage(many=True)


class ReadingOut(serializers.Serializer[Any]):
    passages = serializers.IntegerField()
    people = serializers.IntegerField()
    persons = ReadPerson(many=True)
    more = serializers.IntegerField()


class ThemeReadingView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ScopeIn, responses=ReadingOut)
    def post(self, request: Request, project_id: int, theme_id: int) -> Response:
        """All passages of a theme in scope, by person."""
        theme = queries.theme(self.member, theme_id)
        codes = [row.code_id for row in theme.placings.all()]
        return Response(overview.reading(self.member, codes, read(ScopeIn, request)))


class CodeReadingView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ScopeIn, responses=ReadingOut)
    def post(self, request: Request, project_id: int, code_id: int) -> Response:
        """All passages of a code itself in scope, by person."""
        code = queries.code(self.member, code_id).pk
        return Response(overview.reading(self.member, [code], read(ScopeIn, request), beneath=False))
