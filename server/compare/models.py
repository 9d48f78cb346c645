"""Comparisons that are kept by name."""

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
    author = models.ForeignKey(Account, models.PROTECT, related_name="kept_comparisons")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint("project", Lower("name"), name="one_kept_comparison_a_name"),
            models.CheckConstraint(condition=~Q(name=""), name="kept_comparison_has_a_name"),
            models.CheckConstraint(condition=Q(asked__has_key="codes"), name="kept_comparison_asks_something"),
        ]
