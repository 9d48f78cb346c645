"""Lists of a project as files."""

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request

from core.language import say
from server.common.errors import NotAllowed, NotFound
from server.common.exports import attached
from server.projects.models import MemberRole
from server.projects.views import ProjectView
from server.report import lists


class ListFileView(ProjectView):
    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, what: str, ending: str) -> HttpResponse:
        """``roster`` (csv, xlsx, sav), ``documents``, ``speakers`` or ``cohorts`` (csv, xlsx)."""
        if what != "documents" and self.member.project.hide_below > 1 and not self.member.may(MemberRole.OWNER):
            # Row by row everybody could be counted again.
            raise NotAllowed(
                say("This project hides small groups in what leaves it: only an owner takes out lists of people.")
            )
        found = lists.written(self.member, what, ending)
        if found is None:
            raise NotFound(say("Lists are written as csv or xlsx, the roster as sav, too."))
        return attached(*found, self.member.project.name, what, ending)
