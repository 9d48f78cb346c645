"""Sums, intervals, tests and words that were wrong once: each with the smallest project that showed it."""

import numpy as np
import pytest
from scipy import stats

from core.compare.by_part import compare, family_of
from core.compare.groups import OUTSIDE, Groups, SharedGroups, by_documents, crossed, own_order
from core.compare.question import Comparison
from core.compare.steady import steady
from core.compare.told.cautions import cautions
from core.compare.told.left_out import left_out_line
from core.compare.told.methods import methods_paragraph
from core.compare.told.sentence import Names
from core.statistics import layers, ordered, paired
from core.statistics.intervals import clopper_pearson, recovered_difference, studentised
from tests.core.worlds import one_talk_each, talks_with_rows, together

NAMES = Names("person", "people", "Boat", "2 codes")


def test_words_of_one_in_two_groups_count_once_for_everyone():
    """One person in two cohorts, one passage in 100 words: 10 per 1,000 in each, and 10 for everyone."""
    snapshot = one_talk_each([1, 1], words=100)
    both = SharedGroups(("a", "b"), np.array([[True, True], [False, False]]), np.array([0, OUTSIDE], np.int32))
    for measure, base in (("rate", "words"),):
        result = compare(snapshot, Comparison((0,), both, measure=measure, base=base))
        assert result.figure[0].tolist() == [10, 10]
        assert result.total_figure[0] == 10
        assert result.total_base[0] == 100


def test_words_outside_the_groups_shown_are_nobodys_exposure():
    """Everybody speaks once in a document of the groups and once outside them: figure, interval and test take the first."""
    snapshot = one_talk_each([2, 1, 3, 2, 4, 2, 3, 1, 2, 3] + [0] * 10, words=100)
    twice = np.tile(np.arange(10), 2).astype(np.int32)
    from dataclasses import replace

    snapshot = replace(snapshot, speaker_case=twice, case_ids=np.arange(10))
    wave = Groups(("now", "other"), np.repeat([0, 1], 10).astype(np.int32)).choose([0])
    result = compare(snapshot, Comparison((0,), by_documents(wave, snapshot.talks), measure="rate", base="words"))
    assert result.figure[0, 0] == pytest.approx(23)
    low, high = result.interval
    assert low[0, 0] < 23 < high[0, 0]
    assert result.made.exposure.tolist() == [100.0] * 10


def test_no_interval_where_few_people_add_anything():
    amounts = np.array([[1, 0, 2, 0, 0, 3, 0, 1], [0] * 8, [5, 0, 0, 0, 0, 0, 0, 1], [2] * 8], float)
    low, high = studentised(amounts, np.ones(8))
    assert np.isfinite(low).tolist() == [True, False, False, False]
    assert np.isnan(studentised(amounts[:, :7], np.ones(7))[0]).all()
    # By hand: mean 0.875, standard error of the ratio, Student's t with 7 degrees of freedom on the logarithm's scale.
    x = amounts[0]
    error = x.std(ddof=1) / np.sqrt(8)
    reach = stats.t.ppf(0.975, 7) * error / x.mean()
    assert (low[0], high[0]) == pytest.approx((x.mean() * np.exp(-reach), x.mean() * np.exp(reach)))


def test_recovered_intervals_are_newcombes_where_those_are():
    """Zou & Donner 2008: their method with Wilson's ends is Newcombe's method 10, 56/70 − 48/80 (Newcombe 1998b)."""
    from core.statistics.intervals import wilson

    ends = [
        *(np.array([one]) for one in (56 / 70, *(float(end) for end in wilson(56, 70)))),
        *(np.array([one]) for one in (48 / 80, *(float(end) for end in wilson(48, 80)))),
    ]
    low, high = recovered_difference(*ends)
    assert (low[0], high[0]) == pytest.approx((0.0524, 0.3339), abs=0.0001)


@pytest.mark.parametrize(
    ("count", "base", "low", "high"), [(81, 263, 0.2527, 0.3676), (0, 20, 0.0, 0.1684), (1, 29, 0.0009, 0.1776)]
)
def test_exact_intervals_of_a_share_are_the_published_ones(count, base, low, high):
    """Newcombe 1998a, table I, method 5 (Clopper and Pearson)."""
    found = clopper_pearson(count, base)
    assert (float(found[0]), float(found[1])) == pytest.approx((low, high), abs=0.0001)


def test_the_trend_follows_the_variables_own_order():
    snapshot = one_talk_each([0] * 9 + [1] * 1 + [0] * 6 + [1] * 4 + [0] * 2 + [1] * 8)
    labels = np.repeat([0, 1, 2], 10).astype(np.int32)
    own = Groups(("never", "weekly", "daily"), labels, ordered=True)
    usual = compare(snapshot, Comparison((0,), own)).trend
    turned = compare(snapshot, Comparison((0,), own.choose([2, 0, 1]))).trend
    assert usual.z[0] == pytest.approx(turned.z[0])
    assert usual.z[0] > 3
    assert own_order(own.choose([2, 0, 1])) == [1, 2, 0]
    twice = compare(talks_with_rows(np.array([[0] * 20 + [1] * 10, [0] * 30])), Comparison((0, 1), own)).trend
    assert np.isnan(twice.p[1])
    assert twice.holm[0] == twice.p[0]


def test_small_trends_layers_and_occasions_are_permuted_to_the_exact_p():
    count, base = np.array([[0, 1, 3]]), np.array([4, 4, 4])
    p, error = ordered.permuted_trend(count, base, [0, 1, 2], 20_000, 1)
    centred = np.arange(3) - 1
    outcomes = [(a, b, 4 - a - b) for a in range(5) for b in range(5 - a) if 4 - a - b <= 4]
    ways = [np.prod([stats.binom.pmf(k, 4, 0.5) for k in one]) for one in outcomes]
    extreme = [abs(np.dot(one, centred)) >= abs(np.dot(count[0], centred)) for one in outcomes]
    assert p[0] == pytest.approx(np.dot(ways, extreme) / np.sum(ways), abs=5 * error[0])
    # One layer and two groups: Fisher's exact test, since the statistic grows with the distance from what is expected.
    p, error = layers.permuted(np.array([[[6, 1]]]), np.array([[7, 7]]), 20_000, 2)
    assert p[0] == pytest.approx(stats.fisher_exact([[6, 1], [1, 6]]).pvalue, abs=5 * error[0])
    says = np.zeros((1, 5, 3), bool)
    says[0, :, 0] = True
    assert paired.too_small(says)[0]
    p, error = paired.permuted_q(says, 20_000, 3)
    assert p[0] == pytest.approx(3 / 3**5, abs=5 * error[0])


def test_a_common_odds_ratio_of_nought_or_infinity_has_one_exact_end():
    """Of one layer the end is that of the conditional odds ratio, one-sided, as scipy computes it."""
    found = layers.common_odds_ratio([[[5, 0]], [[0, 4]], [[0, 0]]], [[8, 9]])
    one_sided = stats.contingency.odds_ratio([[5, 3], [0, 9]], kind="conditional").confidence_interval(0.95, "greater")
    assert np.isinf(found.ratio[0])
    assert (found.low[0], found.high[0]) == pytest.approx((one_sided.low, np.inf))
    other = stats.contingency.odds_ratio([[0, 8], [4, 5]], kind="conditional").confidence_interval(0.95, "less")
    assert found.ratio[1] == 0
    assert (found.low[1], found.high[1]) == pytest.approx((0, other.high))
    assert np.isnan(found.ratio[2])


def test_three_groups_held_apart_have_a_size_too():
    says, base = np.array([[[8, 2, 1], [7, 3, 2]]]), np.full((2, 3), 9)
    found = layers.effect_within(says, base)
    assert 0.3 < found[0] < 1
    plain = layers.cochran_mantel_haenszel(says[:, :1], base[:1]).statistic[0]
    assert layers.effect_within(says[:, :1], base[:1])[0] == pytest.approx(np.sqrt(plain / 26 - 2 / 26))
    snapshot = one_talk_each(([1] * 6 + [0] * 2 + [1] * 2 + [0] * 6 + [1] + [0] * 7) * 2)
    inner, outer = np.tile(np.repeat([0, 1, 2], 8), 2), np.repeat([0, 1], 24)
    shown = crossed(
        Groups(("x", "y"), outer.astype(np.int32)), Groups(("a", "b", "c"), inner.astype(np.int32)), snapshot.talks
    )
    result = compare(snapshot, Comparison((0,), shown, layers=2))
    assert result.within_layers.effect[0] > 0.3
    assert np.isnan(result.within_layers.odds_ratio[0])


def test_cautions_dont_contradict_each_other():
    """Everybody mentions exactly one: then the shares do add to 100, and the table is one."""
    one = np.zeros((2, 24), int)
    one[0, :12], one[1, 12:] = 1, 1
    shown = Groups(("a", "b"), (np.arange(24) % 2).astype(np.int32))
    kinds = {told.kind for told in cautions(compare(talks_with_rows(one), Comparison((0, 1), shown)), NAMES)}
    assert "whole" in kinds
    assert "several_rows" not in kinds
    two = compare(talks_with_rows(np.ones((2, 24), int)), Comparison((0, 1), shown))
    assert "several_rows" in {told.kind for told in cautions(two, NAMES)}


def test_people_in_no_cohort_arent_called_of_groups_not_shown():
    shown = Groups(("a",), np.array([0, 0, OUTSIDE], np.int32))
    result = compare(one_talk_each([1, 1, 2]), Comparison((0,), shown))
    names = Names("person", "people", "cohorts", "1 code", about="cohorts")
    assert "by people in none of these cohorts" in left_out_line(result, names)
    assert "by people of groups not shown" in left_out_line(result, NAMES)


def test_the_methods_paragraph_claims_only_what_was_done():
    shown = Groups(("a", "b"), np.repeat([0, 1], 12).astype(np.int32))
    few = compare(
        one_talk_each([1] + [0] * 23), Comparison((0,), shown, measure="rate", base="words", permutations=200)
    )
    said, sources = methods_paragraph(few, NAMES)
    assert "Student" not in said
    assert "without a value" not in said
    assert not any("Bootstrap" in source for source in sources)
    many = compare(
        one_talk_each([1, 2, 0] * 8), Comparison((0,), shown, measure="rate", base="words", permutations=200)
    )
    assert "Student’s t on the logarithm" in methods_paragraph(many, NAMES)[0]
    missing = Groups(("a", "b"), np.array([0] * 12 + [1] * 10 + [-1, -2], np.int32))
    lost = compare(one_talk_each([1] * 24), Comparison((0,), missing))
    assert "without a value of Boat are left out" in methods_paragraph(lost, NAMES)[0]


def test_what_could_be_seen_isnt_bent_by_rows_that_tell_nothing():
    shown = Groups(("a", "b"), np.repeat([0, 1], 12).astype(np.int32))
    some = np.array([[1, 0] * 12, [1] * 24, [0] * 24])
    result = compare(talks_with_rows(some), Comparison((0, 1, 2), shown, difference=(1, 0)))
    assert np.isfinite(result.difference.seen).tolist() == [True, False, False]
    for rows in ((0,), (0, 1, 2), (1, 2)):
        told = compare(talks_with_rows(some[list(rows)]), Comparison(tuple(range(len(rows))), shown, difference=(1, 0)))
        said = [one.text for one in cautions(told, NAMES) if one.kind == "could_be_seen"]
        assert "would often be missed" in said[0]
        assert "no difference" not in said[0]


def test_how_steady_leaves_out_one_after_the_other():
    """By loops: the difference of shares without each person."""
    counts = [1] * 9 + [0] * 3 + [1] * 2 + [0] * 10
    snapshot = together(one_talk_each(counts), [0, 1, 12])
    shown = Groups(("a", "b"), np.repeat([0, 1], 12).astype(np.int32))
    found = steady(compare(snapshot, Comparison((0,), shown)), [(0, 0, 1)])[0]
    says = np.array(counts)
    without = []
    for person in range(24):
        kept = np.arange(24) != person
        without.append(says[:12][kept[:12]].mean() - says[12:][kept[12:]].mean())
    assert (found.people.least, found.people.most) == pytest.approx((min(without), max(without)))
    assert found.people.count == 24
    # Everybody else has one document of their own: leaving it out leaves the person out, but for those in the conversation.
    assert found.documents.count == 25
    assert found.coders is None
    ways = {(one.base, one.discussions): one for one in found.choices}
    assert len(ways) == 4
    assert all(one.holds for one in found.choices)
    assert sum(one.as_asked for one in found.choices) == 1


def test_a_choice_under_which_it_goes_doesnt_hold():
    # Of those with material 9 of 10 and 3 of 12; forty without any in the first group.
    snapshot = one_talk_each([1] * 9 + [0] + [1] * 3 + [0] * 9, silent=30)
    labels = np.array([0] * 10 + [1] * 12 + [0] * 30, np.int32)
    result = compare(snapshot, Comparison((0,), Groups(("a", "b"), labels)))
    found = steady(result, [(0, 0, 1)])[0]
    assert [(one.base, one.holds) for one in found.choices] == [("with_material", True), ("everyone", False)]
    assert family_of(result).sure[0, 0]
