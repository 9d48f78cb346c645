"""Figures published elsewhere, each with its source beside it."""

import numpy as np
import pytest

from core.statistics import association, corrections, exact, intervals


@pytest.mark.parametrize(
    ("count", "base", "low", "high"),
    # Newcombe 1998a, Statistics in Medicine 17: 857–872, table I, method 3 (Wilson's score).
    [(81, 263, 0.2553, 0.3662), (15, 148, 0.0624, 0.1605), (0, 20, 0.0, 0.1611), (1, 29, 0.0061, 0.1718)],
)
def test_wilson_interval(count, base, low, high):
    found = intervals.wilson(count, base)
    assert float(found[0]) == pytest.approx(low, abs=5e-5)
    assert float(found[1]) == pytest.approx(high, abs=5e-5)


def test_difference_interval():
    # Newcombe 1998b, Statistics in Medicine 17: 873–890, table II, 56/70 − 48/80, method 10.
    difference, low, high = intervals.newcombe_difference(56, 70, 48, 80)
    assert float(difference) == pytest.approx(0.2)
    assert float(low) == pytest.approx(0.0524, abs=5e-5)
    assert float(high) == pytest.approx(0.3339, abs=5e-5)


def test_fisher_tasting_tea():
    # Fisher 1935, The Design of Experiments: the lady tasting tea, 3,1 / 1,3, two-sided.
    assert exact.exact_test([3, 1], [4, 4]).p == pytest.approx(0.4857, abs=5e-5)


def test_chi_square_and_adjusted_residuals():
    # Agresti 2007, An Introduction to Categorical Data Analysis, table 2.5: gender by party.
    women = np.array([[762, 327, 468]])
    bases = np.array([762 + 484, 327 + 239, 468 + 477])
    found = association.chi_square(women, bases)
    assert found.statistic[0] == pytest.approx(30.07, abs=5e-3)
    assert found.degrees[0] == 2
    residuals = association.adjusted_residuals(women, bases)[0]
    assert residuals == pytest.approx([4.502, 0.699, -5.316], abs=5e-4)


def test_freeman_halton_job_satisfaction():
    # Agresti 2002, Categorical Data Analysis, p. 57: income by job satisfaction, exact p 0.7827.
    table = [[1, 2, 1, 0], [3, 3, 6, 1], [10, 10, 14, 9], [6, 7, 12, 11]]
    found = exact.exact_test_simulated(table, seed=3)
    assert found.p == pytest.approx(0.7827, abs=4 * found.error)
    assert found.error < 0.004


def test_holm_and_benjamini_hochberg():
    # Benjamini & Hochberg 1995, section 4.1: fifteen p-values; 3 (Bonferroni type) and 4 rejected.
    p = [
        0.0001,
        0.0004,
        0.0019,
        0.0095,
        0.0201,
        0.0278,
        0.0298,
        0.0344,
        0.0459,
        0.3240,
        0.4262,
        0.5719,
        0.6528,
        0.7590,
        1.0,
    ]
    assert (corrections.holm(p) <= 0.05).sum() == 3
    assert (corrections.benjamini_hochberg(p) <= 0.05).sum() == 4


def test_cramers_v_hair_by_eye_uncorrected_row():
    # Snee 1974, hair by eye colour of 592 students; here the brown-haired row against all others:
    # chi-square of the 2 × 4 table from scipy, V = sqrt(chi-square / n).
    from scipy.stats import chi2_contingency

    hair = np.array([[68, 20, 15, 5], [119, 84, 54, 29], [26, 17, 14, 14], [7, 94, 10, 16]])
    others = hair.sum(axis=0) - hair[1]
    expected = chi2_contingency(np.stack([hair[1], others]), correction=False).statistic
    found = association.cramers_v(hair[1:2], hair.sum(axis=0), corrected=False)[0]
    assert found == pytest.approx(np.sqrt(expected / 592))
    # The whole table, as published (138.29, V 0.279), by the same formula in scipy.
    whole = chi2_contingency(hair, correction=False)
    assert whole.statistic == pytest.approx(138.29, abs=5e-3)
