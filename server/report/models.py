"""The researcher's own writing: memos on anything, digests of what one person says about one thing, and exhibits."""

from django.db import models
from django.db.models import Q
from django.db.models.functions import Lower, Now

from server.coding.models import Code, Passage, ResearchQuestion, Theme
from server.common.constraints import exactly_one
from server.common.kinds import MemoKind
from server.compare.models import KeptComparison
from server.gather.models import Document
from server.people.models import Case
from server.projects.models import Account, Project

ATTACHED = ("passage", "code", "theme", "document", "case", "comparison")
LINKED = ("code", "theme", "document", "case", "comparison", "other")
"""What a memo can speak of in double brackets; ``other`` is another memo."""


Kind = str | int
"""A kind that every project has, by its name in ``MemoKind``, or the number of one of the project's own."""


class Memo(models.Model):
    """Attached to one thing, or to the project as a whole. ``source`` names whose comment in the file it was,
    where it came with one; ``kind`` is the first of its kinds, "" where that is one of the project's own, or none."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="memos")
    author = models.ForeignKey(Account, models.PROTECT, related_name="memos")
    kind = models.CharField(max_length=10, choices=MemoKind.choices, default=MemoKind.ANALYTIC, blank=True)
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
            models.CheckConstraint(condition=Q(kind__in=["", *MemoKind.values]), name="memo_kind_known"),
        ]

    @property
    def kinds(self) -> list[Kind]:
        """All that it is of, in the order given."""
        further: list[Kind] = [one.own_id or one.kind for one in self.of_kinds.all()]
        return [self.kind, *further] if self.kind else further


class OwnMemoKind(models.Model):
    """A kind of memo that a project has of its own."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="memo_kinds")
    name = models.CharField(max_length=60)

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint("project", Lower("name"), name="one_memo_kind_a_name"),
            models.CheckConstraint(condition=~Q(name=""), name="memo_kind_has_a_name"),
        ]


class MemoOfKind(models.Model):
    """A further kind of a memo: one that every project has, or one of the project's own."""

    memo = models.ForeignKey(Memo, models.CASCADE, related_name="of_kinds")
    kind = models.CharField(max_length=10, choices=MemoKind.choices, blank=True)
    own = models.ForeignKey(OwnMemoKind, models.CASCADE, null=True, blank=True, related_name="memos")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(own__isnull=True, kind__in=MemoKind.values) | Q(own__isnull=False, kind=""),
                name="memo_of_one_kind",
            ),
            models.UniqueConstraint(fields=["memo", "kind", "own"], nulls_distinct=False, name="memo_once_of_a_kind"),
        ]


class MemoLink(models.Model):
    """What a memo means by words in double brackets, ``[[said]]``."""

    memo = models.ForeignKey(Memo, models.CASCADE, related_name="links")
    said = models.CharField(max_length=200)
    code = models.ForeignKey(Code, models.CASCADE, null=True, blank=True, related_name="linked")
    theme = models.ForeignKey(Theme, models.CASCADE, null=True, blank=True, related_name="linked")
    document = models.ForeignKey(Document, models.CASCADE, null=True, blank=True, related_name="linked")
    case = models.ForeignKey(Case, models.CASCADE, null=True, blank=True, related_name="linked")
    comparison = models.ForeignKey(KeptComparison, models.CASCADE, null=True, blank=True, related_name="linked")
    other = models.ForeignKey(Memo, models.CASCADE, null=True, blank=True, related_name="linked")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=exactly_one(LINKED), name="memo_link_to_one_thing"),
            models.CheckConstraint(condition=~Q(said=""), name="memo_link_says_something"),
            models.UniqueConstraint(fields=["memo", "said"], name="one_link_for_what_is_said"),
        ]

    @property
    def target(self) -> tuple[str, int]:
        """What it leads to: what that is, and which."""
        return next((on, pk) for on in LINKED if (pk := getattr(self, f"{on}_id")))


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
