"""How accounts and jobs are written out, for other rooms too."""

from typing import Any

from rest_framework import serializers

from server.projects.models import JobState


class ErrorOut(serializers.Serializer[Any]):
    error = serializers.CharField()


class AccountOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    username = serializers.CharField()
    display_name = serializers.CharField()
    initials = serializers.CharField()


class JobOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    title = serializers.CharField()
    state = serializers.ChoiceField(choices=JobState.choices)
    done = serializers.IntegerField()
    total = serializers.IntegerField()
    message = serializers.CharField()
    project = serializers.IntegerField(source="project_id", allow_null=True, help_text="None until it has made one.")
