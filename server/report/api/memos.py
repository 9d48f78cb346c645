"""Memos over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.language import say
from server.common.api import CountOut, read
from server.common.errors import NotFound
from server.common.exports import attached
from server.common.kinds import MemoKind
from server.projects.models import MemberRole
from server.projects.views import ProjectView, by_revision
from server.report import actions, memo_files, queries
from server.report.actions.memo_links import Link
from server.report.actions.memos import ON_MANY
from server.report.models import ATTACHED, LINKED

LINKABLE = ["memo" if one == "other" else one for one in LINKED]


@extend_schema_field({"oneOf": [{"type": "string", "enum": MemoKind.values}, {"type": "integer"}]})
class KindField(serializers.Field[str | int, Any, Any, Any]):
    """A kind that every project has, by its name, or one of the project's own, by its number."""

    def to_internal_value(self, data: Any) -> str | int:
        if isinstance(data, int) and not isinstance(data, bool) and data > 0:
            return data
        if data in MemoKind.values:
            return str(data)
        raise serializers.ValidationError(say("There is no such kind of memo."))

    def to_representation(self, value: str | int) -> str | int:
        return value


class MemoLinkIn(serializers.Serializer[Any]):
    said = serializers.CharField(max_length=200, help_text="The words in double brackets.")
    thing = serializers.ChoiceField(choices=LINKABLE)
    id = serializers.IntegerField()


class MemoIn(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=20_000)
    kinds = serializers.ListField(child=KindField(), required=False, max_length=20)
    links = MemoLinkIn(many=True, required=False)


class NewMemoIn(MemoIn):
    passage = serializers.IntegerField(required=False)
    code = serializers.IntegerField(required=False)
    theme = serializers.IntegerField(required=False)
    document = serializers.IntegerField(required=False)
    case = serializers.IntegerField(required=False)
    comparison = serializers.IntegerField(required=False)
    start = serializers.IntegerField(
        required=False, min_value=0, help_text="With an end: on these words of the document."
    )
    end = serializers.IntegerField(required=False, min_value=0)


class MemoLinkOut(MemoLinkIn):
    name = serializers.CharField(help_text="What it is called now.")


class MemosChange(serializers.Serializer[Any]):
    memos = serializers.ListField(child=serializers.IntegerField(), max_length=10_000)
    give = serializers.ListField(child=KindField(), required=False, max_length=20)
    take = serializers.ListField(child=KindField(), required=False, max_length=20)
    put_on = serializers.ChoiceField(choices=["project", *ON_MANY], required=False)
    put_on_id = serializers.IntegerField(required=False, help_text="Which; not for the project as a whole.")


class MemoKindIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=200, allow_blank=True)


class MemoKindOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    memos = serializers.IntegerField(source="size")


class MemosFileIn(serializers.Serializer[Any]):
    memos = serializers.ListField(child=serializers.IntegerField(), max_length=10_000, help_text="In the order wanted.")


class MemoOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    text = serializers.CharField()
    kinds = serializers.ListField(child=KindField())
    links = MemoLinkOut(many=True)
    author = serializers.CharField()
    author_id = serializers.IntegerField()
    source = serializers.CharField()
    made_at = serializers.DateTimeField()
    on = serializers.ChoiceField(choices=[*ATTACHED, "project"])
    on_id = serializers.IntegerField(allow_null=True)
    name = serializers.CharField(help_text="What it is on, in words.")
    document = serializers.IntegerField(allow_null=True)


class MemosView(ProjectView):
    @extend_schema(responses=MemoOut(many=True))
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        return Response(queries.memos(self.member))

    @extend_schema(request=NewMemoIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(NewMemoIn, request)
        start, end = said.pop("start", None), said.pop("end", None)
        stretch = None
        if start is not None and end is not None and "document" in said:
            stretch = (said.pop("document"), start, end)
        memo = actions.write_memo(
            self.member,
            said.pop("text"),
            stretch=stretch,
            links=_links(said.pop("links", [])),
            **said,
        )
        return Response({"count": memo.pk})

    @extend_schema(request=MemosChange, responses=CountOut, operation_id="projects_memos_change_many")
    def patch(self, request: Request, project_id: int) -> Response:
        """Give many memos kinds, take kinds from them, or put them on one thing."""
        said = read(MemosChange, request)
        on = (said["put_on"], said.get("put_on_id") or 0) if "put_on" in said else None
        count = actions.change_memos(self.member, said["memos"], said.get("give", []), said.get("take", []), on)
        return Response({"count": count})


class MemoView(ProjectView):
    @extend_schema(request=MemoIn, responses={204: None})
    def patch(self, request: Request, project_id: int, memo_id: int) -> Response:
        said = read(MemoIn, request, partial=True)
        actions.change_memo(self.member, memo_id, said.get("text"), said.get("kinds"), _links(said.get("links", [])))
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, memo_id: int) -> Response:
        actions.delete_memo(self.member, memo_id)
        return Response(status=204)


def _links(said: list[dict[str, Any]]) -> list[Link]:
    return [
        Link(said=one["said"], on="other" if one["thing"] == "memo" else one["thing"], id=one["id"]) for one in said
    ]


class MemoKindsView(ProjectView):
    @extend_schema(responses=MemoKindOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(MemoKindOut(queries.memo_kinds(self.member), many=True).data)

    @extend_schema(request=MemoKindIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Make a kind; answers with its ID."""
        return Response({"count": actions.make_memo_kind(self.member, read(MemoKindIn, request)["name"]).pk})


class MemoKindView(ProjectView):
    @extend_schema(request=MemoKindIn, responses={204: None})
    def patch(self, request: Request, project_id: int, kind_id: int) -> Response:
        actions.rename_memo_kind(self.member, kind_id, read(MemoKindIn, request)["name"])
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, kind_id: int) -> Response:
        actions.delete_memo_kind(self.member, kind_id)
        return Response(status=204)


class MemosFileView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=MemosFileIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int, ending: str) -> HttpResponse:
        """These memos as a file: ``docx``, ``xlsx`` or ``md``."""
        found = memo_files.written(self.member, read(MemosFileIn, request)["memos"], ending)
        if found is None:
            raise NotFound(say("Memos are written as docx, xlsx or md."))
        return attached(*found, self.member.project.name, "memos", ending)


class MemoDocumentView(ProjectView):
    @extend_schema(request=None, responses=CountOut)
    def post(self, request: Request, project_id: int, memo_id: int) -> Response:
        """Make a document of a memo; answers with the document’s ID."""
        return Response({"count": actions.memo_into_document(self.member, memo_id).pk})
