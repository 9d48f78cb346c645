"""What is made of a project's rows, kept while none of them is touched."""

from collections.abc import Callable
from typing import Generic, TypeVar

from core.snapshot.snapshot import Snapshot
from server.common.memory import Kept

PROJECTS = 8
"""Projects whose rows are kept in other forms at once."""
Value = TypeVar("Value")


class Made(Generic[Value]):
    """What is made of a project's rows of some kinds alone: kept while none of them is touched. Not to be changed."""

    def __init__(self, *rests_on: str) -> None:
        self._rests_on = rests_on
        self._held: Kept[int, tuple[tuple[str, int], Value]] = Kept(PROJECTS)

    def of(self, project_id: int, snapshot: Snapshot, make: Callable[[], Value]) -> Value:
        """As it is for a snapshot; ``make`` reads it from the state that the snapshot is of, or a later one."""
        since, kept = snapshot.since(*self._rests_on), self._held.get(project_id)
        if kept is not None and kept[0] == since:
            return kept[1]
        made = make()
        self._held.put({project_id: (since, made)})
        return made
