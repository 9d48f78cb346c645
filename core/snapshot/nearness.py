"""Which passages lie on or near each other: overlapping, or within so many turns, paragraphs or seconds."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.language import say
from core.snapshot.columns import REGION, SPAN
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture
from core.statistics.ranges import expand

Ints = npt.NDArray[np.int64]
Unit = Literal["overlap", "turns", "paragraphs", "seconds"]
MOST_PAIRS = 30_000_000
"""Pairs of passages that are joined at most: bounds memory."""
_THOUSANDTHS = 1000


class TooNear(ValueError):
    """So many passages lie within the distance that nothing could be told from it; the message says what to do."""


@dataclass(frozen=True)
class Nearness:
    """``overlap``: at least one character (or moment) in common; else at most ``within`` units apart, 0 being the same
    turn or paragraph, or touching in time."""

    unit: Unit = "overlap"
    within: float = 0


@dataclass(frozen=True)
class Extents:
    """Each passage as a half-open stretch of a line, (passages,) each: a line is a document, or, for what has no place
    in the unit (a region of a picture, a text without times), a line of its own. ``high`` is without the distance."""

    line: Ints
    low: Ints
    high: Ints
    reach: int

    @property
    def far(self) -> Ints:
        """Where a passage's neighbourhood ends: another that begins before it is near."""
        return self.high + self.reach


def extents(snapshot: Snapshot, nearness: Nearness, texture: Texture | None = None) -> Extents:
    """Where passages lie in the unit; ``texture`` is needed for paragraphs."""
    passages, documents = len(snapshot.passage_ids), len(snapshot.document_ids)
    line = snapshot.passage_document.astype(np.int64)
    alone = documents * 2 + np.arange(passages)
    kind = snapshot.passage_kind if len(snapshot.passage_kind) else np.zeros(passages, np.int8)
    if nearness.unit == "overlap":
        low, high = snapshot.passage_start.astype(np.int64), snapshot.passage_end.astype(np.int64)
        heard = kind == SPAN
        if heard.any():
            low = np.where(heard, _thousandths(snapshot.passage_begin), low)
            high = np.where(heard, _thousandths(snapshot.passage_finish), high)
        line = np.where(kind == REGION, alone, np.where(heard, line + documents, line))
        return Extents(line, low, np.maximum(high, low + 1), 0)
    if nearness.unit == "paragraphs":
        assert texture is not None, "Paragraphs are told from the texts."
        low, high = _paragraphs(snapshot, texture)
        return Extents(np.where(kind == 0, line, alone), low, high, int(nearness.within))
    first, last = _turns(snapshot, kind)
    known = first >= 0
    if nearness.unit == "turns":
        return Extents(np.where(known, line, alone), first, last + 1, int(nearness.within))
    low, high = _seconds(snapshot, kind, first, last)
    known = (low >= 0) & (high > low)
    return Extents(np.where(known, line, alone), low, np.maximum(high, low + 1), round(nearness.within * _THOUSANDTHS))


def near_pairs(where: Extents, kept: npt.NDArray[np.bool_]) -> tuple[Ints, Ints]:
    """All pairs of different passages among ``kept`` that are near, each once, by a sorted sweep.

    Source of the method: a sort by start, then for each the run of those that start before its end (common practice).
    """
    among = np.flatnonzero(kept)
    order = among[np.lexsort((where.low[among], where.line[among]))]
    stride = int(where.far.max(initial=0)) + 1
    begins = where.line[order] * stride + where.low[order]
    ends = np.searchsorted(begins, where.line[order] * stride + where.far[order], side="left")
    following = np.arange(1, len(order) + 1)
    if int(np.maximum(ends - following, 0).sum()) > MOST_PAIRS:
        raise TooNear(say("Too many passages lie that near to each other: choose a smaller distance."))
    one, other = expand(following.astype(np.int64), ends.astype(np.int64))
    return order[one], order[other]


def _thousandths(seconds: npt.NDArray[np.float64]) -> Ints:
    return np.where(np.isnan(seconds), -1, np.round(np.nan_to_num(seconds) * _THOUSANDTHS)).astype(np.int64)


def _paragraphs(snapshot: Snapshot, texture: Texture) -> tuple[Ints, Ints]:
    """The paragraphs that each passage begins in, and one past the last it reaches into."""
    stride = int(max(texture.paragraph_start.max(initial=0), snapshot.passage_end.max(initial=0))) + 1
    document = np.repeat(np.arange(len(texture.paragraph_first) - 1), np.diff(texture.paragraph_first))
    line = document * stride + texture.paragraph_start
    at = snapshot.passage_document.astype(np.int64) * stride
    first = np.searchsorted(line, at + snapshot.passage_start, side="right")
    last = np.searchsorted(line, at + np.maximum(snapshot.passage_end - 1, snapshot.passage_start), side="right")
    return first.astype(np.int64), last.astype(np.int64) + 1


def _turns(snapshot: Snapshot, kind: npt.NDArray[np.int8]) -> tuple[Ints, Ints]:
    """The first and the last turn of each passage; −1 for a region. Turns of a document follow one another."""
    stride = int(max(snapshot.turn_end.max(initial=0), snapshot.passage_end.max(initial=0))) + 1
    inked = np.flatnonzero(snapshot.turn_end > snapshot.turn_start)
    if not len(inked):
        none = np.full(len(snapshot.passage_ids), -1, np.int64)
        return none, none
    base = snapshot.turn_document.astype(np.int64)[inked] * stride
    at = snapshot.passage_document.astype(np.int64) * stride
    first = np.searchsorted(base + snapshot.turn_end[inked], at + snapshot.passage_start, side="right")
    last = np.searchsorted(base + snapshot.turn_start[inked], at + snapshot.passage_end, side="left") - 1
    found = (kind == 0) & (first <= last)
    top = len(inked) - 1
    low, high = inked[np.minimum(first, top)].astype(np.int64), inked[np.clip(last, 0, top)].astype(np.int64)
    low, high = np.where(found, low, -1), np.where(found, high, -1)
    for passage in np.flatnonzero(kind == SPAN).tolist():
        heard = np.flatnonzero(
            (snapshot.turn_document == snapshot.passage_document[passage])
            & (snapshot.turn_begin < snapshot.passage_finish[passage])
            & (snapshot.turn_finish > snapshot.passage_begin[passage])
        )
        if len(heard):
            low[passage], high[passage] = heard[0], heard[-1]
    return low, high


def _seconds(snapshot: Snapshot, kind: npt.NDArray[np.int8], first: Ints, last: Ints) -> tuple[Ints, Ints]:
    """When each passage begins and ends, in thousandths of a second; −1 where it has no time."""
    if not len(snapshot.turn_begin):
        none = np.full(len(kind), -1, np.int64)
        return none, none
    low = np.where(first >= 0, _thousandths(snapshot.turn_begin)[first], -1)
    high = np.where(last >= 0, _thousandths(snapshot.turn_finish)[last], -1)
    heard = kind == SPAN
    low = np.where(heard, _thousandths(snapshot.passage_begin), low)
    return low, np.where(heard, _thousandths(snapshot.passage_finish), high)
