"""Invitations into projects, and the mails of the stand-in mailbox. Second factors and sessions are django-allauth's."""

from django.contrib.postgres.functions import TransactionNow
from django.db import models
from django.db.models.functions import Now

from server.projects.models import Account, MemberRole, Project


class Invitation(models.Model):
    """A project's door for whoever has the link. ``digest`` is of the link's secret part, which is kept nowhere."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="invitations")
    email = models.EmailField(blank=True)
    role = models.CharField(max_length=10, choices=MemberRole.choices)
    digest = models.CharField(max_length=64, unique=True)
    invited_by = models.ForeignKey(Account, models.CASCADE, related_name="+")
    made_at = models.DateTimeField(db_default=Now())
    until = models.DateTimeField()

    class Meta:
        ordering = ["made_at", "id"]
        constraints = [
            models.CheckConstraint(condition=models.Q(role__in=MemberRole.values), name="invitation_role_known"),
            models.CheckConstraint(condition=models.Q(until__gt=models.F("made_at")), name="invitation_lasts"),
        ]


class StandInMail(models.Model):
    """A mail that went to nobody: the demo shows it on a page."""

    to = models.CharField(max_length=254)
    subject = models.CharField(max_length=300)
    text = models.TextField()
    sent_at = models.DateTimeField(db_default=TransactionNow())

    class Meta:
        ordering = ["-sent_at", "-id"]
