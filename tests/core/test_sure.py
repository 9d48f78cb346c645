"""One rule for sure: step-down against loops, what may be exchanged, and a small calibration."""

from itertools import combinations, permutations

import numpy as np
import pytest
from scipy import stats

from bench.calibration import NOTHING_DIFFERS, coverage_of_figures, sure_by_chance
from bench.made import Setting, made
from core.compare.by_part import compare, family_of
from core.compare.groups import Groups, crossed
from core.compare.question import Comparison
from core.compare.sure import Family, widened
from core.statistics.dealing import Reorder, conversations, exchange
from core.statistics.exact import fisher_table
from core.statistics.pairwise import Shares, adjusted
from core.statistics.stepdown import step_down
from core.statistics.studentised import ratios, shares_of_total
from tests.core.worlds import one_talk_each, talks_with_rows, together, two_waves


def slow_step_down(observed: np.ndarray, shuffled: np.ndarray) -> list[float]:
    """Ge, Dudoit & Speed 2003, box 2, with loops: (hypotheses,) and (hypotheses, shuffles), larger more extreme."""
    order = sorted(range(len(observed)), key=lambda at: -observed[at])
    found, before = [0.0] * len(observed), 0.0
    for rank, at in enumerate(order):
        later = order[rank:]
        times = sum(max(shuffled[one, draw] for one in later) >= observed[at] for draw in range(shuffled.shape[1]))
        before = max(before, (times + 1) / (shuffled.shape[1] + 1))
        found[at] = before
    return found


@pytest.mark.parametrize("seed", range(10))
def test_step_down_is_that_of_loops(seed):
    generator = np.random.default_rng(seed)
    observed = generator.normal(0, 1.5, 12).astype(np.float32)
    shuffled = generator.normal(0, 1, (12, 300)).astype(np.float32)

    def batches(followed):
        for start in range(0, 300, 100):
            some = shuffled[:, start : start + 100].copy()
            own = some[followed]
            some[followed] = -np.inf
            yield own, some.max(axis=0)

    assert step_down(observed, batches).p == pytest.approx(slow_step_down(observed, shuffled))


def test_fisher_of_every_outcome_is_that_of_scipy():
    table = fisher_table(7, 5)
    for a in range(8):
        for b in range(6):
            expected = stats.fisher_exact([[a, b], [7 - a, 5 - b]]).pvalue
            assert table[a, b] == pytest.approx(expected, abs=1e-9)
    assert fisher_table(4, 4)[3, 1] == pytest.approx(0.4857, abs=1e-4)  # Fisher 1935, tea tasting


def test_one_row_and_two_groups_come_to_the_exact_test():
    """With one hypothesis the shuffles only simulate Fisher's exact test."""
    says = np.array([[1] * 9 + [0] * 3 + [1] * 3 + [0] * 9], bool)
    labels = np.repeat([0, 1], 12)
    found = adjusted(Shares(says, np.array([12, 12]), ((0, 1),)), exchange(labels), 10_000, 1)
    p = stats.fisher_exact([[9, 3], [3, 9]]).pvalue
    assert found.p[0] == pytest.approx(p, abs=4 * np.sqrt(p * (1 - p) / 10_000))


def test_means_are_tested_as_every_arrangement_would():
    amount = np.array([[3, 0, 2, 5, 4, 1, 0, 0]], np.float32)
    labels = np.repeat([0, 1], 4)
    pairwise = ratios(amount, np.ones(8), None, np.array([[4, 4]]), ((0, 1),))
    observed = pairwise.of(exchange(labels).labels[None])[0, 0, 0].copy()
    every = []
    for first in combinations(range(8), 4):
        dealt = np.ones(8, np.int16)
        dealt[list(first)] = 0
        every.append(float(pairwise.of(dealt[None])[0, 0, 0]))
    exact = np.mean(np.array(every) >= observed * (1 - 1e-4))
    found = adjusted(pairwise, exchange(labels), 10_000, 3)
    assert found.p[0] == pytest.approx(exact, abs=0.02)


def test_equal_shares_of_a_total_are_never_a_difference_however_much_one_group_talks():
    # 50 % against 50 %: four people with five passages each, twenty with one.
    amount = np.array([[5] * 4 + [1] * 20], np.float32)
    found = adjusted(
        shares_of_total(amount, np.array([[4, 20]]), ((0, 1),)), exchange(np.repeat([0, 1], [4, 20])), 2000, 1
    )
    assert found.p[0] == 1.0
    snapshot = one_talk_each([5] * 4 + [1] * 20)
    shown = Groups(("a", "b"), np.repeat([0, 1], [4, 20]).astype(np.int32))
    for base in ("row", "table"):
        result = compare(snapshot, Comparison((0,), shown, measure="passages", base=base, permutations=2000))
        assert result.figure[0].tolist() == [0.5, 0.5]
        assert result.tests.p[0] == 1.0
        assert not family_of(result).sure.any()


def test_labels_stay_inside_layers_for_every_measure():
    """Alike within two layers that differ much: held apart nothing is sure, nested together it would be."""
    counts = [6, 7, 5, 6, 7, 6, 5, 7, 6, 6, 0, 1, 0, 0, 1, 0, 1, 0, 0, 0]
    inner = np.array([0] * 8 + [1] * 2 + [0] * 2 + [1] * 8, np.int32)
    outer = np.repeat([0, 1], 10).astype(np.int32)
    snapshot = one_talk_each(counts)
    plain = Groups(("a", "b"), inner)
    held = crossed(Groups(("x", "y"), outer), plain, snapshot.talks)
    for measure, base in (("rate", "words"), ("per_person", "with_material"), ("passages", "row")):
        together_ = compare(snapshot, Comparison((0,), plain, measure=measure, base=base, permutations=2000))
        apart = compare(snapshot, Comparison((0,), held, measure=measure, base=base, permutations=2000, layers=2))
        assert together_.tests.p[0] < 0.05
        assert apart.tests.p[0] > 0.1
        assert not family_of(apart).sure.any()


def test_conversations_are_dealt_whole_and_among_their_own():
    labels = np.array([0, 0, 0, 1, 1, 1, 0, 1])
    dealt = exchange(labels, together=np.array([0, 0, 0, 1, 1, 1, 2, 3]))
    assert len(dealt.classes) == 2
    seen = {tuple(one) for batch in dealt.dealt(400, 1) for one in batch.tolist()}
    # Two conversations of three that are of one group each, and two people by themselves: four arrangements.
    assert seen == {(*a, *b, *c) for a, b in permutations([(0, 0, 0), (1, 1, 1)]) for c in ((0, 1), (1, 0))}
    assert dealt.too_few(0.05)
    mixed = exchange(np.array([0, 1, 0, 1, 1, 1]), together=np.array([0, 0, 0, 1, 1, 1]))
    seen = {tuple(one) for batch in mixed.dealt(600, 2) for one in batch.tolist()}
    assert all(sorted(one[:3]) in ([0, 0, 1], [1, 1, 1]) for one in seen)
    assert len(seen) == 6


def test_who_heard_whom_is_followed_from_place_to_place():
    people, places = np.array([0, 1, 1, 2, 4]), np.array([0, 0, 1, 1, 2])
    found = conversations(people, places, 6)
    assert found[0] == found[1] == found[2]
    assert len({found[0], found[3], found[4], found[5]}) == 4


def test_all_in_one_conversation_or_too_few_to_change_places_is_said():
    snapshot = together(one_talk_each([1] * 6 + [0] * 6), list(range(12)))
    shown = Groups(("a", "b"), np.repeat([0, 1], 6).astype(np.int32))
    family = family_of(compare(snapshot, Comparison((0,), shown)))
    # All in one: labels still change places among its members.
    assert family.why_not == ""
    few = family_of(
        compare(one_talk_each([1, 1, 0, 0]), Comparison((0,), Groups(("a", "b"), np.array([0, 0, 1, 1], np.int32))))
    )
    assert few.why_not == "few_arrangements"
    assert not few.sure.any()
    assert Reorder(np.arange(3), 2).too_few(0.05)
    assert not Reorder(np.arange(5), 2).too_few(0.05)


@pytest.mark.parametrize(
    ("counts", "labels", "why"),
    [
        ([1, 0, 1], [0, 0, 0], "one_group"),
        ([1, 0, 1], [0, 1, 2], "single"),
        ([1, 0, 1], [-1, -1, -1], "nobody"),
    ],
)
def test_what_cant_be_compared_says_why(counts, labels, why):
    names = tuple("abc"[: max(len({one for one in labels if one >= 0}), 1 if why == "one_group" else 2)])
    family = family_of(compare(one_talk_each(counts), Comparison((0,), Groups(names, np.array(labels, np.int32)))))
    assert family.why_not == why
    assert not family.sure.any()


def test_sixty_groups_and_everybody_or_nobody_mentioning_give_figures():
    labels = (np.arange(180) % 60).astype(np.int32)
    says = np.array([[1] * 180, [0] * 180, [1] * 60 + [0] * 120])
    shown = Groups(tuple(f"g{at}" for at in range(60)), labels)
    family = Family(compare(talks_with_rows(says), Comparison((0, 1, 2), shown)), shuffles=200)
    assert family.shape == (3, 1770)
    assert not family.sure.any()
    assert family.looked_at == 3 * 1770


def test_what_is_picked_has_wider_intervals():
    assert widened(20, 20) == pytest.approx(0.95)
    assert widened(1, 100) == pytest.approx(0.9995)
    family = family_of(made(Setting("", (20, 20), 5, differ=1, gap=0.6), np.random.default_rng(1)))
    _, low, high = family.interval(0.95)
    _, lower, higher = family.interval(widened(1, 5))
    assert (lower <= low).all()
    assert (higher >= high).all()


def test_waves_of_the_same_people_are_tested_by_who_changed():
    """Of ten in both waves nine came to mention it and nobody ceased to: 2 / 2⁹ by McNemar’s exact test."""
    result = two_waves([0] * 9 + [1], [1] * 9 + [1])
    family = family_of(result)
    assert family.paired
    assert family.p[0, 0] == pytest.approx(2 / 2**9, abs=0.004)
    assert family.sure[0, 0]
    gap, low, high = (part[0, 0] for part in family.interval(0.95))
    assert gap == pytest.approx(-0.9)
    assert low <= gap < high < 0


@pytest.mark.parametrize(
    "setting",
    [NOTHING_DIFFERS[1], NOTHING_DIFFERS[5], NOTHING_DIFFERS[14], NOTHING_DIFFERS[16], NOTHING_DIFFERS[18]],
    ids=lambda one: one.name,
)
def test_hardly_anything_is_sure_where_nothing_differs(setting):
    """A small form of bench/calibration.py: with 120 projects more than 13 would come up once in 200 at 5 %."""
    assert sure_by_chance(setting, 120, seed=11) <= 13 / 120


@pytest.mark.parametrize("kind", ["mean", "rate", "talk", "rating"])
def test_intervals_that_are_told_cover(kind):
    assert coverage_of_figures(kind, 12, 250, seed=5) >= 0.92
