"""What a comparison is asked with."""

from typing import Any

from rest_framework import serializers

from core.compare.counts import REASONS_LEFT_OUT
from core.compare.measures import BASES, MEASURES
from server.scope.asked import ScopeIn

MEASURE_IDS = [one.id for one in MEASURES]
COLUMNS = ["variable", "cohorts", "cases", "documents"]


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
    adjusted = serializers.ListField(
        child=serializers.IntegerField(), required=False, max_length=6, help_text="Variables held at once beside it."
    )
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


FORMS = ["table", "bars", "gaps", "flow", "tiles", "matrix", "map", "people", "spread", "waves"]


class ShownIn(serializers.Serializer[Any]):
    """How a kept comparison is drawn."""

    form = serializers.ChoiceField(choices=FORMS, default="table")
    order = serializers.ChoiceField(choices=["codebook", "size", "difference", "likeness"], default="codebook")
    tint = serializers.ChoiceField(choices=["expected", "share", "none"], default="expected")
    least = serializers.IntegerField(min_value=0, default=0)
    stack = serializers.BooleanField(default=False)
    swap = serializers.BooleanField(default=False)
    figures = serializers.BooleanField(default=True)
    scaled = serializers.ChoiceField(choices=["all", "row", "column"], default="all")
    number = serializers.IntegerField(required=False, allow_null=True, default=None)
