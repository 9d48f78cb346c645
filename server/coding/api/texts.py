"""Changing coded texts, finding and replacing, and names, over HTTP."""

from collections.abc import Iterable
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.text.editing import Edit, Search, shown_in_context
from server.coding import actions
from server.coding.actions import texts
from server.common.api import CountOut, read
from server.gather import queries
from server.gather.models import Document
from server.projects.models import MemberRole
from server.projects.views import ProjectView

DECISIONS = ["remove", "keep"]
MOST_SHOWN = 500


class EditTurnIn(serializers.Serializer[Any]):
    text = serializers.CharField(allow_blank=True, trim_whitespace=False, max_length=500_000)
    decisions = serializers.DictField(
        child=serializers.ChoiceField(choices=DECISIONS), required=False, help_text="By passage ID."
    )
    begin = serializers.FloatField(
        required=False, help_text="When it begins in the recording (seconds): its number may be another’s by now."
    )


class SearchIn(serializers.Serializer[Any]):
    find = serializers.CharField(max_length=500)
    replacement = serializers.CharField(max_length=500, allow_blank=True, trim_whitespace=False)
    words = serializers.BooleanField(default=True, help_text="Whole words only.")
    case = serializers.BooleanField(default=False, help_text="Capitals matter.")
    documents = serializers.ListField(child=serializers.IntegerField(), required=False, allow_null=True)


class ReplaceIn(SearchIn):
    places = serializers.DictField(
        child=serializers.ListField(child=serializers.IntegerField()),
        required=False,
        allow_null=True,
        help_text="By document ID, where what is found begins; absent for every place.",
    )
    decisions = serializers.DictField(child=serializers.ChoiceField(choices=DECISIONS), required=False)


class DecisionsIn(serializers.Serializer[Any]):
    decisions = serializers.DictField(child=serializers.ChoiceField(choices=DECISIONS), required=False)


class Place(serializers.Serializer[Any]):
    document = serializers.IntegerField()
    title = serializers.CharField()
    start = serializers.IntegerField()
    before = serializers.CharField()
    found = serializers.CharField()
    after = serializers.CharField()
    replacement = serializers.CharField()


class LostOut(serializers.Serializer[Any]):
    passage = serializers.IntegerField()
    document = serializers.IntegerField()
    title = serializers.CharField()
    text = serializers.CharField()
    codes = serializers.ListField(child=serializers.CharField())


class Preview(serializers.Serializer[Any]):
    places = Place(many=True)
    total = serializers.IntegerField()
    documents = serializers.IntegerField()
    lost = LostOut(many=True)


class NamePairOut(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=120)
    pseudonym = serializers.CharField(max_length=120, allow_blank=True)


class NamesIn(serializers.Serializer[Any]):
    pairs = NamePairOut(many=True)


def decisions_of(said: dict[str, Any]) -> dict[int, Any]:
    return {int(pk): choice for pk, choice in (said.get("decisions") or {}).items() if pk.isdigit()}


def _preview(found: Iterable[tuple[Document, list[Edit]]]) -> dict[str, Any]:
    """What would change, and which passages would lose all their words; nothing is written."""
    places: list[dict[str, Any]] = []
    lost: list[dict[str, Any]] = []
    total = documents = 0
    for document, edits in found:
        documents += 1
        total += len(edits)
        for edit in edits[: max(0, MOST_SHOWN - len(places))]:
            before, what, after = shown_in_context(document.text, edit)
            places.append(
                {
                    "document": document.pk,
                    "title": document.title,
                    "start": edit.start,
                    "before": before,
                    "found": what,
                    "after": after,
                    "replacement": edit.text,
                }
            )
        lost += [vars(one) for one in texts.lost_by(document, edits)]
    return {"places": places, "total": total, "documents": documents, "lost": lost}


class TurnTextView(ProjectView):
    @extend_schema(request=EditTurnIn, responses={204: None})
    def put(self, request: Request, project_id: int, document_id: int, number: int) -> Response:
        said = read(EditTurnIn, request)
        actions.edit_turn(self.member, document_id, number, said["text"], decisions_of(said), said.get("begin"))
        return Response(status=204)

    @extend_schema(request=EditTurnIn, responses=Preview)
    def post(self, request: Request, project_id: int, document_id: int, number: int) -> Response:
        """What would become of the passages; nothing is written."""
        document = queries.document(self.member, document_id)
        edits = texts.turn_edits(document, number, read(EditTurnIn, request)["text"])
        return Response(_preview([(document, edits)]))


class ReplacePreviewView(ProjectView):
    @extend_schema(request=SearchIn, responses=Preview)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(SearchIn, request)
        search = Search(said["find"], said["words"], said["case"])
        found = texts.found_in(self.member, search, said["replacement"], said.get("documents"))
        return Response(_preview(found.values()))


class ReplaceView(ProjectView):
    @extend_schema(request=ReplaceIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(ReplaceIn, request)
        search = Search(said["find"], said["words"], said["case"])
        places = said.get("places")
        chosen = None if places is None else {int(pk): starts for pk, starts in places.items() if pk.isdigit()}
        if chosen is None and said.get("documents") is not None:
            found = texts.found_in(self.member, search, said["replacement"], said["documents"])
            chosen = {pk: [edit.start for edit in edits] for pk, (_, edits) in found.items()}
        count = actions.replace_all(self.member, search, said["replacement"], chosen, decisions_of(said))
        return Response({"count": count})


class NamesView(ProjectView):
    needs = {"GET": MemberRole.CODER}

    @extend_schema(responses=NamePairOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(NamePairOut(texts.pairs(self.member), many=True).data)

    @extend_schema(request=NamesIn, responses=NamePairOut(many=True))
    def put(self, request: Request, project_id: int) -> Response:
        said = [(one["name"], one["pseudonym"]) for one in read(NamesIn, request)["pairs"]]
        return Response(NamePairOut(actions.set_pairs(self.member, said), many=True).data)


class AnonymisePreviewView(ProjectView):
    @extend_schema(request=None, responses=Preview)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(_preview(texts.named_in(self.member).values()))


class AnonymiseView(ProjectView):
    @extend_schema(request=DecisionsIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response({"count": actions.anonymise(self.member, decisions_of(read(DecisionsIn, request)))})
