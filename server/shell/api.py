"""The installation as a whole over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.common.api import ProjectView, account_of, read
from server.shell import actions, queries


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


class DeleteProjectView(ProjectView):
    needs = {"POST": "owner"}

    @extend_schema(request=ProjectName, responses={204: None})
    def post(self, request: Request, project_id: int) -> Response:
        actions.delete_project(self.member, **read(ProjectName, request))
        return Response(status=204)


class BackupsView(APIView):
    @extend_schema(responses=BackupsOut)
    def get(self, request: Request) -> Response:
        return Response(BackupsOut(queries.backups(account_of(request))).data)
