"""How alike coders put each code: over characters, words or turns of what several of them have read."""

from dataclasses import dataclass
from itertools import combinations
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture
from core.statistics.agreement import Spans, alpha_of, kappa_of, resampled

Ints = npt.NDArray[np.int64]
Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]
Unit = Literal["characters", "words", "turns"]
FEWEST_DOCUMENTS = 5
"""Documents read by several coders from which on an interval by resampling them is given."""


@dataclass(frozen=True)
class Line:
    """The text as one line of units: passage p covers ``low[p]:high[p]``, document d ``first[d]:first[d + 1]``."""

    low: Ints
    high: Ints
    first: Ints


def line_of(snapshot: Snapshot, unit: Unit, texture: Texture | None = None, turns: Bools | None = None) -> Line:
    """Units of all turns, or of those in ``turns`` (turns,) only: of one group, say. ``texture`` is needed for words."""
    inked = snapshot.turn_end > snapshot.turn_start
    kept = inked if turns is None else inked & turns
    if unit == "words":
        assert texture is not None, "Words are told from the texts."
        each = np.diff(texture.turn_first)
        of_word = np.repeat(kept, each)
        before = np.concatenate([[0], np.cumsum(of_word)])
        low, high = before[texture.pieces.low], before[texture.pieces.high]
        length = np.where(kept, each, 0)
    else:
        ink = (snapshot.turn_end - snapshot.turn_start).astype(np.int64)
        length = np.where(kept, ink if unit == "characters" else 1, 0)
        low, high = _bounds(snapshot, kept, length, unit == "characters")
    documents = np.bincount(snapshot.turn_document, weights=length, minlength=len(snapshot.document_ids))
    first = np.concatenate([[0], np.cumsum(documents)]).astype(np.int64)
    return Line(low.astype(np.int64), np.maximum(high, low).astype(np.int64), first)


def _bounds(snapshot: Snapshot, kept: Bools, length: Ints, within: bool) -> tuple[Ints, Ints]:
    """Where passages begin and end on the line; ``within``: inside turns too, else a turn is a unit."""
    stride = int(max(snapshot.turn_end.max(initial=0), snapshot.passage_end.max(initial=0))) + 1
    start = snapshot.turn_document.astype(np.int64) * stride + snapshot.turn_start
    end = snapshot.turn_document.astype(np.int64) * stride + snapshot.turn_end
    before = np.concatenate([[0], np.cumsum(length)])
    at = snapshot.passage_document.astype(np.int64) * stride
    begin = np.searchsorted(end, at + snapshot.passage_start, side="right")
    last = np.searchsorted(start, at + snapshot.passage_end, side="left")
    low, high = before[begin], before[last]
    if within and len(start):
        turn = np.minimum(begin, len(start) - 1)
        low = low + np.where(kept[turn], np.clip(at + snapshot.passage_start - start[turn], 0, length[turn]), 0)
        turn = np.maximum(last - 1, 0)
        high = high - np.where(kept[turn], np.clip(end[turn] - at - snapshot.passage_end, 0, length[turn]), 0)
    return low, high


@dataclass(frozen=True)
class Agreement:
    """Of each code, (codes,): Krippendorff's ``alpha`` and Cohen's ``kappa`` (the mean over pairs of coders, weighted by
    units both read), with intervals by resampling documents; NaN where chance alone would agree always, or where too few
    documents were read by several. ``units`` and ``documents`` that several coders read."""

    alpha: Floats
    alpha_low: Floats
    alpha_high: Floats
    kappa: Floats
    kappa_low: Floats
    kappa_high: Floats
    units: int
    documents: int


def agreement(
    snapshot: Snapshot,
    line: Line,
    codes: Ints,
    read: Bools | None = None,
    resamples: int = 1000,
    seed: int = 1,
) -> Agreement:
    """``read`` (documents, coders): who has read what; unless given, whoever coded anything in it. Codes count by
    themselves; a stretch that one coder put a code on twice counts once.

    Source: Krippendorff 2011; Cohen 1960; several coders: Light 1971, *Psychological Bulletin* 76 (mean over pairs).
    """
    if read is None:
        read = np.zeros((len(snapshot.document_ids), len(snapshot.coder_ids)), bool)
        read[snapshot.passage_document[snapshot.coding_passage], snapshot.coding_coder] = True
    several = np.flatnonzero((read.sum(axis=1) > 1) & (np.diff(line.first) > 0))
    spans = [_spans(snapshot, line, int(code), read, several) for code in codes.tolist()]
    weights = None
    if len(several) >= FEWEST_DOCUMENTS:
        generator = np.random.default_rng(seed)
        weights = generator.multinomial(len(several), np.full(len(several), 1 / len(several)), size=resamples)
    alpha = resampled([one.by_readers for one in spans], alpha_of, weights)
    kappa = resampled([one.by_pair for one in spans], kappa_of, weights)
    units = int(np.diff(line.first)[several].sum())
    return Agreement(*alpha, *kappa, units, len(several))


def _spans(snapshot: Snapshot, line: Line, code: int, read: Bools, documents: Ints) -> Spans:
    """How many units of each document so many of its readers coded, and by pair of coders who coded what."""
    order, first = snapshot.codings_by_code
    codings = order[first[code] : first[code + 1]]
    at = snapshot.coding_passage[codings]
    coder, low, high = snapshot.coding_coder[codings], line.low[at], line.high[at]
    edges, covers = _covered(coder, low, high, len(snapshot.coder_ids))
    length = np.diff(edges)
    document = np.searchsorted(line.first, edges[:-1], side="right") - 1
    wide = len(snapshot.coder_ids)
    readers = read[documents].sum(axis=1)
    by_readers = np.zeros((len(documents), int(readers.max(initial=0)) + 1))
    place = np.full(len(read), -1, np.int64)
    place[documents] = np.arange(len(documents))
    here = place[document] >= 0
    counted = (covers[here] & read[document[here]]).sum(axis=1)
    np.add.at(by_readers, (place[document[here]], counted), length[here])
    by_readers[:, 0] += np.diff(line.first)[documents] - by_readers.sum(axis=1)
    by_pair = []
    for one, other in combinations(range(wide), 2):
        both = (read[documents, one] & read[documents, other]).astype(float)
        table = np.zeros((len(documents), 4))
        cell = covers[here][:, one] * 2 + covers[here][:, other]
        np.add.at(table, (place[document[here]], cell), length[here])
        table[:, 0] += np.diff(line.first)[documents] - table.sum(axis=1)
        by_pair.append(table * both[:, None])
    return Spans((readers, by_readers), np.stack(by_pair, axis=1) if by_pair else np.zeros((len(documents), 0, 4)))


def _covered(coder: npt.NDArray[np.int32], low: Ints, high: Ints, coders: int) -> tuple[Ints, Bools]:
    """Stretches between all edges, (edges,), and which coders cover each, (edges − 1, coders)."""
    some = high > low
    coder, low, high = coder[some], low[some], high[some]
    edges = np.unique(np.concatenate([low, high, np.zeros(1, np.int64)]))
    steps = np.zeros((len(edges), coders), np.int64)
    np.add.at(steps, (np.searchsorted(edges, low), coder), 1)
    np.add.at(steps, (np.searchsorted(edges, high), coder), -1)
    return edges, np.cumsum(steps, axis=0)[:-1] > 0
