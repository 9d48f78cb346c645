"""What a comparison is answered with."""

from typing import Any, get_args

from rest_framework import serializers

from core.compare.counts import REASONS_LEFT_OUT
from core.compare.groups import PERIODS
from core.compare.measures import BASES
from core.compare.question import ACCORDS
from core.compare.told.sentence import PartKind
from server.coding.shown import EvidencePerson
from server.compare.asked import MEASURE_IDS
from server.compare.models import ROW_KINDS
from server.people.shown import SilentPerson

TESTS = [
    "chi_square", "exact", "exact_simulated", "permutation", "layered", "layered_permuted", "changes", "occasions",
    "occasions_permuted", "none",
]  # fmt: skip
STANDINGS = ["sure", "look", "one_voice"]


class Part(serializers.Serializer[Any]):
    text = serializers.CharField()
    kind = serializers.ChoiceField(choices=list(get_args(PartKind)), help_text="What choosing it changes.")


class BaseOut(serializers.Serializer[Any]):
    id = serializers.ChoiceField(choices=list(BASES))
    words = serializers.CharField()


class AccordOut(serializers.Serializer[Any]):
    id = serializers.ChoiceField(choices=list(ACCORDS))
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
    hidden = serializers.BooleanField(required=False, help_text="In what leaves: how many people it has.")


class TotalOut(serializers.Serializer[Any]):
    people = serializers.IntegerField()
    passages = serializers.IntegerField()
    figure = serializers.FloatField(allow_null=True)
    count = serializers.IntegerField()
    base = serializers.IntegerField()
    hidden = serializers.BooleanField(required=False, help_text="In what leaves: its counts stand at 0.")
    most = serializers.IntegerField()
    most_by = serializers.CharField(allow_null=True)


class ComparedCell(TotalOut):
    median = serializers.FloatField(allow_null=True)
    deviation = serializers.FloatField(allow_null=True, help_text="Standard deviation of ratings.")
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    residual = serializers.FloatField(allow_null=True)


class TestedOut(serializers.Serializer[Any]):
    """One row's p, its standard error where it was simulated, and p corrected over the rows."""

    p = serializers.FloatField(allow_null=True)
    error = serializers.FloatField(allow_null=True)
    holm = serializers.FloatField(allow_null=True)
    benjamini_hochberg = serializers.FloatField(allow_null=True)


class TestOut(TestedOut):
    kind = serializers.ChoiceField(choices=TESTS)
    statistic = serializers.FloatField(allow_null=True)
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


class TrendOut(TestedOut):
    z = serializers.FloatField(allow_null=True)


class WithinLayersOut(serializers.Serializer[Any]):
    odds_ratio = serializers.FloatField(allow_null=True)
    infinite = serializers.BooleanField(
        help_text="Nobody of the other group mentions it: the ratio has a low end only."
    )
    low = serializers.FloatField(allow_null=True, help_text="One-sided where the ratio is 0 or infinite.")
    high = serializers.FloatField(allow_null=True)
    differ_p = serializers.FloatField(allow_null=True)
    differ_holm = serializers.FloatField(allow_null=True)
    effect = serializers.FloatField(allow_null=True, help_text="Cramér’s V within layers, corrected.")


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
    period = serializers.ChoiceField(choices=list(PERIODS), allow_null=True, help_text="Of groups by a date.")
    accord = serializers.ChoiceField(choices=list(ACCORDS))
    accords = AccordOut(many=True)
    measures = MeasureOut(many=True)
    figures = FiguresOut()
    all_groups = serializers.ListField(child=serializers.CharField())
    outer = serializers.ListField(child=serializers.CharField(), help_text="The outer groups, or layers; may be none.")
    layered = serializers.BooleanField()
    guarded = serializers.BooleanField(required=False, help_text="Something is hidden or rounded, since it leaves.")
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
    standing = serializers.ChoiceField(choices=STANDINGS)
    text = serializers.CharField()
    cautions = ToldOut(many=True)
    difference = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True, help_text="Of an interval widened for having been picked.")
    high = serializers.FloatField(allow_null=True)
    p = serializers.FloatField(allow_null=True, help_text="Adjusted over all rows and pairs of groups.")


class MarkOut(serializers.Serializer[Any]):
    """One difference that is sure, or worth a look."""

    row = serializers.IntegerField()
    groups = serializers.ListField(child=serializers.IntegerField(), help_text="Places within a layer.")
    standing = serializers.ChoiceField(choices=STANDINGS)
    p = serializers.FloatField(allow_null=True)


class StandsOut(serializers.Serializer[Any]):
    findings = FindingOut(many=True)
    marks = MarkOut(many=True)
    share = serializers.BooleanField(help_text="Whether differences are of shares.")
    looked_at = serializers.IntegerField(help_text="Rows × pairs of groups.")
    sure = serializers.IntegerField()
    look = serializers.IntegerField(help_text="Worth a look, not sure.")
    by_chance = serializers.FloatField(help_text="How many would be worth a look if nothing differed.")
    otherwise = serializers.CharField(allow_blank=True, help_text="What it means that there are none.")
    methods = serializers.CharField(allow_blank=True, help_text="What was done to call differences sure.")
    sources = serializers.ListField(child=serializers.CharField())


class AdjustedCell(serializers.Serializer[Any]):
    """Of one group, among those whose facts are known: its share, and what it would be if it were like everybody."""

    plain = serializers.FloatField(allow_null=True)
    standardised = serializers.FloatField(allow_null=True)
    odds_ratio = serializers.FloatField(allow_null=True, help_text="Over the first group; 1 for that.")
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)


class AdjustedRow(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=ROW_KINDS)
    id = serializers.IntegerField()
    name = serializers.CharField()
    colour = serializers.IntegerField(allow_null=True)
    cells = AdjustedCell(many=True)
    p = serializers.FloatField(allow_null=True, help_text="Of the groups altogether.")
    why_not = serializers.ChoiceField(choices=["", "few", "all", "nobody"], allow_blank=True)
    separated = serializers.BooleanField()


class AdjustedOut(serializers.Serializer[Any]):
    facts = serializers.ListField(child=serializers.CharField())
    people = serializers.IntegerField()
    unknown = serializers.IntegerField()
    problem = serializers.CharField(allow_blank=True)
    notes = serializers.ListField(child=serializers.CharField())
    rows = AdjustedRow(many=True)


class RangeOut(serializers.Serializer[Any]):
    """A difference without any one of so many."""

    count = serializers.IntegerField()
    least = serializers.FloatField(allow_null=True)
    least_without = serializers.CharField()
    most = serializers.FloatField(allow_null=True)
    most_without = serializers.CharField()


class ChoiceOut(serializers.Serializer[Any]):
    base = serializers.ChoiceField(choices=list(BASES))
    roll_up = serializers.BooleanField()
    discussions = serializers.BooleanField(help_text="Group discussions counted too.")
    accord = serializers.ChoiceField(choices=list(ACCORDS))
    as_asked = serializers.BooleanField()
    difference = serializers.FloatField(allow_null=True)
    holds = serializers.BooleanField()
    documents = serializers.ListField(
        child=serializers.IntegerField(),
        allow_null=True,
        help_text="Those without discussions, where they are left out.",
    )


class SteadyOut(serializers.Serializer[Any]):
    row = serializers.IntegerField()
    groups = serializers.ListField(child=serializers.IntegerField())
    people = RangeOut(allow_null=True)
    documents = RangeOut(allow_null=True)
    coders = RangeOut(allow_null=True)
    choices = ChoiceOut(many=True)
    holds = serializers.IntegerField(help_text="Under how many of the choices.")


class EvidenceOut(serializers.Serializer[Any]):
    people = serializers.IntegerField()
    passages = serializers.IntegerField()
    persons = EvidencePerson(many=True)
    silent = SilentPerson(many=True)
    more = serializers.IntegerField()
    asks = serializers.BooleanField(help_text="Whether a question of the guide asks about the row.")
    asked = serializers.ListField(
        child=serializers.IntegerField(), help_text="Of the people told, by number, who was asked about it."
    )
    not_asked = serializers.ListField(
        child=serializers.IntegerField(), help_text="Who talks with an interviewer and wasn’t; of others nobody knows."
    )
    own_accord = serializers.ListField(child=serializers.IntegerField(), help_text="Passages said without one.")
    when_asked = serializers.ListField(
        child=serializers.IntegerField(),
        help_text="Of the passages told, by number, those said soon after a question on it.",
    )


class AroundCode(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    colour = serializers.IntegerField()
    people = serializers.IntegerField(help_text="Of the number’s people.")
    passages = serializers.IntegerField()


class AroundOut(serializers.Serializer[Any]):
    codes = AroundCode(many=True)
