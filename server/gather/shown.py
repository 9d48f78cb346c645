"""How speakers are written out, for other rooms too."""

from typing import Any

from rest_framework import serializers

from server.gather.models import SpeakerRole


class ShelfSpeaker(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    label = serializers.CharField()
    role = serializers.ChoiceField(choices=SpeakerRole.choices)
    case = serializers.IntegerField(source="case_id", allow_null=True)
    case_name = serializers.CharField(source="case.identifier", allow_null=True, default=None)
