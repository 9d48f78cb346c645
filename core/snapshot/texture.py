"""Where words and paragraphs lie in the texts: what counting words, and nearness in paragraphs, stand on."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from core.snapshot.incidence import Incidence
from core.snapshot.snapshot import Snapshot
from core.statistics.ranges import expand
from core.text.words import bounds_in_turns

Ints = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Texture:
    """Words of all turns of a snapshot in order, each of one turn; positions in the document, code points.

    turn_first             (turns + 1,)  turn t's words are turn_first[t]:turn_first[t + 1]
    word_start, word_end   (words,)
    paragraph_first        (documents + 1,)
    paragraph_start        (paragraphs,)  where each line with ink begins
    """

    snapshot: Snapshot
    turn_first: Ints
    word_start: Ints
    word_end: Ints
    paragraph_first: Ints
    paragraph_start: Ints

    @cached_property
    def pieces(self) -> "Pieces":
        """Which words each passage overlaps, turn by turn."""
        return _pieces(self)

    @cached_property
    def own_words(self) -> "RowWords":
        """Of each code's own passages, all coders."""
        return row_words(self, self.snapshot.own_rows)

    @cached_property
    def branch_words(self) -> "RowWords":
        """The same with those of all codes beneath it."""
        return row_words(self, self.snapshot.branch_rows)

    def words_in(self, rows: Incidence) -> "RowWords":
        """The words of any rows; those of the project's own are found once."""
        if rows is self.snapshot.own_rows:
            return self.own_words
        return self.branch_words if rows is self.snapshot.branch_rows else row_words(self, rows)


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
        snapshot,
        np.concatenate([[0], first]).astype(np.int64),
        words[:, 0],
        words[:, 1],
        np.concatenate([[0], np.cumsum(counts)]).astype(np.int64),
        np.concatenate([one.paragraphs for one in weaves] or [np.zeros(0, np.int32)]).astype(np.int64),
    )


@dataclass(frozen=True)
class Pieces:
    """Passages cut where turns begin; words by place in the texture, half-open.

    low, high             (passages,)      all the words that a passage overlaps in at least one character
    first                 (passages + 1,)  passage p's pieces are first[p]:first[p + 1]
    begins, ends          (pieces,)        the words of one turn among them
    talk                  (pieces,)        who speaks where in that turn, −1 for nobody's
    """

    low: Ints
    high: Ints
    first: Ints
    begins: Ints
    ends: Ints
    talk: Ints


def _pieces(texture: Texture) -> Pieces:
    snapshot = texture.snapshot
    words = np.diff(texture.turn_first)
    of_word = np.repeat(snapshot.turn_document.astype(np.int64), words)
    stride = int(max(texture.word_end.max(initial=0), snapshot.passage_end.max(initial=0))) + 1
    at = snapshot.passage_document.astype(np.int64) * stride
    low = np.searchsorted(of_word * stride + texture.word_end, at + snapshot.passage_start, side="right")
    high = np.searchsorted(of_word * stride + texture.word_start, at + snapshot.passage_end, side="left")
    high = np.maximum(high, low)
    # The turns between the one that the first word is of and the one that the last is of.
    inked = np.flatnonzero(words)
    bounds = texture.turn_first[inked]
    begin = np.searchsorted(bounds, low, side="right") - 1
    end = np.searchsorted(bounds, high, side="left")
    some = high > low
    passage, place = expand(np.where(some, begin, 0).astype(np.int64), np.where(some, end, 0).astype(np.int64))
    turn = inked[place]
    count = np.bincount(passage, minlength=len(low))
    return Pieces(
        low.astype(np.int64),
        high.astype(np.int64),
        np.concatenate([[0], np.cumsum(count)]).astype(np.int64),
        np.maximum(low[passage], texture.turn_first[turn]),
        np.minimum(high[passage], texture.turn_first[turn + 1]),
        _talk_of(snapshot, turn),
    )


def _talk_of(snapshot: Snapshot, turn: Ints) -> Ints:
    """The talk that each turn is part of; whoever speaks a turn with words has one."""
    case = snapshot.turn_case[turn].astype(np.int64)
    wide = len(snapshot.document_ids) + 1
    keys = snapshot.talks.case * wide + snapshot.talks.document + 1
    found = np.searchsorted(keys, case * wide + snapshot.turn_document[turn] + 1)
    return np.where(case >= 0, found, -1)


def fresh_words(texture: Texture, row: Ints, passage: npt.NDArray[np.integer]) -> tuple[Ints, Ints, Ints]:
    """Distinct words of each row by piece, from the row's (row, passage) pairs, sorted: three arrays (row, talk, words),
    −1 for a talk of nobody, words above 0.

    One that several passages of a row cover counts once: passages begin in order, so each adds in every turn what lies
    beyond all before it.
    """
    cut = texture.pieces
    line = row * (len(texture.word_start) + 1)
    reached = np.maximum.accumulate(line + cut.high[passage]) if len(row) else line
    before = np.concatenate([[0], reached[:-1]])[: len(row)] - line
    pair, piece = expand(cut.first[passage], cut.first[passage.astype(np.int64) + 1])
    words = cut.ends[piece] - np.maximum(cut.begins[piece], before[pair])
    kept = words > 0
    return row[pair[kept]], cut.talk[piece[kept]], words[kept]


@dataclass(frozen=True)
class RowWords:
    """Distinct words of every row by talk, each once in a row: row r's are ``first[r]:first[r + 1]`` of ``talk`` and
    ``words``."""

    first: Ints
    talk: Ints
    words: Ints

    def of(self, chosen: Ints) -> tuple[Ints, Ints, Ints]:
        """Place among the chosen rows, talk, and words."""
        place, at = expand(self.first[chosen], self.first[chosen + 1])
        return place, self.talk[at], self.words[at]


def row_words(texture: Texture, rows: Incidence) -> RowWords:
    """Find the words of all rows; what nobody takes part in is left out."""
    talks = max(len(texture.snapshot.talks.case), 1)
    row, talk, words = fresh_words(texture, *rows.pairs_of(np.arange(rows.rows)))
    spoken = talk >= 0
    cell, place = np.unique(row[spoken] * talks + talk[spoken], return_inverse=True)
    total = np.bincount(place, weights=words[spoken], minlength=len(cell)).astype(np.int64)
    first = np.searchsorted(cell // talks, np.arange(rows.rows + 1)).astype(np.int64)
    return RowWords(first, cell % talks, total)
