"""Kinds that several rooms name."""

from django.db import models

from core.language import message


class MemoKind(models.TextChoices):
    REFLEXIVE = "reflexive", message("Reflexive")
    ANALYTIC = "analytic", message("Analytic")
    CODEBOOK = "codebook", message("Codebook")
    TEAM = "team", message("Team")
    METHOD = "method", message("Method")
