"""The same figures from scipy and statsmodels on random tables."""

import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.contingency_tables import Table2x2
from statsmodels.stats.multitest import multipletests
from statsmodels.stats.proportion import confint_proportions_2indep, proportion_confint

from core.statistics import association, corrections, exact, intervals


def random_rows(seed: int, groups: int, rows: int = 12, size: int = 40):
    generator = np.random.default_rng(seed)
    bases = generator.integers(4, size, groups)
    return generator.binomial(bases[None, :], generator.uniform(0.05, 0.95, (rows, groups))), bases


@pytest.mark.parametrize("seed", range(6))
def test_wilson_agrees_with_statsmodels(seed):
    counts, bases = random_rows(seed, 4)
    low, high = intervals.wilson(counts, bases)
    expected = [proportion_confint(counts[:, g], np.full(len(counts), bases[g]), method="wilson") for g in range(4)]
    assert low == pytest.approx(np.stack([pair[0] for pair in expected], axis=1), abs=1e-9)
    assert high == pytest.approx(np.stack([pair[1] for pair in expected], axis=1), abs=1e-9)


@pytest.mark.parametrize("seed", range(6))
def test_difference_agrees_with_statsmodels(seed):
    counts, bases = random_rows(seed, 2)
    for a, b in counts:
        _, low, high = intervals.newcombe_difference(a, bases[0], b, bases[1])
        expected = confint_proportions_2indep(a, bases[0], b, bases[1], method="newcomb", compare="diff")
        assert (float(low), float(high)) == pytest.approx(expected, abs=1e-9)


@pytest.mark.parametrize("groups", [2, 3, 5])
def test_chi_square_agrees_with_scipy(groups):
    counts, bases = random_rows(groups, groups)
    found = association.chi_square(counts, bases)
    for row, count in enumerate(counts):
        if 0 < count.sum() < bases.sum():
            expected = stats.chi2_contingency(np.stack([count, bases - count]), correction=False)
            assert found.statistic[row] == pytest.approx(expected.statistic, abs=1e-9)
            assert found.p[row] == pytest.approx(expected.pvalue, abs=1e-9)


@pytest.mark.parametrize("seed", range(8))
def test_two_groups_are_fishers_exact_test(seed):
    counts, bases = random_rows(seed, 2, size=25)
    for count in counts:
        if 0 < count.sum() < bases.sum():
            expected = stats.fisher_exact(np.stack([count, bases - count])).pvalue
            assert exact.exact_test(count, bases).p == pytest.approx(expected, rel=1e-9)


def brute_force(counts, bases):
    """Every table with these margins, one by one: slow, and plainly right."""
    from itertools import product
    from math import comb

    observed = np.prod([comb(int(n), int(x)) for n, x in zip(bases, counts, strict=True)])
    tables = [t for t in product(*(range(n + 1) for n in bases)) if sum(t) == sum(counts)]
    ways = [np.prod([comb(int(n), int(x)) for n, x in zip(bases, t, strict=True)]) for t in tables]
    return sum(way for way in ways if way <= observed) / sum(ways)


@pytest.mark.parametrize("seed", range(6))
def test_three_groups_agree_with_counting_every_table(seed):
    counts, bases = random_rows(seed, 3, rows=4, size=8)
    for count in counts:
        if 0 < count.sum() < bases.sum():
            assert exact.exact_test(count, bases).p == pytest.approx(brute_force(count, bases), rel=1e-9)


def test_simulation_agrees_with_the_exact_count():
    counted = exact.exact_test([2, 6, 7], [9, 8, 11])
    simulated = exact.exact_test_simulated([[2, 6, 7], [7, 2, 4]], seed=5)
    assert counted.error == 0
    assert simulated.p == pytest.approx(counted.p, abs=4 * simulated.error)


def test_too_many_tables_are_drawn_and_agree_with_the_exact_count(monkeypatch):
    counts, bases = random_rows(4, 5, rows=40, size=7)
    p, error = exact.exact_tests(counts, bases)
    assert not error.any()
    monkeypatch.setattr(exact, "EXACT_TABLES", 10)
    drawn, sure_to = exact.exact_tests(counts, bases, seed=3)
    known = ~np.isnan(p)
    assert (np.isnan(drawn) == ~known).all()
    assert (sure_to[known & (p < 1)] > 0).all()
    assert (np.abs(drawn - p)[known] <= 4.5 * np.maximum(sure_to[known], 1e-4)).all()
    # Fewer draws where there is more to draw: the error says so.
    monkeypatch.setattr(exact, "_EFFORT", 1)
    assert (exact.exact_tests(counts, bases, seed=3)[1][known] >= sure_to[known] * 0.9).all()


def test_rows_together_are_tested_as_each_by_itself():
    counts, bases = random_rows(8, 3, rows=30, size=9)
    together, _ = exact.exact_tests(counts, bases)
    alone = [exact.exact_test(count, bases).p for count in counts]
    assert together == pytest.approx(np.array(alone), rel=1e-12, nan_ok=True)


def test_where_each_is_a_group_there_is_nothing_to_test():
    assert np.isnan(exact.exact_test([1, 0, 1, 0, 0], [1, 1, 1, 1, 1]).p)
    # One group of two is enough: of four tables with one mention, all are as likely or less.
    assert exact.exact_test([0, 1, 0], [2, 1, 1]).p == pytest.approx(0.5)


def test_odds_ratio_and_relative_risk():
    table = Table2x2([[9, 2], [2, 11]])
    counts, bases = [[9, 2]], [11, 13]
    assert association.odds_ratio(counts, bases)[0] == pytest.approx(table.oddsratio)
    assert association.relative_risk(counts, bases)[0] == pytest.approx((9 / 11) / (2 / 13))


@pytest.mark.parametrize(("ours", "theirs"), [("holm", "holm"), ("benjamini_hochberg", "fdr_bh")])
def test_corrections_agree_with_statsmodels(ours, theirs):
    p = np.random.default_rng(4).uniform(0, 0.2, 30)
    p[[3, 17]] = np.nan
    found = getattr(corrections, ours)(p)
    tested = ~np.isnan(p)
    assert found[tested] == pytest.approx(multipletests(p[tested], method=theirs)[1], abs=1e-12)
    assert np.isnan(found[~tested]).all()


def test_bergsma_correction_by_its_definition():
    # Bergsma 2013: phi² less (r−1)(c−1)/(n−1), over the least corrected dimension less one.
    counts, bases = np.array([[8, 3, 1]]), np.array([12, 10, 14])
    n = 36
    phi2 = stats.chi2_contingency(np.stack([counts[0], bases - counts[0]]), correction=False).statistic / n
    shrunk = max(0, phi2 - 2 / (n - 1))
    lines, columns = 2 - 1 / (n - 1), 3 - 4 / (n - 1)
    expected = np.sqrt(shrunk / min(lines - 1, columns - 1))
    assert association.cramers_v(counts, bases)[0] == pytest.approx(expected)


def test_cochrans_rule():
    # All expected counts of the first row are at least 5; the second has one under 1.
    assert association.cochran_allows([[10, 10], [1, 0]], [20, 20]).tolist() == [True, False]


def test_no_test_where_everybody_or_nobody_mentions_it():
    assert np.isnan(exact.exact_test([4, 4], [4, 4]).p)
    assert np.isnan(exact.exact_test([0, 0], [4, 4]).p)
    assert np.isnan(association.chi_square([[0, 0]], [4, 4]).p).all()
