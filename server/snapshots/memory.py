"""What is kept in this process, all of it under one lock: texts, words, groups, answers. What was used longest ago goes first."""

import threading
from collections.abc import Callable, Mapping
from typing import Any, Generic, TypeVar

from cachetools import LRUCache

from core.snapshot.snapshot import Snapshot

PROJECTS = 8
"""Projects whose rows are kept in other forms at once."""
Key = TypeVar("Key")
Value = TypeVar("Value")
lock = threading.RLock()
_every: list["Kept[Any, Any]"] = []


class Kept(Generic[Key, Value]):
    """So many things by their keys."""

    def __init__(self, most: int) -> None:
        self._held: LRUCache[Key, Value] = LRUCache(most)
        _every.append(self)

    def get(self, key: Key) -> Value | None:
        with lock:
            return self._held.get(key)

    def items(self) -> list[tuple[Key, Value]]:
        with lock:
            return list(self._held.items())

    def put(self, more: Mapping[Key, Value]) -> None:
        with lock:
            self._held.update(more)

    def drop(self, which: Callable[[Key, Value], bool]) -> None:
        with lock:
            for key in [key for key, value in self.items() if which(key, value)]:
                del self._held[key]

    def clear(self) -> None:
        with lock:
            self._held.clear()


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


def forget() -> None:
    """Empty all of it (tests and benchmarks)."""
    with lock:
        for one in _every:
            one.clear()
