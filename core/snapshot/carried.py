"""A snapshot carried on with all that was derived of it: exact, and only what was touched is made again."""

from dataclasses import fields, replace
from functools import partial

import numpy as np

from core.snapshot.attribution import Attributions, attribute
from core.snapshot.carrying import News, Way, columns_carried, follow
from core.snapshot.columns import Ints
from core.snapshot.incidence import Incidence, incidence
from core.snapshot.snapshot import Coming, Snapshot
from core.snapshot.splicing import Places, Splice, holding, within
from core.snapshot.talks import Talks
from core.statistics.ranges import distinct, expand


def carried(held: Snapshot, news: News) -> Snapshot:
    """The snapshot at the later revision. Derived parts that ``held`` has are carried on, or left to be made again where
    texts, or the order of people or codes, changed. Raises ``NotCarried`` where the whole has to be read."""
    new, way = columns_carried(held, news)
    if "attributions" not in vars(held) or not way.texts_stay or not _in_order(way.cases):
        return new
    again = np.union1d(way.passages.fresh, _heard_anew(new, way))
    said = _Said(held, new, way, again)
    vars(new)["attributions"] = said.made
    if "talks" in vars(held) and (talks := _talks(held.talks, new, way, said)) is not None:
        vars(new)["talks"] = talks
    if not _in_order(way.codes):
        return new
    affected = _affected(new, way, again)
    for name, roll_up in (("own_rows", False), ("branch_rows", True)):
        if held.has(name) and (not roll_up or _same_tree(held, new, way)):
            old = getattr(held, name)
            new._coming[name] = Coming(partial(_rows, old, new, way, said, affected, roll_up))
    return new


def _in_order(way: Places | None) -> bool:
    """Whether what stays stands in the order it stood in."""
    if way is None:
        return True
    stays = way[way >= 0]
    return bool((stays[1:] > stays[:-1]).all())


def _same_tree(held: Snapshot, new: Snapshot, way: Way) -> bool:
    """Whether every code that was there is, beneath what it was beneath."""
    codes = np.arange(len(held.code_ids)) if way.codes is None else way.codes
    if (codes < 0).any():
        return False
    return bool((np.append(codes, -1)[held.code_parent] == new.code_parent[codes]).all())


def _heard_anew(new: Snapshot, way: Way) -> Places:
    """Passages of documents whose speakers were linked otherwise."""
    if not len(way.speakers_moved):
        return np.zeros(0, np.int64)
    speaks = np.isin(new.turn_speaker, way.speakers_moved)
    documents = np.zeros(len(new.document_ids), bool)
    documents[new.turn_document[speaks]] = True
    if len(new.speaker_document):
        documents[new.speaker_document[way.speakers_moved]] = True
    return np.flatnonzero(documents[new.passage_document])


class _Said:
    """Who said what at the later revision: that of the passages ``again`` is looked at anew."""

    def __init__(self, held: Snapshot, new: Snapshot, way: Way, again: Places) -> None:
        old = held.attributions
        mine = attribute(_only(new, again))
        before = way.passages.before(again)
        went = distinct(np.concatenate([way.passages.removed, before[~np.isin(again, way.passages.fresh)]]))
        _, removed = expand(old.first[went], old.first[went + 1])
        self.way = Splice(len(old.passage), removed, np.repeat(old.first[before], np.diff(mine.first)))
        """How old attributions became new ones."""

        counts = way.passages.put(np.diff(old.first), np.zeros(len(way.passages.at), np.int64))
        standing = way.passages.put(old.standing, np.zeros(len(way.passages.at), np.int8))
        if len(again):
            counts, standing = counts.copy(), standing.copy()
            counts[again], standing[again] = np.diff(mine.first), mine.standing
        self.made = Attributions(
            self.way.put(way.passages.follow(old.passage), again[mine.passage]),
            self.way.put(follow(way.cases, old.case), mine.case),
            np.concatenate([[0], np.cumsum(counts)]).astype(np.int64),
            standing,
        )


def _only(new: Snapshot, chosen: Places) -> Snapshot:
    """The snapshot with these passages alone."""
    names = [one.name for one in fields(new) if one.name.startswith("passage_") and len(getattr(new, one.name))]
    return replace(new, **{name: getattr(new, name)[chosen] for name in names})


def _talks(old: Talks, new: Snapshot, way: Way, said: _Said) -> Talks | None:
    """The same talks where every passage that came or went belongs to one that is there by what was said in it."""
    if len(way.speakers_moved) or way.cases is not None:
        return None
    if not (old.words[old.of_attribution[said.way.removed]] > 0).all():
        return None
    documents = len(new.document_ids) + 1
    keys = old.case * documents + old.document + 1
    document = new.passage_document[said.made.passage[said.way.fresh]].astype(np.int64)
    wanted = said.made.case[said.way.fresh].astype(np.int64) * documents + document + 1
    at = np.minimum(np.searchsorted(keys, wanted), len(keys) - 1)
    if not np.array_equal(keys[at], wanted):
        return None
    return Talks(old.case, old.document, said.way.put(old.of_attribution, at), old.words)


def _affected(new: Snapshot, way: Way, again: Places) -> Places:
    """New places of passages that may stand in other rows than before, or be said by others."""
    left = way.passages.follow(way.recoded.astype(np.int32)).astype(np.int64)
    return distinct(np.concatenate([again, left[left >= 0], new.coding_passage[way.codings.fresh].astype(np.int64)]))


def _rows(old: Incidence, new: Snapshot, way: Way, said: _Said, affected: Places, roll_up: bool) -> Incidence:
    """The rows, with the pairs of these passages made again."""
    mine = incidence(new, roll_up, holding(new.coding_passage, affected, len(new.passage_ids)))
    before = way.passages.before(affected)
    gone = distinct(np.concatenate([way.passages.removed, before[~np.isin(affected, way.passages.fresh)]]))
    rows = _RowsMoved(way, old.rows, len(new.code_ids))

    def woven(first: Places, passages: Ints, fresh_row: Ints, fresh_passage: Ints) -> Splice:
        at = rows.within(first, passages, fresh_row, before[np.searchsorted(affected, fresh_passage)])
        return Splice(len(passages), holding(passages, gone, way.passages.length), at)

    pair_row = np.repeat(np.arange(mine.rows, dtype=np.int32), np.diff(mine.pair_first))
    pairs = woven(old.pair_first, old.pair_passage, pair_row, mine.pair_passage)
    entry_first = np.searchsorted(old.entry_row, np.arange(old.rows + 1)).astype(np.int64)
    entries = woven(entry_first, old.entry_passage, mine.entry_row, mine.entry_passage)
    row = entries.put(follow(way.codes, old.entry_row), mine.entry_row)
    case = entries.put(follow(way.cases, old.entry_case), mine.entry_case)
    stays = way.codes is None and way.cases is None
    return Incidence(
        pairs.put(way.passages.follow(old.pair_passage), mine.pair_passage),
        rows.first(old.pair_first, pairs.removed, mine.pair_first),
        entries.put(way.passages.follow(old.entry_passage), mine.entry_passage),
        case,
        entries.put(said.way.follow(old.entry_said), mine.entry_said),
        row,
        entries.put(old.entry_cell, mine.entry_cell) if stays else row * np.int64(len(new.case_ids)) + case,
    )


class _RowsMoved:
    """Rows of codes that came or went in between others, which kept their order. A row that went has lost its pairs."""

    def __init__(self, way: Way, old: int, new: int) -> None:
        codes = np.arange(old) if way.codes is None else way.codes
        self.kept = np.flatnonzero(codes >= 0)
        self.now = codes[self.kept]
        self.count = new
        self.old = np.full(new, -1, np.int64)
        self.old[self.now] = self.kept

    def within(self, first: Places, passages: Ints, rows: Ints, wanted: Places) -> Places:
        """Before which old one each (new row, old passage) stands."""
        old = self.old[rows]
        at = np.append(first[self.kept], first[-1])[np.searchsorted(self.now, rows)]
        at[old >= 0] = within(first, passages, old[old >= 0], wanted[old >= 0])
        return at

    def first(self, old: Places, removed: Places, mine: Places) -> Places:
        """Where each row begins now."""
        lost = np.bincount(np.searchsorted(old, removed, side="right") - 1, minlength=len(old) - 1)
        counts = np.diff(mine)
        counts[self.now] += (np.diff(old) - lost)[self.kept]
        return np.concatenate([[0], np.cumsum(counts)]).astype(np.int64)
