"""Conditions that several tables are held to."""

from collections.abc import Sequence

from django.db.models import Q


def exactly_one(columns: Sequence[str]) -> Q:
    """One of these columns is filled, and no other."""
    return Q(
        *[
            Q(**{f"{held}__isnull": False}, **{f"{other}__isnull": True for other in columns if other != held})
            for held in columns
        ],
        _connector=Q.OR,
    )
