"""A comparison: codes × groups, with a measure, a base, intervals and tests."""

from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.compare import association, corrections, intervals, permutation
from core.compare.attribution import distinct
from core.compare.counts import LeftOut, case_counts, fates, left_out, most_by_one, passages, people
from core.compare.groups import Groups
from core.compare.incidence import Incidence
from core.compare.scope import Scope, attribution_mask, case_words, has_material, rows_in
from core.compare.snapshot import Snapshot

Measure = Literal["people", "passages", "rate"]
Base = Literal["with_material", "everyone", "row", "column", "table", "words"]
BASES: dict[Measure, tuple[Base, ...]] = {
    "people": ("with_material", "everyone"),
    "passages": ("column", "row", "table"),
    "rate": ("words",),
}
"""Every base that fits a measure; the first is the usual one."""
PER_WORDS = 1000
SMALL_GROUP = 5
RESAMPLES = 1000

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]


class ComparisonError(ValueError):
    """The comparison asked for makes no sense; the message says why."""


@dataclass(frozen=True)
class Comparison:
    """What is asked. ``rows`` are codes by position, ``difference`` two groups (first minus
    second) by position; ``permutations`` 0 leaves the tests of passages and rates out."""

    rows: tuple[int, ...]
    groups: Groups
    roll_up: bool = True
    measure: Measure = "people"
    base: Base = "with_material"
    scope: Scope = field(default_factory=Scope)
    difference: tuple[int, int] | None = None
    permutations: int = 0
    seed: int = 1

    def __post_init__(self) -> None:
        if self.base not in BASES[self.measure]:
            raise ComparisonError(f"{self.measure} can't be taken as a share of {self.base}.")
        if self.difference and max(self.difference) >= self.groups.count:
            raise ComparisonError("The difference asked for is between groups that aren't shown.")


@dataclass(frozen=True)
class Tests:
    """One test a row, each field (rows,). ``kind`` names the test used: ``chi_square``,
    ``exact``, ``exact_simulated``, ``permutation`` or ``none``; ``error`` is the standard error
    of a simulated p; ``effect`` is Cramér's V, bias-corrected (people only)."""

    kind: tuple[str, ...]
    statistic: Floats
    p: Floats
    error: Floats
    holm: Floats
    benjamini_hochberg: Floats
    effect: Floats

    @property
    def made(self) -> int:
        """The number of tests made: what the corrections are over."""
        return int((~np.isnan(self.p)).sum())


@dataclass(frozen=True)
class Difference:
    """First group minus second, (rows,) each; shares between −1 and 1."""

    difference: Floats
    low: Floats
    high: Floats
    odds_ratio: Floats
    relative_risk: Floats


@dataclass(frozen=True)
class ComparisonResult:
    """Arrays by row and group, (rows, groups) unless said otherwise.

    people, passages  distinct people and passages in each cell
    figure            the share (0–1) or the rate (passages per 1,000 words); NaN without a base
    count, base       what the figure is made of
    low, high         95 % interval of the figure, NaN where none is given
    residual          adjusted residual (people only), else NaN
    most, most_case   passages by, and position of, each cell's most talkative case
    total_*           (rows,) the same for everyone in the groups shown
    group_*           (groups,) people in the base, distinct passages, words
    """

    asked: Comparison
    people: Counts
    passages: Counts
    figure: Floats
    count: Counts
    base: Counts
    low: Floats
    high: Floats
    residual: Floats
    most: Counts
    most_case: Counts
    total_people: Counts
    total_passages: Counts
    total_figure: Floats
    total_base: Counts
    total_most: Counts
    total_most_case: Counts
    group_people: Counts
    group_passages: Counts
    group_words: Counts
    left_out: LeftOut
    tests: Tests
    difference: Difference | None

    @property
    def small_groups(self) -> list[int]:
        """Groups of fewer than five people: each deserves a caution in words."""
        return [group for group, size in enumerate(self.group_people) if size < SMALL_GROUP]


def compare(snapshot: Snapshot, asked: Comparison) -> ComparisonResult:
    """Answer a comparison from the snapshot. Source of each figure: ``docs/methods.md``."""
    scope, groups = asked.scope, asked.groups
    chosen = np.asarray(asked.rows, np.int64)
    rows = rows_in(snapshot, scope, asked.roll_up)
    counts_all = case_counts(snapshot, rows, None if scope.whole else scope)
    counts = counts_all[chosen]
    in_base = in_base_of(snapshot, asked)
    cell_people = people(counts, groups)
    cell_passages = passages(snapshot, rows, counts_all, groups, scope)[chosen]
    lost = left_out(snapshot, rows, chosen, fates(snapshot, scope, groups))
    indicator = groups.indicator(in_base)
    group_people = np.rint(indicator.sum(axis=0)).astype(np.int64)
    words = case_words(snapshot, scope)
    group_words = np.bincount(
        groups.labels[groups.labels >= 0], weights=words[groups.labels >= 0], minlength=groups.count
    ).astype(np.int64)
    group_passages = _passages_by_group(snapshot, rows, chosen, asked)
    most, most_case = _most(counts, groups)
    total_most, total_most_case = most_by_one(counts, groups.labels >= 0)
    total_people, total_passages = cell_people.sum(axis=1), lost.by_row[:, 0]

    count, total = (cell_people, total_people) if asked.measure == "people" else (cell_passages, total_passages)
    base, total_base = _bases(
        asked, group_people, group_passages, group_words, total_passages, int(lost.overall[0]), count.shape
    )
    scale = PER_WORDS if asked.measure == "rate" else 1
    exposure = words.astype(float) if asked.measure == "rate" else in_base.astype(float)
    low, high = _intervals(asked, counts, cell_people, base, exposure)
    return ComparisonResult(
        asked=asked,
        people=cell_people,
        passages=cell_passages,
        figure=_share(count, base) * scale,
        count=count,
        base=base,
        low=low * scale,
        high=high * scale,
        residual=(
            association.adjusted_residuals(cell_people, group_people)
            if asked.measure == "people"
            else np.full(count.shape, np.nan)
        ),
        most=most,
        most_case=most_case,
        total_people=total_people,
        total_passages=total_passages,
        total_figure=_share(total, total_base) * scale,
        total_base=total_base,
        total_most=total_most,
        total_most_case=total_most_case,
        group_people=group_people,
        group_passages=group_passages,
        group_words=group_words,
        left_out=lost,
        tests=_tests(asked, counts, cell_people, group_people, exposure),
        difference=_difference(asked, cell_people, group_people),
    )


def in_base_of(snapshot: Snapshot, asked: Comparison) -> npt.NDArray[np.bool_]:
    """The cases that a share of people is taken of, shape (cases,)."""
    if asked.base != "everyone":
        return has_material(snapshot, asked.scope)
    everyone = np.ones(len(snapshot.case_ids), bool)
    return everyone if asked.scope.cases is None else everyone & asked.scope.cases


def _share(count: Counts, base: Counts) -> Floats:
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(base > 0, count / base, np.nan)


def _passages_by_group(snapshot: Snapshot, rows: Incidence, chosen: Counts, asked: Comparison) -> Counts:
    """Distinct passages of each group in any chosen row."""
    groups, said = asked.groups, snapshot.attributions
    shown = np.zeros(len(snapshot.passage_ids), bool)
    shown[rows.pairs_of(chosen)[1]] = True
    label = groups.labels[said.case]
    kept = shown[said.passage] & (label >= 0) & attribution_mask(snapshot, asked.scope)
    once = kept & ~said.shared[said.passage]
    table = np.bincount(label[once], minlength=groups.count)
    several = kept & ~once
    pairs = distinct(label[several].astype(np.int64) * len(shown) + said.passage[several])
    return table + np.bincount(pairs // max(len(shown), 1), minlength=groups.count)


def _most(counts: npt.NDArray[np.int64], groups: Groups) -> tuple[Counts, Counts]:
    pairs = [most_by_one(counts, groups.labels == group) for group in range(groups.count)]
    empty = np.zeros((len(counts), 0), np.int64)
    if not pairs:
        return empty, empty
    return np.stack([most for most, _ in pairs], axis=1), np.stack([who for _, who in pairs], axis=1)


def _bases(
    asked: Comparison,
    group_people: Counts,
    group_passages: Counts,
    group_words: Counts,
    row_passages: Counts,
    table_passages: int,
    shape: tuple[int, ...],
) -> tuple[Counts, Counts]:
    """What each cell, and each row's total, is a share of."""
    rows = shape[0]
    if asked.measure == "people":
        return np.broadcast_to(group_people, shape), np.full(rows, group_people.sum())
    if asked.measure == "rate":
        return np.broadcast_to(group_words, shape), np.full(rows, group_words.sum())
    if asked.base == "row":
        return np.broadcast_to(row_passages[:, None], shape), row_passages
    whole = np.full(rows, table_passages)
    if asked.base == "column":
        return np.broadcast_to(group_passages, shape), whole
    return np.full(shape, table_passages), whole


def _intervals(
    asked: Comparison, counts: npt.NDArray[np.int64], cell_people: Counts, base: Counts, exposure: Floats
) -> tuple[Floats, Floats]:
    if asked.measure == "people":
        return intervals.wilson(cell_people, base)
    if asked.measure == "rate" and asked.permutations:
        return permutation.bootstrap_rates(counts, asked.groups, exposure, RESAMPLES, asked.seed)
    none = np.full(cell_people.shape, np.nan)
    return none, none


def _tests(
    asked: Comparison,
    counts: npt.NDArray[np.int64],
    cell_people: Counts,
    group_people: Counts,
    exposure: Floats,
) -> Tests:
    rows = len(counts)
    none = np.full(rows, np.nan)
    if asked.groups.count < 2:
        return Tests(("none",) * rows, none, none, none, none, none, none)
    if asked.measure == "people":
        return _people_tests(cell_people, group_people, asked.seed)
    if not asked.permutations:
        return Tests(("none",) * rows, none, none, none, none, none, none)
    found = permutation.permute_cases(counts, asked.groups, exposure, asked.permutations, asked.seed)
    kind = tuple("none" if np.isnan(p) else "permutation" for p in found.p)
    return _corrected(Tests(kind, none, found.p, found.error, none, none, none))


def _people_tests(cell_people: Counts, group_people: Counts, seed: int) -> Tests:
    whole = association.chi_square(cell_people, group_people)
    allowed = association.cochran_allows(cell_people, group_people)
    p, error = whole.p.copy(), np.zeros(len(cell_people))
    kind = ["chi_square"] * len(cell_people)
    for row in np.flatnonzero(~allowed):
        exact = association.exact_test(cell_people[row], group_people, seed)
        p[row], error[row] = exact.p, exact.error
        kind[row] = "exact_simulated" if exact.error else "exact"
    kind = ["none" if np.isnan(value) else name for name, value in zip(kind, p, strict=True)]
    statistic = np.where(allowed, whole.statistic, np.nan)
    effect = association.cramers_v(cell_people, group_people)
    return _corrected(Tests(tuple(kind), statistic, p, error, p, p, effect))


def _corrected(tests: Tests) -> Tests:
    return replace(tests, holm=corrections.holm(tests.p), benjamini_hochberg=corrections.benjamini_hochberg(tests.p))


def _difference(asked: Comparison, cell_people: Counts, group_people: Counts) -> Difference | None:
    if asked.measure != "people" or asked.difference is None:
        return None
    pair = list(asked.difference)
    count, base = cell_people[:, pair], group_people[pair]
    difference, low, high = intervals.newcombe_difference(count[:, 0], base[0], count[:, 1], base[1])
    return Difference(
        difference,
        low,
        high,
        association.odds_ratio(count, base),
        association.relative_risk(count, base),
    )
