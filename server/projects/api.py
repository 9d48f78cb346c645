"""Sessions, projects, members, the trail and jobs over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.common.api import read
from server.projects import actions, queries, running, trail
from server.projects.jobs import queued
from server.projects.models import Job, MemberRole, Membership, TrailState
from server.projects.shown import AccountOut, JobOut
from server.projects.views import ProjectView, account_of


class ProjectIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=200)
    case_one = serializers.CharField(max_length=40, required=False)
    case_many = serializers.CharField(max_length=40, required=False)
    hide_below = serializers.IntegerField(min_value=0, max_value=50, required=False)
    round_to = serializers.ChoiceField(choices=[0, 3, 5], required=False)
    trail_days = serializers.IntegerField(min_value=0, max_value=10_000, required=False)


class ProjectOut(serializers.Serializer[Any]):
    id = serializers.IntegerField(source="project.id")
    name = serializers.CharField(source="project.name")
    case_one = serializers.CharField(source="project.case_one")
    case_many = serializers.CharField(source="project.case_many")
    hide_below = serializers.IntegerField(source="project.hide_below", help_text="Of all that leaves; 0: nothing.")
    round_to = serializers.IntegerField(source="project.round_to", help_text="Of all that leaves; 0: not at all.")
    trail_days = serializers.IntegerField(source="project.trail_days", help_text="That the trail is kept; 0: always.")
    role = serializers.ChoiceField(choices=MemberRole.choices)


class ProjectListed(ProjectOut):
    documents = serializers.IntegerField()
    cases = serializers.IntegerField()
    codes = serializers.IntegerField()


class MemberIn(serializers.Serializer[Any]):
    username = serializers.CharField(max_length=150)
    role = serializers.ChoiceField(choices=MemberRole.choices)
    display_name = serializers.CharField(max_length=120, required=False, allow_blank=True)
    password = serializers.CharField(max_length=200, required=False, allow_blank=True, trim_whitespace=False)


class MemberRoleIn(serializers.Serializer[Any]):
    role = serializers.ChoiceField(choices=MemberRole.choices, required=False)
    may_begin = serializers.BooleanField(required=False, help_text="Whether they make projects of their own.")


class MemberOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    account = AccountOut()
    role = serializers.ChoiceField(choices=MemberRole.choices)
    may_begin = serializers.BooleanField(source="account.may_begin")


class MoveOut(serializers.Serializer[Any]):
    revision = serializers.IntegerField()
    touched = serializers.ListField(
        child=serializers.CharField(), allow_null=True, help_text="Kinds of rows; null where it may be any."
    )


class PulseIn(serializers.Serializer[Any]):
    since = serializers.IntegerField(required=False, min_value=0, help_text="The revision that the page shows.")


class PulseOut(serializers.Serializer[Any]):
    revision = serializers.IntegerField()
    moves = MoveOut(many=True, help_text="Since then, one a revision.")
    others = serializers.IntegerField(help_text="The revision that somebody else made last.")
    by = serializers.CharField()
    summary = serializers.CharField()


class TrailOut(serializers.Serializer[Any]):
    revision = serializers.IntegerField()
    actor = serializers.CharField(source="actor.display_name")
    summary = serializers.CharField()
    undone = serializers.SerializerMethodField()
    at = serializers.DateTimeField(source="created_at")

    def get_undone(self, entry: Any) -> bool:
        return bool(entry.state in ("undone", "gone"))


class TurnedOut(serializers.Serializer[Any]):
    summary = serializers.CharField(allow_null=True, help_text="None where there was nothing, or a job does it.")
    job = JobOut(allow_null=True, help_text="The job that does it, where it is much.")


class ProjectsView(APIView):
    @extend_schema(responses=ProjectListed(many=True))
    def get(self, request: Request) -> Response:
        return Response(ProjectListed(queries.projects(account_of(request)), many=True).data)

    @extend_schema(request=ProjectIn, responses=ProjectOut)
    def post(self, request: Request) -> Response:
        project = actions.create_project(account_of(request), **read(ProjectIn, request))
        return Response(ProjectOut(queries.membership(account_of(request), project.pk)).data)


class OneProjectView(ProjectView):
    needs = {"PATCH": MemberRole.OWNER}

    @extend_schema(responses=ProjectOut)
    def get(self, request: Request, project_id: int) -> Response:
        return Response(ProjectOut(self.member).data)

    @extend_schema(request=ProjectIn, responses=ProjectOut)
    def patch(self, request: Request, project_id: int) -> Response:
        actions.change_project(self.member, **read(ProjectIn, request, partial=True))
        return Response(ProjectOut(queries.membership(account_of(request), project_id)).data)


class MembersView(ProjectView):
    needs = {"POST": MemberRole.OWNER}

    @extend_schema(responses=MemberOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(MemberOut(queries.members(self.member), many=True).data)

    @extend_schema(request=MemberIn, responses=MemberOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(MemberOut(actions.add_member(self.member, **read(MemberIn, request))).data)


class MemberView(ProjectView):
    needs = {"PATCH": MemberRole.OWNER, "DELETE": MemberRole.OWNER}

    @extend_schema(request=MemberRoleIn, responses=MemberOut)
    def patch(self, request: Request, project_id: int, membership_id: int) -> Response:
        said = read(MemberRoleIn, request)
        found = queries.one_member(self.member, membership_id)
        if "role" in said:
            found = actions.change_member(self.member, membership_id, said["role"])
        if "may_begin" in said:
            found = actions.allow_to_begin(self.member, membership_id, said["may_begin"])
        return Response(MemberOut(found).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, membership_id: int) -> Response:
        actions.remove_member(self.member, membership_id)
        return Response(status=204)


class PulseView(ProjectView):
    @extend_schema(parameters=[PulseIn], responses=PulseOut)
    def get(self, request: Request, project_id: int) -> Response:
        said = PulseIn(data=request.query_params)
        said.is_valid(raise_exception=True)
        return Response(queries.pulse(self.member, said.validated_data.get("since")))


class TrailView(ProjectView):
    @extend_schema(responses=TrailOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(TrailOut(queries.trail_entries(self.member), many=True).data)


def _turned(member: Membership, state: TrailState) -> Response:
    job = queued(member, state)
    entry = None if job else trail.undo(member) if state == TrailState.UNDONE else trail.redo(member)
    return Response(TurnedOut({"summary": entry.summary if entry else None, "job": job}).data)


class UndoView(ProjectView):
    @extend_schema(request=None, responses=TurnedOut)
    def post(self, request: Request, project_id: int) -> Response:
        return _turned(self.member, TrailState.UNDONE)


class RedoView(ProjectView):
    @extend_schema(request=None, responses=TurnedOut)
    def post(self, request: Request, project_id: int) -> Response:
        return _turned(self.member, TrailState.DONE)


class JobView(ProjectView):
    @extend_schema(responses=JobOut)
    def get(self, request: Request, project_id: int, job_id: int) -> Response:
        return Response(JobOut(queries.job(self.member, job_id)).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, job_id: int) -> Response:
        running.cancel(self.member, queries.job(self.member, job_id).pk)
        return Response(status=204)


class OwnJobView(APIView):
    """A job of one's own that makes a project."""

    @extend_schema(responses=JobOut)
    def get(self, request: Request, job_id: int) -> Response:
        return Response(JobOut(queries.own_job(account_of(request), job_id)).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, job_id: int) -> Response:
        running.stop(Job.objects.filter(pk=queries.own_job(account_of(request), job_id).pk))
        return Response(status=204)
