"""Documents, their turns and speakers, and files that wait to be brought in."""

from django.contrib.postgres.indexes import GinIndex
from django.contrib.postgres.search import SearchVectorField
from django.db import models
from django.db.models.functions import Now

from core.language import message
from server.people.models import Case
from server.projects.models import Account, Project


class SpeakerRole(models.TextChoices):
    PARTICIPANT = "participant"
    INTERVIEWER = "interviewer"
    OTHER = "other"


class DocumentKind(models.TextChoices):
    TRANSCRIPT = "transcript"
    ANSWERS = "answers"
    PDF = "pdf", message("PDF")
    IMAGE = "image"
    RECORDING = "recording"


class Document(models.Model):
    """One piece of material. Positions everywhere are code points in ``text``, half-open."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="documents")
    title = models.CharField(max_length=300)
    kind = models.CharField(max_length=12, choices=DocumentKind.choices, default=DocumentKind.TRANSCRIPT)
    seconds = models.FloatField(null=True, blank=True)
    """How long a recording is."""
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
            models.CheckConstraint(condition=models.Q(kind__in=DocumentKind.values), name="document_kind_known"),
        ]


class WordIndex(models.Model):
    """The different words of a document, to find those that hold a word without reading any text. ``words`` is
    empty (NULL) for a text of so many different words that the database can't hold them: it is always read."""

    document = models.OneToOneField(Document, models.CASCADE, primary_key=True, related_name="word_index")
    words = SearchVectorField(null=True)

    class Meta:
        indexes = [GinIndex(fields=["words"], name="documents_by_word")]


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
    begin = models.FloatField(null=True, blank=True)
    finish = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["document_id", "number"]
        constraints = [
            # Judged when a statement has ended: many numbers move on at once.
            models.UniqueConstraint(
                fields=["document", "number"], name="turns_are_numbered", deferrable=models.Deferrable.IMMEDIATE
            ),
            models.CheckConstraint(
                condition=models.Q(
                    start__lte=models.F("ink_start"), ink_start__lte=models.F("ink_end"), ink_end__lte=models.F("end")
                ),
                name="turn_bounds_in_order",
            ),
            models.CheckConstraint(
                condition=models.Q(begin=None, finish=None) | models.Q(begin__gte=0, finish__gte=models.F("begin")),
                name="turn_times_in_order",
            ),
        ]


class Section(models.Model):
    """A stretch of a document under a heading, on a page, or that answers a question."""

    KINDS = [("heading", "heading"), ("page", "page"), ("question", "question")]
    document = models.ForeignKey(Document, models.CASCADE, related_name="sections")
    kind = models.CharField(max_length=10, choices=KINDS)
    title = models.CharField(max_length=300)
    level = models.PositiveIntegerField(default=1)
    start = models.PositiveIntegerField()
    end = models.PositiveIntegerField()

    class Meta:
        ordering = ["document_id", "start", "level", "id"]
        constraints = [
            models.CheckConstraint(condition=models.Q(start__lte=models.F("end")), name="section_bounds_in_order")
        ]


class Medium(models.Model):
    """A picture, page or recording of a document. The bytes lie in the media folder under ``digest``."""

    ROLES = [("picture", "picture"), ("pages", "pages"), ("recording", "recording"), ("thumbnail", "thumbnail")]
    document = models.ForeignKey(Document, models.CASCADE, related_name="media")
    role = models.CharField(max_length=10, choices=ROLES)
    number = models.PositiveIntegerField(default=1)
    digest = models.CharField(max_length=64)
    content_type = models.CharField(max_length=60)
    width = models.PositiveIntegerField(default=0)
    height = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["document_id", "role", "number"]
        constraints = [
            models.UniqueConstraint(fields=["document", "role", "number"], name="one_medium_a_number"),
            models.CheckConstraint(condition=models.Q(digest__regex="^[0-9a-f]{64}$"), name="digest_is_one"),
        ]


class RememberedReading(models.Model):
    """How a sheet with these column names was read, for the next one like it."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="+")
    signature = models.CharField(max_length=64)
    choices = models.JSONField(default=dict)
    used_at = models.DateTimeField(db_default=Now())

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "signature"], name="one_reading_a_signature")]


class NamePair(models.Model):
    """A real name and the pseudonym that stands for it. Never part of an export of the project."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="+")
    name = models.CharField(max_length=120)
    pseudonym = models.CharField(max_length=120)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["project", "name"], name="one_pseudonym_a_name"),
            models.CheckConstraint(condition=~models.Q(name=""), name="pair_has_a_name"),
        ]


STAGED_KINDS = [(kind, kind) for kind in ("transcript", "sheet", "image", "recording")]


class StagedFile(models.Model):
    """An uploaded file as read, waiting for "Bring in". Nothing of it is in the project yet.

    ``content``      what was found (see ``server.imports.reading``)
    ``stored``       digest of what is too large for ``content``: a sheet's cells
    ``choices``      what the researcher corrected about the reading
    ``problem``      a sentence, where the file can't be read
    """

    project = models.ForeignKey(Project, models.CASCADE, related_name="staged")
    account = models.ForeignKey(Account, models.CASCADE, related_name="+")
    name = models.CharField(max_length=300)
    kind = models.CharField(max_length=12, choices=STAGED_KINDS)
    digest = models.CharField(max_length=64)
    size = models.PositiveBigIntegerField()
    stored = models.CharField(max_length=64, blank=True)
    content = models.JSONField(default=dict)
    choices = models.JSONField(default=dict)
    problem = models.TextField(blank=True)
    included = models.BooleanField(default=True)
    staged_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["id"]
