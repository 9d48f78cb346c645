"""Counting, held against slow sets and loops on random projects, and the reconciliation."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.compare.by_part import compare
from core.compare.counts import REASONS_LEFT_OUT
from core.compare.evidence import evidence
from core.compare.groups import OUTSIDE, Groups, band_names, bands, missing_label, proposed_cuts
from core.compare.measures import MEASURES
from core.compare.question import Comparison, ComparisonError
from core.snapshot.masks import case_words, has_material
from core.snapshot.scope import Scope
from core.statistics.dealing import exchange
from core.statistics.permutation import permute_cases
from tests.core.test_asked import random_guide
from tests.core.worlds import SlowCount, random_groups, random_scope, random_snapshot

seeds = st.integers(0, 10_000)


@settings(max_examples=60)
@given(seeds, st.booleans(), st.booleans())
def test_people_and_passages_agree_with_slow_counting(seed, roll_up, scoped):
    snapshot, groups = random_snapshot(seed), random_groups(seed)
    scope = random_scope(seed, snapshot) if scoped else Scope()
    slow = SlowCount(snapshot, scope)
    rows = tuple(range(len(snapshot.code_ids)))
    result = compare(snapshot, Comparison(rows, groups, roll_up=roll_up, scope=scope))
    for row in rows:
        held = slow.passages_of(row, roll_up)
        for group in range(groups.count):
            members = {case for case in range(len(groups.labels)) if groups.labels[case] == group}
            said = {p: slow.cases_of(p) & members for p in held}
            assert result.passages[row, group] == sum(bool(cases) for cases in said.values())
            assert result.people[row, group] == len(set().union(*said.values()))


@settings(max_examples=80)
@given(seeds, st.booleans(), st.booleans())
def test_every_row_and_the_table_reconcile(seed, roll_up, scoped):
    snapshot, groups = random_snapshot(seed), random_groups(seed)
    scope = random_scope(seed, snapshot) if scoped else Scope()
    slow = SlowCount(snapshot, scope)
    rows = tuple(range(len(snapshot.code_ids)))
    lost = compare(snapshot, Comparison(rows, groups, roll_up=roll_up, scope=scope)).left_out
    everything = set()
    for row in rows:
        held = slow.passages_of(row, roll_up)
        everything |= held
        assert lost.by_row[row].sum() == len(held)
        in_table = {p for p in held if any(groups.labels[case] >= 0 for case in slow.cases_of(p))}
        assert lost.by_row[row, 0] == len(in_table)
    assert lost.in_scope == len(everything)


@settings(max_examples=40)
@given(seeds)
def test_each_cell_opens_onto_just_the_passages_counted(seed):
    snapshot, groups = random_snapshot(seed), random_groups(seed)
    asked = Comparison(tuple(range(len(snapshot.code_ids))), groups, scope=random_scope(seed, snapshot))
    result = compare(snapshot, asked)
    for row in range(len(asked.rows)):
        for group in range(groups.count):
            found = evidence(snapshot, asked, row, group)
            assert len(np.unique(found.passage)) == result.passages[row, group]
            assert len(np.unique(found.case)) == result.people[row, group]
            assert len(found.silent) + result.people[row, group] == result.group_people[group]
        for place, reason in enumerate(REASONS_LEFT_OUT[1:], start=1):
            found = evidence(snapshot, asked, row, None, reason)
            assert len(np.unique(found.passage)) == result.left_out.by_row[row, place]
    everyone = evidence(snapshot, asked, None, None)
    assert len(np.unique(everyone.passage)) == result.left_out.overall[0]


@settings(max_examples=30)
@given(seeds)
def test_shares_and_rates_are_count_over_base(seed):
    snapshot, groups = random_snapshot(seed), random_groups(seed)
    rows = tuple(range(len(snapshot.code_ids)))
    words = case_words(snapshot, Scope())
    of_passages = {one.id: tuple(one.bases) for one in MEASURES if one.id not in ("words", "rating")}
    for measure, bases in of_passages.items():
        for base in bases:
            result = compare(
                snapshot, Comparison(rows, groups, measure=measure, base=base, guide=random_guide(seed, snapshot))
            )
            scale = 1000 if measure == "rate" else 1
            filled = result.base > 0
            assert result.figure[filled] == pytest.approx(scale * result.count[filled] / result.base[filled])
            assert np.isnan(result.figure[~filled]).all()
            if measure == "rate":
                assert result.base[0].tolist() == [words[groups.labels == g].sum() for g in range(3)]
            if base == "row":
                assert (result.base == result.total_passages[:, None]).all()
            if base == "everyone":
                assert result.group_people.tolist() == groups.sizes.tolist()
            if base == "with_material":
                material = has_material(snapshot, Scope())
                assert result.group_people.tolist() == [(material & (groups.labels == g)).sum() for g in range(3)]


def test_talkative_person_is_named():
    snapshot = random_snapshot(11)
    result = compare(snapshot, Comparison((0, 1), random_groups(11)))
    for row in range(2):
        for group in range(3):
            found = evidence(snapshot, result.asked, row, group)
            times = np.bincount(found.case, minlength=7)
            assert result.most[row, group] == times.max(initial=0)
            if times.max(initial=0):
                assert times[result.most_case[row, group]] == times.max()


def test_missing_and_outside_are_told_apart():
    snapshot = random_snapshot(3)
    nobody = Groups(("a",), np.full(7, missing_label("not_asked"), np.int32))
    outside = Groups(("a",), np.full(7, OUTSIDE, np.int32))
    rows = tuple(range(len(snapshot.code_ids)))
    for groups, reason in ((nobody, "not_asked"), (outside, "outside")):
        overall = compare(snapshot, Comparison(rows, groups)).left_out.overall
        assert overall[0] == 0
        assert overall[REASONS_LEFT_OUT.index(reason)] > 0


def test_small_groups_are_cautioned_about():
    result = compare(random_snapshot(5), Comparison((0,), random_groups(5)))
    assert result.small_groups == [g for g in range(3) if result.group_people[g] < 5]


def test_permutation_finds_a_planted_difference_and_not_a_talkative_person():
    groups = Groups(("a", "b"), np.array([0] * 10 + [1] * 10, np.int32))
    spread = [6, 7, 5, 8, 6, 7, 6, 5, 7, 6, 1, 0, 2, 1, 0, 1, 2, 0, 1, 1]
    one_voice = [60] + [0] * 19
    found = permute_cases(np.array([spread, one_voice]), np.ones(20), exchange(groups.labels), 2, 2000, seed=2)
    assert found.p[0] < 0.005
    assert found.p[1] > 0.4
    again = permute_cases(np.array([spread, one_voice]), np.ones(20), exchange(groups.labels), 2, 2000, seed=2)
    assert found.p.tolist() == again.p.tolist()


def test_permutation_agrees_with_scipy():
    from scipy.stats import permutation_test

    counts = np.array([[3, 0, 2, 5, 4, 1, 0, 0, 1, 0]], np.int32)
    groups = Groups(("a", "b"), np.array([0] * 5 + [1] * 5, np.int32))
    ours = permute_cases(counts, np.ones(10), exchange(groups.labels), 2, 20_000, seed=1)
    theirs = permutation_test(
        (counts[0, :5], counts[0, 5:]), lambda a, b: abs(a.mean() - b.mean()), n_resamples=np.inf, alternative="greater"
    )
    assert ours.p[0] == pytest.approx(theirs.pvalue, abs=4 * ours.error[0])


def test_bands_say_their_edges():
    assert band_names([40, 60]) == ["under 40", "40 to under 60", "60 and over"]
    groups = bands(np.array([39.9, 40, 60, 0]), np.array([0, 0, 0, -2], np.int32), [60, 40])
    assert groups.labels.tolist() == [0, 1, 2, -2]
    assert proposed_cuts(np.array([24, 29, 34, 43, 48, 52, 58, 61, 63, 67, 71, 81.0])) == [50, 60]


def test_a_base_that_does_not_fit_is_refused():
    with pytest.raises(ComparisonError):
        Comparison((0,), random_groups(1), measure="people", base="row")
