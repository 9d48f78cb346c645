"""Variables, their categories and how they spread, over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.language import say
from core.people.derived import equal_width, quantiles
from core.people.distribution import Crosstab
from server.common.api import Said, read
from server.common.exports import CSV, Cell, attached, plain
from server.people import actions, facts, queries
from server.people.asked import Definition
from server.people.leaving import leaving
from server.people.models import MISSING_CHOICES, Subject, Variable, VariableKind
from server.projects.models import MemberRole, Membership
from server.projects.views import ProjectView, by_revision


class Bar(serializers.Serializer[Any]):
    label = serializers.CharField()
    count = serializers.IntegerField()


class VariableOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=VariableKind.choices)
    of = serializers.ChoiceField(choices=Subject.choices)
    description = serializers.CharField()
    when_empty = serializers.ChoiceField(choices=MISSING_CHOICES)
    categories = serializers.ListField(child=serializers.CharField())
    bars = Bar(many=True)
    missing = Bar(many=True)
    definition = Definition(allow_null=True)
    problem = serializers.CharField(allow_blank=True, help_text="Why nothing is known: what it is made of is gone.")


class VariableIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=200, required=False)
    kind = serializers.ChoiceField(choices=VariableKind.choices, required=False)
    description = serializers.CharField(allow_blank=True, required=False, max_length=5000)
    when_empty = serializers.ChoiceField(choices=MISSING_CHOICES, required=False)
    order = serializers.ListField(child=serializers.CharField(), required=False, max_length=500)
    definition = Definition(required=False)


class NewVariable(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=200)
    kind = serializers.ChoiceField(choices=VariableKind.choices, required=False)
    of = serializers.ChoiceField(choices=Subject.choices, default=Subject.CASE)
    definition = Definition(required=False, allow_null=True)


class CategoriesIn(serializers.Serializer[Any]):
    """One change of categories: ``do`` says which, the rest what it needs."""

    do = serializers.ChoiceField(choices=["rename", "merge", "split", "missing"])
    labels = serializers.ListField(child=serializers.CharField(max_length=200), min_length=1, max_length=500)
    name = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")
    cases = serializers.ListField(child=serializers.IntegerField(), required=False, default=list, max_length=100_000)
    reason = serializers.ChoiceField(choices=MISSING_CHOICES, required=False, default="unknown")


class HistogramOut(serializers.Serializer[Any]):
    edges = serializers.ListField(child=serializers.FloatField())
    counts = serializers.ListField(child=serializers.IntegerField())
    values = serializers.ListField(child=serializers.FloatField(), help_text="In order; dates as days since year 1.")
    quantiles = serializers.DictField(child=serializers.ListField(child=serializers.FloatField()))
    equal_width = serializers.DictField(child=serializers.ListField(child=serializers.FloatField()))


class ShareOut(serializers.Serializer[Any]):
    count = serializers.IntegerField()
    share = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)


class SummaryOut(serializers.Serializer[Any]):
    count = serializers.IntegerField()
    mean = serializers.FloatField()
    deviation = serializers.FloatField(allow_null=True)
    median = serializers.FloatField()
    least = serializers.FloatField()
    greatest = serializers.FloatField()


class MissingRow(serializers.Serializer[Any]):
    reason = serializers.ChoiceField(choices=MISSING_CHOICES)
    counts = serializers.ListField(child=serializers.IntegerField())


class DistributionOut(serializers.Serializer[Any]):
    """A variable by groups, the first of which is everyone: ``shares`` has a row a value."""

    values = serializers.ListField(child=serializers.CharField())
    groups = serializers.ListField(child=serializers.CharField())
    bases = serializers.ListField(child=serializers.IntegerField())
    shares = serializers.ListField(child=ShareOut(many=True))
    missing = MissingRow(many=True)
    summaries = serializers.ListField(child=SummaryOut(allow_null=True))


def spread_out(spread: queries.Distribution) -> dict[str, list[dict[str, Any]]]:
    return {
        "bars": [{"label": label, "count": count} for label, count in spread.bars],
        "missing": [{"label": label, "count": count} for label, count in spread.missing],
    }


def variable_out(known: facts.Known) -> dict[str, Any]:
    row = known.variable
    return {
        "id": row.pk,
        "name": row.name,
        "kind": row.kind,
        "of": row.of,
        "description": row.description,
        "when_empty": row.when_empty,
        "categories": known.categories if row.kind != VariableKind.YES_NO else [],
        **spread_out(queries.spread_of(known)),
        "definition": row.definition,
        "problem": known.problem,
    }


class VariablesView(ProjectView):
    @extend_schema(responses=VariableOut(many=True))
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        """Facts about documents (those about cases come with the roster)."""
        rows = queries.variables(self.member, Subject.DOCUMENT)
        return Response([variable_out(queries.known_of(self.member, row)) for row in rows])

    @extend_schema(request=NewVariable, responses=VariableOut)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(NewVariable, request)
        row = actions.make_variable(
            self.member, said["name"], said.get("kind") or VariableKind.CATEGORY, said["of"], said.get("definition")
        )
        return Response(self._out(row))

    def _out(self, row: Variable) -> dict[str, Any]:
        return variable_out(queries.known_of(self.member, row))


class VariableView(ProjectView):
    @extend_schema(request=VariableIn, responses=VariableOut)
    def patch(self, request: Request, project_id: int, variable_id: int) -> Response:
        row = actions.change_variable(self.member, variable_id, **read(VariableIn, request, partial=True))
        return Response(variable_out(queries.known_of(self.member, row)))

    @extend_schema(responses={200: Said})
    def delete(self, request: Request, project_id: int, variable_id: int) -> Response:
        return Response(Said({"said": actions.delete_variable(self.member, variable_id)}).data)


class CategoriesView(ProjectView):
    @extend_schema(request=CategoriesIn, responses=VariableOut)
    def post(self, request: Request, project_id: int, variable_id: int) -> Response:
        """Rename, merge, split a category, or make it missing."""
        said = read(CategoriesIn, request)
        first = said["labels"][0]
        if said["do"] == "rename":
            row = actions.rename_category(self.member, variable_id, first, said["name"])
        elif said["do"] == "merge":
            row = actions.merge_categories(self.member, variable_id, said["labels"], said["name"])
        elif said["do"] == "split":
            row = actions.split_category(self.member, variable_id, first, said["name"], said["cases"])
        else:
            row = actions.category_to_missing(self.member, variable_id, first, said["reason"])
        return Response(variable_out(queries.known_of(self.member, row)))


class HistogramView(ProjectView):
    @extend_schema(responses=HistogramOut)
    def get(self, request: Request, project_id: int, variable_id: int) -> Response:
        """A number's histogram, with cut points proposed for two to six bands."""
        import numpy as np

        found = queries.histogram_of(self.member, queries.variable(self.member, variable_id, None))
        values = np.array(found.values)
        bands = range(2, 7)
        return Response(
            {
                **vars(found),
                "quantiles": {str(n): quantiles(values, n) for n in bands},
                "equal_width": {str(n): equal_width(values, n) for n in bands},
            }
        )


class AmongIn(serializers.Serializer[Any]):
    cases = serializers.ListField(
        child=serializers.IntegerField(),
        allow_null=True,
        default=None,
        max_length=20_000,
        help_text="Only of these cases; null: of all.",
    )


class DistributionIn(AmongIn):
    by = serializers.IntegerField(default=0, help_text="Another variable whose values make groups; 0: none.")


class SpreadOfVariable(serializers.Serializer[Any]):
    variable = serializers.IntegerField()
    bars = Bar(many=True)
    missing = Bar(many=True)


class SpreadsView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=AmongIn, responses=SpreadOfVariable(many=True))
    def post(self, request: Request, project_id: int) -> Response:
        """The small distributions of all variables, of some cases only."""
        found = queries.spreads(self.member, read(AmongIn, request)["cases"] or [])
        return Response([{"variable": pk, **spread_out(spread)} for pk, spread in found])


class DistributionView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=DistributionIn, responses=DistributionOut)
    def post(self, request: Request, project_id: int, variable_id: int) -> Response:
        _, _, found = _distribution(self.member, variable_id, read(DistributionIn, request))
        return Response(
            {
                "values": found.values,
                "groups": found.groups,
                "bases": found.bases,
                "shares": [[vars(one) for one in row] for row in found.shares],
                "missing": [{"reason": reason, "counts": counts} for reason, counts in found.missing],
                "summaries": [vars(one) if one else None for one in found.summaries],
            }
        )


def _distribution(
    member: Membership, variable_id: int, said: dict[str, Any]
) -> tuple[Variable, Variable | None, Crosstab]:
    row = queries.variable(member, variable_id)
    other = queries.variable(member, said["by"]) if said["by"] else None
    return row, other, queries.distribution_of(member, row, other, said["cases"])


class DistributionExportView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=DistributionIn, responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int, variable_id: int) -> HttpResponse:
        """The distribution as .csv: counts, shares, bases and missing values."""
        asked = read(DistributionIn, request)
        row, other, found = _distribution(self.member, variable_id, asked)
        many = self.member.project.case_many
        among = "" if asked["cases"] is None else say(", {asked} {many} in scope", asked=len(asked["cases"]), many=many)
        said = (
            say(
                "{name} of {many} by {name2}{among}, as counts and shares of those whose value is known",
                name=row.name,
                many=many,
                name2=other.name,
                among=among,
            )
            if other
            else say(
                "{name} of {many}{among}, as counts and shares of those whose value is known",
                name=row.name,
                many=many,
                among=among,
            )
        )
        rows: list[list[Cell]] = [[said], []]
        rows.append([row.name, *[f"{name}: {what}" for name in found.groups for what in ("count", "share")]])
        rows += leaving(found, self.member.project)
        return attached(plain(rows), CSV, self.member.project.name, "distribution", "csv")
