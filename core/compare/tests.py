"""How sure one can be of each row: which test fits its groups, what it says, and how large the difference is."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from core.compare.groups import AnyGroups, Groups
from core.compare.tally import Tally
from core.statistics import association, corrections, intervals, layers, ordered, paired, permutation, power
from core.statistics.exact import exact_tests
from core.statistics.whole import Whole, of_table

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Tests:
    """One test a row, each field (rows,). ``kind`` names the test used: ``chi_square``, ``exact``,
    ``exact_simulated``, ``permutation``, ``layered``, ``changes`` (two occasions), ``occasions`` (several),
    or ``none``; ``error`` is the standard error of a simulated p; ``effect`` is Cramér's V, bias-corrected
    (people of independent groups only)."""

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


def untested(rows: int) -> Tests:
    """No test in any row."""
    none = np.full(rows, np.nan)
    return Tests(("none",) * rows, none, none, none, none, none, none)


def tests_of_people(counted: Tally, groups: AnyGroups, layer_count: int, seed: int) -> Tests:
    """The test that fits: of independent groups, of groups within layers, or of the same people on several occasions.
    Groups that share people in any other way are never tested."""
    if groups.count < 2:
        return untested(len(counted.counts))
    if counted.case_group is None:
        panel = not isinstance(groups, Groups) and groups.panel and layer_count == 1
        return _of_occasions(counted) if panel else untested(len(counted.counts))
    if layer_count > 1:
        return _within_layers(counted, layer_count)
    return _of_independent(counted.people, counted.group_people, seed)


def tests_by_shuffling(
    counted: Tally, groups: AnyGroups, counts: Counts, exposure: Floats, permutations: int, seed: int
) -> Tests:
    """Whether ``counts`` (rows, cases) by exposure differ more than by dealing the groups out to people anew."""
    if counted.case_group is None or not permutations or groups.count < 2:
        return untested(len(counted.counts))
    found = permutation.permute_cases(counts, counted.case_group, groups.count, exposure, permutations, seed)
    kind = tuple("none" if np.isnan(p) else "permutation" for p in found.p)
    none = np.full(len(kind), np.nan)
    return _corrected(Tests(kind, none, found.p, found.error, none, none, none))


def _of_independent(people: Counts, group_people: Counts, seed: int) -> Tests:
    whole = association.chi_square(people, group_people)
    allowed = association.cochran_allows(people, group_people)
    p, error = whole.p.copy(), np.zeros(len(people))
    kind = ["chi_square"] * len(people)
    small = np.flatnonzero(~allowed)
    p[small], error[small] = exact_tests(people[small], group_people, seed)
    for row in small:
        kind[row] = "exact_simulated" if error[row] else "exact"
    statistic = np.where(allowed, whole.statistic, np.nan)
    return _named(kind, statistic, p, error, association.cramers_v(people, group_people))


def _within_layers(counted: Tally, layer_count: int) -> Tests:
    says, base = _by_layer(counted, layer_count)
    found = layers.cochran_mantel_haenszel(says, base)
    none = np.full(len(says), np.nan)
    return _named(["layered"] * len(says), found.statistic, found.p, np.zeros(len(says)), none)


def _by_layer(counted: Tally, layer_count: int) -> tuple[Counts, Counts]:
    return counted.people.reshape(len(counted.people), layer_count, -1), counted.group_people.reshape(layer_count, -1)


def _of_occasions(counted: Tally) -> Tests:
    says = mentions_on_all_occasions(counted)
    rows, none = len(says), np.full(len(says), np.nan)
    if says.shape[1] == 2:
        p = paired.mcnemar(says[:, 0], says[:, 1]).p
        return _named(["changes"] * rows, none, p, np.zeros(rows), none)
    found = paired.cochran_q(says.transpose(0, 2, 1))
    return _named(["occasions"] * rows, found.statistic, found.p, np.zeros(rows), none)


def mentions_on_all_occasions(counted: Tally) -> npt.NDArray[np.bool_]:
    """Who mentions each row in each group, (rows, groups, people in all groups)."""
    assert counted.said is not None
    return counted.said[:, :, np.flatnonzero(counted.base.all(axis=1))] > 0


def _named(kind: list[str], statistic: Floats, p: Floats, error: Floats, effect: Floats) -> Tests:
    names = tuple("none" if np.isnan(value) else name for name, value in zip(kind, p, strict=True))
    return _corrected(Tests(names, statistic, p, error, p, p, effect))


def _corrected(tests: Tests) -> Tests:
    return replace(tests, holm=corrections.holm(tests.p), benjamini_hochberg=corrections.benjamini_hochberg(tests.p))


@dataclass(frozen=True)
class Difference:
    """First group minus second, (rows,) each; shares between −1 and 1. ``seen`` is the smallest difference that
    groups of these sizes would show with 80 % power, NaN where none would."""

    difference: Floats
    low: Floats
    high: Floats
    odds_ratio: Floats
    relative_risk: Floats
    seen: Floats


def difference_of_people(counted: Tally, pair: tuple[int, int]) -> Difference | None:
    """Newcombe's interval is for independent groups: None where these two share people."""
    if (counted.base[:, pair[0]] & counted.base[:, pair[1]]).any():
        return None
    count, base = counted.people[:, list(pair)], counted.group_people[list(pair)]
    difference, low, high = intervals.newcombe_difference(count[:, 0], base[0], count[:, 1], base[1])
    return Difference(
        difference,
        low,
        high,
        association.odds_ratio(count, base),
        association.relative_risk(count, base),
        _could_be_seen(count, base),
    )


def _could_be_seen(count: Counts, base: Counts) -> Floats:
    allowed = association.cochran_allows(count, base)
    people, (first, second) = int(base.sum()), (int(size) for size in base)
    mentions = count.sum(axis=1).tolist()
    return np.array(
        [
            power.smallest_difference(said / people, first, second, not chi) if people else np.nan
            for said, chi in zip(mentions, allowed.tolist(), strict=True)
        ]
    )


@dataclass(frozen=True)
class WithinLayers:
    """Over all layers, of two groups: the common odds ratio with its interval, and whether the
    odds ratios differ from layer to layer (``differ_p``); (rows,) each."""

    odds_ratio: Floats
    low: Floats
    high: Floats
    differ_p: Floats


def within_layers(counted: Tally, layer_count: int, pair: tuple[int, int] | None = None) -> WithinLayers | None:
    """The first of ``pair`` over its second (the last group over the first). None unless two groups of different people are compared in several layers."""
    if layer_count < 2 or counted.people.shape[1] != 2 * layer_count or counted.case_group is None:
        return None
    says, base = _by_layer(counted, layer_count)
    order = list(pair or (1, 0))
    odds = layers.common_odds_ratio(says[:, :, order], base[:, order])
    return WithinLayers(odds.ratio, odds.low, odds.high, layers.breslow_day(says, base).p)


def trend_of(counted: Tally, groups: AnyGroups, layer_count: int) -> ordered.Trend | None:
    """The trend over three or more groups in order, each of other people."""
    if not groups.ordered or groups.count < 3 or counted.case_group is None or layer_count > 1:
        return None
    return ordered.cochran_armitage(counted.people, counted.group_people)


def changes_of(counted: Tally, groups: AnyGroups) -> paired.Changes | None:
    """Of the same people on two occasions: who changed, and which way."""
    if counted.case_group is not None or isinstance(groups, Groups) or not groups.panel or groups.count != 2:
        return None
    says = mentions_on_all_occasions(counted)
    return paired.mcnemar(says[:, 0], says[:, 1])


def whole_of(counted: Tally, seed: int) -> Whole | None:
    """The whole table as one: only where every person of the groups mentions one row and no other."""
    mentions = (counted.counts[:, counted.in_base] > 0).sum(axis=0)
    if len(counted.counts) < 2 or not len(mentions) or (mentions != 1).any():
        return None
    table = counted.people[counted.people.sum(axis=1) > 0][:, counted.people.sum(axis=0) > 0]
    if min(table.shape) < 2:
        return None
    return of_table(table, seed)
