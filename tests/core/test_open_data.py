"""The statistics on open data sets that the package statsmodels carries (statsmodels.datasets): against what was
published of them, else against scipy's and statsmodels' own functions."""

import numpy as np
import pandas as pd
import pytest
from scipy import stats
from statsmodels import datasets
from statsmodels.stats.contingency_tables import StratifiedTable, Table
from statsmodels.stats.proportion import confint_proportions_2indep, proportion_confint

from core.statistics import association, exact, intervals, layers, ordered
from core.statistics.correspondence import correspondence
from core.statistics.whole import of_table


def cross(frame: pd.DataFrame, row: str, group: str) -> np.ndarray:
    return pd.crosstab(frame[row], frame[group]).to_numpy()


def test_smoking_and_lung_cancer_in_eight_cities():
    """china_smoking; Liu 1992. Agresti 2002, section 6.3.2: CMH 280.1, common odds ratio 2.17, Breslow–Day 5.2 (as
    recalled), and statsmodels to 1e-7."""
    frame = datasets.china_smoking.load_pandas().data
    counts = frame.iloc[:, -4:].to_numpy(float) if frame.shape[1] > 4 else frame.to_numpy(float)
    tables = [row.reshape(2, 2) for row in counts]
    says = np.array([[table[:, 0] for table in tables]])
    base = np.array([table.sum(axis=1) for table in tables])
    theirs = StratifiedTable([table for table in tables])
    found = layers.cochran_mantel_haenszel(says, base)
    assert found.statistic[0] == pytest.approx(280.1, abs=0.05)
    assert found.statistic[0] == pytest.approx(theirs.test_null_odds().statistic, rel=1e-9)
    odds = layers.common_odds_ratio(says, base)
    assert odds.ratio[0] == pytest.approx(2.17, abs=5e-3)
    assert odds.ratio[0] == pytest.approx(theirs.oddsratio_pooled, rel=1e-9)
    assert layers.breslow_day(says, base).p[0] == pytest.approx(theirs.test_equal_odds(adjust=True).pvalue, abs=1e-7)


def test_affairs_fall_with_religiousness():
    """fair; Fair 1978: 6,366 women, 32 % with an affair; trend over four degrees of religiousness."""
    frame = datasets.fair.load_pandas().data
    says = (frame["affairs"] > 0).astype(int)
    assert len(frame) == 6366
    assert says.mean() == pytest.approx(0.322, abs=5e-4)
    table = pd.crosstab(says, frame["religious"]).to_numpy()
    found = ordered.cochran_armitage(table[1:2], table.sum(axis=0))
    theirs = Table(table).test_ordinal_association(np.arange(2), np.arange(4))
    # statsmodels conditions on both margins: n − 1 where the trend test has n.
    assert found.z[0] ** 2 == pytest.approx(theirs.zscore**2 * len(frame) / (len(frame) - 1), rel=1e-9)
    assert found.z[0] < -10


def test_vote_by_education():
    """anes96: 944 voters of 1996, seven steps of education."""
    frame = datasets.anes96.load_pandas().data
    table = cross(frame, "vote", "educ")
    found = association.chi_square(table[1:2], table.sum(axis=0))
    theirs = stats.chi2_contingency(table)
    assert (found.statistic[0], found.p[0]) == pytest.approx((theirs.statistic, theirs.pvalue), rel=1e-9)
    residuals = association.adjusted_residuals(table[1:2], table.sum(axis=0))[0]
    assert residuals == pytest.approx(Table(table).standardized_resids[1], rel=1e-9)


def test_party_by_self_placement_is_one_table_and_a_map():
    """anes96: party identification by left–right placement, everyone in one of each."""
    table = cross(datasets.anes96.load_pandas().data, "PID", "selfLR")
    found, theirs = of_table(table), stats.chi2_contingency(table)
    assert found.statistic == pytest.approx(theirs.statistic, rel=1e-9)
    assert found.v == pytest.approx(stats.contingency.association(table, method="cramer"), rel=1e-9)
    mapped = correspondence(table)
    assert mapped is not None
    assert mapped.total == pytest.approx(theirs.statistic / table.sum(), rel=1e-9)


def test_a_teaching_method_and_better_grades():
    """spector; Spector & Mazzeo 1980: 32 students, 8 of 14 taught by the new method improved, 3 of 18 of the others."""
    table = cross(datasets.spector.load_pandas().data, "GRADE", "PSI")
    assert table[1].tolist() == [3, 8]
    found = exact.exact_test(table[1], table.sum(axis=0))
    assert found.p == pytest.approx(stats.fisher_exact(table).pvalue, rel=1e-9)
    gap = intervals.newcombe_difference(8, 14, 3, 18)
    theirs = confint_proportions_2indep(8, 14, 3, 18, method="newcomb", compare="diff")
    assert [float(end) for end in gap[1:]] == pytest.approx(theirs, abs=1e-9)
    low, high = intervals.wilson(8, 14)
    assert (float(low), float(high)) == pytest.approx(proportion_confint(8, 14, method="wilson"), rel=1e-9)


def test_age_of_those_who_own_their_home():
    """ccard; Greene 1992: 72 card holders; Mann–Whitney with ties, beyond what is counted exactly."""
    frame = datasets.ccard.load_pandas().data
    owns = frame["OWNRENT"].to_numpy() == 1
    found = ordered.mann_whitney(owns[None, :], frame["AGE"].to_numpy())
    theirs = stats.mannwhitneyu(frame["AGE"][owns], frame["AGE"][~owns], method="asymptotic")
    assert not found.exact
    assert found.u[0] == pytest.approx(theirs.statistic, rel=1e-9)
    assert found.p[0] == pytest.approx(theirs.pvalue, rel=1e-9)


def test_visits_by_state_of_health():
    """randhie: 20,190 person-years of the health insurance experiment; Kruskal–Wallis over fair, good and other health."""
    frame = datasets.randhie.load_pandas().data
    state = np.where(frame["hlthp"] == 1, 0, np.where(frame["hlthf"] == 1, 1, np.where(frame["hlthg"] == 1, 2, 3)))
    visits = frame["mdvis"].to_numpy(float)
    theirs = stats.kruskal(*(visits[state == one] for one in range(4)))
    found = ordered.kruskal_wallis(visits, state)
    assert (found.statistic, found.p) == pytest.approx((theirs.statistic, theirs.pvalue), rel=1e-9)


def test_survival_after_a_transplant_and_mismatch():
    """heart; Miller 1976: 69 patients; age of those who died against those still alive."""
    frame = datasets.heart.load_pandas()
    data = frame.data
    died, age = data["censors"].to_numpy() == 1, data["age"].to_numpy()
    theirs = stats.mannwhitneyu(age[died], age[~died], method="asymptotic")
    found = ordered.mann_whitney(died[None, :], age)
    assert (found.u[0], found.p[0]) == pytest.approx((theirs.statistic, theirs.pvalue), rel=1e-9)


def test_how_people_travel_by_household_size():
    """modechoice; Greene & Hensher 1997: 210 travellers between Sydney and Melbourne, four ways, by size of party."""
    frame = datasets.modechoice.load_pandas().data
    chosen = frame[frame["choice"] == 1]
    assert len(chosen) == 210
    # Published with the data: 58 by air, 63 by train, 30 by bus, 59 by car.
    assert chosen["mode"].value_counts().sort_index().tolist() == [58, 63, 30, 59]
    table = cross(chosen.assign(party=chosen["psize"].clip(upper=3)), "mode", "party")
    found, theirs = of_table(table), stats.chi2_contingency(table)
    assert (found.statistic, found.degrees) == (pytest.approx(theirs.statistic, rel=1e-9), theirs.dof)
