"""The researcher's own writing: memos on anything, digests of what one person says about one thing, and exhibits."""

from django.db import models
from django.db.models import Q
from django.db.models.functions import Lower, Now

from server.coding.models import Code, Passage, ResearchQuestion, Theme
from server.common.kinds import MemoKind
from server.compare.models import KeptComparison
from server.gather.models import Document
from server.people.models import Case
from server.projects.models import Account, Project

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


class Digest(models.Model):
    """A short text at one crossing of a case and a code or theme, beside the passages it sums up."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="digests")
    case = models.ForeignKey(Case, models.CASCADE, related_name="digests")
    code = models.ForeignKey(Code, models.CASCADE, null=True, blank=True, related_name="digests")
    theme = models.ForeignKey(Theme, models.CASCADE, null=True, blank=True, related_name="digests")
    text = models.TextField()
    author = models.ForeignKey(Account, models.PROTECT, related_name="digests")
    changed_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(code__isnull=True, theme__isnull=False) | Q(code__isnull=False, theme__isnull=True),
                name="digest_of_one_thing",
            ),
            models.CheckConstraint(condition=~Q(text=""), name="digest_says_something"),
            models.UniqueConstraint(fields=["case", "code"], name="one_digest_a_case_and_code"),
            models.UniqueConstraint(fields=["case", "theme"], name="one_digest_a_case_and_theme"),
        ]


class Exhibit(models.Model):
    """An ordered choice of passages for an audience."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="exhibits")
    name = models.CharField(max_length=160)
    audience = models.CharField(max_length=200, blank=True)
    question = models.ForeignKey(ResearchQuestion, models.SET_NULL, null=True, blank=True, related_name="exhibits")
    author = models.ForeignKey(Account, models.PROTECT, related_name="exhibits")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint("project", Lower("name"), name="one_exhibit_a_name"),
            models.CheckConstraint(condition=~Q(name=""), name="exhibit_has_a_name"),
        ]


class ExhibitPiece(models.Model):
    """A passage in an exhibit, with its caption; ``cut_start`` and ``cut_end`` code points of its words are left off
    at the beginning and the end."""

    exhibit = models.ForeignKey(Exhibit, models.CASCADE, related_name="pieces")
    passage = models.ForeignKey(Passage, models.CASCADE, related_name="pieces")
    position = models.PositiveIntegerField()
    caption = models.TextField(blank=True)
    cut_start = models.PositiveIntegerField(default=0)
    cut_end = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["exhibit", "passage"], name="a_passage_once_in_an_exhibit")]
