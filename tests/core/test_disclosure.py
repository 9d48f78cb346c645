"""Hidden cells stay hidden: attacked by linear programming, over random tables and random sequences of exports."""

import numpy as np
import pytest
from scipy.optimize import linprog

from core.statistics.disclosure import Known, bounds, hidden, hidden_cells, rounded, taken_out


def attack(
    numbers: list[tuple[np.ndarray, int, bool]], sizes: list[tuple[np.ndarray, int]], secret: np.ndarray
) -> tuple[float, float]:
    """What a reader can tell of one hidden count: one unknown a person (0 to any, relaxed to a share of 1 where the size of a
    set with it is out). Written without the code that hides."""
    people = len(secret)
    equal = [(mask, count) for mask, count, shown in numbers if shown]
    ends = []
    for sign in (1, -1):
        found = linprog(
            sign * secret.astype(float),
            A_eq=np.array([mask for mask, _ in equal], float) if equal else None,
            b_eq=[count for _, count in equal] if equal else None,
            A_ub=np.array([mask for mask, _ in sizes], float) if sizes else None,
            b_ub=[size for _, size in sizes] if sizes else None,
            bounds=[(0, None)] * people,
        )
        assert found.status in (0, 3)
        ends.append(sign * found.fun if found.status == 0 else np.inf)
    return min(ends), max(ends)


def random_groups(generator, people: int) -> np.ndarray:
    """A division of some people into two to four groups, everybody of them last."""
    label = generator.integers(-1, generator.integers(2, 5), people)
    groups = np.array([label == one for one in range(label.max() + 1)])
    return np.concatenate([groups, (label >= 0)[None, :]])


@pytest.mark.parametrize("seed", range(25))
def test_no_hidden_cell_of_one_table_can_be_told_more_closely_than_the_limit(seed):
    generator = np.random.default_rng(seed)
    groups, least = random_groups(generator, 40), int(generator.integers(2, 7))
    says = generator.random((6, 40)) < generator.uniform(0.05, 0.6, (6, 1))
    people = says.astype(int) @ groups.T.astype(int)
    found, small = hidden_cells(people, groups, least)
    assert found[(people > 0) & (people < least)].all()
    assert small[(groups.sum(axis=1) > 0) & (groups.sum(axis=1) < least)].all()
    sizes = [(mask, int(mask.sum())) for mask, gone in zip(groups, small, strict=True) if not gone]
    for row in range(6):
        numbers = [(mask, int(people[row, at]), not found[row, at]) for at, mask in enumerate(groups)]
        for at in np.flatnonzero(found[row]):
            low, high = attack(numbers, sizes, groups[at])
            assert high - low >= least - 1e-6


@pytest.mark.parametrize("seed", range(8))
def test_no_hidden_cell_can_be_told_from_many_exports_together(seed):
    """Groups after groups of the same people, each checked against all that is out."""
    generator = np.random.default_rng(100 + seed)
    says, least = generator.random(36) < 0.3, int(generator.integers(3, 6))
    out: list[Known] = []
    for _ in range(6):
        groups = random_groups(generator, 36)
        people = (says.astype(int) @ groups.T.astype(int))[None, :]
        found, small = hidden_cells(people, groups, least, earlier=[out])
        out = out + [Known(mask, int(people[0, at]), not found[0, at], not small[at]) for at, mask in enumerate(groups)]
        numbers = [(one.people, one.count, one.shown) for one in out]
        sizes = [(one.people, int(one.people.sum())) for one in out if one.size_shown]
        for one in out:
            if not one.shown and one.count:
                low, high = attack(numbers, sizes, one.people)
                assert high - low >= least - 1e-6


def test_two_exports_whose_difference_is_a_small_cell():
    """Six of a group in one export; in the next, the four who are left without two others must not stand beside them."""
    everybody, some = np.ones(20, bool), np.arange(20) < 15
    first = Known(everybody, 6)
    rest = [Known(some, 4), Known(~some, 2), Known(everybody, 6)]
    assert hidden(rest, [], 3) != [False] * 3
    gone = hidden(rest, [first], 3)
    line = [Known(one.people, one.count, not out) for one, out in zip(rest, gone, strict=True)]
    low, high = bounds([first, *line], Known(~some, 2, False))
    assert high - low >= 3


def test_exclusive_rows_hide_columns_too():
    groups = np.array([np.arange(30) < 15, np.arange(30) >= 15, np.ones(30, bool)])
    people = np.array([[8, 5, 13], [2, 6, 8], [5, 4, 9]])
    found, _ = hidden_cells(people, groups, 3, whole=True)
    assert found[1, 0]
    for group in range(3):
        if found[:, group].any():
            assert found[:, group].sum() > 1
            assert people[found[:, group], group].sum() >= 3


def test_lines_of_counts_and_rounding():
    assert taken_out([12, 9, 21], 3) == [12, 9, 21]
    gone = taken_out([12, 2, 9, 23], 5)
    assert gone[1] is None
    assert gone.count(None) > 1
    assert taken_out([1, 2, 3], 0) == [1, 2, 3]
    assert [rounded(count, 5) for count in (0, 2, 3, 7, 8)] == [0, 0, 5, 5, 10]
    assert [rounded(count, 3) for count in (1, 2, 4, 5)] == [0, 3, 3, 6]
    assert rounded(7, 0) == 7
