"""Topics that words propose, over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.coding.find import LANGUAGES
from server.coding import actions, jobs, queries, topics
from server.coding.api.finding import HitIn, HitOut
from server.common.api import CountOut, read
from server.projects.models import MemberRole
from server.projects.shown import JobOut
from server.projects.views import ProjectView
from server.scope.asked import ScopeIn


class TopicsIn(serializers.Serializer[Any]):
    scope = ScopeIn(required=False)
    variable = serializers.IntegerField(required=False, allow_null=True, help_text="Count people by its groups, too.")


class TopicPhraseOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    said = serializers.CharField()
    left_out = serializers.BooleanField()
    hits = serializers.IntegerField(help_text="Sentences in play that hold it, ticked or not.")
    people = serializers.IntegerField()


class TopicGroup(serializers.Serializer[Any]):
    people = serializers.IntegerField()
    size = serializers.IntegerField()


class TopicOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    code = serializers.IntegerField(allow_null=True, help_text="What it was kept as.")
    dropped = serializers.BooleanField()
    phrases = TopicPhraseOut(many=True)
    hits = serializers.IntegerField(help_text="Stretches that are ticked.")
    unticked = serializers.IntegerField()
    people = serializers.IntegerField(help_text="Linked people who say what is ticked.")
    documents = serializers.IntegerField()
    not_linked = serializers.IntegerField(help_text="Ticked stretches of speakers who aren’t linked.")
    groups = TopicGroup(many=True)


class TopicsOut(serializers.Serializer[Any]):
    topics = TopicOut(many=True)
    groups = serializers.ListField(child=serializers.CharField())
    people = serializers.IntegerField(help_text="All who say anything in play.")


class ProposeIn(serializers.Serializer[Any]):
    scope = ScopeIn(required=False)
    question = serializers.CharField(required=False, help_text="Only answers to this open question.")
    language = serializers.ChoiceField(choices=LANGUAGES)
    many = serializers.IntegerField(min_value=topics.MANY[0], max_value=topics.MANY[1])


class TopicIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=300)


class TopicIds(serializers.Serializer[Any]):
    topics = serializers.ListField(child=serializers.IntegerField(), max_length=100)


class DropIn(TopicIds):
    dropped = serializers.BooleanField()


class PhraseIn(serializers.Serializer[Any]):
    left_out = serializers.BooleanField()


class TopicHitsIn(serializers.Serializer[Any]):
    scope = ScopeIn(required=False)
    skip = serializers.IntegerField(min_value=0, required=False)


class TopicHitOut(HitOut):
    marks = serializers.ListField(
        child=serializers.ListField(child=serializers.IntegerField()), help_text="Words of its phrases within the text."
    )
    ticked = serializers.BooleanField()


class TopicHitsOut(serializers.Serializer[Any]):
    hits = TopicHitOut(many=True)
    total = serializers.IntegerField()
    more = serializers.IntegerField()


class TicksIn(serializers.Serializer[Any]):
    hits = HitIn(many=True, required=False)
    every = serializers.BooleanField(required=False, help_text="All hits in play, listed or not.")
    scope = ScopeIn(required=False)
    ticked = serializers.BooleanField()


class KeepIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=300, required=False)
    parent = serializers.IntegerField(required=False, allow_null=True)
    into = serializers.IntegerField(
        required=False, allow_null=True, help_text="A code that there is, in place of a new one."
    )
    scope = ScopeIn(required=False)


class KeptTopicOut(serializers.Serializer[Any]):
    code = serializers.IntegerField()


class TopicsView(ProjectView):
    """Look at the topics (POST, since a scope may be long)."""

    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=TopicsIn, responses=TopicsOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(topics.whole(self.member, read(TopicsIn, request)))


class ProposeView(ProjectView):
    @extend_schema(request=ProposeIn, responses={202: JobOut})
    def post(self, request: Request, project_id: int) -> Response:
        """Have topics proposed, in place of those that nobody has kept."""
        return Response(JobOut(jobs.start_proposing(self.member, read(ProposeIn, request))).data, status=202)


class TopicView(ProjectView):
    @extend_schema(request=TopicIn, responses={204: None})
    def patch(self, request: Request, project_id: int, topic_id: int) -> Response:
        actions.rename_topic(self.member, topic_id, read(TopicIn, request)["name"])
        return Response(status=204)


class MergeTopicsView(ProjectView):
    @extend_schema(request=TopicIds, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """All of these become the first; the answer is its number."""
        return Response({"count": actions.merge_topics(self.member, read(TopicIds, request)["topics"])})


class DropTopicsView(ProjectView):
    @extend_schema(request=DropIn, responses={204: None})
    def post(self, request: Request, project_id: int) -> Response:
        said = read(DropIn, request)
        actions.drop_topics(self.member, said["topics"], said["dropped"])
        return Response(status=204)


class TopicPhraseView(ProjectView):
    @extend_schema(request=PhraseIn, responses={204: None})
    def patch(self, request: Request, project_id: int, phrase_id: int) -> Response:
        actions.leave_out_phrase(self.member, phrase_id, read(PhraseIn, request)["left_out"])
        return Response(status=204)


class TopicHitsView(ProjectView):
    """Read a topic's hits (POST), tick and untick them (PUT)."""

    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=TopicHitsIn, responses=TopicHitsOut)
    def post(self, request: Request, project_id: int, topic_id: int) -> Response:
        return Response(topics.hits(self.member, topic_id, read(TopicHitsIn, request)))

    @extend_schema(request=TicksIn, responses=CountOut)
    def put(self, request: Request, project_id: int, topic_id: int) -> Response:
        said = read(TicksIn, request)
        hits = [(one["document"], one["start"], one["end"]) for one in said.get("hits", [])]
        if said.get("every"):
            topic = queries.topic(self.member, topic_id)
            hits = [one[:3] for one in topics.stretches_of(self.member, topic, said.get("scope") or {})]
        return Response({"count": actions.tick_hits(self.member, topic_id, hits, said["ticked"])})


class KeepTopicView(ProjectView):
    @extend_schema(request=KeepIn, responses=KeptTopicOut)
    def post(self, request: Request, project_id: int, topic_id: int) -> Response:
        """Make a code of what is ticked and in play."""
        said = read(KeepIn, request)
        topic = queries.topic(self.member, topic_id)
        every = topics.stretches_of(self.member, topic, said.get("scope") or {})
        hits = [(pk, start, end) for pk, start, end, ticked in every if ticked]
        name = said.get("name") or topic.name
        code = actions.keep_topic(self.member, topic_id, hits, name, said.get("parent"), said.get("into"))
        return Response({"code": code.pk})
