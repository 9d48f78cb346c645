"""The codebook over HTTP: codes, their merging and splitting, pins."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.coding.exchange import FoundCodebook
from core.coding.words import KIND, WORDS, Words
from core.language import say
from server.coding import actions, codebook_files, overview, queries
from server.coding.actions import Move
from server.coding.models import COLOURS
from server.common.api import CountOut, read
from server.common.errors import NotFound, Refusal
from server.common.exports import attached
from server.projects.models import MemberRole
from server.projects.shown import AccountOut
from server.projects.views import ProjectView, by_revision
from server.scope.asked import ScopeIn


class CodeOut(serializers.Serializer[Any]):
    """A code with all that is said of it in words (``core.coding.words``) and its counts."""

    id = serializers.IntegerField()
    parent = serializers.IntegerField(allow_null=True)
    name = serializers.CharField()
    colour = serializers.IntegerField()
    parked = serializers.BooleanField()
    passages = serializers.IntegerField()
    people = serializers.IntegerField()
    documents = serializers.IntegerField()
    branch_passages = serializers.IntegerField(help_text="With all codes beneath it, each passage once.")

    def get_fields(self) -> dict[str, Any]:
        return {**super().get_fields(), **{name: _word_out(one) for name, one in WORDS.items()}}


def _word_out(one: Words) -> serializers.Field[Any, Any, Any, Any]:
    if one.choices:
        return serializers.ChoiceField(choices=list(one.choices), allow_blank=True, help_text=one.about)
    return serializers.CharField(help_text=one.about or None)


def _word_in(one: Words) -> serializers.Field[Any, Any, Any, Any]:
    if one.choices:
        return serializers.ChoiceField(choices=list(one.choices), allow_blank=True, required=False)
    return serializers.CharField(allow_blank=True, required=False, max_length=one.most)


class MadeCode(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()


class PinOut(serializers.Serializer[Any]):
    key = serializers.IntegerField()
    code = serializers.IntegerField()


class CodebookOut(serializers.Serializer[Any]):
    codes = CodeOut(many=True)
    pins = PinOut(many=True)
    coders = AccountOut(many=True)


class CodeIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=160)
    parent = serializers.IntegerField(source="parent_id", allow_null=True, required=False)
    colour = serializers.IntegerField(min_value=0, max_value=COLOURS - 1, required=False)
    parked = serializers.BooleanField(required=False)

    def get_fields(self) -> dict[str, Any]:
        return {**super().get_fields(), **{name: _word_in(one) for name, one in WORDS.items()}}


class CodeChange(CodeIn):
    name = serializers.CharField(max_length=160, required=False)
    before = serializers.IntegerField(source="before_id", required=False, help_text="Stand before this sibling.")


class PinIn(serializers.Serializer[Any]):
    code = serializers.IntegerField(allow_null=True)


class CodesIn(serializers.Serializer[Any]):
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=2000)
    kind = serializers.ChoiceField(choices=["", *KIND["kind"].choices], allow_blank=True, required=False)
    parked = serializers.BooleanField(required=False)


class CodebookView(ProjectView):
    @extend_schema(responses=CodebookOut)
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        return Response(
            {
                "codes": overview.codebook(self.member),
                "pins": [{"key": key, "code": code} for key, code in queries.pins(self.member).items()],
                "coders": AccountOut(queries.coders(self.member), many=True).data,
            }
        )

    @extend_schema(request=CodeIn, responses=MadeCode)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(CodeIn, request)
        return Response(
            MadeCode(actions.create_code(self.member, said.pop("name"), said.pop("parent_id", None), **said)).data
        )

    @extend_schema(request=CodesIn, responses=CountOut)
    def patch(self, request: Request, project_id: int) -> Response:
        """Change many codes at once."""
        said = read(CodesIn, request)
        return Response({"count": actions.change_codes(self.member, said.pop("codes"), **said)})


class CodeView(ProjectView):
    @extend_schema(request=CodeChange, responses=MadeCode)
    def patch(self, request: Request, project_id: int, code_id: int) -> Response:
        return Response(
            MadeCode(actions.change_code(self.member, code_id, **read(CodeChange, request, partial=True))).data
        )

    @extend_schema(responses={204: None})
    def delete(self, request: Request, project_id: int, code_id: int) -> Response:
        actions.delete_code(self.member, code_id)
        return Response(status=204)


class PinView(ProjectView):
    @extend_schema(request=PinIn, responses={204: None})
    def put(self, request: Request, project_id: int, key: int) -> Response:
        actions.pin_code(self.member, key, read(PinIn, request)["code"])
        return Response(status=204)


class MergeCodesIn(serializers.Serializer[Any]):
    codes = serializers.ListField(child=serializers.IntegerField(), min_length=1, max_length=100)
    ratings = serializers.ChoiceField(
        choices=["keep", "drop"], required=False, help_text="Of ratings on another scale than the one that stays."
    )


class MergedCode(serializers.Serializer[Any]):
    code = serializers.IntegerField()
    passages = serializers.IntegerField()
    both = serializers.IntegerField(help_text="Passages that carry the other code too: they become one.")
    beneath = serializers.IntegerField()
    rated_otherwise = serializers.IntegerField(help_text="Ratings on another scale than the one that stays.")


class MergePreview(serializers.Serializer[Any]):
    into = serializers.IntegerField()
    passages = serializers.IntegerField()
    together = serializers.IntegerField()
    scale_low = serializers.CharField()
    scale_high = serializers.CharField()
    codes = MergedCode(many=True)


class MergeView(ProjectView):
    """What merging into a code would do (POST), and merging (PUT)."""

    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=MergeCodesIn, responses=MergePreview)
    def post(self, request: Request, project_id: int, code_id: int) -> Response:
        return Response(overview.merge_preview(self.member, code_id, read(MergeCodesIn, request)["codes"]))

    @extend_schema(request=MergeCodesIn, responses=MadeCode)
    def put(self, request: Request, project_id: int, code_id: int) -> Response:
        said = read(MergeCodesIn, request)
        return Response(
            MadeCode(actions.merge_codes(self.member, code_id, said["codes"], said.get("ratings", ""))).data
        )


class MoveCodingsIn(serializers.Serializer[Any]):
    passage = serializers.IntegerField()
    to = serializers.ListField(child=serializers.IntegerField(min_value=0), max_length=20)


class SplitCodeIn(serializers.Serializer[Any]):
    names = serializers.ListField(child=serializers.CharField(max_length=160), min_length=1, max_length=20)
    moves = MoveCodingsIn(many=True)


class SplitView(ProjectView):
    @extend_schema(request=SplitCodeIn, responses=MadeCode(many=True))
    def post(self, request: Request, project_id: int, code_id: int) -> Response:
        said = read(SplitCodeIn, request)
        moves = [Move(move["passage"], tuple(move["to"])) for move in said["moves"]]
        return Response(MadeCode(actions.split_code(self.member, code_id, said["names"], moves), many=True).data)


class AlikeOut(serializers.Serializer[Any]):
    left = serializers.IntegerField()
    right = serializers.IntegerField()
    by = serializers.ChoiceField(choices=["name", "passages"])
    likeness = serializers.FloatField()


class LookOut(serializers.Serializer[Any]):
    unused = serializers.ListField(child=serializers.IntegerField())
    one_person = serializers.ListField(child=serializers.IntegerField())
    undefined = serializers.ListField(child=serializers.IntegerField())
    alike = AlikeOut(many=True)


class CodebookFileView(ProjectView):
    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project_id: int, ending: str) -> HttpResponse:
        """The codebook as a file: ``csv``, ``xlsx``, or ``qdc`` for other programs."""
        if ending not in codebook_files.FORMATS:
            raise NotFound(say("A codebook is written as csv, xlsx or qdc."))
        make, kind = codebook_files.FORMATS[ending]
        return attached(make(self.member), kind, self.member.project.name, "codebook", ending)


class CodebookUpload(serializers.Serializer[Any]):
    file = serializers.FileField(allow_empty_file=True)
    how = serializers.ChoiceField(choices=["merge", "replace"])
    revision = serializers.IntegerField(required=False, help_text="To bring it in: the preview’s.")


class FoundNewCode(serializers.Serializer[Any]):
    name = serializers.CharField()
    beneath = serializers.CharField()


class FoundChange(serializers.Serializer[Any]):
    name = serializers.CharField()
    what = serializers.CharField()
    before = serializers.CharField()
    after = serializers.CharField()


class FoundGone(serializers.Serializer[Any]):
    name = serializers.CharField()
    passages = serializers.IntegerField()


class CodebookPreview(serializers.Serializer[Any]):
    revision = serializers.IntegerField()
    codes = serializers.IntegerField()
    new = FoundNewCode(many=True)
    changed = FoundChange(many=True)
    same = serializers.IntegerField()
    gone = FoundGone(many=True, help_text="Codes that aren’t in the file, with the passages that lose them.")
    themes = serializers.ListField(child=serializers.CharField())
    warnings = serializers.ListField(child=serializers.CharField())


class CodebookInView(ProjectView):
    """What a codebook in a file would do (POST), and bringing it in (PUT)."""

    @extend_schema(request={"multipart/form-data": CodebookUpload}, responses=CodebookPreview)
    def post(self, request: Request, project_id: int) -> Response:
        said = read(CodebookUpload, request)
        return Response(codebook_files.preview(self.member, _found(said), said["how"]))

    @extend_schema(request={"multipart/form-data": CodebookUpload}, responses=CountOut)
    def put(self, request: Request, project_id: int) -> Response:
        said = read(CodebookUpload, request)
        found = _found(said)
        actions.bring_in_codebook(self.member, found, said["how"], said.get("revision", -1))
        return Response({"count": len(found.codes)})


def _found(said: dict[str, Any]) -> FoundCodebook:
    if said["file"].size > codebook_files.LARGEST:
        raise Refusal(
            say("The file is larger than 5 MB; a codebook has names and definitions only. Is it the right file?")
        )
    return codebook_files.found_in(said["file"].name, said["file"].read())


class CodeCount(serializers.Serializer[Any]):
    code = serializers.IntegerField()
    passages = serializers.IntegerField()
    people = serializers.IntegerField()
    documents = serializers.IntegerField()
    branch_passages = serializers.IntegerField(help_text="With all codes beneath it, each passage once.")

    def get_fields(self) -> dict[str, Any]:
        return {**super().get_fields(), **{name: _word_out(one) for name, one in WORDS.items()}}


class CodeCountsView(ProjectView):
    needs = {"POST": MemberRole.VIEWER}

    @extend_schema(request=ScopeIn, responses=CodeCount(many=True))
    def post(self, request: Request, project_id: int) -> Response:
        """Each code’s counts as far as they are in scope."""
        return Response(overview.counts_in_scope(self.member, read(ScopeIn, request)))


class WantsALookView(ProjectView):
    @extend_schema(responses=LookOut)
    @by_revision
    def get(self, request: Request, project_id: int) -> Response:
        return Response(overview.wants_a_look(self.member))
