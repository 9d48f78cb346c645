"""What is kept about the installation as a whole."""

from django.db import models
from django.db.models.functions import Now

from server.projects.models import Account


class Backup(models.Model):
    """A backup that was tried by itself: ``problem`` says why there is none, or what it lacks."""

    name = models.CharField(max_length=300)
    size = models.PositiveBigIntegerField(default=0)
    whole = models.BooleanField()
    locked = models.BooleanField(default=False)
    problem = models.TextField(blank=True)
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["-made_at"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(whole=True, size__gt=0, problem="")
                | (models.Q(whole=False) & ~models.Q(problem="")),
                name="backup_is_whole_or_says_why_not",
            )
        ]


class ArrivedProject(models.Model):
    """A project's file that somebody has sent, looked into and waiting to be brought in: a day at most. Its bytes lie in
    the media folder under ``digest``; ``said`` is what it says of itself."""

    account = models.ForeignKey(Account, models.CASCADE, related_name="+")
    name = models.CharField(max_length=300)
    digest = models.CharField(max_length=64)
    size = models.PositiveBigIntegerField()
    said = models.JSONField()
    arrived_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["-arrived_at"]
        constraints = [
            models.CheckConstraint(condition=models.Q(digest__regex="^[0-9a-f]{64}$"), name="arrived_digest_is_one"),
        ]
