"""What is kept of comparing: comparisons and queries by name, scopes, results as they were on a day, notes on cells."""

from django.db import models
from django.db.models import Q
from django.db.models.functions import Lower, Now

from server.coding.models import ResearchQuestion
from server.projects.models import Account, Project


class KeptComparison(models.Model):
    """A comparison under a name. It is live: ``asked`` is what the sentence says, asked again whenever it is opened;
    ``shown`` is the form, order and tint it was kept in."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="kept_comparisons")
    name = models.CharField(max_length=160)
    question = models.ForeignKey(
        ResearchQuestion, models.SET_NULL, null=True, blank=True, related_name="kept_comparisons"
    )
    asked = models.JSONField()
    shown = models.JSONField(default=dict)
    called = models.JSONField(default=dict)
    """What the things asked about were called when it was kept, for when one of them is gone."""
    author = models.ForeignKey(Account, models.PROTECT, related_name="kept_comparisons")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint("project", Lower("name"), name="one_kept_comparison_a_name"),
            models.CheckConstraint(condition=~Q(name=""), name="kept_comparison_has_a_name"),
            models.CheckConstraint(condition=Q(asked__has_key="codes"), name="kept_comparison_asks_something"),
        ]


class SavedQuery(models.Model):
    """Conditions on passages under a name. It is live: ``blocks`` are asked again whenever it is used."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="saved_queries")
    name = models.CharField(max_length=160)
    blocks = models.JSONField()
    author = models.ForeignKey(Account, models.PROTECT, related_name="saved_queries")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint("project", Lower("name"), name="one_saved_query_a_name"),
            models.CheckConstraint(condition=~Q(name=""), name="saved_query_has_a_name"),
            models.CheckConstraint(condition=Q(blocks__has_key="parts"), name="saved_query_has_blocks"),
        ]


class SavedScope(models.Model):
    """What is in play, under a name."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="saved_scopes")
    name = models.CharField(max_length=160)
    scope = models.JSONField()
    author = models.ForeignKey(Account, models.PROTECT, related_name="saved_scopes")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint("project", Lower("name"), name="one_saved_scope_a_name"),
            models.CheckConstraint(condition=~Q(name=""), name="saved_scope_has_a_name"),
        ]


FROZEN_KINDS = ["comparison", "passages"]


class FrozenResult(models.Model):
    """A comparison's result, or what conditions on passages found, as it was on a day; it never changes.

    ``asked`` is the question; ``result`` all that the API said; ``held`` the passages and people of every cell then
    (packed by ``server.compare.frozen``), from which what has changed since is told.
    """

    project = models.ForeignKey(Project, models.CASCADE, related_name="frozen_results")
    kind = models.CharField(max_length=10, default="comparison")
    comparison = models.ForeignKey(
        KeptComparison, models.SET_NULL, null=True, blank=True, related_name="frozen_results"
    )
    name = models.CharField(max_length=160)
    asked = models.JSONField()
    shown = models.JSONField(default=dict)
    result = models.JSONField()
    held = models.TextField()
    author = models.ForeignKey(Account, models.PROTECT, related_name="frozen_results")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["-made_at", "-id"]
        constraints = [
            models.CheckConstraint(condition=~Q(name=""), name="frozen_result_has_a_name"),
            models.CheckConstraint(condition=Q(kind__in=FROZEN_KINDS), name="frozen_result_kind_known"),
        ]


ROW_KINDS = ["code", "theme", "query"]


class CellNote(models.Model):
    """A note on one cell of a kept comparison: on a row (what it is, and its ID) and a group by name ("" for
    everyone)."""

    comparison = models.ForeignKey(KeptComparison, models.CASCADE, related_name="notes")
    kind = models.CharField(max_length=5)
    row = models.BigIntegerField()
    group = models.CharField(max_length=500, blank=True)
    text = models.TextField()
    author = models.ForeignKey(Account, models.PROTECT, related_name="cell_notes")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["made_at", "id"]
        constraints = [
            models.CheckConstraint(condition=~Q(text=""), name="cell_note_says_something"),
            models.CheckConstraint(condition=Q(kind__in=ROW_KINDS), name="cell_note_on_a_row"),
        ]


class Became(models.Model):
    """What something went into when it was merged: a code into a code (by ID), a category into a category (``within``
    the variable, by label). Kept so that what was asked about it can be offered anew."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="+")
    what = models.CharField(max_length=8)
    within = models.BigIntegerField(default=0)
    gone = models.CharField(max_length=500)
    now = models.CharField(max_length=500)
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=Q(what__in=["code", "category"]), name="became_is_known"),
            models.CheckConstraint(condition=~Q(gone=models.F("now")), name="became_something_else"),
        ]
