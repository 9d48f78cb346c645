"""Words by group, held against plain counting and against the published formula worked out in full."""

import math
from collections import Counter

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.coding.idle import is_idle
from core.coding.tally import by_group
from core.coding.vocabulary import OUTSTANDING, by_chance, counted, marked, most, set_apart, vocabulary

SPOKEN = {
    1: counted("The boat, the boat. It’s late: 7 o’clock, a 3!"),
    2: counted("the bus waits"),
    3: counted("The boat waits and waits"),
    4: counted("the lamp"),
    5: counted("the, the"),
    6: counted("unheard of"),
}
GROUPS = {1: 0, 2: 1, 3: 0, 4: 1, 5: 1}


def test_words_are_counted_as_a_plain_count_does():
    held = vocabulary(SPOKEN, GROUPS, 2, without_everybodys=False)
    assert held.words[:3] == ("the", "boat", "waits")
    assert (held.count[0], held.people[0], held.by_group[0].tolist()) == (7, 5, [3, 4])
    assert held.totals.tolist() == [12, 7]
    assert held.rates[0].tolist() == [1000 * 3 / 12, 1000 * 4 / 7]
    assert "it's" in held.words
    assert not {"unheard", "7", "3", "a"} & set(held.words)


def test_words_that_arent_listed_still_count_for_rates():
    held = vocabulary(SPOKEN, GROUPS, 2, without_everybodys=False, without=["boat", "never said"])
    assert "boat" not in held.words
    assert (held.unsaid, held.left_out, held.totals.tolist()) == (1, 0, [12, 7])
    both = vocabulary(SPOKEN, GROUPS, 2, without_everybodys=True, without=["the"])
    assert (both.unsaid, both.left_out) == (1, 0)


@pytest.mark.parametrize(
    ("word", "idle"),
    [
        ("it's", True),
        ("that's", True),
        ("don't", True),
        ("boat's", False),
        ("l'eau", False),
        ("yeah", True),
        ("boat", False),
    ],
)
def test_words_that_say_nothing(word, idle):
    """A list has whole words; a contraction says nothing where what it is made of doesn't."""
    assert is_idle(word, {"it", "s", "that", "is", "do", "l"}, "english") == idle
    assert is_idle("ähm", set(), "german")
    assert not is_idle("ähm", set(), "english")


def test_everybodys_words_are_left_out_and_counted():
    held = vocabulary(SPOKEN, GROUPS, 2, without_everybodys=True)
    assert ("the" in held.words, held.left_out, held.totals.tolist()) == (False, 1, [12, 7])
    two = {case: SPOKEN[case] for case in (1, 2)}
    assert "the" in vocabulary(two, GROUPS, 2, without_everybodys=True).words


def test_log_odds_by_hand():
    """Monroe, Colaresi & Quinn 2008, equations 16, 19 and 22 (from memory), worked out for one word."""
    by_group, totals = np.array([[30, 10], [70, 90]]), np.array([100, 100])
    prior = 50.0
    alpha = prior * 40 / 200
    own, rest = 30 + alpha, 10 + alpha
    delta = math.log(own / (100 + prior - own)) - math.log(rest / (100 + prior - rest))
    expected = delta / math.sqrt(1 / own + 1 / rest)
    assert set_apart(by_group, totals, prior)[0, 0] == pytest.approx(expected)


@given(st.lists(st.tuples(st.integers(0, 50), st.integers(0, 50)), min_size=1, max_size=8))
def test_two_groups_are_set_apart_by_the_same_words_either_way(rows):
    by_group = np.array(rows, np.int64)
    apart = set_apart(by_group, by_group.sum(axis=0))
    assert np.isfinite(apart).all()
    assert np.allclose(apart[:, 0], -apart[:, 1], atol=1e-6)


def test_a_groups_own_words_come_first():
    held = vocabulary({1: Counter(boat=9, bus=1), 2: Counter(bus=9, boat=1)}, {1: 0, 2: 1}, 2, False)
    assert held.words[most(held, 1, 1)[0]] == "bus"
    assert list(most(held, None, 5)) == [0, 1]


def test_whose_words_are_everybodys_is_judged_by_those_who_say_enough():
    talking = {
        case: Counter({"the": 200, "boat": 40 + case, **({"lamp": 30} if case == 1 else {})}) for case in range(5)
    }
    short = {case: Counter(ice=1) for case in range(5, 60)}
    held = vocabulary(talking | short, dict.fromkeys(range(60), 0), 1, without_everybodys=True)
    assert (set(held.words), held.left_out) == ({"lamp", "ice"}, 2)


def spoken_by(rows):
    return {case: Counter(row) for case, row in enumerate(rows)}


def test_a_mark_needs_people_and_not_one_talkative_one():
    # Ten a group: all of one say “boat”, all of the other “bus”; “ice” is one person’s word, nine times a talk.
    rows = [{"boat": 9, "bus": 1, "we": 40} for _ in range(10)] + [{"boat": 1, "bus": 9, "we": 40} for _ in range(10)]
    rows[0]["ice"] = 60
    groups = dict.fromkeys(range(10), 0) | dict.fromkeys(range(10, 20), 1)
    held = vocabulary(spoken_by(rows), groups, 2, False)
    places = [held.words.index(word) for word in ("boat", "bus", "we", "ice")]
    assert marked(held, places, spoken_by(rows), groups).tolist() == [[1, -1], [-1, 1], [0, 0], [0, 0]]
    # By standard errors of words alone the one talkative person made it their group’s word.
    assert held.apart[held.words.index("ice"), 0] > OUTSTANDING
    # Among three people nothing can be rare.
    few = {case: rows[case] for case in (1, 2, 11)}
    small = vocabulary({case: Counter(row) for case, row in few.items()}, groups, 2, False)
    assert not marked(small, range(len(small.words)), {case: Counter(row) for case, row in few.items()}, groups).any()


def test_marks_where_groups_dont_differ_are_no_more_than_is_said():
    """Simulated: forty people with habits of their own, dealt out by lot."""
    dice = np.random.default_rng(5)
    base = 1 / np.arange(1, 301)
    found, said = 0, 0
    for _ in range(6):
        rows = [dice.multinomial(400, dice.dirichlet(300 * base / base.sum())) for _ in range(40)]
        spoken = spoken_by({f"w{at}": int(times) for at, times in enumerate(row) if times} for row in rows)
        groups = {case: case % 2 for case in spoken}
        held = vocabulary(spoken, groups, 2, False)
        marks = marked(held, list(most(held, None, 120)), spoken, groups)
        found, said = found + int(np.abs(marks).sum()), said + by_chance(marks)
    assert found <= 1.3 * said
    assert said == 6 * 12


def test_hits_are_tallied_by_group_and_those_of_nobody_by_none():
    said = by_group({1: 4, 2: 1, 9: 7, None: 3}, {1: 0, 2: 1, 3: 1}, ["Holm", "Ytter", "Norrby"])
    assert [(one.name, one.hits, one.people, one.size) for one in said] == [
        ("Holm", 4, 1, 1), ("Ytter", 1, 1, 2), ("Norrby", 0, 0, 0),
    ]  # fmt: skip
