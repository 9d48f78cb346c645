"""Cases and what is known about them."""

from django.contrib.postgres.indexes import BrinIndex
from django.db import models
from django.db.models import Q

from core.language import message
from core.text.missing import IN_WORDS
from server.common.constraints import exactly_one
from server.projects.models import Project


class VariableKind(models.TextChoices):
    CATEGORY = "category", message("category")
    ORDERED = "ordered", message("ordered category")
    NUMBER = "number", message("number")
    YES_NO = "yes_no", message("yes / no")
    DATE = "date", message("date")
    TEXT = "text", message("text")


MISSING_CHOICES = list(IN_WORDS.items())


class Case(models.Model):
    """A participant, household, site …: the unit that groups are made of."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="cases")
    identifier = models.CharField(max_length=120)

    class Meta:
        ordering = ["identifier"]
        constraints = [
            models.UniqueConstraint(fields=["project", "identifier"], name="one_case_an_identifier"),
            models.CheckConstraint(condition=~Q(identifier=""), name="case_has_an_identifier"),
        ]


class Subject(models.TextChoices):
    """What a variable is a fact about."""

    CASE = "case"
    DOCUMENT = "document"


class Variable(models.Model):
    """A fact about cases or documents. ``when_empty`` is the reason that an empty cell is missing.

    ``definition`` makes a variable of others (bands, a crossing, a count, a cohort): it holds no values
    of its own and follows the data; see ``server.people.derived``.
    """

    project = models.ForeignKey(Project, models.CASCADE, related_name="variables")
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=10, choices=VariableKind.choices)
    description = models.TextField(blank=True)
    when_empty = models.CharField(max_length=20, choices=MISSING_CHOICES, default="not_answered")
    position = models.PositiveIntegerField(default=0)
    of = models.CharField(max_length=10, choices=Subject.choices, default=Subject.CASE)
    definition = models.JSONField(null=True, blank=True)

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(fields=["project", "of", "name"], name="one_variable_a_name"),
            models.CheckConstraint(condition=Q(of__in=["case", "document"]), name="variable_subject_known"),
            models.CheckConstraint(
                condition=Q(definition__isnull=True) | Q(of="case"), name="made_variables_are_of_cases"
            ),
            models.CheckConstraint(condition=~Q(name=""), name="variable_has_a_name"),
        ]


class Category(models.Model):
    """One value that a category variable can take, in its order."""

    variable = models.ForeignKey(Variable, models.CASCADE, related_name="categories")
    label = models.CharField(max_length=200)
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["variable", "label"], name="one_category_a_label")]


_HOLDERS = ("category", "number", "truth", "day", "words", "missing")


class Value(models.Model):
    """A case's, or a document's, value of a variable: exactly one of the columns that hold one is
    filled, ``missing`` among them. A large sheet holds millions: that each belongs to a case, variable and
    category that are there is checked a statement at a time (migrations of ``report``), not a row at a time.
    """

    KEY_BLOCKS = "people_value_blocks"
    case = models.ForeignKey(
        Case, models.CASCADE, null=True, related_name="values", db_constraint=False, db_index=False
    )
    document = models.ForeignKey(
        "gather.Document", models.CASCADE, null=True, related_name="values", db_constraint=False, db_index=False
    )
    variable = models.ForeignKey(Variable, models.CASCADE, related_name="values", db_constraint=False, db_index=False)
    category = models.ForeignKey(
        Category, models.CASCADE, null=True, related_name="values", db_constraint=False, db_index=False
    )
    number = models.FloatField(null=True)
    truth = models.BooleanField(null=True)
    day = models.DateField(null=True)
    words = models.TextField(null=True)  # noqa: DJ001  an empty text and none are different facts
    missing = models.CharField(max_length=20, choices=MISSING_CHOICES, null=True)  # noqa: DJ001

    class Meta:
        # A sheet comes in column by column, so that values of one category lie together: where they do is enough to know, and
        # costs a large sheet nothing.
        indexes = [
            BrinIndex(
                fields=["category"], autosummarize=True, condition=Q(category__isnull=False), name="values_by_category"
            )
        ]
        constraints = [
            models.UniqueConstraint(fields=["variable", "case"], name="one_value_of_a_case"),
            models.UniqueConstraint(
                fields=["document", "variable"], condition=Q(document__isnull=False), name="one_value_a_document"
            ),
            models.CheckConstraint(
                condition=Q(case__isnull=True) ^ Q(document__isnull=True), name="value_of_one_subject"
            ),
            models.CheckConstraint(condition=exactly_one(_HOLDERS), name="value_is_one_thing"),
            models.CheckConstraint(
                condition=Q(missing__isnull=True) | Q(missing__in=[reason for reason, _ in MISSING_CHOICES]),
                name="missing_reason_known",
            ),
        ]


class Cohort(models.Model):
    """A named group of cases, or ``of`` documents: by ``condition`` (it follows the data), or picked by hand (null)."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="cohorts")
    of = models.CharField(max_length=10, choices=Subject.choices, default=Subject.CASE, db_default=Subject.CASE)
    name = models.CharField(max_length=200)
    description = models.TextField(blank=True)
    condition = models.JSONField(null=True, blank=True)
    cases = models.ManyToManyField(Case, through="CohortCase", related_name="cohorts")

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint(fields=["project", "name"], name="one_cohort_a_name"),
            models.CheckConstraint(condition=~Q(name=""), name="cohort_has_a_name"),
            models.CheckConstraint(condition=Q(of__in=["case", "document"]), name="cohort_subject_known"),
        ]


class CohortCase(models.Model):
    """A case picked into a cohort by hand."""

    cohort = models.ForeignKey(Cohort, models.CASCADE, related_name="picks")
    case = models.ForeignKey(Case, models.CASCADE, related_name="picks")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["cohort", "case"], name="one_pick_a_cohort")]


class CohortDocument(models.Model):
    """A document picked into a cohort by hand."""

    cohort = models.ForeignKey(Cohort, models.CASCADE, related_name="documents_picked")
    document = models.ForeignKey("gather.Document", models.CASCADE, related_name="cohort_picks")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["cohort", "document"], name="one_document_pick_a_cohort")]
