"""Cases, variables and values over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.common.api import ProjectView, read
from server.people import actions, queries
from server.people.models import MISSING_CHOICES, Variable, VariableKind


class Bar(serializers.Serializer[Any]):
    label = serializers.CharField()
    count = serializers.IntegerField()


class VariableOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=VariableKind.choices)
    description = serializers.CharField()
    when_empty = serializers.ChoiceField(choices=MISSING_CHOICES)
    categories = serializers.ListField(child=serializers.CharField())
    bars = Bar(many=True)
    missing = Bar(many=True)


class CellOut(serializers.Serializer[Any]):
    text = serializers.CharField()
    missing = serializers.ChoiceField(choices=MISSING_CHOICES, allow_null=True)


class CaseOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    identifier = serializers.CharField()
    documents = serializers.IntegerField()
    values = serializers.DictField(child=CellOut(), help_text="By variable ID.")


class RosterOut(serializers.Serializer[Any]):
    variables = VariableOut(many=True)
    cases = CaseOut(many=True)


class CaseIn(serializers.Serializer[Any]):
    identifier = serializers.CharField(max_length=120)


class CaseNamed(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    identifier = serializers.CharField()


class ValueIn(serializers.Serializer[Any]):
    text = serializers.CharField(allow_blank=True, max_length=20_000)
    missing = serializers.ChoiceField(choices=MISSING_CHOICES, allow_null=True, required=False)


class VariableIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=200, required=False)
    kind = serializers.ChoiceField(choices=VariableKind.choices, required=False)
    description = serializers.CharField(allow_blank=True, required=False, max_length=5000)
    when_empty = serializers.ChoiceField(choices=MISSING_CHOICES, required=False)
    order = serializers.ListField(child=serializers.CharField(), required=False, max_length=500)


class RosterView(ProjectView):
    @extend_schema(responses=RosterOut)
    def get(self, request: Request, project_id: int) -> Response:
        spread = queries.distributions(self.member)
        return Response(
            {
                "variables": [_variable_out(row, spread[row.pk]) for row in queries.variables(self.member)],
                "cases": queries.roster(self.member),
            }
        )


class CasesView(ProjectView):
    @extend_schema(request=CaseIn, responses=CaseNamed)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(CaseNamed(actions.add_case(self.member, **read(CaseIn, request))).data)


class CaseView(ProjectView):
    @extend_schema(request=CaseIn, responses=CaseNamed)
    def patch(self, request: Request, project_id: int, case_id: int) -> Response:
        return Response(CaseNamed(actions.rename_case(self.member, case_id, **read(CaseIn, request))).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, case_id: int) -> Response:
        actions.delete_case(self.member, case_id)
        return Response(status=204)


class ValueView(ProjectView):
    @extend_schema(request=ValueIn, responses={204: None})
    def put(self, request: Request, project_id: int, case_id: int, variable_id: int) -> Response:
        said = read(ValueIn, request)
        actions.set_value(self.member, case_id, variable_id, said["text"], said.get("missing"))
        return Response(status=204)


class VariableView(ProjectView):
    @extend_schema(request=VariableIn, responses=VariableOut)
    def patch(self, request: Request, project_id: int, variable_id: int) -> Response:
        row = actions.change_variable(self.member, variable_id, **read(VariableIn, request, partial=True))
        return Response(_variable_out(row, queries.distributions(self.member)[row.pk]))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, variable_id: int) -> Response:
        actions.delete_variable(self.member, variable_id)
        return Response(status=204)


def _variable_out(row: Variable, spread: queries.Distribution) -> dict[str, Any]:
    return {
        "id": row.pk,
        "name": row.name,
        "kind": row.kind,
        "description": row.description,
        "when_empty": row.when_empty,
        "categories": [category.label for category in row.categories.all()],
        "bars": [{"label": label, "count": count} for label, count in spread.bars],
        "missing": [{"label": label, "count": count} for label, count in spread.missing],
    }
