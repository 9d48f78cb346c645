"""Everything countable of the chosen rows by group: one reading of who said what, for all measures and tests."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.attribution import distinct, expand
from core.compare.counts import (
    case_counts,
    fates,
    most_by_one,
    passages,
    people,
    settled_fates,
)
from core.compare.groups import OUTSIDE, Groups
from core.compare.incidence import Incidence
from core.compare.scope import Scope, attribution_mask, case_words, entry_mask, has_material
from core.compare.shared import AnyGroups, SharedGroups
from core.compare.snapshot import Snapshot

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
    counts_all = case_counts(snapshot, rows, None if scope.whole else scope)
    counts = counts_all[chosen]
    words, labelled = case_words(snapshot, scope), groups.labels >= 0
    most = [most_by_one(counts, groups.labels == group) for group in range(groups.count)]
    total_most, total_most_case = most_by_one(counts, labelled)
    empty = np.zeros((len(counts), 0), np.int64)
    return Tally(
        counts=counts,
        people=people(counts, groups),
        passages=passages(snapshot, rows, counts_all, groups, scope)[chosen],
        most=np.stack([one for one, _ in most], axis=1) if most else empty,
        most_case=np.stack([who for _, who in most], axis=1) if most else empty,
        total_most=total_most,
        total_most_case=total_most_case,
        base=base_of(snapshot, groups, scope, everyone),
        group_words=np.bincount(groups.labels[labelled], weights=words[labelled], minlength=groups.count).astype(
            np.int64
        ),
        group_passages=_passages_by_group(snapshot, rows, chosen, groups, scope),
        fate=fates(snapshot, scope, groups),
        case_group=groups.labels,
        said=None,
    )


def _passages_by_group(snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: Groups, scope: Scope) -> Counts:
    """Distinct passages of each group in any chosen row."""
    said = snapshot.attributions
    shown = np.zeros(len(snapshot.passage_ids), bool)
    shown[rows.pairs_of(chosen)[1]] = True
    label = groups.labels[said.case]
    kept = shown[said.passage] & (label >= 0) & attribution_mask(snapshot, scope)
    once = kept & ~said.shared[said.passage]
    table = np.bincount(label[once], minlength=groups.count)
    several = kept & ~once
    pairs = distinct(label[several].astype(np.int64) * len(shown) + said.passage[several])
    return table + np.bincount(pairs // max(len(shown), 1), minlength=groups.count)


def _by_talk(
    snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: SharedGroups, scope: Scope, everyone: bool
) -> Tally:
    cases, wide = max(len(snapshot.case_ids), 1), max(groups.count, 1)
    row, entry, group = _in_groups(snapshot, rows, chosen, groups, scope)
    case = rows.entry_case[entry].astype(np.int64)
    # A passage that one person said may lie in several groups, but stands once in each.
    cells, times = np.unique((row * wide + group) * cases + case, return_counts=True)
    cell, who = cells // cases, cells % cases
    shape = (len(chosen), groups.count)
    once = np.unique(row * len(rows.entry_case) + entry) if len(entry) else np.zeros(0, np.int64)
    counts = np.bincount(
        once // max(len(rows.entry_case), 1) * cases + rows.entry_case[once % max(len(rows.entry_case), 1)],
        minlength=len(chosen) * cases,
    ).reshape(len(chosen), cases)[:, : len(snapshot.case_ids)]
    passage = rows.entry_passage[entry].astype(np.int64)
    among = max(len(snapshot.passage_ids), 1)
    most, most_case = _most(cell, who, times, shape)
    total_most, total_most_case = most_by_one(counts, np.ones(len(snapshot.case_ids), bool))
    base = base_of(snapshot, groups, scope, everyone)
    talks = snapshot.talks
    words = (groups.member * (talks.words * talks.mask(scope))[:, None]).sum(axis=0)
    single = (base.sum(axis=1) < 2).all()
    said = None
    if not single:
        said = np.zeros((*shape, cases), np.int64)
        said.reshape(-1)[cells] = times
    return Tally(
        counts=counts,
        people=np.bincount(cell, minlength=shape[0] * wide).reshape(shape[0], wide)[:, : groups.count],
        passages=np.bincount(
            distinct((row * wide + group) * among + passage) // among, minlength=shape[0] * wide
        ).reshape(shape[0], wide)[:, : groups.count],
        most=most,
        most_case=most_case,
        total_most=total_most,
        total_most_case=total_most_case,
        base=base,
        group_words=words.astype(np.int64),
        group_passages=np.bincount(distinct(group * among + passage) // among, minlength=wide)[: groups.count],
        fate=shared_fates(snapshot, scope, groups),
        case_group=np.where(base.any(axis=1), base.argmax(axis=1), -1).astype(np.int32) if single and wide else None,
        said=said,
    )


def _in_groups(
    snapshot: Snapshot, rows: Incidence, chosen: Counts, groups: SharedGroups, scope: Scope
) -> tuple[Counts, Counts, Counts]:
    """Place among the chosen rows, entry and group of everything counted: one for each group an entry lies in."""
    first = np.searchsorted(rows.entry_row, np.arange(len(rows.pair_first)))
    row, entry = expand(first[chosen], first[chosen + 1])
    mask = entry_mask(snapshot, scope, rows)
    if mask is not None:
        row, entry = row[mask[entry]], entry[mask[entry]]
    offsets, of_talk = groups.pairs
    talk = snapshot.talks.of_attribution[rows.entry_said[entry]]
    place, pair = expand(offsets[talk], offsets[talk + 1])
    return row[place], entry[place], of_talk[pair]


def _most(cell: Counts, who: Counts, times: Counts, shape: tuple[int, int]) -> tuple[Counts, Counts]:
    """The most talkative case of each cell, the first where several are."""
    most, most_case = np.zeros(shape, np.int64), np.full(shape, -1)
    order = np.lexsort((who, -times, cell))
    cells, at = np.unique(cell[order], return_index=True)
    most.reshape(-1)[cells], most_case.reshape(-1)[cells] = times[order][at], who[order][at]
    return most, most_case


def shared_fates(snapshot: Snapshot, scope: Scope, groups: SharedGroups) -> npt.NDArray[np.int8]:
    """As ``fates``, for groups on talks."""
    label = np.where(groups.member.any(axis=1), 0, groups.missing)
    return settled_fates(snapshot, scope, label[snapshot.talks.of_attribution])
