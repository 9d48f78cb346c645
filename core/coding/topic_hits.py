"""The hits of topics as they are read: sentences that follow one another are one stretch."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

Ints = npt.NDArray[np.int64]
Marks = npt.NDArray[np.bool_]
NEXT_TO = 3
"""Code points, spaces as a rule, between two sentences that follow one another."""


@dataclass(frozen=True)
class Sentences:
    """Sentences that hold a phrase, each (sentences,): ``topic``, ``document`` and ``turn`` by any numbers, where each starts and
    ends, who says it (``case``, −1 for somebody who isn't linked), and whether it is ``ticked``."""

    topic: Ints
    document: Ints
    turn: Ints
    start: Ints
    end: Ints
    case: Ints
    ticked: Marks


def stretches(found: Sentences) -> Sentences:
    """The same with each sentence once a topic, those that follow one another in a turn, ticked alike, as one; by topic, document
    and place."""
    order = np.lexsort((found.end, found.start, found.document, found.topic))
    found = taken(found, order)
    topic, document, turn, start, end = found.topic, found.document, found.turn, found.start, found.end
    if not len(order):
        return found
    fresh = np.ones(len(order), bool)
    # Sentences don't overlap: the same one by two phrases ends where it ended.
    fresh[1:] = (
        (topic[1:] != topic[:-1])
        | (document[1:] != document[:-1])
        | (turn[1:] != turn[:-1])
        | (found.ticked[1:] != found.ticked[:-1])
        | (start[1:] > end[:-1] + NEXT_TO)
    )
    first = np.flatnonzero(fresh)
    return replace(taken(found, first), end=np.maximum.reduceat(end, first))


def taken(found: Sentences, kept: Ints | Marks) -> Sentences:
    """These of the sentences: by their places, or by a mark each."""
    return Sentences(
        found.topic[kept], found.document[kept], found.turn[kept], found.start[kept], found.end[kept], found.case[kept],
        found.ticked[kept],
    )  # fmt: skip


@dataclass(frozen=True)
class Counts:
    """Of one topic: stretches that are ticked and that aren't; linked people who say what is ticked, in how many documents, and ticked
    stretches of speakers who aren't linked."""

    hits: int
    unticked: int
    people: int
    documents: int
    not_linked: int


def counts_of(found: Sentences, topic: int) -> Counts:
    """What a topic comes to; ``found`` as :func:`stretches` gives it."""
    own = taken(found, found.topic == topic)
    ticked = taken(own, own.ticked)
    linked = ticked.case >= 0
    return Counts(
        len(ticked.topic),
        len(own.topic) - len(ticked.topic),
        len(np.unique(ticked.case[linked])),
        len(np.unique(ticked.document)),
        int((~linked).sum()),
    )


def of_phrases(phrase: Ints, found: Sentences) -> dict[int, tuple[int, int]]:
    """Of each phrase its sentences, and how many linked people say them; ``phrase`` (sentences,)."""
    pairs = np.unique(np.stack([phrase, found.case], axis=1)[found.case >= 0], axis=0)
    people = dict(zip(*(column.tolist() for column in np.unique(pairs[:, 0], return_counts=True)), strict=True))
    which, count = np.unique(phrase, return_counts=True)
    return {pk: (hits, people.get(pk, 0)) for pk, hits in zip(which.tolist(), count.tolist(), strict=True)}
