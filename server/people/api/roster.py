"""Cases and their values over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.common.api import CountOut, Said, read
from server.people import actions, queries
from server.people.api.variables import VariableOut, variable_out
from server.people.models import MISSING_CHOICES, Subject
from server.projects.views import ProjectView, by_revision


class CellOut(serializers.Serializer[Any]):
    text = serializers.CharField()
    missing = serializers.ChoiceField(choices=MISSING_CHOICES, allow_null=True)


class CaseOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    identifier = serializers.CharField()
    documents = serializers.IntegerField()


class ColumnOut(serializers.Serializer[Any]):
    """A variable's cells, each different one once: ``codes`` say which of them each case has."""

    variable = serializers.IntegerField()
    cells = CellOut(many=True)
    codes = serializers.ListField(child=serializers.IntegerField())


class RosterOut(serializers.Serializer[Any]):
    variables = VariableOut(many=True)
    cases = CaseOut(many=True)
    columns = ColumnOut(many=True)


class CaseIn(serializers.Serializer[Any]):
    identifier = serializers.CharField(max_length=120)


class CaseNamed(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    identifier = serializers.CharField()


class MergeIn(serializers.Serializer[Any]):
    other = serializers.IntegerField(help_text="The case that goes; what it has comes to the one that stays.")


class ValueIn(serializers.Serializer[Any]):
    text = serializers.CharField(allow_blank=True, max_length=20_000)
    missing = serializers.ChoiceField(choices=MISSING_CHOICES, allow_null=True, required=False)


class PastedCell(ValueIn):
    subject = serializers.IntegerField(help_text="The case, or the document.")
    variable = serializers.IntegerField()


class PasteIn(serializers.Serializer[Any]):
    of = serializers.ChoiceField(choices=Subject.choices, default=Subject.CASE)
    cells = PastedCell(many=True)


class RosterView(ProjectView):
    @extend_schema(responses=RosterOut)
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        found = queries.roster(self.member)
        return Response(
            {
                "variables": [variable_out(found.known[row.pk]) for row in found.variables],
                "cases": [
                    {"id": row.pk, "identifier": row.identifier, "documents": row.documents}  # type: ignore[attr-defined]
                    for row in found.cases
                ],
                "columns": [_column_out(row.pk, found.known[row.pk].held) for row in found.variables],
            }
        )


def _column_out(variable: int, held: list[Any]) -> dict[str, Any]:
    places: dict[Any, int] = {}
    codes = [places.setdefault(one, len(places)) for one in held]
    return {"variable": variable, "cells": [queries.shown(one) for one in places], "codes": codes}


class CasesView(ProjectView):
    @extend_schema(request=CaseIn, responses=CaseNamed)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(CaseNamed(actions.add_case(self.member, **read(CaseIn, request))).data)


class CaseView(ProjectView):
    @extend_schema(request=CaseIn, responses=CaseNamed)
    def patch(self, request: Request, project_id: int, case_id: int) -> Response:
        return Response(CaseNamed(actions.rename_case(self.member, case_id, **read(CaseIn, request))).data)

    @extend_schema(responses={200: Said})
    def delete(self, request: Request, project_id: int, case_id: int) -> Response:
        return Response(Said({"said": actions.delete_case(self.member, case_id)}).data)


class MergeCasesView(ProjectView):
    @extend_schema(request=MergeIn, responses=CaseNamed)
    def post(self, request: Request, project_id: int, case_id: int) -> Response:
        """Make two cases one."""
        return Response(CaseNamed(actions.merge_cases(self.member, case_id, read(MergeIn, request)["other"])).data)


class ValueView(ProjectView):
    @extend_schema(request=ValueIn, responses={204: None})
    def put(self, request: Request, project_id: int, case_id: int, variable_id: int) -> Response:
        said = read(ValueIn, request)
        actions.set_value(self.member, case_id, variable_id, said["text"], said.get("missing"))
        return Response(status=204)


class ValuesView(ProjectView):
    @extend_schema(request=PasteIn, responses=CountOut)
    def put(self, request: Request, project_id: int) -> Response:
        """Many cells at once, all or none."""
        said = read(PasteIn, request)
        cells = [
            actions.Typed(one["subject"], one["variable"], one["text"], one.get("missing")) for one in said["cells"]
        ]
        return Response({"count": actions.set_values(self.member, cells, said["of"])})
