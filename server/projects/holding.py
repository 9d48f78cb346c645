"""Who may write to a project when: short writes one after the other, and long work beside them.

Whoever *holds* a project is the only one whose writes end now. Long work doesn't hold it while it goes on: what it
has written is its own until it ends, seen by nobody, and it holds the project only for that end.
"""

import re
from collections.abc import Sequence

from django.db import connection
from django.db.models import BooleanField, Q
from django.db.models.expressions import RawSQL

from server.common.errors import NotFound
from server.projects.models import Membership, Project, TrailEntry

MOMENT = "150ms"
"""Whoever holds a project waits no longer for a row that long work has in hand: others wait behind them."""
_BESIDE = 8323
"""First key of the advisory locks by which long work of one project goes one after the other."""


def hold(member: Membership) -> Project:
    """The project, until this transaction ends, and the member's role as it is now that nobody else can change it."""
    # Rows that point to the project don't stand in the way: long work makes them all the time.
    project = Project.objects.select_for_update(no_key=True).get(pk=member.project_id)
    with connection.cursor() as cursor:
        cursor.execute(f"SET LOCAL lock_timeout = '{MOMENT}'")
    role = Membership.objects.filter(pk=member.pk).values_list("role", flat=True).first()
    if role is None:
        raise NotFound("You aren’t a member of this project any more.")
    member.role = role
    return project


def one_after_the_other(project_id: int) -> None:
    """Wait for other long work in the project, until this transaction ends."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s, %s)", [_BESIDE, project_id])


def revision_of(project_id: int) -> int:
    return Project.objects.values_list("revision", flat=True).get(pk=project_id)


def moved_since(project_id: int, revision: int, rests_on: Sequence[str]) -> bool:
    """Whether somebody has changed, since this revision, rows of models whose labels begin with one of these."""
    begins = "|".join(re.escape(one) for one in rests_on)
    later = TrailEntry.objects.filter(Q(revision__gt=revision) | Q(turned__gt=revision), project=project_id)
    # What can't be taken back any more doesn't say what it changed.
    touches = RawSQL(_TOUCHES, [f"^({begins})"], BooleanField())
    return later.annotate(touches=touches).filter(Q(inverse=[]) | Q(touches=True)).exists()


_TOUCHES = "EXISTS (SELECT 1 FROM jsonb_array_elements(inverse) AS step WHERE step ->> 'model' ~ %s)"
