"""Finding words, and coding what was found, over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.coding.find import LANGUAGES
from server.coding import actions, finding, vocabulary
from server.coding.actions import NewCode
from server.coding.api.passages import NewCodeIn
from server.common.api import CountOut, frozen, read, read_frozen
from server.people.shown import Fact
from server.projects.models import MemberRole
from server.projects.views import ProjectView


class FindIn(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=500)
    how = serializers.ChoiceField(choices=["words", "phrase", "exact", "forms", "near", "pattern"], required=False)
    language = serializers.ChoiceField(choices=LANGUAGES, required=False)
    within = serializers.IntegerField(min_value=1, max_value=100, required=False)
    everyone = serializers.BooleanField(required=False)
    variable = serializers.IntegerField(required=False)
    documents = serializers.ListField(child=serializers.IntegerField(), required=False)
    cases = serializers.ListField(child=serializers.IntegerField(), required=False)
    skip = serializers.IntegerField(min_value=0, required=False, help_text="Hits that were listed before.")


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


class FoundGroup(serializers.Serializer[Any]):
    name = serializers.CharField()
    hits = serializers.IntegerField()
    people = serializers.IntegerField(help_text="Who says it.")
    size = serializers.IntegerField(help_text="All in the group.")


class NearWord(serializers.Serializer[Any]):
    word = serializers.CharField()
    count = serializers.IntegerField()


class FoundOut(serializers.Serializer[Any]):
    total = serializers.IntegerField()
    documents = serializers.IntegerField()
    people = FoundPerson(many=True)
    groups = FoundGroup(many=True, help_text="By the variable asked for.")
    near = NearWord(many=True, help_text="Words that are said and written nearly so, where little is found.")
    hits = HitOut(many=True)
    more = serializers.IntegerField()


class LikeOut(HitOut):
    likeness = serializers.FloatField(help_text="Cosine of their words, 0 to 1.")
    codes = serializers.ListField(child=serializers.IntegerField())


class WordsIn(serializers.Serializer[Any]):
    variable = serializers.IntegerField(required=False)
    by = serializers.CharField(required=False, help_text="The group whose own words come first.")
    everybodys = serializers.BooleanField(required=False, help_text="Words that nearly everybody uses, too.")
    idle = serializers.ChoiceField(
        choices=vocabulary.IDLE_LANGUAGES, required=False, help_text="Without this language’s words that say nothing."
    )
    documents = serializers.ListField(child=serializers.IntegerField(), required=False)
    cases = serializers.ListField(child=serializers.IntegerField(), required=False)


class WordGroup(serializers.Serializer[Any]):
    name = serializers.CharField()
    words = serializers.IntegerField()


class WordOut(serializers.Serializer[Any]):
    word = serializers.CharField()
    count = serializers.IntegerField()
    people = serializers.IntegerField()
    by_group = serializers.ListField(child=serializers.IntegerField())
    rates = serializers.ListField(child=serializers.FloatField(), help_text="Times in 1,000 words of the group.")
    apart = serializers.ListField(child=serializers.FloatField(), help_text="In standard errors.")
    stands_out = serializers.ListField(
        child=serializers.IntegerField(), help_text="1 more than others, -1 less: rare among shuffles of people, too."
    )


class WordsOut(serializers.Serializer[Any]):
    groups = WordGroup(many=True)
    people = serializers.IntegerField()
    different = serializers.IntegerField()
    left_out = serializers.IntegerField(help_text="Different words left out as nearly everybody’s.")
    unsaid = serializers.IntegerField(help_text="Others, since they say nothing or were left out by hand.")
    by_chance = serializers.IntegerField(help_text="Marks that would stand where groups don’t differ, at most.")
    dropped = serializers.ListField(child=serializers.CharField(), help_text="All that were left out by hand.")
    words = WordOut(many=True)


class DroppingIn(serializers.Serializer[Any]):
    drop = serializers.ListField(child=serializers.CharField(max_length=80), required=False, max_length=500)
    keep = serializers.ListField(child=serializers.CharField(max_length=80), required=False, max_length=2000)


class HitIn(serializers.Serializer[Any]):
    document = serializers.IntegerField()
    start = serializers.IntegerField(min_value=0)
    end = serializers.IntegerField(min_value=0)


class CodeHitsIn(serializers.Serializer[Any]):
    hits = HitIn(many=True, help_text="Those that are coded; with `all_of`, those that aren’t.")
    all_of = FindIn(required=False, help_text="All that this finds, listed or not.")
    extent = serializers.ChoiceField(choices=["hit", "sentence", "turn"])
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=50)
    new_codes = NewCodeIn(many=True, required=False)


class FindView(ProjectView):
    """Find words (POST, since a query may be long), and code what was ticked (PUT)."""

    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=FindIn, responses=FoundOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(finding.hits(self.member, finding.Asked(**read_frozen(FindIn, request))))

    @extend_schema(request=CodeHitsIn, responses=CountOut)
    def put(self, request: Request, project_id: int) -> Response:
        said = read(CodeHitsIn, request)
        hits = [(hit["document"], hit["start"], hit["end"]) for hit in said["hits"]]
        if "all_of" in said:
            left_out = set(hits)
            every = finding.every(self.member, finding.Asked(**frozen(said["all_of"])))
            hits = [hit for hit in every if hit not in left_out]
        new = [NewCode(code["name"], code.get("parent")) for code in said.get("new_codes", [])]
        return Response({"count": actions.code_hits(self.member, hits, said["extent"], said["codes"], new)})


class WordsView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=WordsIn, responses=WordsOut)
    def post(self, request: Request, project_id: int) -> Response:
        """The words used most, by group."""
        return Response(vocabulary.words(self.member, vocabulary.Asked(**read_frozen(WordsIn, request))))

    @extend_schema(request=DroppingIn, responses=CountOut)
    def put(self, request: Request, project_id: int) -> Response:
        """Leave words out of the lists, or list them again."""
        said = read(DroppingIn, request)
        count = actions.drop_words(self.member, said["drop"]) if said.get("drop") else 0
        count += actions.keep_words(self.member, said["keep"]) if said.get("keep") else 0
        return Response({"count": count})


class LikeView(ProjectView):
    @extend_schema(responses=LikeOut(many=True))
    def get(self, request: Request, project_id: int, passage_id: int) -> Response:
        """Turns whose words are most like a passage’s."""
        return Response(vocabulary.like(self.member, passage_id))
