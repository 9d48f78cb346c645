"""Names people give to what they keep."""

from typing import Any

from django.db.models import QuerySet

from core.language import say
from server.common.errors import Conflict, Refusal


def given(name: str) -> str:
    """``name`` with single spaces between its words; refuses an empty one."""
    name = " ".join(name.split())
    if not name:
        raise Refusal(say("Give it a name first."))
    return name


def free(rows: QuerySet[Any], name: str, what: str, but: int = 0) -> str:
    """A name none of ``rows`` has, upper and lower case alike, but for the row ``but`` that is named anew. ``what`` they
    are is said with its article."""
    name = given(name)
    if rows.filter(name__iexact=name).exclude(pk=but).exists():
        raise Conflict(say("There is {what} “{name}” already; choose another name.", what=what, name=name))
    return name
