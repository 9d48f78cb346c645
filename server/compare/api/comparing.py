"""Comparisons, their evidence and exports over HTTP. All of it reads; asking is by POST
because a question may name hundreds of codes."""

from datetime import date
from typing import Any, get_args

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.compare.counts import REASONS_LEFT_OUT
from core.compare.measures import BASES, MEASURES
from core.compare.told.sentence import PartKind
from server.common.api import ProjectView, read
from server.common.exports import CSV, DOCX, XLSX, attached
from server.compare import evidence, exports, queries
from server.compare.asking import ask
from server.compare.models import ROW_KINDS
from server.gather.api.documents import RegionOut, SpanOut
from server.people.api.cohorts import check

MEASURE_IDS = [one.id for one in MEASURES]
COLUMNS = ["variable", "cohorts", "cases", "documents"]
TESTS = [
    "chi_square", "exact", "exact_simulated", "permutation", "layered", "changes", "occasions", "none",
]  # fmt: skip


class ScopeIn(serializers.Serializer[Any]):
    documents = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=20_000)
    cases = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=20_000)
    coders = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=1000)
    codes = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=2000)
    who = serializers.JSONField(required=False, allow_null=True, help_text="A condition on cases, as a cohort’s.")
    since = serializers.DateField(required=False, allow_null=True, help_text="Codings made on this day or later.")
    until = serializers.DateField(required=False, allow_null=True)
    query = serializers.IntegerField(required=False, allow_null=True, help_text="Passages of this saved query only.")

    def validate_who(self, said: Any) -> Any:
        if said is not None:
            check(said)
        return said

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """Days stay words: what is asked is kept as JSON."""
        found: dict[str, Any] = super().to_internal_value(data)
        return {name: value.isoformat() if isinstance(value, date) else value for name, value in found.items()}


class ComparisonIn(serializers.Serializer[Any]):
    codes = serializers.ListField(child=serializers.IntegerField(), max_length=2000)
    themes = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=200)
    queries = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=200)
    columns = serializers.ChoiceField(choices=COLUMNS, default="variable", help_text="What makes the groups.")
    variable = serializers.IntegerField(
        required=False, allow_null=True, help_text="Of cases or of documents; with columns “variable”."
    )
    cohorts = serializers.ListField(
        child=serializers.IntegerField(), required=False, allow_null=True, max_length=200, help_text="None: all."
    )
    second = serializers.IntegerField(
        required=False, allow_null=True, help_text="A variable nested in the groups, or whose groups are layers."
    )
    second_as = serializers.ChoiceField(choices=["nested", "layers"], default="nested")
    second_groups = serializers.ListField(
        child=serializers.CharField(), required=False, allow_null=True, max_length=500
    )
    roll_up = serializers.BooleanField(default=True)
    groups = serializers.ListField(child=serializers.CharField(), required=False, allow_null=True, max_length=500)
    cuts = serializers.ListField(child=serializers.FloatField(), required=False, allow_null=True, max_length=50)
    measure = serializers.ChoiceField(choices=MEASURE_IDS, default="people")
    base = serializers.ChoiceField(choices=list(BASES), required=False)
    difference = serializers.ListField(child=serializers.CharField(), required=False, allow_null=True, max_length=2)
    permutations = serializers.BooleanField(default=True)
    scope = ScopeIn(required=False)

    def validate_cuts(self, cuts: list[float] | None) -> list[float] | None:
        if cuts and any(cut != cut or abs(cut) == float("inf") for cut in cuts):
            raise serializers.ValidationError("A cut point has to be a number.")
        return cuts


class EvidenceIn(ComparisonIn):
    row = serializers.IntegerField(required=False, allow_null=True, min_value=0)
    group = serializers.IntegerField(required=False, allow_null=True, min_value=0)
    left_out = serializers.ChoiceField(choices=list(REASONS_LEFT_OUT[1:]), required=False, allow_null=True)
    limit = serializers.IntegerField(required=False, min_value=1, max_value=5000)

    def validate(self, said: dict[str, Any]) -> dict[str, Any]:
        rows = sum(len(said.get(name) or []) for name in ("codes", "themes", "queries"))
        if (said.get("row") or 0) >= max(rows, 1):
            raise serializers.ValidationError("There is no such row in this comparison.")
        return said


class ExportIn(ComparisonIn):
    format = serializers.ChoiceField(choices=["xlsx", "csv", "docx"])
    what = serializers.ChoiceField(choices=["table", "passages"], default="table")
    least = serializers.IntegerField(
        default=0, min_value=0, max_value=50, help_text="Cells of fewer people are hidden; 0 and 1 hide none."
    )

    def validate(self, said: dict[str, Any]) -> dict[str, Any]:
        if said["what"] == "passages" and said["format"] == "csv":
            raise serializers.ValidationError("Passages are written as .xlsx or .docx.")
        return said


class Part(serializers.Serializer[Any]):
    text = serializers.CharField()
    kind = serializers.ChoiceField(choices=list(get_args(PartKind)), help_text="What choosing it changes.")


class BaseOut(serializers.Serializer[Any]):
    id = serializers.ChoiceField(choices=list(BASES))
    words = serializers.CharField()


class MeasureOut(serializers.Serializer[Any]):
    id = serializers.ChoiceField(choices=MEASURE_IDS)
    words = serializers.CharField()
    hint = serializers.CharField()


class FiguresOut(serializers.Serializer[Any]):
    """How the measure's figures are written."""

    taken = serializers.CharField(help_text="How the sentence goes on from what is counted to the base.")
    share = serializers.BooleanField(help_text="Whether a figure is a share from 0 to 1.")
    unit = serializers.CharField(allow_blank=True, help_text="Of a figure that isn’t a share.")
    head = serializers.CharField(help_text="Of a column of figures.")
    cell = serializers.CharField(help_text="What a figure is made of: {count}, {counted} (with its noun), {base}.")
    amount = serializers.BooleanField(help_text="Whether one talkative person can make most of a figure.")
    noun = serializers.ListField(child=serializers.CharField(), help_text="Of what is counted: one, several.")


class ToldOut(serializers.Serializer[Any]):
    """Something said of a result, and of what kind it is."""

    kind = serializers.CharField()
    text = serializers.CharField()


class GroupOut(serializers.Serializer[Any]):
    name = serializers.CharField()
    label = serializers.CharField(help_text="Within its outer group, or the name where there is none.")
    outer = serializers.CharField(allow_blank=True)
    mark = serializers.IntegerField(help_text="Which colour and shape: the same wherever this group stands.")
    people = serializers.IntegerField()
    passages = serializers.IntegerField()
    words = serializers.IntegerField()


class TotalOut(serializers.Serializer[Any]):
    people = serializers.IntegerField()
    passages = serializers.IntegerField()
    figure = serializers.FloatField(allow_null=True)
    count = serializers.IntegerField()
    base = serializers.IntegerField()
    most = serializers.IntegerField()
    most_by = serializers.CharField(allow_null=True)


class ComparedCell(TotalOut):
    median = serializers.FloatField(allow_null=True)
    deviation = serializers.FloatField(allow_null=True, help_text="Standard deviation of ratings.")
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    residual = serializers.FloatField(allow_null=True)


class TestOut(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=TESTS)
    statistic = serializers.FloatField(allow_null=True)
    p = serializers.FloatField(allow_null=True)
    error = serializers.FloatField(allow_null=True)
    holm = serializers.FloatField(allow_null=True)
    benjamini_hochberg = serializers.FloatField(allow_null=True)
    effect = serializers.FloatField(allow_null=True)


class DifferenceOut(serializers.Serializer[Any]):
    difference = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    odds_ratio = serializers.FloatField(allow_null=True)
    relative_risk = serializers.FloatField(allow_null=True)
    seen = serializers.FloatField(
        allow_null=True, help_text="The smallest difference that would be shown with 80 % power; null: none would."
    )


class TrendOut(serializers.Serializer[Any]):
    z = serializers.FloatField(allow_null=True)
    p = serializers.FloatField(allow_null=True)


class WithinLayersOut(serializers.Serializer[Any]):
    odds_ratio = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    differ_p = serializers.FloatField(allow_null=True)


class ChangesOut(serializers.Serializer[Any]):
    both = serializers.IntegerField()
    only_first = serializers.IntegerField()
    only_second = serializers.IntegerField()
    neither = serializers.IntegerField()
    p = serializers.FloatField(allow_null=True)


class ComparedRow(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=ROW_KINDS)
    id = serializers.IntegerField()
    name = serializers.CharField()
    colour = serializers.IntegerField(allow_null=True)
    cells = ComparedCell(many=True)
    total = TotalOut()
    left_out = serializers.DictField(child=serializers.IntegerField())
    test = TestOut()
    difference = DifferenceOut(allow_null=True)
    trend = TrendOut(allow_null=True)
    layers = WithinLayersOut(allow_null=True)
    changes = ChangesOut(allow_null=True)


class LeftOutPart(serializers.Serializer[Any]):
    reason = serializers.ChoiceField(choices=list(REASONS_LEFT_OUT))
    passages = serializers.IntegerField()
    words = serializers.CharField()


class WholeOut(serializers.Serializer[Any]):
    """The whole table as one, where everyone mentions exactly one row."""

    statistic = serializers.FloatField()
    degrees = serializers.IntegerField()
    p = serializers.FloatField()
    error = serializers.FloatField()
    exact = serializers.BooleanField()
    v = serializers.FloatField()
    effect = serializers.FloatField()


class ComparisonOut(serializers.Serializer[Any]):
    revision = serializers.IntegerField()
    sentence = Part(many=True)
    measure = serializers.ChoiceField(choices=MEASURE_IDS)
    base = serializers.ChoiceField(choices=list(BASES))
    bases = BaseOut(many=True)
    measures = MeasureOut(many=True)
    figures = FiguresOut()
    all_groups = serializers.ListField(child=serializers.CharField())
    outer = serializers.ListField(child=serializers.CharField(), help_text="The outer groups, or layers; may be none.")
    layered = serializers.BooleanField()
    ordered = serializers.BooleanField()
    cuts = serializers.ListField(child=serializers.FloatField())
    groups = GroupOut(many=True)
    rows = ComparedRow(many=True)
    difference = serializers.ListField(child=serializers.IntegerField(), allow_null=True)
    layer_pair = serializers.ListField(
        child=serializers.IntegerField(), allow_null=True, help_text="Of a layer: whose odds over whose."
    )
    left_out = LeftOutPart(many=True)
    in_scope = serializers.IntegerField()
    left_out_line = serializers.CharField()
    cautions = ToldOut(many=True)
    methods = serializers.CharField(help_text="What was done, in a paragraph ready to be cited.")
    sources = serializers.ListField(child=serializers.CharField())
    tests_made = serializers.IntegerField()
    everyone = serializers.IntegerField(help_text="People in the base of any group.")
    whole = WholeOut(allow_null=True)
    shared_people = serializers.IntegerField(help_text="People in the base of two groups or more.")


class FindingOut(serializers.Serializer[Any]):
    row = serializers.IntegerField()
    name = serializers.CharField()
    colour = serializers.IntegerField(allow_null=True)
    groups = serializers.ListField(child=serializers.IntegerField(), help_text="The higher one, the lower one.")
    sure = serializers.BooleanField()
    text = serializers.CharField()
    cautions = serializers.ListField(child=serializers.CharField())


class StandsOut(serializers.Serializer[Any]):
    findings = FindingOut(many=True)
    otherwise = serializers.CharField(allow_blank=True, help_text="What it means that there are none.")


class Fact(serializers.Serializer[Any]):
    variable = serializers.CharField()
    text = serializers.CharField()


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


class SilentPerson(serializers.Serializer[Any]):
    case = serializers.IntegerField()
    identifier = serializers.CharField()
    facts = Fact(many=True)


class EvidencePerson(serializers.Serializer[Any]):
    case = serializers.IntegerField(allow_null=True)
    identifier = serializers.CharField()
    facts = Fact(many=True)
    total = serializers.IntegerField()
    passages = Quoted(many=True)


class EvidenceOut(serializers.Serializer[Any]):
    people = serializers.IntegerField()
    passages = serializers.IntegerField()
    persons = EvidencePerson(many=True)
    silent = SilentPerson(many=True)
    more = serializers.IntegerField()


class AroundCode(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    colour = serializers.IntegerField()
    people = serializers.IntegerField(help_text="Of the number’s people.")
    passages = serializers.IntegerField()


class AroundOut(serializers.Serializer[Any]):
    codes = AroundCode(many=True)


class CompareView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=ComparisonIn, responses=ComparisonOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(queries.comparison(self.member, read(ComparisonIn, request)))


class StandsOutView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=ComparisonIn, responses=StandsOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(queries.stands_out(self.member, read(ComparisonIn, request)))


class EvidenceView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=EvidenceIn, responses=EvidenceOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(evidence.evidence_for(self.member, read(EvidenceIn, request)))


class AroundView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=EvidenceIn, responses=AroundOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Other codes on the passages behind one number, or in the same turns, said by the same people."""
        return Response(evidence.around_for(self.member, read(EvidenceIn, request)))


TABLES = {"xlsx": (exports.as_xlsx, XLSX), "csv": (exports.as_csv, CSV), "docx": (exports.as_docx, DOCX)}
PASSAGES = {"xlsx": (exports.passages_xlsx, XLSX), "docx": (exports.passages_docx, DOCX)}


class ExportView(ProjectView):
    needs = {"POST": "viewer"}

    @extend_schema(request=ExportIn, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def post(self, request: Request, project_id: int) -> HttpResponse:
        """The table, or all its passages, as a file."""
        said = read(ExportIn, request)
        project, kind = self.member.project, said["format"]
        result = queries.comparison(self.member, said)
        if said["what"] == "passages":
            write, content_type = PASSAGES[kind]
            made = write(exports.lines_of_comparison(ask(self.member, said), exports.sentence_of(result)))
        else:
            result = exports.with_small_hidden(result, said["least"], project.case_many)
            make, content_type = TABLES[kind]
            made = make(result, project.name, project.case_many)
        what = "comparison" if said["what"] == "table" else "passages"
        return attached(made, content_type, project.name, what, kind)
