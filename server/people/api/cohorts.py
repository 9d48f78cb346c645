"""Cohorts over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.people.conditions import Kept
from server.common.api import read
from server.common.errors import Refusal
from server.people import actions, queries
from server.people.asked import check
from server.people.models import Cohort, Subject
from server.projects.models import MemberRole, Membership
from server.projects.views import ProjectView, by_revision


class CohortIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=200)
    condition = serializers.JSONField(
        required=False,
        allow_null=True,
        help_text="{join, negated, parts}, {variable, operator, values}, {codes, how} or {cohorts, how}.",
    )
    of = serializers.ChoiceField(choices=Subject.choices, required=False, help_text="Of a new cohort; it stays so.")
    picked = serializers.ListField(
        child=serializers.IntegerField(),
        required=False,
        max_length=100_000,
        help_text="Cases or documents picked by hand.",
    )
    description = serializers.CharField(required=False, allow_blank=True, max_length=5000)

    def validate_condition(self, said: Any) -> Any:
        if said is not None:
            check(said)
        return said


class ConditionIn(serializers.Serializer[Any]):
    condition = serializers.JSONField()
    of = serializers.ChoiceField(
        choices=Subject.choices, required=False, help_text="Whom it is about: cases if absent."
    )

    def validate_condition(self, said: Any) -> Any:
        check(said)
        return said


class CohortOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    description = serializers.CharField()
    condition = serializers.JSONField(allow_null=True)
    cases = serializers.ListField(child=serializers.IntegerField(), help_text="Of one of cases: who is in it.")
    documents = serializers.ListField(child=serializers.IntegerField(), help_text="Of one of documents: what is.")
    problem = serializers.CharField(help_text="Why it can’t be told who is in it; else empty.")


class CohortsOut(serializers.Serializer[Any]):
    cohorts = CohortOut(many=True)
    of_documents = CohortOut(many=True)
    in_none = serializers.ListField(child=serializers.IntegerField(), help_text="Cases in no cohort.")
    in_several = serializers.ListField(child=serializers.IntegerField())


class KeptOut(serializers.Serializer[Any]):
    """How many cases a condition keeps, and the same for its parts, in order."""

    count = serializers.IntegerField()
    parts = serializers.JSONField()


def _kept(found: Kept) -> dict[str, Any]:
    return {"count": found.count, "parts": [_kept(part) for part in found.parts]}


def cohort_out(member: Membership, row: Cohort) -> dict[str, Any]:
    """A cohort with who is in it now, or why that can't be told."""
    problem, inside = "", []
    try:
        inside = queries.cohort_members(member, row)
    except Refusal as refusal:
        problem = refusal.sentence
    return {
        "id": row.pk,
        "name": row.name,
        "description": row.description,
        "condition": row.condition,
        "cases": inside if row.of == Subject.CASE else [],
        "documents": inside if row.of == Subject.DOCUMENT else [],
        "problem": problem,
    }


class CohortsView(ProjectView):
    @extend_schema(responses=CohortsOut)
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        rows = [cohort_out(self.member, row) for row in queries.cohorts(self.member, Subject.CASE)]
        of_documents = [cohort_out(self.member, row) for row in queries.cohorts(self.member, Subject.DOCUMENT)]
        times: dict[int, int] = dict.fromkeys(queries.cases(self.member).values_list("id", flat=True), 0)
        for row in rows:
            for pk in row["cases"]:
                times[pk] += 1
        return Response(
            {
                "cohorts": rows,
                "of_documents": of_documents,
                "in_none": [pk for pk, count in times.items() if not count],
                "in_several": [pk for pk, count in times.items() if count > 1],
            }
        )

    @extend_schema(request=CohortIn, responses=CohortOut)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(CohortIn, request)
        of = Subject(said.get("of", Subject.CASE))
        row = actions.make_cohort(self.member, said["name"], said.get("condition"), said.get("picked"), of)
        return Response(cohort_out(self.member, row))


class CohortView(ProjectView):
    @extend_schema(request=CohortIn, responses=CohortOut)
    def patch(self, request: Request, project_id: int, cohort_id: int) -> Response:
        said = read(CohortIn, request, partial=True)
        said.pop("of", None)
        row = actions.change_cohort(self.member, cohort_id, **said)
        return Response(cohort_out(self.member, row))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, cohort_id: int) -> Response:
        actions.delete_cohort(self.member, cohort_id)
        return Response(status=204)


class CountConditionView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ConditionIn, responses=KeptOut)
    def post(self, request: Request, project_id: int) -> Response:
        """The live count of every part of a condition."""
        said = read(ConditionIn, request)
        of = Subject(said.get("of", Subject.CASE))
        return Response(_kept(queries.condition_counts(self.member, said["condition"], of)))
