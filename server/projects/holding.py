"""Who may write to a project when: short writes one after the other, and long work beside them.

Whoever *holds* a project is the only one whose writes end now. Long work doesn't hold it while it goes on: what it
has written is its own until it ends, seen by nobody, and it holds the project only for that end.
"""

from django.db import connection

from core.language import say
from server.common.errors import NotFound
from server.projects.models import Membership, Project

MOMENT = "150ms"
"""Whoever holds a project waits no longer for a row that long work has in hand: others wait behind them."""
_BESIDE = 8323
"""First key of the advisory locks by which long work of one project goes one after the other."""


def hold(member: Membership) -> Project:
    """The project, until this transaction ends, and the member's role as it is now that nobody else can change it."""
    with connection.cursor() as cursor:
        cursor.execute(_HELD, [member.project_id])
        row = cursor.fetchone()
        # A question of its own: the role as it is once nobody else holds the project.
        cursor.execute(_ROLE, [MOMENT, member.pk])
        role = cursor.fetchone()
    if row is None or role is None:
        raise NotFound(say("You aren’t a member of this project any more."))
    (member.role, _) = role
    return Project.from_db(connection.alias, _NAMES, row)


# Said in SQL: every write asks this, and the framework takes longer to put it into words than the database to answer.
# Rows that point to the project don't stand in the way: long work makes them all the time.
_NAMES = [field.attname for field in Project._meta.concrete_fields]
_HELD = f"SELECT {', '.join(_NAMES)} FROM projects_project WHERE id = %s FOR NO KEY UPDATE"
_ROLE = "SELECT role, set_config('lock_timeout', %s, true) FROM projects_membership WHERE id = %s"


def one_after_the_other(project_id: int) -> None:
    """Wait for other long work in the project, until this transaction ends."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s, %s)", [_BESIDE, project_id])
