"""Sums over each group's people, for many arrangements of labels at once: what every shuffling test counts."""

import numpy as np
import numpy.typing as npt

Singles = npt.NDArray[np.float32]
Labels = npt.NDArray[np.int16]

MOST_AT_ONCE = 250
"""Arrangements worked out at once where there is room: enough for one large product, few enough to stay in the cache."""
ROOM = 16_000_000
"""Numbers held for them at most."""


def at_once(numbers: int) -> int:
    """How many arrangements are worked out at once, where so many numbers are held for each."""
    return min(max(ROOM // max(numbers, 1), 1), MOST_AT_ONCE)


class Room:
    """Arrays that are written over and over: to make them anew each time takes longer than to fill them. Of one
    computation: not to be shared between threads."""

    def __init__(self) -> None:
        self._held: dict[str, npt.NDArray[np.generic]] = {}

    def singles(self, name: str, *shape: int) -> Singles:
        return self._of(name, shape, np.float32)

    def counts(self, name: str, *shape: int) -> npt.NDArray[np.int32]:
        return self._of(name, shape, np.int32)

    def flags(self, name: str, *shape: int) -> npt.NDArray[np.bool_]:
        return self._of(name, shape, np.bool_)

    def _of(self, name: str, shape: tuple[int, ...], kind: npt.DTypeLike) -> npt.NDArray:
        held = self._held.get(name)
        if held is None or held.shape != shape:
            held = self._held[name] = np.empty(shape, kind)
        return held


class Sums:
    """Sums of ``values`` (what, people) over the people of each of ``groups``. Not to be shared between threads."""

    def __init__(self, values: npt.ArrayLike, groups: int) -> None:
        self.values = np.ascontiguousarray(np.asarray(values, np.float32).T)
        self.groups = groups
        self._total = self.values.sum(axis=0)
        self._room = Room()

    @property
    def numbers(self) -> int:
        """Held for one arrangement."""
        return self.groups * sum(self.values.shape)

    def of(self, labels: Labels) -> Singles:
        """``labels`` (arrangements, people) give (groups, arrangements, what), until asked again. The last group's follow
        from the total. One product of large matrices: many small ones take longer."""
        (size, people), first = labels.shape, self.groups - 1
        found = self._room.singles("found", self.groups, size, self.values.shape[1])
        there = self._room.flags("there", first, size, people)
        member = self._room.singles("member", first, size, people)
        for group in range(first):
            np.equal(labels, group, out=there[group])
            member[group] = there[group]
        np.matmul(member.reshape(-1, people), self.values, out=found[:first].reshape(first * size, -1))
        found[first] = self._total
        for group in range(first):
            found[first] -= found[group]
        return found
