"""How passages are written out, for other rooms too."""

from typing import Any

from rest_framework import serializers

from core.coding.places import FULL
from server.common.kinds import MemoKind
from server.people.shown import Fact


class PassageMemo(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    text = serializers.CharField()
    kind = serializers.ChoiceField(choices=MemoKind.choices, allow_blank=True)
    author = serializers.CharField()
    author_id = serializers.IntegerField()
    source = serializers.CharField(help_text="Whose comment in the file it was.")


class CodingOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    code = serializers.IntegerField()
    coder = serializers.IntegerField()
    initials = serializers.CharField()
    coder_name = serializers.CharField()
    rating = serializers.IntegerField(allow_null=True, help_text="1 to 5, on the code’s own scale.")
    by_words = serializers.BooleanField(help_text="Words proposed it, as part of a topic; the coder accepted it.")


class RegionOut(serializers.Serializer[Any]):
    """A part of a picture or page; edges in ten-thousandths of its width and height."""

    page = serializers.IntegerField(min_value=1)
    left = serializers.IntegerField(min_value=0, max_value=FULL)
    top = serializers.IntegerField(min_value=0, max_value=FULL)
    right = serializers.IntegerField(min_value=0, max_value=FULL)
    bottom = serializers.IntegerField(min_value=0, max_value=FULL)


class SpanOut(serializers.Serializer[Any]):
    """Seconds of a recording."""

    begin = serializers.FloatField(min_value=0)
    finish = serializers.FloatField(min_value=0)


class PassageOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    start = serializers.IntegerField(help_text="Code points, from the start of the text; 0 for a region or span.")
    end = serializers.IntegerField()
    region = RegionOut(allow_null=True)
    span = SpanOut(allow_null=True)
    codings = CodingOut(many=True)
    memos = PassageMemo(many=True)


class ProposedOut(serializers.Serializer[Any]):
    """A code proposed for new passages of a speaker, or of the whole document."""

    code = serializers.IntegerField()
    speaker = serializers.IntegerField(allow_null=True)


class Quoted(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    document = serializers.IntegerField()
    title = serializers.CharField()
    turn = serializers.IntegerField()
    speaker = serializers.CharField()
    before = serializers.CharField()
    text = serializers.CharField()
    after = serializers.CharField()
    region = RegionOut(allow_null=True)
    span = SpanOut(allow_null=True)
    picture = serializers.CharField(help_text="Of a region: the picture, beneath the document’s address.")


class EvidencePerson(serializers.Serializer[Any]):
    case = serializers.IntegerField(allow_null=True)
    identifier = serializers.CharField()
    facts = Fact(many=True)
    total = serializers.IntegerField()
    passages = Quoted(many=True)
