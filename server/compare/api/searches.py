"""Queries on passages, and saved scopes, over HTTP."""

from typing import Any

import numpy as np
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.passages.search import KeptPassages
from server.coding.context import by_person
from server.coding.shown import EvidencePerson
from server.common.api import CountOut, address_of, read
from server.common.database import of_one_state
from server.common.exports import attached
from server.compare import actions, exports, publishing, queries, searching
from server.compare.api.comparing import PASSAGES
from server.compare.blocks import check
from server.compare.query_words import sentence_of_query
from server.projects.models import MemberRole
from server.projects.views import ProjectView
from server.scope.asked import ScopeIn
from server.scope.parts import scope_of
from server.snapshots.queries import snapshot


class BlocksIn(serializers.Serializer[Any]):
    blocks = serializers.JSONField(help_text="{join, negated, parts}; parts may be such, or conditions by “what”.")
    scope = ScopeIn(required=False)
    limit = serializers.IntegerField(required=False, min_value=1, max_value=2000)

    def validate_blocks(self, said: Any) -> Any:
        check(said)
        return said


class SavedQueryIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    blocks = serializers.JSONField()

    def validate_blocks(self, said: Any) -> Any:
        check(said)
        return said


class SavedQueryOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    blocks = serializers.JSONField()
    author = serializers.CharField(source="author.display_name")
    made_at = serializers.DateTimeField()


class BlockCountOut(serializers.Serializer[Any]):
    """How many passages a part keeps by itself, with those before it, and the same for its parts."""

    count = serializers.IntegerField()
    so_far = serializers.IntegerField()
    parts = serializers.JSONField()


class PassagesFound(serializers.Serializer[Any]):
    counts = BlockCountOut()
    emptied_by = serializers.ListField(
        child=serializers.IntegerField(), allow_null=True, help_text="The way to the condition that left nothing."
    )
    people = serializers.IntegerField()
    passages = serializers.IntegerField()
    persons = EvidencePerson(many=True)
    more = serializers.IntegerField()


class SavedScopeIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    scope = ScopeIn()


class SavedScopeOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    scope = ScopeIn()
    author = serializers.CharField(source="author.display_name")


class ScopeCountOut(serializers.Serializer[Any]):
    cases = serializers.IntegerField()
    documents = serializers.IntegerField()
    codings = serializers.IntegerField()
    passages = serializers.IntegerField()
    of_cases = serializers.IntegerField()
    with_material = serializers.IntegerField(help_text="People who say anything in scope: those really in play.")
    of_documents = serializers.IntegerField()
    of_codings = serializers.IntegerField()
    of_passages = serializers.IntegerField()
    emptied_by = serializers.CharField(
        allow_blank=True, help_text="Which part of the scope left no passage; else empty."
    )
    play_cases = serializers.ListField(
        child=serializers.IntegerField(), allow_null=True, help_text="The cases that lists show; null where all are."
    )
    play_documents = serializers.ListField(
        child=serializers.IntegerField(),
        allow_null=True,
        help_text="The documents that lists show; null where all are.",
    )


class PassagesInPlay(serializers.Serializer[Any]):
    passages = serializers.ListField(child=serializers.IntegerField())


def _counts(kept: KeptPassages) -> dict[str, Any]:
    return {"count": kept.count, "so_far": kept.so_far, "parts": [_counts(part) for part in kept.parts]}


class SearchView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=BlocksIn, responses=PassagesFound)
    @of_one_state
    def post(self, request: Request, project_id: int) -> Response:
        """The passages that conditions keep, by person, with the live count of every block."""
        said = read(BlocksIn, request)
        held = snapshot(project_id)
        scope = scope_of(self.member, held, said.get("scope") or {})
        kept = searching.counts_of(self.member, held, said["blocks"], scope)
        found = searching.passages_found(self.member, held, said["blocks"], scope)
        return Response(
            {
                "counts": _counts(kept),
                "emptied_by": searching.first_to_empty(kept, said["blocks"]),
                **by_person(self.member, held, np.flatnonzero(found), scope, said.get("limit") or 100),
            }
        )


class SearchExportIn(BlocksIn):
    format = serializers.ChoiceField(choices=["xlsx", "docx"])


class SearchExportView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=SearchExportIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int) -> HttpResponse:
        """All passages that conditions keep, person by person, as a file."""
        said = read(SearchExportIn, request)
        held = snapshot(project_id)
        scope = scope_of(self.member, held, said.get("scope") or {})
        found = np.flatnonzero(searching.passages_found(self.member, held, said["blocks"], scope))
        sentence = sentence_of_query(self.member, said["blocks"])
        publishing.refuse_few(self.member, held, found, scope)
        write, kind = PASSAGES[said["format"]]
        made = write(exports.lines_of_query(self.member, held, found, scope, sentence, address_of(request)))
        return attached(made, kind, self.member.project.name, "passages", said["format"])


class QueriesView(ProjectView):
    @extend_schema(responses=SavedQueryOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(SavedQueryOut(searching.saved_queries(self.member), many=True).data)

    @extend_schema(request=SavedQueryIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Save a query; answers with its ID."""
        return Response({"count": actions.save_query(self.member, **read(SavedQueryIn, request)).pk})


class OneQueryView(ProjectView):
    @extend_schema(request=SavedQueryIn, responses={204: None})
    def patch(self, request: Request, project_id: int, query_id: int) -> Response:
        actions.change_query(self.member, query_id, **read(SavedQueryIn, request, partial=True))
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, query_id: int) -> Response:
        actions.delete_query(self.member, query_id)
        return Response(status=204)


class ScopesView(ProjectView):
    @extend_schema(responses=SavedScopeOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(SavedScopeOut(queries.saved_scopes(self.member), many=True).data)

    @extend_schema(request=SavedScopeIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Save a scope; answers with its ID."""
        return Response({"count": actions.save_scope(self.member, **read(SavedScopeIn, request)).pk})


class OneScopeView(ProjectView):
    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, scope_id: int) -> Response:
        actions.delete_scope(self.member, scope_id)
        return Response(status=204)


class ScopeCountsView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ScopeIn, responses=ScopeCountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """What a scope leaves in play, and which part of it left nothing."""
        return Response(queries.scope_counts(self.member, read(ScopeIn, request)))


class ScopePassagesView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ScopeIn, responses=PassagesInPlay)
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        """The passages of a document that a scope leaves in play."""
        return Response({"passages": queries.passages_in_play(self.member, read(ScopeIn, request), document_id)})
