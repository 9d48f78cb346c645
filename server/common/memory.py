"""What is kept in this process, all of it under one lock: texts, words, groups, answers. What was used longest ago goes first."""

import threading
from collections.abc import Callable, Mapping
from typing import Any, Generic, TypeVar

from cachetools import LRUCache

Key = TypeVar("Key")
Value = TypeVar("Value")
lock = threading.RLock()
_every: list["Kept[Any, Any]"] = []


class Kept(Generic[Key, Value]):
    """So many things by their keys, or, where ``size`` tells how large each is, so much of them; what is larger isn't kept."""

    def __init__(self, most: int, size: Callable[[Value], int] | None = None) -> None:
        self._held: LRUCache[Key, Value] = LRUCache(most, getsizeof=size)
        self._most, self._size = most, size
        _every.append(self)

    def get(self, key: Key) -> Value | None:
        with lock:
            return self._held.get(key)

    def items(self) -> list[tuple[Key, Value]]:
        with lock:
            return list(self._held.items())

    def put(self, more: Mapping[Key, Value]) -> None:
        with lock:
            self._held.update(
                (key, one) for key, one in more.items() if self._size is None or self._size(one) <= self._most
            )

    def drop(self, which: Callable[[Key, Value], bool]) -> None:
        with lock:
            for key in [key for key, value in self.items() if which(key, value)]:
                del self._held[key]

    def clear(self) -> None:
        with lock:
            self._held.clear()


def forget() -> None:
    """Empty all of it (tests and benchmarks)."""
    with lock:
        for one in _every:
            one.clear()
