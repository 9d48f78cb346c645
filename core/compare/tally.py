"""Everything countable of the chosen rows by group: one reading of who said what, for all measures and tests."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.counts import (
    case_counts,
    depths,
    fates,
    most_by_one,
    most_of_groups,
    passages,
    people,
    settled_fates,
)
from core.compare.groups import OUTSIDE, AnyGroups, Groups, SharedGroups
from core.snapshot.incidence import Incidence
from core.snapshot.masks import attribution_mask, case_words, entry_mask, has_material
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.ranges import distinct, expand

Counts = npt.NDArray[np.int64]
Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Tally:
    """
    counts                    (rows, cases)   passages of each case, in whatever group
    people, passages          (rows, groups)  distinct cases and passages
    most, most_case           (rows, groups)  passages by, and position of, the most talkative case; −1 for nobody
    total_most, total_most_case  (rows,)      the same in all groups
    base                      (cases, groups) who is in the base of each group
    group_words, group_passages  (groups,)
    case_words                (cases,)        words of each case's turns in the groups shown, each once
    fate                      (passages,)     position in REASONS_LEFT_OUT, −1 out of scope
    case_group                (cases,)        the one group of each case, below 0 for none; None where somebody of the
                                              base is in two groups
    said                      (rows, groups, cases) passages, where case_group is None; else None
    """

    counts: Counts
    people: Counts
    passages: Counts
    most: Counts
    most_case: Counts
    total_most: Counts
    total_most_case: Counts
    base: Bools
    group_words: Counts
    group_passages: Counts
    case_words: Counts
    fate: npt.NDArray[np.int8]
    case_group: npt.NDArray[np.int32] | None
    said: Counts | None

    @property
    def group_people(self) -> Counts:
        """People of each group's base, (groups,)."""
        return self.base.sum(axis=0)

    @property
    def in_base(self) -> Bools:
        """Who is in some group's base, (cases,)."""
        found: Bools = self.base.sum(axis=1) > 0
        return found


def tally(
    snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: AnyGroups, scope: Scope, everyone: bool
) -> Tally:
    """Count the chosen rows (codes by position); ``everyone``: the base is all cases of a group, with material or not."""
    if isinstance(groups, Groups):
        return _by_case(snapshot, rows, chosen, groups, scope, everyone)
    return _by_talk(snapshot, rows, chosen, groups, scope, everyone)


def base_of(snapshot: Snapshot, groups: AnyGroups, scope: Scope, everyone: bool) -> Bools:
    """Who is in the base of each group, (cases, groups)."""
    if isinstance(groups, Groups):
        labels = groups.labels.copy()
        if not everyone:
            labels[~has_material(snapshot, scope)] = OUTSIDE
        elif scope.cases is not None:
            labels[~scope.cases] = OUTSIDE
        member: Bools = np.equal.outer(labels, np.arange(groups.count))
        return member
    talks = snapshot.talks
    # A fact about documents belongs to those who speak in them: without material there is nobody to count.
    kept = talks.mask(Scope(cases=scope.cases)) if everyone and not groups.panel else talks.mask(scope) & talks.real
    there = groups.member & kept[:, None]
    base = np.zeros((len(snapshot.case_ids), groups.count), bool)
    talk, group = np.nonzero(there)
    base[talks.case[talk], group] = True
    return base


def _by_case(
    snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: Groups, scope: Scope, everyone: bool
) -> Tally:
    rows = rows.only(chosen, len(snapshot.case_ids))
    counts = case_counts(snapshot, rows, None if scope.whole else scope)
    words, labelled = case_words(snapshot, scope), groups.labels >= 0
    (most, most_case), (total_most, total_most_case) = most_of_groups(counts, groups)
    return Tally(
        counts=counts,
        people=people(counts, groups),
        passages=passages(snapshot, rows, counts, groups, scope),
        most=most,
        most_case=most_case,
        total_most=total_most,
        total_most_case=total_most_case,
        base=base_of(snapshot, groups, scope, everyone),
        group_words=np.bincount(groups.labels[labelled], weights=words[labelled], minlength=groups.count).astype(
            np.int64
        ),
        group_passages=_passages_by_group(snapshot, rows, groups, scope),
        case_words=np.where(labelled, words, 0),
        fate=fates(snapshot, scope, groups),
        case_group=groups.labels,
        said=None,
    )


def _passages_by_group(snapshot: Snapshot, rows: Incidence, groups: Groups, scope: Scope) -> Counts:
    """Distinct passages of each group in any row."""
    said = snapshot.attributions
    shown = rows.anywhere(len(snapshot.passage_ids))
    kept = shown[said.passage]
    if not scope.whole:
        kept &= attribution_mask(snapshot, scope)
    shared = said.shared[said.passage] if said.shared.any() else None
    alone = kept if shared is None else kept & ~shared
    by_case = np.bincount(said.case[alone], minlength=len(groups.labels))
    table = np.zeros(groups.count, np.int64)
    np.add.at(table, groups.labels[groups.labels >= 0], by_case[groups.labels >= 0])
    if shared is None:
        return table
    label = groups.labels[said.case]
    several = kept & shared & (label >= 0)
    pairs = distinct(label[several].astype(np.int64) * len(shown) + said.passage[several])
    return table + np.bincount(pairs // max(len(shown), 1), minlength=groups.count)


def _by_talk(
    snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: SharedGroups, scope: Scope, everyone: bool
) -> Tally:
    base = base_of(snapshot, groups, scope, everyone)
    single = bool((base.sum(axis=1) < 2).all())
    row, entry, group = in_groups(snapshot, rows, chosen, groups, scope)
    by_person = _by_person(snapshot, rows, (len(chosen), groups.count), (row, entry, group), keep=not single)
    counts = _once_each(snapshot, rows, chosen, groups, scope)
    total_most, total_most_case = most_by_one(counts, np.ones(len(snapshot.case_ids), bool))
    talks = snapshot.talks
    words = talks.words * talks.mask(scope)
    seen = np.zeros((groups.count, len(snapshot.passage_ids)), bool)
    seen[group, rows.entry_passage[entry]] = True
    return Tally(
        counts=counts,
        people=by_person.people,
        passages=_distinct_passages(snapshot, rows, (len(chosen), groups.count), (row, entry, group)),
        most=by_person.most,
        most_case=by_person.most_case,
        total_most=total_most,
        total_most_case=total_most_case,
        base=base,
        group_words=(groups.member * words[:, None]).sum(axis=0).astype(np.int64),
        group_passages=seen.sum(axis=1),
        case_words=np.bincount(
            talks.case, weights=words * np.any(groups.member, axis=1), minlength=len(snapshot.case_ids)
        ).astype(np.int64),
        fate=shared_fates(snapshot, scope, groups),
        case_group=only_group(base) if single else None,
        said=by_person.said,
    )


def only_group(base: Bools) -> npt.NDArray[np.int32]:
    """The group of each case, −1 for none, (cases,)."""
    if not base.shape[1]:
        return np.full(len(base), -1, np.int32)
    return np.where(base.any(axis=1), base.argmax(axis=1), -1).astype(np.int32)


_AT_ONCE = 2_000_000
"""Cells of row, group and case that are counted at once: bounds memory."""

Placed = tuple[Counts, Counts, Counts]
"""Row, entry and group of everything counted, by row."""


@dataclass(frozen=True)
class _ByPerson:
    people: Counts
    most: Counts
    most_case: Counts
    said: Counts | None


def _by_person(snapshot: Snapshot, rows: Incidence, shape: tuple[int, int], placed: Placed, keep: bool) -> _ByPerson:
    """Passages of each case in each cell, and what follows from them; a block of rows at a time."""
    row, entry, group = placed
    cases, (high, wide) = len(snapshot.case_ids), shape
    case = rows.entry_case[entry]
    people, most, most_case = (np.zeros(shape, np.int64) for _ in range(3))
    said = np.zeros((*shape, cases), np.int64) if keep else None
    size = max(1, _AT_ONCE // max(wide * cases, 1))
    for first in range(0, high if wide and cases else 0, size):
        block = slice(first, min(first + size, high))
        at = slice(*np.searchsorted(row, [block.start, block.stop]))
        cells = ((row[at] - first) * wide + group[at]) * cases + case[at]
        tall = block.stop - block.start
        here = np.bincount(cells, minlength=tall * wide * cases).reshape(tall, wide, cases)
        people[block], most[block], most_case[block] = (here > 0).sum(axis=2), here.max(axis=2), here.argmax(axis=2)
        if said is not None:
            said[block] = here
    return _ByPerson(people, most, np.where(most > 0, most_case, -1), said)


def _distinct_passages(snapshot: Snapshot, rows: Incidence, shape: tuple[int, int], placed: Placed) -> Counts:
    """Distinct passages of each cell: one by two people of a group stands once in it."""
    row, entry, group = placed
    cell, size = row * shape[1] + group, shape[0] * shape[1]
    table = np.bincount(cell, minlength=size)
    repeated = snapshot.attributions.shared[rows.entry_passage[entry]]
    if repeated.any():
        among = len(snapshot.passage_ids)
        keys, times = np.unique(cell[repeated] * among + rows.entry_passage[entry[repeated]], return_counts=True)
        table = table - np.bincount(keys // among, weights=times - 1, minlength=size).astype(np.int64)
    return table.reshape(shape)


def _once_each(snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: SharedGroups, scope: Scope) -> Counts:
    """Passages of each case in any of the groups, each once, (rows, cases)."""
    row, entry = entries_of(snapshot, rows, chosen, scope)
    kept = (groups.member.sum(axis=1) > 0)[snapshot.talks.of_attribution[rows.entry_said[entry]]]
    cases = len(snapshot.case_ids)
    cell = row[kept] * cases + rows.entry_case[entry[kept]]
    return np.bincount(cell, minlength=len(chosen) * cases).reshape(len(chosen), cases)


def entries_of(snapshot: Snapshot, rows: Incidence, chosen: Counts, scope: Scope) -> tuple[Counts, Counts]:
    """Place among the chosen rows, and entry, of all that is in scope."""
    first = np.searchsorted(rows.entry_row, np.arange(len(rows.pair_first)))
    row, entry = expand(first[chosen], first[chosen + 1])
    mask = entry_mask(snapshot, scope, rows)
    return (row, entry) if mask is None else (row[mask[entry]], entry[mask[entry]])


def in_groups(snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: SharedGroups, scope: Scope) -> Placed:
    """Place among the chosen rows, entry and group of everything counted: one for each group an entry lies in."""
    row, entry = entries_of(snapshot, rows, chosen, scope)
    offsets, of_talk = groups.pairs
    talk = snapshot.talks.of_attribution[rows.entry_said[entry]]
    place, pair = expand(offsets[talk], offsets[talk + 1])
    return row[place], entry[place], of_talk[pair]


def shared_fates(snapshot: Snapshot, scope: Scope, groups: SharedGroups) -> npt.NDArray[np.int8]:
    """As ``fates``, for groups on talks."""
    label = np.where(groups.member.any(axis=1), 0, groups.missing)
    return settled_fates(snapshot, scope, depths(label)[snapshot.talks.of_attribution])
