"""The statistics that step-down compares, for any arrangement of labels: held to loops and to the tests they stand for."""

from itertools import combinations, permutations, product
from math import factorial

import numpy as np
import pytest
from scipy import stats

from core.compare.by_part import compare, family_of
from core.compare.exchanged import exchanged, reordered
from core.compare.groups import Groups
from core.compare.question import Comparison
from core.compare.sure import Family
from core.statistics.dealing import Exchange, Reorder, exchange
from core.statistics.layers import cochran_mantel_haenszel, common_odds_ratio
from core.statistics.paired import mcnemar
from core.statistics.pairwise import LayeredShares, Occasions, Shares
from core.statistics.regression import firth
from core.statistics.studentised import PRIOR, ratios, shares_of_total
from tests.core.worlds import one_talk_each, talks_with_rows, together, two_waves

SEEDS = range(8)


def drawn(seed: int, groups: int, people: int = 24, rows: int = 3):
    """Amounts of some rows, labels of an arrangement with as many in each group, and their sizes."""
    generator = np.random.default_rng(seed)
    amount = generator.poisson(generator.gamma(0.7, 2, (rows, people)))
    labels = generator.permutation(np.arange(people) % groups).astype(np.int16)
    return generator, amount, labels, np.bincount(labels, minlength=groups)


@pytest.mark.parametrize("groups", [2, 3, 5])
@pytest.mark.parametrize("seed", SEEDS)
def test_shares_are_compared_by_fishers_p(seed, groups):
    _, amount, labels, sizes = drawn(seed, groups)
    says, pairs = amount > 0, tuple(combinations(range(groups), 2))
    found = Shares(says, sizes, pairs).of(labels[None])[:, 0].T
    for row in range(3):
        for place, (a, b) in enumerate(pairs):
            one, other = (int(says[row, labels == group].sum()) for group in (a, b))
            p = stats.fisher_exact([[one, other], [sizes[a] - one, sizes[b] - other]]).pvalue
            assert -found[row, place] == pytest.approx(p, rel=1e-5)


@pytest.mark.parametrize("seed", SEEDS)
def test_shares_within_layers_are_compared_by_mantel_and_haenszel(seed):
    generator, amount, _, _ = drawn(seed, 2, people=36)
    says = amount > 1
    layer, inner = np.arange(36) % 3, generator.permutation(36) % 2
    labels = (layer * 2 + inner).astype(np.int16)
    sizes = np.bincount(labels, minlength=6).reshape(3, 2)
    found = LayeredShares(says, sizes, ((0, 1),)).of(labels[None])[0, 0]
    counts = np.array(
        [[[says[row, labels == one * 2 + group].sum() for group in (0, 1)] for one in range(3)] for row in range(3)]
    )
    theirs = cochran_mantel_haenszel(counts, sizes).p
    assert stats.chi2.sf(found, 1) == pytest.approx(np.nan_to_num(theirs, nan=1.0), abs=1e-5)


def studentised(parts, over, labels, sizes, a, b, weight=1.0) -> tuple[float, float]:
    """By hand, of one layer: the difference of what two groups' people add, over what it is taken over, and its variance,
    one person's worth of everybody's spread mixed in."""
    gap, variance = 0.0, 0.0
    for group, sign in ((a, 1), (b, -1)):
        own, e = parts[labels == group], over[labels == group].sum()
        left = ((own - own.mean()) ** 2).sum()
        variance += (left + PRIOR * parts.var(ddof=1)) / (sizes[group] - 1 + PRIOR) * sizes[group] / e**2
        gap += sign * own.sum() / e
    return gap * weight, variance * weight**2


@pytest.mark.parametrize("even", [True, False])
@pytest.mark.parametrize("seed", SEEDS)
def test_means_and_rates_are_compared_studentised(seed, even):
    generator, amount, labels, sizes = drawn(seed, 3)
    over = np.ones(24) if even else generator.lognormal(3, 0.5, 24).round() + 1
    pairs = ((0, 1), (0, 2), (1, 2))
    found = ratios(amount, over, None, sizes[None], pairs).of(labels[None])
    for row, (place, pair) in product(range(3), enumerate(pairs)):
        x = amount[row].astype(float)
        gap, variance = studentised(x - x.sum() / over.sum() * over, over, labels, sizes, *pair)
        rates = [x[labels == group].sum() / over[labels == group].sum() for group in pair]
        assert gap == pytest.approx(rates[0] - rates[1])
        assert found[place, 0, row] == pytest.approx(gap**2 / variance, rel=1e-4, abs=1e-6)


@pytest.mark.parametrize("seed", SEEDS)
def test_rates_within_layers_are_taken_from_each_layers_own(seed):
    generator, amount, _, _ = drawn(seed, 2, people=36)
    layer, inner = np.arange(36) % 3, generator.permutation(36) % 2
    x = amount[0] + 3.0 * layer
    over = generator.lognormal(3, 0.5, 36).round() + 1
    labels = (layer * 2 + inner).astype(np.int16)
    sizes = np.bincount(labels, minlength=6)
    found = ratios(x[None], over, layer, sizes.reshape(3, 2), ((0, 1),)).of(labels[None])[0, 0, 0]
    parts = x.copy()
    for one in range(3):
        parts[layer == one] -= x[layer == one].sum() / over[layer == one].sum() * over[layer == one]
    by_layer = []
    for one in range(3):
        first, second = sizes[2 * one], sizes[2 * one + 1]
        weight = first * second / (first + second)
        by_layer.append(studentised(parts, over, labels, sizes, 2 * one, 2 * one + 1, weight))
    gap, variance = np.sum(by_layer, axis=0)
    assert found == pytest.approx(gap**2 / variance, rel=1e-4)


@pytest.mark.parametrize("seed", SEEDS)
def test_parts_of_a_total_are_compared_as_parts(seed):
    _, amount, labels, sizes = drawn(seed, 2)
    found = shares_of_total(amount, sizes[None], ((0, 1),)).of(labels[None])[0, 0]
    # Each group's sum is over 1.
    over = np.array([1 / sizes[group] for group in labels])
    for row in range(3):
        gap, variance = studentised(amount[row].astype(float), over, labels, sizes, 0, 1)
        assert found[row] == pytest.approx(gap**2 / variance if variance else 0, rel=1e-4, abs=1e-6)


def test_where_everybody_adds_the_same_nothing_differs_and_without_exposure_nothing_is_compared():
    labels, sizes = np.array([[0, 0, 0, 1, 1, 2]], np.int16), np.array([[3, 2, 1]])
    pairs = ((0, 1), (0, 2))
    same = np.full((1, 6), 4)
    assert shares_of_total(same, sizes, pairs).of(labels).ravel().tolist() == [0, 0]
    assert ratios(same, np.full(6, 0.1), None, sizes, pairs).of(labels).ravel().tolist() == [0, 0]
    # What rounding leaves of the last group's exposure is none.
    over = np.array([8.4, 6.3, 5.1, 2.7, 3.1, 0])
    nobody = ratios(np.array([[1, 2, 3, 1, 0, 0]]), over, None, sizes, pairs).of(labels)
    assert nobody[0, 0, 0] > 0
    assert np.isnan(nobody[1, 0, 0])


@pytest.mark.parametrize("occasions", [2, 3])
@pytest.mark.parametrize("seed", SEEDS)
def test_occasions_are_compared_by_mcnemars_p_however_they_are_dealt(seed, occasions):
    generator = np.random.default_rng(seed)
    says = generator.random((2, 9, occasions)) < 0.5
    orders, pairs = tuple(permutations(range(occasions))), tuple(combinations(range(occasions), 2))
    labels = generator.integers(0, len(orders), (4, 9)).astype(np.int16)
    found = Occasions(says, pairs, orders).of(labels)
    for draw in range(4):
        dealt = np.stack([says[:, person][:, list(orders[labels[draw, person]])] for person in range(9)], axis=1)
        for place, (a, b) in enumerate(pairs):
            p = mcnemar(dealt[:, :, a], dealt[:, :, b]).p
            assert -found[place, draw] == pytest.approx(np.nan_to_num(p, nan=1.0), abs=1e-6)


def arrangements(dealt: Exchange, times: int = 3000) -> set[tuple[int, ...]]:
    return {tuple(one) for batch in dealt.dealt(times, 5) for one in batch.tolist()}


@pytest.mark.parametrize(
    ("labels", "strata", "block", "many"),
    [
        ([0, 0, 1, 1], None, None, 6),
        ([0, 0, 1, 1], [0, 0, 1, 1], None, 1),
        ([0, 1, 0, 1], [0, 0, 1, 1], None, 4),
        ([0, 1, 2], None, None, 6),
        ([0, 0, 1, 1, 0, 1], None, [0, 0, 1, 1, 2, 3], 4),
    ],
)
def test_arrangements_are_as_many_as_are_counted(labels, strata, block, many):
    dealt = exchange(
        np.array(labels), None if strata is None else np.array(strata), None if block is None else np.array(block)
    )
    assert len(arrangements(dealt)) == many
    assert np.exp(dealt.log_arrangements) == pytest.approx(many)


def test_every_arrangement_of_single_people_comes_up_as_often():
    dealt = exchange(np.array([0, 0, 1, 1, 1]))
    seen = [tuple(one) for batch in dealt.dealt(20_000, 9) for one in batch.tolist()]
    times = np.array([seen.count(one) for one in set(seen)])
    assert len(times) == factorial(5) // (factorial(2) * factorial(3))
    assert stats.chisquare(times).pvalue > 1e-4


def test_labels_are_dealt_the_same_from_the_same_seed():
    dealt = exchange(np.arange(40) % 3, together=np.r_[np.zeros(4), np.arange(1, 37)].astype(int))
    first, second, other = (np.concatenate(list(dealt.dealt(700, seed))) for seed in (1, 1, 2))
    assert (first == second).all()
    assert (first != other).any()
    assert len(first) == 700
    assert (np.sort(first, axis=1) == np.sort(np.arange(40) % 3)).all()


def test_people_of_one_conversation_are_reordered_together():
    dealt = Reorder(np.array([0, 0, 1, 2, 2]), 2)
    seen = np.concatenate(list(dealt.dealt(300, 4)))
    assert (seen[:, 0] == seen[:, 1]).all()
    assert (seen[:, 3] == seen[:, 4]).all()
    assert np.exp(dealt.log_arrangements) == pytest.approx(8)
    assert len({tuple(one) for one in seen.tolist()}) == 8


def test_whose_labels_change_places_is_read_from_who_spoke_where():
    snapshot = together(together(one_talk_each([1, 0, 1, 0, 1, 0], silent=2), [0, 1]), [1, 4])
    groups = Groups(("a", "b"), np.array([0, 0, 0, 1, 1, 1, 0, 1], np.int32))
    result = compare(snapshot, Comparison((0,), groups))
    found = exchanged(snapshot, result.scope, result.counted, 1)
    # Those without material take no part; 0, 1 and 4 heard each other, through 1.
    assert found.people.tolist() == [0, 1, 2, 3, 4, 5]
    assert found.together == 3
    assert sorted(len(blocks[0]) for blocks in found.exchange.classes) == [1, 3]
    assert result.heard_each_other == 3
    waves = two_waves([1, 0, 1], [0, 0, 1])
    again = reordered(waves.snapshot, waves.scope, waves.counted)
    assert again.people.tolist() == [0, 1, 2]
    assert again.orders == ((0, 1), (1, 0))
    assert exchanged(waves.snapshot, waves.scope, waves.counted, 1) is None


def test_by_chance_is_how_many_intervals_leave_nought_out_where_labels_are_dealt():
    """Counted over arrangements, beside every arrangement of a small table."""
    from core.statistics.intervals import newcombe_difference

    says = np.array([[1] * 5 + [0] * 5])
    family = family_of(
        compare(talks_with_rows(says), Comparison((0,), Groups(("a", "b"), np.repeat([0, 1], 5).astype(np.int32))))
    )
    clear = 0
    for first in combinations(range(10), 5):
        one = int(says[0, list(first)].sum())
        _, low, high = newcombe_difference(one, 5, 5 - one, 5)
        clear += bool(low > 0 or high < 0)
    assert family.by_chance == pytest.approx(clear / 252, abs=0.02)
    assert family.sure[0, 0] == (family.p[0, 0] <= 0.05)


def test_more_than_can_be_held_is_refused_with_its_reason(monkeypatch):
    from core.compare import sure

    monkeypatch.setattr(sure, "MOST_TESTED", 2)
    shown = Groups(("a", "b", "c"), (np.arange(12) % 3).astype(np.int32))
    family = Family(compare(one_talk_each([1, 0] * 6), Comparison((0,), shown)))
    assert family.why_not == "too_many"
    assert np.isnan(family.p).all()


@pytest.mark.parametrize("seed", range(4))
def test_firths_estimate_is_the_top_of_the_penalised_likelihood(seed):
    """Beside a search over a grid, with the penalty written out."""
    generator = np.random.default_rng(seed)
    x = np.column_stack([np.ones(30), generator.normal(size=30)])
    y = (generator.random(30) < 1 / (1 + np.exp(-(0.3 + 0.8 * x[:, 1])))).astype(float)

    def penalised(beta) -> float:
        eta = x @ beta
        weight = np.exp(-np.abs(eta)) / (1 + np.exp(-np.abs(eta))) ** 2
        information = (x * weight[:, None]).T @ x
        return float((y * eta - np.logaddexp(0, eta)).sum() + 0.5 * np.linalg.slogdet(information)[1])

    fit = firth(x, y[None])
    top = penalised(fit.beta[0])
    assert fit.likelihood[0] == pytest.approx(top)
    for step in (0.02, 0.2):
        for away in product((-step, 0, step), repeat=2):
            assert penalised(fit.beta[0] + np.array(away)) <= top + 1e-9


def test_a_common_odds_ratio_is_the_same_whichever_layer_comes_first():
    says, base = np.array([[[5, 2], [3, 1], [0, 4]]]), np.array([[9, 9], [6, 7], [5, 8]])
    found, turned = common_odds_ratio(says, base), common_odds_ratio(says[:, ::-1], base[::-1])
    assert (found.ratio[0], found.low[0], found.high[0]) == pytest.approx(
        (turned.ratio[0], turned.low[0], turned.high[0])
    )
    inverse = common_odds_ratio(says[:, :, ::-1], base[:, ::-1])
    assert found.ratio[0] * inverse.ratio[0] == pytest.approx(1)
    assert found.low[0] * inverse.high[0] == pytest.approx(1)
