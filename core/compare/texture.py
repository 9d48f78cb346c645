"""Where words and paragraphs lie in the texts: what counting words, and nearness in paragraphs, stand on."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.attribution import expand
from core.compare.snapshot import Snapshot
from core.text.words import bounds_in_turns

Ints = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Texture:
    """Words of all turns in order, each of one turn; positions in the document, code points.

    turn_first             (turns + 1,)  turn t's words are turn_first[t]:turn_first[t + 1]
    word_start, word_end   (words,)
    paragraph_first        (documents + 1,)
    paragraph_start        (paragraphs,)  where each line with ink begins
    """

    turn_first: Ints
    word_start: Ints
    word_end: Ints
    paragraph_first: Ints
    paragraph_start: Ints


@dataclass(frozen=True)
class Weave:
    """The texture of one text: bounds of its words (words, 2), and starts of its paragraphs."""

    words: npt.NDArray[np.int32]
    paragraphs: npt.NDArray[np.int32]


def weave(text: str, turns: list[tuple[int, int]]) -> Weave:
    """Find words turn by turn (``turns``: bounds in order), so that none lies across two."""
    starts, at = [], 0
    for line in text.split("\n"):
        if line.strip():
            starts.append(at)
        at += len(line) + 1
    return Weave(bounds_in_turns(text, turns), np.array(starts, np.int32))


def texture(snapshot: Snapshot, weaves: list[Weave]) -> Texture:
    """Put the texts together; ``weaves`` (documents,) in the snapshot's order, found with its turns."""
    words = np.concatenate([one.words for one in weaves] or [np.zeros((0, 2), np.int32)]).astype(np.int64)
    document = np.repeat(np.arange(len(weaves)), [len(one.words) for one in weaves])
    stride = int(max(snapshot.turn_end.max(initial=0), words.max(initial=0))) + 1
    ends = snapshot.turn_document.astype(np.int64) * stride + snapshot.turn_end
    # Turns are sorted and words lie within them: those that begin before a turn's end are of it or of one before.
    first = np.searchsorted(document * stride + words[:, 0], ends, side="left")
    counts = [len(one.paragraphs) for one in weaves]
    return Texture(
        np.concatenate([[0], first]).astype(np.int64),
        words[:, 0],
        words[:, 1],
        np.concatenate([[0], np.cumsum(counts)]).astype(np.int64),
        np.concatenate([one.paragraphs for one in weaves] or [np.zeros(0, np.int32)]).astype(np.int64),
    )


def words_by_turn(
    snapshot: Snapshot, woven: Texture, row: Ints, passage: npt.NDArray[np.integer]
) -> tuple[Ints, Ints, Ints]:
    """Distinct words of each row in each turn, from the row's (row, passage) pairs: three arrays (row, turn, words),
    sorted by row and turn, words above 0.

    A word is covered where a passage overlaps it in at least one character; one that several passages of a row cover
    counts once.
    """
    stride = int(max(snapshot.turn_end.max(initial=0), snapshot.passage_end.max(initial=0))) + 1
    inked = np.flatnonzero(snapshot.turn_end > snapshot.turn_start)
    base = snapshot.turn_document.astype(np.int64)[inked] * stride
    starts, ends = base + snapshot.turn_start[inked], base + snapshot.turn_end[inked]
    at = snapshot.passage_document.astype(np.int64) * stride
    first = np.searchsorted(ends, at + snapshot.passage_start, side="right")[passage]
    last = np.searchsorted(starts, at + snapshot.passage_end, side="left")[passage]
    pair, place = expand(first.astype(np.int64), last.astype(np.int64))
    turn = inked[place]
    low, high = _covered(snapshot, woven, passage[pair], turn)
    return _merged(row[pair], turn, low, high, len(woven.word_start))


def _covered(snapshot: Snapshot, woven: Texture, passage: npt.NDArray[np.integer], turn: Ints) -> tuple[Ints, Ints]:
    """The range of words of ``turn`` that ``passage`` overlaps, (pairs,) each."""
    document = snapshot.turn_document.astype(np.int64)
    of_word = np.repeat(document, np.diff(woven.turn_first))
    stride = int(max(woven.word_end.max(initial=0), snapshot.passage_end.max(initial=0))) + 1
    at = document[turn] * stride
    low = np.searchsorted(of_word * stride + woven.word_end, at + snapshot.passage_start[passage], side="right")
    high = np.searchsorted(of_word * stride + woven.word_start, at + snapshot.passage_end[passage], side="left")
    return np.maximum(low, woven.turn_first[turn]), np.minimum(high, woven.turn_first[turn + 1])


def _merged(row: Ints, turn: Ints, low: Ints, high: Ints, words: int) -> tuple[Ints, Ints, Ints]:
    """Add up the union of the ranges by (row, turn): sorted by start, each adds what lies beyond all before it."""
    kept = high > low
    row, turn, low, high = row[kept], turn[kept], low[kept], high[kept]
    line = words + 1
    order = np.argsort(row * line + low, kind="stable")
    row, turn, low, high = row[order], turn[order], low[order] + row[order] * line, high[order] + row[order] * line
    reached = np.concatenate([[0], np.maximum.accumulate(high)[:-1]]) if len(high) else high
    fresh = np.maximum(high - np.maximum(low, reached), 0)
    turns = int(turn.max(initial=0)) + 1
    cell, place = np.unique(row * turns + turn, return_inverse=True)
    total = np.bincount(place, weights=fresh, minlength=len(cell)).astype(np.int64)
    return cell // turns, cell % turns, total
