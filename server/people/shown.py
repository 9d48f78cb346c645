"""How facts about somebody are written out, for other rooms too."""

from typing import Any

from rest_framework import serializers

from server.people.models import MISSING_CHOICES


class Fact(serializers.Serializer[Any]):
    variable = serializers.CharField()
    text = serializers.CharField()
    missing = serializers.ChoiceField(choices=MISSING_CHOICES, allow_null=True)


class SilentPerson(serializers.Serializer[Any]):
    case = serializers.IntegerField()
    identifier = serializers.CharField()
    facts = Fact(many=True)
