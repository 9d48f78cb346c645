"""The installation as a whole over HTTP."""

from typing import Any

from django.contrib.auth import logout
from django.http import FileResponse, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.language import say
from server.common.api import read
from server.common.errors import Refusal
from server.common.exports import DOCX, attached, file_name
from server.common.folders import temporary_folder
from server.projects.models import MemberRole
from server.projects.shown import AccountOut, JobOut
from server.projects.views import ProjectView, account_of
from server.shell import actions, closing, queries
from server.shell.forgetting import actions as forgetting
from server.shell.forgetting import held, preview, reach
from server.shell.project_file import arrivals, writing


class ProjectName(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=200)


class BackupsOut(serializers.Serializer[Any]):
    by_themselves = serializers.BooleanField(help_text="Whether one is made every night.")
    kept = serializers.CharField(help_text="Which stay, in words.")
    last_whole_at = serializers.DateTimeField(allow_null=True)
    size = serializers.IntegerField(help_text="Bytes of the last whole one.")
    locked = serializers.BooleanField(help_text="Whether it is encrypted.")
    problem = serializers.CharField(help_text="What the newest try lacks; empty where it is whole.")
    gone_by = serializers.DateField(allow_null=True, help_text="When what the last one holds has gone.")


class StatusOut(serializers.Serializer[Any]):
    revision = serializers.IntegerField()
    documents = serializers.IntegerField()
    cases = serializers.IntegerField()
    linked_cases = serializers.IntegerField()
    comparisons = serializers.IntegerField(help_text="Those kept by name.")
    exhibits = serializers.IntegerField()
    codings = serializers.IntegerField()
    codes = serializers.IntegerField()
    staged = serializers.IntegerField()
    undo = serializers.CharField(allow_null=True)
    redo = serializers.CharField(allow_null=True)
    jobs = JobOut(many=True)


class DeleteProjectView(ProjectView):
    needs = {"POST": MemberRole.OWNER}

    @extend_schema(request=ProjectName, responses={204: None})
    def post(self, request: Request, project_id: int) -> Response:
        actions.delete_project(self.member, **read(ProjectName, request))
        return Response(status=204)


class StatusView(ProjectView):
    @extend_schema(responses=StatusOut)
    def get(self, request: Request, project_id: int) -> Response:
        return Response(StatusOut(queries.status(self.member)).data)


class BackupsView(APIView):
    @extend_schema(responses=BackupsOut)
    def get(self, request: Request) -> Response:
        return Response(BackupsOut(queries.backups(account_of(request))).data)


class ProjectFileView(ProjectView):
    needs = {"GET": MemberRole.OWNER}

    @extend_schema(
        parameters=[OpenApiParameter("trail", bool, description="With the trail of who did what when.")],
        responses={(200, "application/zip"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, project_id: int) -> FileResponse:
        """The whole project as one file."""
        with temporary_folder("taken-out") as folder:
            path = folder / "project.zip"
            writing.write(self.member, path, request.query_params.get("trail", "") in ("true", "1"))
            # The folder goes, the bytes stay until the last of them is sent.
            file = path.open("rb")
        name = file_name(self.member.project.name, "project", "zip")
        return FileResponse(file, as_attachment=True, filename=name, content_type="application/zip")


class ProjectFileIn(serializers.Serializer[Any]):
    file = serializers.FileField()


class SomebodyOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    username = serializers.CharField()
    role = serializers.ChoiceField(choices=MemberRole.choices, allow_null=True)
    here = AccountOut(allow_null=True, help_text="The account of this name on this server.")
    me = serializers.BooleanField()


class FileCounts(serializers.Serializer[Any]):
    documents = serializers.IntegerField()
    cases = serializers.IntegerField()
    codes = serializers.IntegerField()
    codings = serializers.IntegerField()
    memos = serializers.IntegerField()
    comparisons = serializers.IntegerField()
    frozen = serializers.IntegerField()
    exhibits = serializers.IntegerField()


class ArrivedOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    case_one = serializers.CharField()
    case_many = serializers.CharField()
    made_at = serializers.DateTimeField()
    size = serializers.IntegerField()
    trail = serializers.BooleanField()
    missing = serializers.IntegerField(help_text="Media that were lost before the file was made.")
    counts = FileCounts()
    people = SomebodyOut(many=True)


BECOMES = ["name", "account", "me"]


class PersonIn(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    becomes = serializers.ChoiceField(choices=BECOMES)


class BringInProject(serializers.Serializer[Any]):
    people = PersonIn(many=True)
    trail = serializers.BooleanField()


class ProjectFilesView(APIView):
    @extend_schema(request={"multipart/form-data": ProjectFileIn}, responses=ArrivedOut)
    def post(self, request: Request) -> Response:
        """Look into a project's file; it waits to be brought in."""
        file = request.FILES.get("file")
        if file is None:
            raise Refusal(say("No file arrived. Choose one."))
        return Response(ArrivedOut(arrivals.said_of(arrivals.receive(account_of(request), file))).data)


class OneProjectFileView(APIView):
    @extend_schema(responses={204: None})
    def delete(self, request: Request, arrived_id: int) -> Response:
        arrivals.discard(account_of(request), arrived_id)
        return Response(status=204)


class BringInProjectView(APIView):
    @extend_schema(request=BringInProject, responses=JobOut)
    def post(self, request: Request, arrived_id: int) -> Response:
        said = read(BringInProject, request)
        people = {one["id"]: one["becomes"] for one in said["people"]}
        return Response(JobOut(arrivals.start(account_of(request), arrived_id, people, said["trail"])).data)


class ForgetOf(serializers.Serializer[Any]):
    case = serializers.IntegerField(required=False)
    document = serializers.IntegerField(required=False)


class ForgetIn(ForgetOf):
    typed = serializers.CharField(max_length=300, help_text="Its name, as a sign that it is meant.")
    keep_figures = serializers.BooleanField(help_text="Of frozen results; their words go in any case.")


class ForgetPreview(serializers.Serializer[Any]):
    called = serializers.CharField()
    documents = serializers.ListField(child=serializers.CharField(), help_text="That go whole.")
    shared = serializers.ListField(child=serializers.CharField(), help_text="In which only their turns go.")
    names = serializers.ListField(child=serializers.CharField(), help_text="Taken out of what people wrote.")
    turns = serializers.IntegerField()
    passages = serializers.IntegerField()
    codings = serializers.IntegerField()
    values = serializers.IntegerField()
    memos = serializers.IntegerField()
    digests = serializers.IntegerField()
    pieces = serializers.IntegerField(help_text="Of exhibits.")
    media = serializers.IntegerField()
    staged = serializers.IntegerField()
    frozen = serializers.IntegerField(help_text="Results that hold their passages.")
    written = serializers.IntegerField(help_text="Things written that name or quote them.")
    elsewhere = serializers.ListField(child=serializers.CharField(), help_text="Texts of others with a name of theirs.")
    backups_gone_by = serializers.DateField(allow_null=True)
    backups_by_themselves = serializers.BooleanField()


class SaidOut(serializers.Serializer[Any]):
    said = serializers.CharField()


class ForgetView(ProjectView):
    needs = {"GET": MemberRole.OWNER, "POST": MemberRole.OWNER}

    @extend_schema(parameters=[ForgetOf], responses=ForgetPreview)
    def get(self, request: Request, project_id: int) -> Response:
        """What forgetting a person or a document would take along."""
        said = ForgetOf(data=request.query_params)
        said.is_valid(raise_exception=True)
        found = reach.found(self.member, **said.validated_data)
        return Response(ForgetPreview(preview.preview(found)).data)

    @extend_schema(request=ForgetIn, responses=SaidOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Forget it for good."""
        return Response({"said": forgetting.forget(self.member, **read(ForgetIn, request))})


class HeldView(ProjectView):
    needs = {"GET": MemberRole.OWNER}

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, case_id: int) -> HttpResponse:
        """What is held of a person, as .docx."""
        return attached(held.held_of(self.member, case_id), DOCX, self.member.project.name, "held", "docx")


class PasswordIn(serializers.Serializer[Any]):
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class CloseAccountView(APIView):
    @extend_schema(request=PasswordIn, responses={204: None})
    def post(self, request: Request) -> Response:
        """Close one's own account for good."""
        closing.close_account(account_of(request), read(PasswordIn, request)["password"])
        logout(request._request)
        return Response(status=204)
