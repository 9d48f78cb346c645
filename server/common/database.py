"""One state of the database for several questions."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import transaction


@contextmanager
def one_state() -> Iterator[None]:
    """What is read inside is of one moment, whatever others write meanwhile."""
    # Inside a caller's transaction (an action, a test) that transaction is the one state.
    with transaction.atomic():
        if not transaction.get_connection().savepoint_ids:
            with transaction.get_connection().cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
        yield
