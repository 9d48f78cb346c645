"""Accounts, projects, who may see them, the trail, and jobs."""

from typing import Self
from uuid import uuid4

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.db.models.functions import Now

from core.language import message, say, worded
from server.common.errors import NotAllowed
from server.common.in_json import AsWritten, InJson


def initials_of(display_name: str, username: str) -> str:
    words = display_name.split() or [username]
    return "".join(word[0] for word in (words if len(words) < 3 else [words[0], words[-1]])).upper()[:2]


class Account(AbstractUser):
    """Somebody who signs in. ``display_name`` is what others see. ``may_begin``: whether they make projects of their own.
    ``language``: in which they are spoken to, by its tag; "" as their browser has it."""

    display_name = models.CharField(max_length=120)
    may_begin = models.BooleanField(db_default=True, default=True)
    language = models.CharField(max_length=12, blank=True, db_default="", default="")

    @property
    def initials(self) -> str:
        return initials_of(self.display_name, self.username)


class MemberRole(models.TextChoices):
    """From least to most: a viewer reads, a coder also works, an owner also says who may."""

    VIEWER = "viewer"
    CODER = "coder"
    OWNER = "owner"


ROLES = {"viewer": message("viewer"), "coder": message("coder"), "owner": message("owner")}
"""Each role in words."""
NEEDED = {"viewer": message("a viewer"), "coder": message("a coder"), "owner": message("an owner")}
"""Each role as somebody who has it."""


class ProjectQuerySet(models.QuerySet["Project"]):
    def visible_to(self, account: Account) -> Self:
        """Only projects that the account is a member of: the one place this is decided."""
        return self.filter(memberships__account=account)


class Project(models.Model):
    """One piece of research. ``revision`` rises with every write; snapshots are keyed by it.

    ``hide_below`` holds for all that leaves the project: no cell of fewer cases, nor what would give one away (0 and 1
    hide none); ``round_to`` rounds all counts that leave to its multiples (0: not at all). ``trail_days``: after so many days
    an entry of the trail goes, and can't be taken back any more (0: it stays).
    """

    name = models.CharField(max_length=200)
    case_one = models.CharField(max_length=40, default="person")
    case_many = models.CharField(max_length=40, default="people")
    revision = models.PositiveBigIntegerField(default=0)
    hide_below = models.PositiveSmallIntegerField(db_default=0)
    round_to = models.PositiveSmallIntegerField(db_default=0)
    trail_days = models.PositiveSmallIntegerField(db_default=0)
    created_at = models.DateTimeField(db_default=Now())
    objects = ProjectQuerySet.as_manager()

    class Meta:
        constraints = [
            models.CheckConstraint(condition=~models.Q(name=""), name="project_has_a_name"),
            models.CheckConstraint(condition=models.Q(hide_below__lte=50), name="project_hides_below_fifty"),
            models.CheckConstraint(condition=models.Q(round_to__in=[0, 3, 5]), name="project_rounds_to_three_or_five"),
        ]


class Membership(models.Model):
    project = models.ForeignKey(Project, models.CASCADE, related_name="memberships")
    account = models.ForeignKey(Account, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=MemberRole.choices)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["project", "account"], name="one_membership_an_account"),
            models.CheckConstraint(condition=models.Q(role__in=MemberRole.values), name="membership_role_known"),
        ]

    def may(self, needed: str) -> bool:
        """Whether this member's role reaches as far as ``needed``."""
        order = MemberRole.values
        return order.index(self.role) >= order.index(needed)

    def demand(self, needed: str) -> None:
        """Refuse, with a sentence, where the role doesn't reach that far."""
        if not self.may(needed):
            raise NotAllowed(
                say(
                    "Your role in this project is {role}; this needs {needed}.",
                    role=worded(ROLES[self.role]),
                    needed=worded(NEEDED[needed]),
                )
            )


class TrailState(models.TextChoices):
    DONE = "done"
    UNDONE = "undone"
    GONE = "gone"
    """Undone, and something else was done since: it can't be redone."""
    STAYS = "stays"
    """Done, and what rests on it was changed since: it can't be taken back."""


class TrailEntry(models.Model):
    """Who did what when. ``inverse`` is the change that takes it back (or, undone, that does it
    again), as data; see ``server.projects.change``. ``turned``: the project's revision when it was last taken back or done again."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="trail")
    actor = models.ForeignKey(Account, models.PROTECT, related_name="+")
    revision = models.PositiveBigIntegerField()
    turned = models.PositiveBigIntegerField(null=True, blank=True)
    verb = models.CharField(max_length=60)
    needs = models.CharField(max_length=10, choices=MemberRole.choices, db_default=MemberRole.CODER)
    """The role it takes to do it, and to take it back."""
    summary = models.TextField()
    inverse = AsWritten(default=list, encoder=InJson)
    state = models.CharField(max_length=10, choices=TrailState.choices, default=TrailState.DONE)
    created_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["-revision"]
        indexes = [models.Index(fields=["project", "actor", "state", "-revision"], name="trail_by_actor")]
        constraints = [models.UniqueConstraint(fields=["project", "revision"], name="one_entry_a_revision")]


class Touched(models.Model):
    """What a revision of the project touched: ``rows`` are numbers in runs by model (null for more than is written down, or,
    in place of all, for anything). ``mark`` is this revision's alone: a project brought back from a backup counts on from an
    older revision, and what was kept of the later ones must not be taken for its own."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="touched")
    revision = models.PositiveBigIntegerField()
    mark = models.UUIDField(default=uuid4, editable=False)
    rows = models.JSONField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "revision"], name="one_touched_a_revision")]


class Published(models.Model):
    """The numbers that left a project in one file, by whom: against them later files are checked, so that no hidden number
    can be told from two together. ``lines`` are by whom they count (a digest of who mentions the row): a list of [people's
    digest, count, shown, size shown]; ``sets`` who is in each set of people, those who mention a row among them, by case ID."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="published")
    account = models.ForeignKey(Account, models.PROTECT, related_name="+")
    what = models.CharField(max_length=200)
    hide_below = models.PositiveSmallIntegerField()
    lines = models.JSONField()
    sets = models.JSONField()
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["id"]


class JobState(models.TextChoices):
    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


class Job(models.Model):
    """Work that takes longer than a request: it commits whole or not at all. Without a project until it has made one."""

    project = models.ForeignKey(Project, models.CASCADE, null=True, related_name="jobs")
    account = models.ForeignKey(Account, models.CASCADE, related_name="+")
    title = models.CharField(max_length=200)
    state = models.CharField(max_length=10, choices=JobState.choices, default=JobState.WAITING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    message = models.TextField(blank=True)
    cancel_asked = models.BooleanField(default=False)
    language = models.CharField(max_length=12, db_default="en", default="en")
    created_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["-created_at"]
        constraints = [models.CheckConstraint(condition=models.Q(done__lte=models.F("total")), name="job_not_overdone")]
