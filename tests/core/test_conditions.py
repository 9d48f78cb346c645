"""Cohorts, bands, crossings and distributions: what is known of people, put to use."""

from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binomtest

from core.people.conditions import (
    Belongs,
    Group,
    Held,
    Masks,
    Mentions,
    UnknownCode,
    UnknownCohort,
    UnknownVariable,
    codes_in,
    cohorts_in,
    kept,
    matches,
    variables_in,
)
from core.people.conditions import Test as Asked
from core.people.derived import (
    band_names,
    banded,
    counted,
    crossed,
    crossed_order,
    equal_width,
    membership,
    quantiles,
)
from core.people.distribution import distribution, histogram, spread

ISLAND, AGE, SINCE, CAR = 1, 2, 3, 4
FACTS = {
    ISLAND: [Held("Holm"), Held("Ytter"), Held("Holm"), Held(missing="not_asked")],
    AGE: [Held(34.0), Held(71.0), Held(missing="not_answered"), Held(50.0)],
    SINCE: [Held(date(2011, 5, 1)), Held(date(1954, 1, 1)), Held(date(2020, 1, 1)), Held(missing="unknown")],
    CAR: [Held(True), Held(False), Held(True), Held(False)],
}


def who(condition):
    return matches(condition, FACTS, 4).tolist()


def test_each_operator_says_what_it_says():
    assert who(Asked(ISLAND, "is", ("Holm",))) == [True, False, True, False]
    assert who(Asked(AGE, "at_least", (50.0,))) == [False, True, False, True]
    assert who(Asked(AGE, "below", (50.0,))) == [True, False, False, False]
    assert who(Asked(SINCE, "below", (date(2000, 1, 1),))) == [False, True, False, False]
    assert who(Asked(CAR, "is", (True,))) == [True, False, True, False]
    assert who(Asked(AGE, "is_missing")) == [False, False, True, False]
    assert who(Asked(AGE, "is_missing", ("not_asked",))) == [False] * 4
    assert who(Asked(ISLAND, "has_value")) == [True, True, True, False]


def test_whoever_was_not_asked_is_neither_holm_nor_not_holm():
    assert not who(Asked(ISLAND, "is", ("Holm",)))[3]
    assert not who(Asked(ISLAND, "is_not", ("Holm",)))[3]


def test_groups_join_and_turn_round():
    holm, old = Asked(ISLAND, "is", ("Holm",)), Asked(AGE, "at_least", (50.0,))
    assert who(Group("all", (holm, Asked(CAR, "is", (True,))))) == [True, False, True, False]
    assert who(Group("any", (holm, old))) == [True, True, True, True]
    assert who(Group("any", (holm, old), negated=True)) == [False] * 4
    assert who(Group("all", (holm, Group("any", (old,), negated=True)))) == [True, False, True, False]
    assert who(Group("all", ())) == [True] * 4


def test_every_part_tells_how_many_it_keeps_by_itself():
    found = kept(Group("all", (Asked(ISLAND, "is", ("Holm",)), Asked(AGE, "below", (10.0,)))), FACTS, 4)
    assert (found.count, [part.count for part in found.parts]) == (0, [2, 0])


def test_variables_asked_about_and_gone():
    assert variables_in(Group("all", (Asked(AGE, "has_value"), Group("any", (Asked(CAR, "has_value"),))))) == {AGE, CAR}
    with pytest.raises(UnknownVariable):
        matches(Asked(99, "has_value"), FACTS, 4)


def test_who_mentions_what_and_is_in_which_cohort():
    masks = Masks({7: np.array([1, 0, 0, 1], bool), 8: np.array([1, 1, 0, 0], bool)}, {3: np.array([0, 1, 1, 0], bool)})

    def those(condition):
        return matches(condition, FACTS, 4, masks).tolist()

    assert those(Mentions((7, 8), "any")) == [True, True, False, True]
    assert those(Mentions((7, 8), "all")) == [True, False, False, False]
    assert those(Mentions((7, 8), "none")) == [False, False, True, False]
    assert those(Belongs((3,))) == [False, True, True, False]
    assert those(Group("all", (Belongs((3,), "none"), Mentions((7,))))) == [True, False, False, True]
    asked = Group("any", (Group("all", (Belongs((3, 5)),)), Mentions((7,)), Asked(AGE, "has_value")))
    assert (cohorts_in(asked), codes_in(asked), variables_in(asked)) == ({3, 5}, {7}, {AGE})
    with pytest.raises(UnknownCohort):
        those(Belongs((5,)))
    with pytest.raises(UnknownCode):
        those(Mentions((9,)))


parts = st.recursive(
    st.sampled_from([Asked(ISLAND, "is", ("Holm",)), Asked(AGE, "below", (50.0,)), Asked(CAR, "is", (True,))]),
    lambda inner: st.builds(
        Group, st.sampled_from(["all", "any"]), st.lists(inner, min_size=1, max_size=3).map(tuple), st.booleans()
    ),
    max_leaves=6,
)


@given(parts)
def test_a_group_turned_round_is_everybody_else(condition):
    if isinstance(condition, Group):
        turned = Group(condition.join, condition.parts, not condition.negated)
        assert (matches(condition, FACTS, 4) ^ matches(turned, FACTS, 4)).all()
    assert kept(condition, FACTS, 4).count == matches(condition, FACTS, 4).sum()


def test_bands_say_their_edges_exactly_and_an_edge_belongs_above():
    assert band_names([25, 35]) == ["under 25", "25 to under 35", "35 and over"]
    assert band_names([date(2000, 1, 1)]) == ["before 2000-01-01", "2000-01-01 and after"]
    held = banded([Held(24.9), Held(25.0), Held(35.0), Held(missing="not_asked")], [35.0, 25.0])
    assert [one.value for one in held] == ["under 25", "25 to under 35", "35 and over", None]
    assert held[3].missing == "not_asked"


@given(st.lists(st.integers(0, 90), min_size=1, max_size=60), st.integers(2, 6))
def test_proposed_cuts_leave_no_band_empty_at_the_ends(values, bands):
    numbers = np.array(values, float)
    for cuts in (quantiles(numbers, bands), equal_width(numbers, bands)):
        assert cuts == sorted(set(cuts))
        assert len(cuts) < bands
    cuts = quantiles(numbers, bands)
    held = [one.value for one in banded([Held(float(value)) for value in values], cuts)]
    assert set(held) == set(band_names(cuts))


def test_quantiles_and_equal_width_of_a_known_row():
    numbers = np.arange(1, 101, dtype=float)
    assert quantiles(numbers, 4) == [26, 51, 76]
    assert equal_width(numbers, 4) == [26, 50, 75]
    assert quantiles(np.array([5.0, 5.0, 5.0]), 3) == []


def test_two_crossed_are_missing_where_either_is():
    held = crossed(FACTS[ISLAND], FACTS[CAR])
    assert [one.value for one in held] == ["Holm · yes", "Ytter · no", "Holm · yes", None]
    assert held[3].missing == "not_asked"
    found = {"Ytter · no", "Holm · yes"}
    assert crossed_order(["Holm", "Ytter"], ["yes", "no"], found) == ["Holm · yes", "Ytter · no"]


def test_a_cohort_and_a_count_as_variables():
    assert [one.value for one in membership(np.array([True, False]))] == [True, False]
    assert [one.value for one in counted([3, 0])] == [3.0, 0.0]


def test_a_distribution_counts_each_group_over_those_who_are_known():
    groups = [("Everyone", [True] * 4), ("with car", [True, False, True, False])]
    found = distribution(FACTS[ISLAND], ["Holm", "Ytter", "Norrby"], groups)
    assert found.bases == [3, 2]
    assert [[one.count for one in row] for row in found.shares] == [[2, 2], [1, 0], [0, 0]]
    assert found.missing == [("not_asked", [1, 0])]
    # Wilson's interval as scipy has it, for 2 of 3.
    interval = binomtest(2, 3).proportion_ci(method="wilson")
    assert (found.shares[0][0].low, found.shares[0][0].high) == pytest.approx((interval.low, interval.high))


def test_an_empty_group_has_no_shares_rather_than_nought():
    found = distribution(FACTS[ISLAND], ["Holm"], [("nobody", [False] * 4)])
    assert found.shares[0][0].share is None


def test_a_number_is_summed_up():
    found = distribution(FACTS[AGE], [], [("Everyone", [True] * 4)], numbers=True)
    summary = found.summaries[0]
    assert (summary.count, summary.median, summary.least, summary.greatest) == (3, 50, 34, 71)
    assert summary.mean == pytest.approx(155 / 3)
    assert summary.deviation == pytest.approx(float(np.std([34, 71, 50], ddof=1)))


@given(st.lists(st.floats(-1e4, 1e4, allow_subnormal=False), min_size=1, max_size=80))
def test_a_histogram_holds_every_value_once_in_bins_of_one_width(values):
    found = histogram(values)
    assert sum(found.counts) == len(values)
    assert len(found.edges) == len(found.counts) + 1
    widths = np.diff(found.edges)
    assert np.allclose(widths, widths[0])
    assert found.edges[0] <= min(values)


def test_a_histogram_of_ages_has_whole_edges():
    found = histogram([24.0, 31.0, 82.0])
    assert all(edge == int(edge) for edge in found.edges)
    assert histogram([]).counts == []


def test_spreads_of_dates_and_truths():
    assert spread([True, False, True], "yes_no", ["yes", "no"]) == [("yes", 2), ("no", 1)]
    assert sum(count for _, count in spread([date(2020, 1, 1), date(2021, 1, 1)], "date")) == 2
    assert spread(["a", "b"], "text") == [("2 different", 2)]
