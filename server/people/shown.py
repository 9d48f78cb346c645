"""How facts about somebody are written out, for other rooms too."""

from typing import Any

from rest_framework import serializers


class Fact(serializers.Serializer[Any]):
    variable = serializers.CharField()
    text = serializers.CharField()


class SilentPerson(serializers.Serializer[Any]):
    case = serializers.IntegerField()
    identifier = serializers.CharField()
    facts = Fact(many=True)
