"""Passages and codings over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.coding.places import Place, Region, Span, Stretch
from core.language import say
from server.coding import actions, queries
from server.coding.actions import NewCode
from server.coding.models import HIGHEST
from server.coding.shown import PassageOut, RegionOut, SpanOut
from server.common.api import read
from server.gather import queries as gather
from server.projects.trail import last_done
from server.projects.views import ProjectView


class NewCodeIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    parent = serializers.IntegerField(allow_null=True, required=False)


class PlaceIn(serializers.Serializer[Any]):
    """Words from start to end, or a region, or a span."""

    start = serializers.IntegerField(min_value=0, required=False)
    end = serializers.IntegerField(min_value=0, required=False)
    region = RegionOut(required=False)
    span = SpanOut(required=False)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        words = "start" in attrs and "end" in attrs
        if words + ("region" in attrs) + ("span" in attrs) != 1:
            raise serializers.ValidationError(say("Give the words, or a region, or a span."))
        return attrs


def place_of(said: dict[str, Any]) -> Place:
    if "region" in said:
        return Region(**said["region"])
    return Span(**said["span"]) if "span" in said else Stretch(said["start"], said["end"])


MOST_READ = 60
"""Code points of the words at either end of a stretch by which it is found again."""


class CodingIn(PlaceIn):
    begins = serializers.CharField(
        required=False, max_length=MOST_READ, trim_whitespace=False,
        help_text="How the words begin, as whoever codes has read them: the text may be another by now.",
    )  # fmt: skip
    ends = serializers.CharField(required=False, max_length=MOST_READ, trim_whitespace=False, help_text="How they end.")
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=50)
    new_codes = NewCodeIn(many=True, required=False)


class RatingIn(serializers.Serializer[Any]):
    rating = serializers.IntegerField(min_value=1, max_value=HIGHEST, allow_null=True)


class CodedOut(PassageOut):
    undo = serializers.CharField(allow_null=True)


class PassagesView(ProjectView):
    @extend_schema(responses=PassageOut(many=True))
    def get(self, request: Request, project_id: int, document_id: int) -> Response:
        return Response(queries.passages_of(gather.document(self.member, document_id)))

    @extend_schema(request=CodingIn, responses=CodedOut)
    def post(self, request: Request, project_id: int, document_id: int) -> Response:
        """Put codes on a place; answers with what the desk shows of it: the passage that is there then, what undo takes back."""
        said = read(CodingIn, request)
        new = [NewCode(code["name"], code.get("parent")) for code in said.get("new_codes", [])]
        words = (said["begins"], said["ends"]) if "begins" in said and "ends" in said else None
        put = actions.put_codes(self.member, document_id, place_of(said), said["codes"], new, words)
        shown = (
            queries.passage_shown(put.passage)
            if put.codings is None
            else queries.passage_made(put.passage, put.codings)
        )
        undo = put.done or ((last := last_done(self.member)) and last.summary)
        return Response({**shown, "undo": undo})


class ProposedIn(serializers.Serializer[Any]):
    speaker = serializers.IntegerField(allow_null=True, help_text="None: for the whole document.")
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=20)


class ProposedView(ProjectView):
    @extend_schema(request=ProposedIn, responses={204: None})
    def put(self, request: Request, project_id: int, document_id: int) -> Response:
        """Say which codes are proposed for new passages."""
        said = read(ProposedIn, request)
        actions.propose_codes(self.member, document_id, said["speaker"], said["codes"])
        return Response(status=204)


class PassageView(ProjectView):
    @extend_schema(request=PlaceIn, responses=PassageOut)
    def patch(self, request: Request, project_id: int, passage_id: int) -> Response:
        """Move a passage's ends; answers with the passage that is there then."""
        passage = actions.move_passage(self.member, passage_id, place_of(read(PlaceIn, request)))
        return Response(queries.passage_shown(passage))


class CodingView(ProjectView):
    @extend_schema(request=RatingIn, responses={204: None})
    def patch(self, request: Request, project_id: int, coding_id: int) -> Response:
        actions.rate_coding(self.member, coding_id, read(RatingIn, request)["rating"])
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, coding_id: int) -> Response:
        actions.remove_coding(self.member, coding_id)
        return Response(status=204)
