"""One state of the database for several questions."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from typing import ParamSpec, TypeVar

from django.db import transaction

from core.language import say
from server.common.errors import Conflict

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")
_TRIES = 5


class Moved(Exception):
    """What was counted isn't there any more: somebody changed it between two questions."""


@contextmanager
def one_state() -> Iterator[None]:
    """What is read inside is of one moment, whatever others write meanwhile."""
    # Inside a caller's transaction (an action, a test) that transaction is the one state.
    with transaction.atomic():
        if not transaction.get_connection().savepoint_ids:
            with transaction.get_connection().cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
        yield


def of_one_state(answer: Callable[Asked, Answer]) -> Callable[Asked, Answer]:
    """Answer from one state of the database; anew where what was counted has moved on since it was counted."""

    @wraps(answer)
    def answered(*asked: Asked.args, **more: Asked.kwargs) -> Answer:
        for _ in range(_TRIES):
            try:
                with one_state():
                    return answer(*asked, **more)
            except Moved:
                continue
        raise Conflict(say("Others are changing this just now. Ask again in a moment."))

    return answered
