"""Memos: the researcher's own writing, attached to anything."""

from django.db import models
from django.db.models import Q
from django.db.models.functions import Now

from server.coding.models import Code, Passage, Theme
from server.compare.models import KeptComparison
from server.gather.models import Document
from server.people.models import Case
from server.projects.models import Account, Project


class MemoKind(models.TextChoices):
    REFLEXIVE = "reflexive"
    ANALYTIC = "analytic"
    CODEBOOK = "codebook"
    TEAM = "team"
    METHOD = "method"


ATTACHED = ("passage", "code", "theme", "document", "case", "comparison")


class Memo(models.Model):
    """Attached to one thing, or to the project as a whole. ``source`` names whose comment in the file it was,
    where it came with one."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="memos")
    author = models.ForeignKey(Account, models.PROTECT, related_name="memos")
    kind = models.CharField(max_length=10, choices=MemoKind.choices, default=MemoKind.ANALYTIC)
    text = models.TextField()
    source = models.CharField(max_length=200, blank=True)
    passage = models.ForeignKey(Passage, models.CASCADE, null=True, blank=True, related_name="memos")
    code = models.ForeignKey(Code, models.CASCADE, null=True, blank=True, related_name="memos")
    theme = models.ForeignKey(Theme, models.CASCADE, null=True, blank=True, related_name="memos")
    document = models.ForeignKey(Document, models.CASCADE, null=True, blank=True, related_name="memos")
    case = models.ForeignKey(Case, models.CASCADE, null=True, blank=True, related_name="memos")
    comparison = models.ForeignKey(KeptComparison, models.CASCADE, null=True, blank=True, related_name="memos")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["made_at", "id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(
                    *[Q(**{f"{other}__isnull": True for other in ATTACHED if other != one}) for one in ATTACHED],
                    _connector=Q.OR,
                ),
                name="memo_on_one_thing",
            ),
            models.CheckConstraint(condition=~Q(text=""), name="memo_says_something"),
            models.CheckConstraint(condition=Q(kind__in=MemoKind.values), name="memo_kind_known"),
        ]
