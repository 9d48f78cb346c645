"""Kinds that several rooms name."""

from django.db import models


class MemoKind(models.TextChoices):
    REFLEXIVE = "reflexive"
    ANALYTIC = "analytic"
    CODEBOOK = "codebook"
    TEAM = "team"
    METHOD = "method"
