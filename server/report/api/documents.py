"""Documents as files, one by one and all at once."""

from typing import Any

from django.http import HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request

from core.language import say
from server.common.errors import NotAllowed, NotFound, Refusal
from server.common.exports import ZIP, attached, file_name, plain_name
from server.gather import queries
from server.projects.models import MemberRole, Membership
from server.projects.views import ProjectView
from server.report import documents


def check_may_leave(member: Membership) -> None:
    """Where small groups are hidden, whole texts would tell what is hidden."""
    if member.project.hide_below > 1 and not member.may(MemberRole.OWNER):
        raise NotAllowed(
            say("This project hides small groups in what leaves it: only an owner takes out documents whole.")
        )


class DocumentFileView(ProjectView):
    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, document_id: int, ending: str) -> HttpResponse:
        """A document as ``docx`` (its codings as comments), ``txt``, ``vtt`` or ``html``."""
        check_may_leave(self.member)
        document = queries.document(self.member, document_id)
        writer, kind = _writer(ending)
        found = writer(documents.leaving(document)) if document.text.strip() else None
        if found is None:
            raise Refusal(
                say("No turn of this document has a time; take it out as .docx, .txt or .html.")
                if document.text.strip()
                else say("There are no words in this document.")
            )
        return attached(found, kind, self.member.project.name, plain_name(document.title), ending)


class DocumentFilesView(ProjectView):
    @extend_schema(
        parameters=[OpenApiParameter("documents", str, description="IDs with dots between; all where missing.")],
        responses={(200, "application/zip"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, project_id: int, ending: str) -> HttpResponseBase:
        """Documents as files in one .zip."""
        check_may_leave(self.member)
        _writer(ending)
        asked = request.query_params.get("documents", "")
        found = queries.documents(self.member).order_by("title", "id")
        if asked:
            if not all(one.isdigit() and len(one) < 19 for one in asked.split(".")):
                raise Refusal(say("Documents are named by their numbers, with dots between."))
            found = found.filter(pk__in=[int(one) for one in asked.split(".")])
        keys = list(found.values_list("pk", flat=True))
        if not keys:
            raise NotFound(say("These documents aren’t in the project any more."))
        answer = StreamingHttpResponse(documents.zipped(self.member, keys, ending), content_type=ZIP)
        name = file_name(self.member.project.name, f"documents {ending}", "zip")
        answer["Content-Disposition"] = f'attachment; filename="{name}"'
        return answer


def _writer(ending: str) -> Any:
    if ending not in documents.WRITERS:
        raise NotFound(say("Documents are written as docx, txt, vtt or html."))
    return documents.WRITERS[ending]
