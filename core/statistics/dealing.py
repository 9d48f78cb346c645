"""Dealing group labels out anew: to people one by one, inside layers, and with people who heard each other kept together."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import count
from math import lgamma, log
from threading import Lock

import numpy as np
import numpy.typing as npt

from core.statistics.sums import MOST_AT_ONCE, Labels

Ints = npt.NDArray[np.int64]

MOST_KEPT = 16_000_000
"""Labels that are kept of one question: 32 MB."""
_BITS = 20
"""Of a number that is put in random order."""


@dataclass(frozen=True)
class Exchange:
    """Which labels may change places. ``classes`` hold blocks that are exchangeable with one another, each
    (blocks, members) of people by position; ``strata`` (people,) is the layer of each person: inside a block, labels
    change places within a layer only, and blocks of one class have the same layers in the same places."""

    labels: npt.NDArray[np.int16]
    classes: tuple[Ints, ...]
    strata: Ints

    @property
    def log_arrangements(self) -> float:
        """Natural logarithm of how many different arrangements there are (blocks counted as different where their labels
        are; an upper bound where a block's members and blocks themselves could lead to the same one)."""
        total = 0.0
        for blocks in self.classes:
            kept = [tuple(sorted(zip(self.strata[one], self.labels[one], strict=True))) for one in blocks]
            total += _orders([kept.count(one) for one in set(kept)])
            if blocks.shape[1] > 1:
                for one in blocks:
                    for stratum in np.unique(self.strata[one]):
                        within = self.labels[one][self.strata[one] == stratum]
                        total += _orders(np.unique(within, return_counts=True)[1].tolist())
        return total

    def too_few(self, level: float) -> bool:
        """Whether even the rarest arrangement comes up more often than ``level``."""
        return self.log_arrangements < log(1 / level) - 1e-9

    def dealt(self, times: int, seed: int, at_once: int = MOST_AT_ONCE) -> Iterator[Labels]:
        """``times`` random arrangements, in batches of (arrangements, people), ``at_once`` at most; not to be written in:
        whoever asks for the same again gets the same."""
        if times * len(self.labels) > MOST_KEPT:
            return self._made(times, seed, at_once)
        classes = tuple((blocks.shape[1], blocks.tobytes()) for blocks in self.classes)
        return iter(_kept(self.labels.tobytes(), classes, self.strata.tobytes(), times, seed, at_once))

    def _made(self, times: int, seed: int, at_once: int) -> Iterator[Labels]:
        generator = np.random.default_rng(seed)
        for size in _batches(times, at_once):
            found = np.empty((size, len(self.labels)), np.int16)
            for blocks in self.classes:
                self._deal(found, blocks, generator)
            yield found

    def _deal(self, found: Labels, blocks: Ints, generator: np.random.Generator) -> None:
        size, many = len(found), len(blocks)
        if blocks.shape[1] == 1:
            people = blocks[:, 0]
            found[:, people] = _in_any_order(self.labels[people], size, generator)
            return
        dealt = self.labels[blocks][_in_any_order(np.arange(many), size, generator)]
        layers = self.strata[blocks[0]]
        for layer in np.unique(layers):
            at = np.flatnonzero(layers == layer)
            dealt[:, :, at] = generator.permuted(dealt[:, :, at], axis=2)
        found[:, blocks] = dealt


class _Dealt:
    """Arrangements that were dealt before, and more as somebody asks for them."""

    def __init__(self, more: Iterator[Labels]) -> None:
        self._more = more
        self._batches: list[Labels] = []
        self._lock = Lock()

    def __iter__(self) -> Iterator[Labels]:
        for place in count():
            with self._lock:
                if place == len(self._batches):
                    try:
                        batch = next(self._more, None)
                    except BaseException:
                        # A dealer that fell over deals no more: nobody else may take the few there are for all.
                        _kept.cache_clear()
                        raise
                    if batch is None:
                        return
                    batch.flags.writeable = False
                    self._batches.append(batch)
            yield self._batches[place]


@lru_cache(maxsize=4)
def _kept(
    labels: bytes, classes: tuple[tuple[int, bytes], ...], strata: bytes, times: int, seed: int, at_once: int
) -> _Dealt:
    """Questions about the same people in the same groups, one after the other, are most of what is asked."""
    blocks = tuple(np.frombuffer(held, np.int64).reshape(-1, width) for width, held in classes)
    same = Exchange(np.frombuffer(labels, np.int16), blocks, np.frombuffer(strata, np.int64))
    return _Dealt(same._made(times, seed, at_once))


def _batches(times: int, at_once: int) -> Iterator[int]:
    return (min(at_once, times - start) for start in range(0, times, at_once))


def _in_any_order(numbers: npt.NDArray[np.integer], times: int, generator: np.random.Generator) -> Ints:
    """Random orders of ``numbers`` (from 0, less than 2²⁰), (times, numbers): sorted by random bits that stand above each
    number. Faster than swapping one by one; two of a thousand meet in these bits once in 30 million orders."""
    keys = generator.integers(0, 2**44, size=(times, len(numbers)), dtype=np.int64)
    keys <<= _BITS
    keys |= np.asarray(numbers, np.int64)
    keys.sort(axis=1)
    keys &= (1 << _BITS) - 1
    return keys


def _orders(counts: list[int]) -> float:
    """Log of the ways to order things of which so many are alike."""
    return lgamma(sum(counts) + 1) - sum(lgamma(count + 1) for count in counts)


def exchange(
    labels: npt.NDArray[np.integer], strata: npt.NDArray[np.integer] | None = None, together: Ints | None = None
) -> Exchange:
    """What may be exchanged. ``labels`` (people,) from 0; ``strata`` (people,) layers that labels stay inside;
    ``together`` (people,) the number of each person's conversation: those of one are dealt as one block, whole, with a
    block of the same size (and layers), and among its own members.

    Source: multi-level exchangeability, Winkler, Webster, Vidaurre, Nichols & Smith 2015, *NeuroImage* 123.
    """
    people = len(labels)
    layer = np.zeros(people, np.int64) if strata is None else np.asarray(strata, np.int64)
    block = np.arange(people) if together is None else np.asarray(together, np.int64)
    order = np.lexsort((layer, block))
    bounds = np.flatnonzero(np.diff(block[order], prepend=-1))
    members = np.split(order, bounds[1:]) if people else []
    alike: dict[tuple[int, ...], list[Ints]] = {}
    for one in members:
        alike.setdefault(tuple(layer[one].tolist()), []).append(one)
    classes = tuple(np.stack(blocks).astype(np.int64) for _, blocks in sorted(alike.items()))
    return Exchange(np.asarray(labels, np.int16), classes, layer)


def conversations(people: Ints, places: Ints, count: int) -> Ints:
    """The number of each person's conversation, (count,): people who were in one place together, or with somebody who
    was, are in one. ``people`` and ``places`` (meetings,): who was where."""
    from scipy.sparse import coo_array
    from scipy.sparse.csgraph import connected_components

    many = int(places.max(initial=-1)) + 1
    links = coo_array((np.ones(len(people)), (people, count + places)), shape=(count + many, count + many))
    _, number = connected_components(links, directed=False)
    return np.unique(number[:count], return_inverse=True)[1].astype(np.int64)


@dataclass(frozen=True)
class Reorder:
    """Occasions dealt anew within each person: a label is a number among ``orders``, 0 as it was. People of one
    conversation (``together``) are dealt the same order: they heard each other each time."""

    together: Ints
    orders: int

    @property
    def labels(self) -> npt.NDArray[np.int16]:
        return np.zeros(len(self.together), np.int16)

    @property
    def log_arrangements(self) -> float:
        return len(np.unique(self.together)) * log(self.orders)

    def too_few(self, level: float) -> bool:
        return self.log_arrangements < log(1 / level) - 1e-9

    def dealt(self, times: int, seed: int, at_once: int = MOST_AT_ONCE) -> Iterator[Labels]:
        """``times`` random arrangements, in batches of (arrangements, people), ``at_once`` at most."""
        generator = np.random.default_rng(seed)
        blocks, of = np.unique(self.together, return_inverse=True)
        for size in _batches(times, at_once):
            yield generator.integers(self.orders, size=(size, len(blocks)), dtype=np.int16)[:, of]
