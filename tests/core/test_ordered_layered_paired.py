"""Trend, ranks, layers, changes and power: published figures, and the same from general libraries."""

import numpy as np
import pytest
from scipy import stats
from statsmodels.stats import contingency_tables as tables
from statsmodels.stats.proportion import power_proportions_2indep

from core.statistics import layers, ordered, paired, power

# University of California, Berkeley, 1973: admitted of all applicants, men and women, in six departments.
# Bickel, Hammel & O'Connell 1975, Science 187.
ADMITTED = np.array([[[512, 89], [353, 17], [120, 202], [138, 131], [53, 94], [22, 24]]])
APPLIED = np.array([[825, 108], [560, 25], [325, 593], [417, 375], [191, 393], [373, 341]])
random = np.random.default_rng


def test_trend_of_malformations_by_drinking():
    # Graubard & Korn 1987, Biometrics 43: maternal drinking and malformation.
    found = ordered.cochran_armitage([[48, 38, 5, 1, 1]], [17114, 14502, 793, 127, 38], [0, 0.5, 1.5, 4, 7])
    assert found.statistic[0] == pytest.approx(6.570, abs=5e-4)
    assert found.z[0] > 0
    assert found.p[0] == pytest.approx(stats.chi2.sf(6.570, 1), abs=5e-6)


def test_trend_is_the_one_of_statsmodels_and_needs_variation():
    dice = random(3)
    for _ in range(30):
        base = dice.integers(2, 30, 4)
        count = dice.binomial(base, 0.4)
        if not 0 < count.sum() < base.sum():
            continue
        theirs = tables.Table(np.stack([count, base - count]), shift_zeros=False).test_ordinal_association(
            row_scores=np.array([1, 0])
        )
        # Theirs takes n − 1 where the binomial variance takes n.
        ours = ordered.cochran_armitage([count], base).z[0]
        assert ours * np.sqrt((base.sum() - 1) / base.sum()) == pytest.approx(theirs.zscore, abs=1e-9)
    assert np.isnan(ordered.cochran_armitage([[0, 0], [3, 4]], [3, 4]).p).all()


def test_kruskal_wallis_of_mucociliary_efficiency():
    # Hollander & Wolfe 1973, p. 115: normal, with obstructive disease, with asbestosis.
    values = [2.9, 3.0, 2.5, 2.6, 3.2, 3.8, 2.7, 4.0, 2.4, 2.8, 3.4, 3.7, 2.2, 2.0]
    found = ordered.kruskal_wallis(values, [0] * 5 + [1] * 4 + [2] * 5)
    assert (round(found.statistic, 4), found.degrees) == (0.7714, 2)
    assert found.p == pytest.approx(0.68, abs=5e-4)


def test_kruskal_wallis_with_ties_is_scipys():
    dice = random(5)
    for _ in range(20):
        values, labels = dice.integers(0, 6, 40).astype(float), dice.integers(0, 4, 40)
        theirs = stats.kruskal(*(values[labels == group] for group in np.unique(labels)))
        found = ordered.kruskal_wallis(values, labels)
        assert (found.statistic, found.p) == pytest.approx(tuple(theirs), abs=1e-9)
        assert 0 <= found.effect <= 1
    assert np.isnan(ordered.kruskal_wallis([3.0, 3.0, 3.0], [0, 1, 1]).p)


def test_mann_whitney_exact_and_approximate_are_scipys():
    dice = random(7)
    for people in (9, 25, 90):
        values = dice.permutation(people).astype(float)
        says = dice.random((12, people)) < 0.4
        found = ordered.mann_whitney(says, values)
        for row, mentions in enumerate(says):
            how = "exact" if people <= ordered.EXACT_RANKS else "asymptotic"
            theirs = stats.mannwhitneyu(values[mentions], values[~mentions], method=how)
            assert found.u[row] == theirs.statistic
            assert found.p[row] == pytest.approx(theirs.pvalue, abs=1e-9)
    tied = dice.integers(0, 5, 90).astype(float)
    theirs = stats.mannwhitneyu(tied[says[0]], tied[~says[0]], method="asymptotic")
    assert ordered.mann_whitney(says[:1], tied).p[0] == pytest.approx(theirs.pvalue, abs=1e-9)


def test_mann_whitney_with_ties_counts_every_choice_of_people():
    values, says = np.array([1, 1, 2, 3, 3, 3, 5.0]), np.array([[0, 1, 0, 0, 1, 1, 1]], bool)
    found = ordered.mann_whitney(says, values)

    def rank_sum(a, b, axis=-1):
        return stats.rankdata(np.concatenate([a, b], axis=axis), axis=axis)[..., : a.shape[axis]].sum(axis=axis)

    theirs = stats.permutation_test(
        (values[says[0]], values[~says[0]]), rank_sum, vectorized=True, n_resamples=np.inf, alternative="two-sided"
    )
    assert found.exact
    assert found.p[0] == pytest.approx(theirs.pvalue, abs=1e-9)
    higher = (values[says[0]][:, None] > values[~says[0]][None, :]).mean()
    lower = (values[says[0]][:, None] < values[~says[0]][None, :]).mean()
    assert found.effect[0] == pytest.approx(higher - lower)
    assert np.isnan(ordered.mann_whitney([[1, 1], [0, 0]], [1.0, 2.0]).effect).all()


def test_berkeley_admissions_by_department():
    # Bickel et al. 1975, as analysed in Agresti 2002 (chapter 6): with and without the correction for continuity.
    assert layers.cochran_mantel_haenszel(ADMITTED, APPLIED, True).statistic[0] == pytest.approx(1.4269, abs=5e-5)
    assert layers.cochran_mantel_haenszel(ADMITTED, APPLIED).statistic[0] == pytest.approx(1.5246, abs=5e-5)
    assert layers.common_odds_ratio(ADMITTED, APPLIED).ratio[0] == pytest.approx(0.9047, abs=5e-5)
    # From memory: Breslow–Day with Tarone's correction, as statistics packages print it for these data.
    found = layers.breslow_day(ADMITTED, APPLIED)
    assert (found.statistic[0], found.degrees) == (pytest.approx(18.826, abs=5e-4), 5)
    assert found.p[0] == pytest.approx(0.002071, abs=5e-7)


def test_layers_are_those_of_statsmodels():
    dice = random(11)
    for _ in range(20):
        base = dice.integers(3, 25, (4, 2))
        count = dice.binomial(base, 0.3 + 0.4 * dice.random((4, 2)))
        whole = tables.StratifiedTable(np.stack([count, base - count], axis=1).transpose(1, 2, 0).astype(float))
        ours = layers.cochran_mantel_haenszel(count[None], base)
        theirs = whole.test_null_odds(correction=False)
        assert (ours.statistic[0], ours.p[0]) == pytest.approx((theirs.statistic, theirs.pvalue), abs=1e-9)
        odds = layers.common_odds_ratio(count[None], base)
        assert odds.ratio[0] == pytest.approx(whole.oddsratio_pooled, abs=1e-9)
        assert (odds.low[0], odds.high[0]) == pytest.approx(whole.oddsratio_pooled_confint(), abs=1e-9)
        if (count.sum(axis=1) > 0).all() and (count.sum(axis=1) < base.sum(axis=1)).all():
            same = whole.test_equal_odds(adjust=True)
            assert layers.breslow_day(count[None], base).statistic[0] == pytest.approx(same.statistic, abs=1e-7)


def test_three_groups_in_one_layer_are_chi_square_but_for_one_person():
    # With one layer the general association statistic is (n − 1)/n of Pearson's: Landis, Heyman & Koch 1978.
    count, base = np.array([[[4, 9, 3]]]), np.array([[12, 11, 14]])
    theirs = stats.chi2_contingency(np.stack([count[0, 0], base[0] - count[0, 0]]), correction=False)
    found = layers.cochran_mantel_haenszel(count, base)
    assert found.statistic[0] == pytest.approx(theirs.statistic * 36 / 37, abs=1e-9)
    assert found.degrees == 2
    nobody = layers.cochran_mantel_haenszel(np.zeros((1, 2, 3)), np.full((2, 3), 4))
    assert np.isnan(nobody.p).all()


def test_changes_are_the_exact_test_of_statsmodels():
    # Agresti 2002, table 10.1: approval of a prime minister twice, 794, 150, 86, 570; z² is 34.7.
    first = np.repeat([True, True, False, False], [794, 150, 86, 570])[None]
    second = np.repeat([True, False, True, False], [794, 150, 86, 570])[None]
    found = paired.mcnemar(first, second)
    counted = [int(part[0]) for part in (found.both, found.only_first, found.only_second, found.neither)]
    assert counted == [794, 150, 86, 570]
    assert found.p[0] == pytest.approx(tables.mcnemar([[794, 150], [86, 570]], exact=True).pvalue, abs=1e-12)
    assert found.p[0] < 1e-4
    few = paired.mcnemar([[1, 1, 0, 0, 1], [1, 0, 1, 0, 1]], [[0, 0, 0, 0, 1], [1, 0, 1, 0, 1]])
    assert few.p[0] == pytest.approx(stats.binomtest(0, 2).pvalue)
    assert np.isnan(few.p[1])


def test_several_occasions_are_cochrans_q_of_statsmodels():
    says = random(13).random((5, 20, 4)) < 0.45
    found = paired.cochran_q(says)
    for row in range(5):
        theirs = tables.cochrans_q(says[row].astype(int))
        assert (found.statistic[row], found.p[row]) == pytest.approx((theirs.statistic, theirs.pvalue), abs=1e-9)
    assert np.isnan(paired.cochran_q(np.ones((1, 4, 3))).p[0])


def test_power_is_counted_over_all_outcomes_by_the_test_each_outcome_calls_for():
    one, other, first, second = 0.7, 0.25, 17, 9
    counted = 0.0
    for a in range(first + 1):
        for b in range(second + 1):
            table = np.array([[a, b], [first - a, second - b]])
            expected = np.outer(table.sum(axis=1), table.sum(axis=0)) / table.sum()
            if table.sum(axis=1).min() and expected.min() >= 1 and (expected < 5).mean() <= 0.2:
                p = stats.chi2_contingency(table, correction=False).pvalue
            else:
                p = stats.fisher_exact(table).pvalue
            if p <= 0.05:
                counted += stats.binom.pmf(a, first, one) * stats.binom.pmf(b, second, other)
    assert power.power_of(one, other, first, second)[0] == pytest.approx(counted, abs=1e-9)


def test_power_with_many_people_is_near_that_of_statsmodels():
    for first, second, pooled in ((260, 260, 0.4), (300, 150, 0.3)):
        gap = 0.13
        one, other = pooled + gap * second / (first + second), pooled - gap * first / (first + second)
        theirs = power_proportions_2indep(gap, other, first, ratio=second / first, alpha=0.05)
        assert power.power_of(one, other, first, second)[0] == pytest.approx(theirs.power, abs=0.01)


def test_the_smallest_difference_shrinks_with_people_and_may_not_exist():
    few, many = (power.smallest_difference(0.4, size, size) for size in (30, 150))
    assert many < few
    for gap, enough in ((few, True), (few - 0.01, False)):
        found = power.power_of(0.4 + gap / 2, 0.4 - gap / 2, 30, 30)[0]
        assert (found >= 0.8) == enough
    assert np.isnan(power.smallest_difference(0.5, 2, 2))
    assert np.isnan(power.smallest_difference(0.0, 20, 20))
    assert np.isnan(power.smallest_difference(1.0, 20, 20))
    # Nobody can say which group is the higher: the worse way round counts, whatever the order of the two.
    assert power.smallest_difference(0.4, 11, 17) == power.smallest_difference(0.4, 17, 11) > 0.4


@pytest.mark.parametrize(("first", "second"), [(5, 40), (8, 12), (21, 9), (60, 60), (6, 57)])
def test_told_power_is_that_of_the_rule_for_either_group_being_higher(first, second):
    for pooled in (0.2, 0.4, 0.6):
        gap = power.smallest_difference(pooled, first, second)
        if np.isnan(gap):
            continue
        people, found = first + second, []
        for high, low in ((first, second), (second, first)):
            one, other = pooled + gap * low / people, pooled - gap * high / people
            if one <= 1 and other >= 0:
                found.append(power.power_of(one, other, high, low)[0])
        assert found
        assert min(found) >= 0.8 - 0.03
