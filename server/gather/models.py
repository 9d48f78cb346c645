"""Documents, their turns and speakers, and files that wait to be brought in."""

from django.db import models
from django.db.models.functions import Now

from server.people.models import Case
from server.projects.models import Account, Project


class SpeakerRole(models.TextChoices):
    PARTICIPANT = "participant"
    INTERVIEWER = "interviewer"
    OTHER = "other"


class Document(models.Model):
    """One piece of material. Positions everywhere are code points in ``text``, half-open."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="documents")
    title = models.CharField(max_length=300)
    source_name = models.CharField(max_length=300, blank=True)
    source_digest = models.CharField(max_length=64, blank=True)
    text = models.TextField()
    length = models.PositiveIntegerField()
    words = models.PositiveIntegerField()
    added_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["title", "id"]
        constraints = [
            models.CheckConstraint(condition=~models.Q(title=""), name="document_has_a_title"),
            models.UniqueConstraint(fields=["project", "title"], name="one_document_a_title"),
        ]


class Speaker(models.Model):
    """A label within one document. Only a participant is linked to a case."""

    document = models.ForeignKey(Document, models.CASCADE, related_name="speakers")
    label = models.CharField(max_length=120)
    role = models.CharField(max_length=12, choices=SpeakerRole.choices)
    case = models.ForeignKey(Case, models.SET_NULL, null=True, blank=True, related_name="speakers")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["document", "label"], name="one_speaker_a_label"),
            models.CheckConstraint(condition=models.Q(role__in=SpeakerRole.values), name="speaker_role_known"),
            models.CheckConstraint(
                condition=models.Q(role="participant") | models.Q(case=None), name="only_participants_are_cases"
            ),
        ]


class Turn(models.Model):
    """``[start, end)`` by one speaker; ``ink_*`` drawn in to its first and last non-space character."""

    document = models.ForeignKey(Document, models.CASCADE, related_name="turns")
    speaker = models.ForeignKey(Speaker, models.CASCADE, related_name="turns")
    number = models.PositiveIntegerField()
    start = models.PositiveIntegerField()
    end = models.PositiveIntegerField()
    ink_start = models.PositiveIntegerField()
    ink_end = models.PositiveIntegerField()
    words = models.PositiveIntegerField()
    time = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["document_id", "number"]
        constraints = [
            models.UniqueConstraint(fields=["document", "number"], name="turns_are_numbered"),
            models.CheckConstraint(
                condition=models.Q(
                    start__lte=models.F("ink_start"), ink_start__lte=models.F("ink_end"), ink_end__lte=models.F("end")
                ),
                name="turn_bounds_in_order",
            ),
        ]


class StagedFile(models.Model):
    """An uploaded file as read, waiting for "Bring in". Nothing of it is in the project yet.

    ``content``      lines of a transcript, or rows of a sheet (see ``server.gather.reading``)
    ``choices``      what the researcher corrected about the reading
    ``problem``      a sentence, where the file can't be read
    """

    project = models.ForeignKey(Project, models.CASCADE, related_name="staged")
    account = models.ForeignKey(Account, models.CASCADE, related_name="+")
    name = models.CharField(max_length=300)
    kind = models.CharField(max_length=12, choices=[("transcript", "transcript"), ("sheet", "sheet")])
    digest = models.CharField(max_length=64)
    size = models.PositiveIntegerField()
    content = models.JSONField(default=dict)
    choices = models.JSONField(default=dict)
    problem = models.TextField(blank=True)
    included = models.BooleanField(default=True)
    staged_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["id"]
