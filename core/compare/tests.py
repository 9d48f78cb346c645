"""How sure one can be of each row: which test fits its groups, what it says, and how large the difference is."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from core.compare.exchanged import Exchanged
from core.compare.groups import AnyGroups, Groups, own_order
from core.compare.measures import Measured
from core.compare.tally import Tally
from core.statistics import association, corrections, intervals, layers, ordered, paired, permutation, power
from core.statistics.exact import exact_tests
from core.statistics.whole import Whole, of_table

Floats = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]
SHUFFLES = 10_000


@dataclass(frozen=True)
class Tests:
    """One test a row, each field (rows,). ``kind`` names the test used: ``chi_square``, ``exact``,
    ``exact_simulated``, ``permutation``, ``layered``, ``changes`` (two occasions), ``occasions`` (several; these two
    also ``_permuted``, where expected counts are small), or ``none``; ``error`` is the standard error of a simulated p; ``effect`` is Cramér's V, bias-corrected
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
        return _of_occasions(counted, seed) if is_panel(groups, layer_count) else untested(len(counted.counts))
    if layer_count > 1:
        return _within_layers(counted, layer_count, seed)
    return _of_independent(counted.people, counted.group_people, seed)


def tests_by_shuffling(
    dealt: Exchanged | None, rows: int, groups: int, made: Measured, permutations: int, seed: int
) -> Tests:
    """Whether the figures differ more than by dealing the groups out to people anew; groups of layers stay inside."""
    if dealt is None or not permutations or groups < 2 or not len(dealt.people):
        return untested(rows)
    exposure = None if made.compared == "parts" else made.exposure[..., dealt.people]
    amount = made.by_case[:, dealt.people]
    found = permutation.permute_cases(amount, exposure, dealt.exchange, groups, permutations, seed)
    kind = tuple("none" if np.isnan(p) else "permutation" for p in found.p)
    none = np.full(len(kind), np.nan)
    return corrected(Tests(kind, none, found.p, found.error, none, none, none))


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


def _within_layers(counted: Tally, layer_count: int, seed: int) -> Tests:
    says, base = _by_layer(counted, layer_count)
    found = layers.cochran_mantel_haenszel(says, base)
    p, error = found.p.copy(), np.zeros(len(says))
    small = layers.too_small(says, base) & ~np.isnan(p)
    if small.any():
        p[small], error[small] = layers.permuted(says[small], base, SHUFFLES, seed)
    kind = ["layered_permuted" if one else "layered" for one in small.tolist()]
    return _named(kind, found.statistic, p, error, layers.effect_within(says, base))


def _by_layer(counted: Tally, layer_count: int) -> tuple[Counts, Counts]:
    return counted.people.reshape(len(counted.people), layer_count, -1), counted.group_people.reshape(layer_count, -1)


def is_panel(groups: AnyGroups, layer_count: int) -> bool:
    """Whether the groups are occasions on which the same people may have spoken: what they said in one isn't what they said
    in another."""
    return not isinstance(groups, Groups) and groups.panel and groups.apart and layer_count == 1


def _of_occasions(counted: Tally, seed: int) -> Tests:
    says = mentions_on_all_occasions(counted)
    rows, none = len(says), np.full(len(says), np.nan)
    if says.shape[1] == 2:
        p = paired.mcnemar(says[:, 0], says[:, 1]).p
        return _named(["changes"] * rows, none, p, np.zeros(rows), none)
    found = paired.cochran_q(says.transpose(0, 2, 1))
    p, error = found.p.copy(), np.zeros(rows)
    small = paired.too_small(says.transpose(0, 2, 1)) & ~np.isnan(p)
    if small.any():
        p[small], error[small] = paired.permuted_q(says.transpose(0, 2, 1)[small], SHUFFLES, seed)
    kind = ["occasions_permuted" if one else "occasions" for one in small.tolist()]
    return _named(kind, found.statistic, p, error, none)


def mentions_on_all_occasions(counted: Tally) -> npt.NDArray[np.bool_]:
    """Who mentions each row in each group, (rows, groups, people in all groups)."""
    assert counted.said is not None
    return counted.said[:, :, np.flatnonzero(counted.base.all(axis=1))] > 0


def _named(kind: list[str], statistic: Floats, p: Floats, error: Floats, effect: Floats) -> Tests:
    names = tuple("none" if np.isnan(value) else name for name, value in zip(kind, p, strict=True))
    return corrected(Tests(names, statistic, p, error, p, p, effect))


def corrected(tests: Tests) -> Tests:
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


_COARSE = 200
"""People of two groups together from which on shares are rounded to hundredths before asking what could be seen."""


def _could_be_seen(count: Counts, base: Counts) -> Floats:
    """By the rule that is used, whatever the outcome; NaN where all or nobody mention it: that tells nothing."""
    people, (first, second) = int(base.sum()), (int(size) for size in base)
    shares = [said / people if people else 0.0 for said in count.sum(axis=1).tolist()]
    if people > _COARSE:
        shares = [0.0 if share in (0, 1) else min(max(round(share, 2), 0.01), 0.99) for share in shares]
    return np.array([power.smallest_difference(share, first, second) for share in shares])


@dataclass(frozen=True)
class WithinLayers:
    """Over all layers, (rows,) each. Of two groups: the common odds ratio with its interval (one-sided where the ratio is 0
    or infinite), and whether the odds ratios differ from layer to layer (``differ_p``, corrected over the rows in
    ``differ_holm``); NaN with more groups. ``effect`` is the size for any number of groups: Cramér's V within layers,
    corrected for bias."""

    odds_ratio: Floats
    low: Floats
    high: Floats
    differ_p: Floats
    differ_holm: Floats
    effect: Floats


def within_layers(counted: Tally, layer_count: int, pair: tuple[int, int] | None = None) -> WithinLayers | None:
    """The first of ``pair`` over its second (the last group over the first). None unless groups of different people are
    compared in several layers."""
    if layer_count < 2 or counted.case_group is None or counted.people.shape[1] < 2 * layer_count:
        return None
    says, base = _by_layer(counted, layer_count)
    effect, none = layers.effect_within(says, base), np.full(len(says), np.nan)
    if says.shape[2] > 2 and pair is None:
        return WithinLayers(none, none, none, none, none, effect)
    order = list(pair or (1, 0))
    odds = layers.common_odds_ratio(says[:, :, order], base[:, order])
    differ = layers.breslow_day(says[:, :, order], base[:, order]).p
    return WithinLayers(odds.ratio, odds.low, odds.high, differ, corrections.holm(differ), effect)


@dataclass(frozen=True)
class RowTrend:
    """Over groups in the variable's own order, (rows,) each: ``z`` is above 0 where mentions rise with it; ``p`` by the
    normal curve, or permuted where Cochran's rule doesn't allow that (``error`` its standard error, else 0); ``holm``
    and ``benjamini_hochberg`` corrected over the rows."""

    z: Floats
    p: Floats
    error: Floats
    holm: Floats
    benjamini_hochberg: Floats


def trend_of(counted: Tally, groups: AnyGroups, layer_count: int, seed: int) -> RowTrend | None:
    """The trend over three or more groups in order, each of other people."""
    if not groups.ordered or groups.count < 3 or counted.case_group is None or layer_count > 1:
        return None
    score = np.empty(groups.count)
    score[own_order(groups)] = np.arange(groups.count)
    found = ordered.cochran_armitage(counted.people, counted.group_people, score)
    p, error = found.p.copy(), np.zeros(len(found.p))
    small = ~association.cochran_allows(counted.people, counted.group_people) & ~np.isnan(p)
    if small.any():
        p[small], error[small] = ordered.permuted_trend(
            counted.people[small], counted.group_people, score, SHUFFLES, seed
        )
    return RowTrend(found.z, p, error, corrections.holm(p), corrections.benjamini_hochberg(p))


def changes_of(counted: Tally, groups: AnyGroups) -> paired.Changes | None:
    """Of the same people on two occasions: who changed, and which way."""
    if counted.case_group is not None or not is_panel(groups, 1) or groups.count != 2:
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
