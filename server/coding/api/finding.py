"""Finding words, and coding what was found, over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.coding.find import LANGUAGES
from server.coding import actions, finding
from server.coding.actions import NewCode
from server.coding.api.passages import NewCodeIn
from server.common.api import CountOut, ProjectView, read
from server.compare.api import Fact


class FindIn(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=500)
    how = serializers.ChoiceField(choices=["words", "phrase", "forms", "near", "pattern"], required=False)
    language = serializers.ChoiceField(choices=LANGUAGES, required=False)
    within = serializers.IntegerField(min_value=1, max_value=100, required=False)
    everyone = serializers.BooleanField(required=False)
    documents = serializers.ListField(child=serializers.IntegerField(), required=False)
    cases = serializers.ListField(child=serializers.IntegerField(), required=False)


class HitOut(serializers.Serializer[Any]):
    document = serializers.IntegerField()
    title = serializers.CharField()
    turn = serializers.IntegerField()
    speaker = serializers.CharField()
    case = serializers.IntegerField(allow_null=True)
    start = serializers.IntegerField()
    end = serializers.IntegerField()
    before = serializers.CharField()
    text = serializers.CharField()
    after = serializers.CharField()


class FoundPerson(serializers.Serializer[Any]):
    case = serializers.IntegerField(allow_null=True)
    count = serializers.IntegerField()
    identifier = serializers.CharField()
    facts = Fact(many=True)


class FoundOut(serializers.Serializer[Any]):
    total = serializers.IntegerField()
    documents = serializers.IntegerField()
    people = FoundPerson(many=True)
    hits = HitOut(many=True)
    more = serializers.IntegerField()


class HitIn(serializers.Serializer[Any]):
    document = serializers.IntegerField()
    start = serializers.IntegerField(min_value=0)
    end = serializers.IntegerField(min_value=0)


class CodeHitsIn(serializers.Serializer[Any]):
    hits = HitIn(many=True)
    extent = serializers.ChoiceField(choices=["hit", "sentence", "turn"])
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=50)
    new_codes = NewCodeIn(many=True, required=False)


class FindView(ProjectView):
    """Find words (POST, since a query may be long), and code what was ticked (PUT)."""

    needs = {"POST": "viewer"}

    @extend_schema(request=FindIn, responses=FoundOut)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(FindIn, request)
        for name in ("documents", "cases"):
            if name in said:
                said[name] = tuple(said[name])
        return Response(finding.hits(self.member, finding.Asked(**said)))

    @extend_schema(request=CodeHitsIn, responses=CountOut)
    def put(self, request: Request, project_id: int) -> Response:
        said = read(CodeHitsIn, request)
        hits = [(hit["document"], hit["start"], hit["end"]) for hit in said["hits"]]
        new = [NewCode(code["name"], code.get("parent")) for code in said.get("new_codes", [])]
        return Response({"count": actions.code_hits(self.member, hits, said["extent"], said["codes"], new)})
