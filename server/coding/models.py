"""Codes, passages, and codings: one code on one passage by one coder."""

from django.db import models
from django.db.models import F, Q
from django.db.models.functions import Lower, Now

from server.gather.models import Document
from server.projects.models import Account, Project

COLOURS = 16


class Code(models.Model):
    """``covers``, ``excludes`` and ``example`` make the definition usable by somebody else."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="codes")
    parent = models.ForeignKey("self", models.CASCADE, null=True, blank=True, related_name="children")
    name = models.CharField(max_length=160)
    colour = models.PositiveSmallIntegerField()
    definition = models.TextField(blank=True)
    covers = models.TextField(blank=True)
    excludes = models.TextField(blank=True)
    example = models.TextField(blank=True)
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(
                F("project"), F("parent"), Lower("name"), name="one_code_a_name", nulls_distinct=False
            ),
            models.CheckConstraint(condition=~Q(name=""), name="code_has_a_name"),
            models.CheckConstraint(condition=~Q(parent=F("id")), name="code_not_beneath_itself"),
            models.CheckConstraint(condition=Q(colour__lt=COLOURS), name="colour_in_palette"),
        ]


class Passage(models.Model):
    """A stretch of text that someone marked, drawn in to non-space characters."""

    document = models.ForeignKey(Document, models.CASCADE, related_name="passages")
    start = models.PositiveIntegerField()
    end = models.PositiveIntegerField()

    class Meta:
        ordering = ["document_id", "start", "end"]
        constraints = [
            models.UniqueConstraint(fields=["document", "start", "end"], name="one_passage_a_stretch"),
            models.CheckConstraint(condition=Q(start__lt=F("end")), name="passage_not_empty"),
        ]


class Coding(models.Model):
    passage = models.ForeignKey(Passage, models.CASCADE, related_name="codings")
    code = models.ForeignKey(Code, models.CASCADE, related_name="codings")
    coder = models.ForeignKey(Account, models.PROTECT, related_name="codings")
    made_at = models.DateTimeField(db_default=Now())

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["passage", "code", "coder"], name="one_coding_a_coder"),
        ]


class Pin(models.Model):
    """A code under one of a coder's keys 1 to 9."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="pins")
    account = models.ForeignKey(Account, models.CASCADE, related_name="+")
    code = models.ForeignKey(Code, models.CASCADE, related_name="pins")
    key = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["key"]
        constraints = [
            models.UniqueConstraint(fields=["project", "account", "key"], name="one_pin_a_key"),
            models.UniqueConstraint(fields=["account", "code"], name="one_key_a_code"),
            models.CheckConstraint(condition=Q(key__gte=1, key__lte=9), name="key_is_1_to_9"),
        ]
