"""Correspondence, likeness, agreement and saturation: published figures first, then reference libraries."""

import itertools

import krippendorff
import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.inter_rater import cohens_kappa

from core.statistics.agreement import cohen_kappa, krippendorff_alpha
from core.statistics.correspondence import by_likeness, correspondence
from core.statistics.saturation import saturation
from core.statistics.whole import of_table

# Greenacre 1984, table 3.1: smoking (none, light, medium, heavy) by staff group of 193 employees.
SMOKING = [[4, 2, 3, 2], [4, 3, 7, 4], [25, 10, 12, 4], [18, 24, 33, 13], [10, 6, 7, 2]]
# Snee 1974, The American Statistician 28: hair (black, brown, red, blond) by eye (brown, blue, hazel, green), 592 students.
HAIR_EYE = [[68, 20, 15, 5], [119, 84, 54, 29], [26, 17, 14, 14], [7, 94, 10, 16]]
NAN = float("nan")
# Krippendorff 2011, Computing Krippendorff's Alpha-Reliability, C: four observers, twelve units.
OBSERVERS = [
    [1, 2, 3, 3, 2, 1, 4, 1, 2, NAN, NAN, NAN],
    [1, 2, 3, 3, 2, 2, 4, 1, 2, 5, NAN, 3],
    [NAN, 3, 3, 3, 2, 3, 4, 2, 2, 5, 1, NAN],
    [1, 2, 3, 3, 2, 4, 4, 1, 2, 5, 1, NAN],
]


def test_smoking_by_staff_group():
    found = correspondence(SMOKING)
    assert found is not None
    # Greenacre 1984, section 3.1: principal inertias and total.
    assert found.inertia == pytest.approx([0.0748, 0.0100, 0.0004], abs=5e-5)
    assert found.total == pytest.approx(0.0852, abs=5e-5)
    # The same book's display: first axis of the groups, −.393 for none to .294 for heavy (as recalled), up to sign.
    assert sorted(np.abs(found.groups[[0, 3], 0]).tolist()) == pytest.approx([0.294, 0.393], abs=5e-4)


def test_hair_by_eye_as_one_table():
    found = of_table(np.array(HAIR_EYE))
    # Snee 1974, recomputed with an independent package: X² 138.29 on 9, V .279.
    assert (found.statistic, found.degrees) == (pytest.approx(138.29, abs=5e-3), 9)
    assert found.v == pytest.approx(0.279, abs=5e-4)
    assert not found.exact


@pytest.mark.parametrize("seed", range(20))
def test_a_map_adds_up_to_chi_square_over_n(seed):
    table = np.random.default_rng(seed).poisson(4, (7, 4))
    found = correspondence(table)
    assert found is not None
    filled = table[table.sum(axis=1) > 0]
    assert found.total == pytest.approx(stats.chi2_contingency(filled).statistic / table.sum(), rel=1e-9)
    assert np.nansum(found.row_contributions, axis=0) == pytest.approx(1)
    assert np.nansum(found.group_contributions, axis=0) == pytest.approx(1)
    # Points are weighted around the origin, and their weighted squares make the inertia of each axis.
    assert np.nansum(found.row_mass[:, None] * found.rows, axis=0) == pytest.approx(0, abs=1e-12)
    assert np.nansum(found.row_mass[:, None] * found.rows**2, axis=0) == pytest.approx(found.inertia)


def test_empty_rows_have_no_place_on_a_map():
    found = correspondence([[3, 1], [0, 0], [1, 5]])
    assert found is not None
    assert np.isnan(found.rows[1]).all()
    assert correspondence([[3, 1], [0, 0]]) is None
    assert correspondence(np.zeros((3, 0))) is None


def test_like_rows_stand_together():
    figures = np.array([[0.9, 0.1], [0.1, 0.8], [0.85, 0.15], [0.12, 0.9], [0.5, 0.5]])
    order = by_likeness(figures)
    assert sorted(order) == [0, 1, 2, 3, 4]

    def walk(places) -> float:
        return sum(float(np.linalg.norm(figures[a] - figures[b])) for a, b in itertools.pairwise(places))

    # No order of all is shorter here, since the tree keeps the like ones together anyway.
    assert walk(order) == pytest.approx(min(walk(one) for one in itertools.permutations(range(5))))
    assert by_likeness(figures[:2]) == [0, 1]


def test_alpha_of_four_observers():
    # Krippendorff 2011: nominal .743, ordinal .815, interval .849; ratio .797 in the same paper.
    found = {level: krippendorff_alpha(OBSERVERS, level) for level in ("nominal", "ordinal", "interval", "ratio")}
    expected = {"nominal": 0.743, "ordinal": 0.815, "interval": 0.849, "ratio": 0.797}
    assert found == pytest.approx(expected, abs=5e-4)


@pytest.mark.parametrize("level", ["nominal", "ordinal", "interval", "ratio"])
@pytest.mark.parametrize("seed", range(10))
def test_alpha_agrees_with_the_reference_library(seed, level):
    generator = np.random.default_rng(seed)
    values = generator.integers(1, 6, (4, 30)).astype(float)
    values[generator.random(values.shape) < 0.2] = np.nan
    theirs = krippendorff.alpha(reliability_data=values, level_of_measurement=level)
    assert krippendorff_alpha(values, level) == pytest.approx(theirs, abs=1e-9)


@pytest.mark.parametrize("seed", range(10))
def test_kappa_agrees_with_statsmodels(seed):
    table = np.random.default_rng(seed).poisson(6, (3, 3))
    assert cohen_kappa(table) == pytest.approx(cohens_kappa(table).kappa, abs=1e-9)


def test_agreement_on_one_value_only_says_nothing():
    assert np.isnan(krippendorff_alpha([[1, 1], [1, 1]]))
    assert np.isnan(cohen_kappa([[5, 0], [0, 0]]))
    assert np.isnan(cohen_kappa(np.zeros((2, 2))))


def test_saturation_by_hand():
    """Base 4, run 2, 5 %: by hand after Guest, Namey & Chen 2020, figure 1 (invented figures)."""
    says = np.zeros((8, 42), bool)
    at = 0
    for interview, fresh in enumerate([20, 10, 6, 4, 1, 1, 0, 0]):
        says[interview, : at + fresh] = True
        at += fresh
    found = saturation(says)
    assert found.base_codes == 40
    assert found.fresh.tolist() == [20, 10, 6, 4, 1, 1, 0, 0]
    assert found.heard.tolist() == [20, 30, 36, 40, 41, 42, 42, 42]
    assert found.ratio[5:] == pytest.approx([0.05, 0.025, 0.0])
    assert np.isnan(found.ratio[:5]).all()
    assert found.reached == 5
    assert saturation(says[:3]).reached is None
    assert saturation(np.zeros((0, 5), bool)).reached is None
