"""Words and ratings by row and group: what is added up where a row is measured by more than passages."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.groups import AnyGroups, SharedGroups, by_talk
from core.compare.rows import Row, Rows, codings_of
from core.snapshot.masks import attribution_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture, fresh_words
from core.statistics.ranges import distinct, expand

Counts = npt.NDArray[np.int64]
Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Words:
    """Words of the union of a row's passages inside the groups' own turns.

    by_group (rows, groups), by_case (rows, cases) of cases in any group, total (rows,): each word once in a row;
    of_group (groups,), of_case (cases,) and of_all: words under any of the rows, each once.
    """

    by_group: Counts
    by_case: Counts
    total: Counts
    of_group: Counts
    of_case: Counts
    of_all: int


def words_of(
    snapshot: Snapshot, texture: Texture, rows: Rows, groups: AnyGroups, scope: Scope, union: bool = True
) -> Words:
    """Count the words of each row; without ``union`` those under any of the rows are left at 0.

    Documents and cases out of scope need no looking at passages: a word in somebody's turn is covered by passages of
    theirs only. Source: docs/methods.md, *Measures*.
    """
    shared = by_talk(groups, snapshot.talks)
    within = snapshot.talks.mask(scope) & (np.diff(shared.pairs[0]) > 0)
    if scope.passages is None:
        found = texture.words_in(rows.incidence).of(rows.chosen)
    else:
        row, passage = rows.incidence.pairs_of(rows.chosen)
        kept = scope.passages[passage]
        found = fresh_words(texture, row[kept].astype(np.int64), passage[kept])
    by_group, by_case, total = _placed(snapshot, shared, within, found, len(rows.chosen))
    if not union:
        none = np.zeros(groups.count, np.int64)
        return Words(by_group, by_case, total, none, np.zeros(len(snapshot.case_ids), np.int64), 0)
    shown = np.zeros(len(snapshot.passage_ids), bool)
    shown[rows.incidence.pairs_of(rows.chosen)[1]] = True
    every = np.flatnonzero(shown if scope.passages is None else shown & scope.passages)
    once = fresh_words(texture, np.zeros(len(every), np.int64), every)
    of_group, of_case, of_all = _placed(snapshot, shared, within, once, 1)
    return Words(by_group, by_case, total, of_group[0], of_case[0], int(of_all[0]))


def _placed(
    snapshot: Snapshot, shared: SharedGroups, within: Bools, found: tuple[Counts, Counts, Counts], rows: int
) -> tuple[Counts, Counts, Counts]:
    """Words added up by row and group, row and case, and row; ``within`` (talks,) are those in scope and in a group."""
    row, talk, words = found
    kept = (talk >= 0) & within[talk]
    row, talk, words = row[kept], talk[kept], words[kept]
    offsets, of_talk = shared.pairs
    place, pair = expand(offsets[talk], offsets[talk + 1])
    cases = len(snapshot.case_ids)
    by_group = _added(row[place] * shared.count + of_talk[pair], words[place], rows, shared.count)
    by_case = _added(row * cases + snapshot.talks.case[talk], words, rows, cases)
    return by_group, by_case, _added(row, words, rows, 1)[:, 0]


def _added(cell: Counts, words: Counts, rows: int, wide: int) -> Counts:
    return np.rint(np.bincount(cell, weights=words, minlength=rows * wide)).astype(np.int64).reshape(rows, wide)


@dataclass(frozen=True)
class Ratings:
    """Ratings on each row's codings, by group: each coding once in a group, whoever of it said the passage.

    mean, deviation (sample standard deviation, NaN under two), count (rows, groups); total_* (rows,) in any group;
    sums, times (rows, cases) by case, for dealing the groups out anew.
    """

    mean: Floats
    deviation: Floats
    count: Counts
    total_mean: Floats
    total_count: Counts
    sums: Counts
    times: Counts


def ratings_of(snapshot: Snapshot, asked: tuple[Row, ...], groups: AnyGroups, scope: Scope, roll_up: bool) -> Ratings:
    """Means of ratings; ``scope`` keeps rated codings only. Several codes in a row: their ratings are put together."""
    parts = [codings_of(snapshot, row, scope, roll_up) for row in asked]
    row = np.repeat(np.arange(len(parts)), [len(part) for part in parts])
    coding = np.concatenate([*parts, np.zeros(0, np.int64)])
    said = snapshot.attributions
    passage = snapshot.coding_passage[coding].astype(np.int64)
    at, attribution = expand(said.first[passage], said.first[passage + 1])
    kept = attribution_mask(snapshot, scope)[attribution]
    at, attribution = at[kept], attribution[kept]
    shared = by_talk(groups, snapshot.talks)
    offsets, of_talk = shared.pairs
    talk = snapshot.talks.of_attribution[attribution]
    at, attribution, talk = (part[np.diff(offsets)[talk] > 0] for part in (at, attribution, talk))
    place, pair = expand(offsets[talk], offsets[talk + 1])
    many = max(len(coding), 1)
    keys = distinct((row[at[place]] * groups.count + of_talk[pair]) * many + at[place])
    rating = snapshot.coding_rating[coding].astype(float) if len(coding) else np.zeros(0)
    shape, cases = (len(asked), groups.count), len(snapshot.case_ids)
    mean, deviation, count = _summed_up(keys // many, rating[keys % many], shape)
    once = distinct(row[at] * many + at)
    total_mean, _, total_count = _summed_up(once // many, rating[once % many], (len(asked), 1))
    cell = row[at] * cases + said.case[attribution]
    sums = np.bincount(cell, weights=rating[at], minlength=len(asked) * cases)
    times = np.bincount(cell, minlength=len(asked) * cases)
    return Ratings(
        mean, deviation, count, total_mean[:, 0], total_count[:, 0],
        np.rint(sums).astype(np.int64).reshape(len(asked), cases), times.reshape(len(asked), cases),
    )  # fmt: skip


def _summed_up(cell: Counts, rating: Floats, shape: tuple[int, int]) -> tuple[Floats, Floats, Counts]:
    size = shape[0] * shape[1]
    count = np.bincount(cell, minlength=size)
    with np.errstate(invalid="ignore", divide="ignore"):
        mean = np.bincount(cell, weights=rating, minlength=size) / count
        squares = np.bincount(cell, weights=(rating - mean[cell]) ** 2, minlength=size)
        deviation = np.where(count > 1, np.sqrt(squares / (count - 1)), np.nan)
    return mean.reshape(shape), deviation.reshape(shape), count.astype(np.int64).reshape(shape)


def rated(snapshot: Snapshot, scope: Scope) -> Bools:
    """Which codings in scope carry a rating, (codings,)."""
    has = (
        snapshot.coding_rating > 0
        if len(snapshot.coding_rating) == len(snapshot.coding_code)
        else np.zeros(len(snapshot.coding_code), bool)
    )
    kept = scope.coding_mask(snapshot)
    return has if kept is None else has & kept
