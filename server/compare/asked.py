"""What a comparison is asked with, and how it is drawn: said once, here. The API, what is kept and frozen, project files and
the web's addresses are made of it."""

from typing import Any

from rest_framework import serializers

from core.compare.counts import REASONS_LEFT_OUT
from core.compare.groups import PERIODS
from core.compare.measures import BASES, MEASURES
from core.compare.question import ACCORDS
from core.language import say
from server.scope.asked import ScopeIn
from server.scope.grammar import AnyField, Said, fields_of, flag, ids, labels, one_row, word

MEASURE_IDS = tuple(one.id for one in MEASURES)
COLUMNS = ("variable", "cohorts", "cases", "documents", "document_cohorts")
FORMS = ("table", "bars", "gaps", "flow", "tiles", "matrix", "map", "people", "spread", "waves")
ORDERS = ("codebook", "size", "difference", "likeness")
TINTS = ("expected", "share", "none")
SCALES = ("all", "row", "column")
EACH = ("people", "documents")


def _cut_points() -> AnyField:
    return serializers.ListField(child=serializers.FloatField(), required=False, allow_null=True, max_length=50)


QUESTION = [
    Said("codes", "ids", ids(2000, required=True, nullable=False), "codes", kind="code"),
    Said("themes", "ids", ids(200, nullable=False), "themes", kind="theme"),
    Said("queries", "ids", ids(200, nullable=False), "queries", kind="query"),
    # One word of an address says what makes the groups: a variable by its number, or one of these.
    Said("columns", "word", word(COLUMNS, "variable", "What makes the groups."), "variable", "variable", words=COLUMNS),
    Said("variable", "id", one_row("Of cases or of documents; with columns “variable”."), "variable", kind="variable"),
    Said("cohorts", "ids", ids(200, "None: all."), "cohorts", kind="cohort"),
    Said("second", "id", one_row("A variable nested in the groups, or whose groups are layers."), "second",
         kind="variable"),
    Said("second_as", "word", word(("nested", "layers"), "nested"), "as", "nested", words=("nested", "layers")),
    Said("second_groups", "labels", labels(500), "within"),
    Said("roll_up", "flag", flag(True), "rollup", True),
    Said("groups", "labels", labels(500), "groups"),
    Said("cuts", "numbers", _cut_points, "cuts"),
    Said("period", "word", word(PERIODS, None), "period", words=PERIODS),
    Said("measure", "word", word(MEASURE_IDS, "people"), "measure", "people", words=MEASURE_IDS),
    Said("base", "word", word(BASES, None), "base", words=BASES),
    Said("accord", "word", word(ACCORDS, "either"), "accord", "either", words=ACCORDS),
    Said("difference", "labels", labels(2), "difference"),
    Said("permutations", "flag", flag(True), usual=True),
    Said("adjusted", "ids", ids(6, "Variables held at once beside it.", nullable=False), "adjusted", kind="variable"),
    Said("scope", "inner", lambda: ScopeIn(required=False)),
]  # fmt: skip


class ComparisonIn(serializers.Serializer[Any]):
    def get_fields(self) -> dict[str, AnyField]:
        return {**fields_of(QUESTION), **super().get_fields()}

    def validate_cuts(self, cuts: list[float] | None) -> list[float] | None:
        if cuts and any(cut != cut or abs(cut) == float("inf") for cut in cuts):
            raise serializers.ValidationError(say("A cut point has to be a number."))
        return cuts


class EvidenceIn(ComparisonIn):
    row = serializers.IntegerField(required=False, allow_null=True, min_value=0)
    group = serializers.IntegerField(required=False, allow_null=True, min_value=0)
    left_out = serializers.ChoiceField(choices=list(REASONS_LEFT_OUT[1:]), required=False, allow_null=True)
    limit = serializers.IntegerField(required=False, min_value=1, max_value=5000)

    def validate(self, said: dict[str, Any]) -> dict[str, Any]:
        rows = sum(len(said.get(name) or []) for name in ("codes", "themes", "queries"))
        if (said.get("row") or 0) >= max(rows, 1):
            raise serializers.ValidationError(say("There is no such row in this comparison."))
        return said


class ExportIn(ComparisonIn):
    format = serializers.ChoiceField(choices=["xlsx", "csv", "docx", "tsv", "zip"])
    what = serializers.ChoiceField(choices=["table", "passages"], default="table")
    least = serializers.IntegerField(
        default=0, min_value=0, max_value=50, help_text="Cells of fewer people are hidden; 0 and 1 hide none."
    )

    def validate(self, said: dict[str, Any]) -> dict[str, Any]:
        if said["what"] == "passages" and said["format"] == "csv":
            raise serializers.ValidationError(say("Passages are written as .xlsx or .docx."))
        return said


SHOWN = [
    Said("form", "word", word(FORMS, "table"), "form", "table", words=FORMS),
    Said("order", "word", word(ORDERS, "codebook"), "order", "codebook", words=ORDERS),
    Said("tint", "word", word(TINTS, "expected"), "tint", "expected", words=TINTS),
    Said("least", "count", lambda: serializers.IntegerField(min_value=0, default=0), "least", 0),
    Said("stack", "flag", flag(False), "stack", False),
    Said("swap", "flag", flag(False), "swap", False),
    Said("figures", "flag", flag(True), "figures", True),
    Said("scaled", "word", word(SCALES, "all"), "scaled", "all", words=SCALES),
    Said("each", "word", word(EACH, "people"), "each", "people", words=EACH),
    Said("number", "id", lambda: serializers.IntegerField(required=False, allow_null=True, default=None), "number",
         kind="variable"),
]  # fmt: skip


class ShownIn(serializers.Serializer[Any]):
    """How a kept comparison is drawn."""

    def get_fields(self) -> dict[str, AnyField]:
        return fields_of(SHOWN)
