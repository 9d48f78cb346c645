"""A result computes what is asked of it; what is told has a kind; measures carry their own words."""

import re

import numpy as np
import pytest

from core.compare import tests as row_tests
from core.compare.by_part import compare, family_of
from core.compare.groups import Groups, by_documents, crossed
from core.compare.measures import BASES, MEASURES, measure_of
from core.compare.question import Comparison, ComparisonError
from core.compare.told.cautions import cautions
from core.compare.told.figures import counted, points, probability
from core.compare.told.findings import in_words
from core.compare.told.methods import methods_paragraph, of_the_rule
from core.compare.told.sentence import Names, base_words, measure_words, sentence_parts
from core.statistics.layers import common_odds_ratio
from core.statistics.sums import ROOM, Sums, at_once
from tests.core.worlds import one_talk_each, random_groups, random_snapshot, talks_with_rows, two_waves

NAMES = Names("household", "households", "Island", "6 codes")


def halves(size: int = 12) -> Groups:
    return Groups(("a", "b"), np.repeat([0, 1], size).astype(np.int32))


def test_nothing_is_tested_before_it_is_asked_for(monkeypatch):
    def never(*_args, **_more):
        raise AssertionError("no test was asked for")

    for name in ("tests_of_people", "tests_by_shuffling", "trend_of", "within_layers", "changes_of", "whole_of"):
        monkeypatch.setattr(row_tests, name, never)
    result = compare(random_snapshot(3), Comparison((0, 1), random_groups(3), permutations=10_000))
    # What maps, persons and holdings read.
    assert result.count.shape == result.figure.shape == (2, 3)
    assert result.counted.in_base.any()
    assert result.total_people.shape == (2,)
    with pytest.raises(AssertionError, match="no test was asked for"):
        _ = result.tests


def test_parts_are_computed_once():
    result = compare(random_snapshot(4), Comparison((0, 1), random_groups(4)))
    assert result.tests is result.tests
    assert result.counted is result.counted
    assert result.interval[0] is result.low


@pytest.mark.parametrize("measure", MEASURES, ids=lambda one: one.id)
def test_a_measure_has_all_its_words(measure):
    assert measure_of(measure.id) is measure
    assert set(measure.bases) <= set(BASES)
    assert measure.taken.startswith(", ")
    assert measure.taken.endswith(" ")
    # A share says what it is a share of; anything else has a unit.
    assert bool(measure.unit) == (not measure.share)
    assert len(measure.noun) == 2
    for words in (measure.counted, measure.hint, measure.unit, *measure.bases.values()):
        told = NAMES.put(words)
        assert not re.search(r"[{}]", told)
        assert "person" not in told
        assert "people" not in told
    assert set(re.findall(r"{(\w+)}", measure.cell)) <= {"count", "counted", "base"}


def test_every_base_is_one_of_some_measure_and_none_fits_where_it_isnt_named():
    assert {base for measure in MEASURES for base in measure.bases} == set(BASES)
    for measure in MEASURES:
        for base in set(BASES) - set(measure.bases):
            with pytest.raises(ComparisonError, match="share of"):
                Comparison((0,), halves(), measure=measure.id, base=base)


def test_parts_of_the_sentence_say_what_choosing_them_changes():
    result = compare(random_snapshot(1), Comparison((0, 1), random_groups(1)))
    names = Names("person", "people", "Island", "2 codes", filtered="only 3 of 7 people", adjusted="Age")
    parts = sentence_parts(result, names)
    kinds = [part.kind for part in parts if part.kind != "words"]
    assert kinds == ["rows", "variable", "measure", "base", "roll_up", "adjusted", "scope"]
    text = "".join(part.text for part in parts)
    assert text.endswith("Branches rolled up; adjusted for Age; only 3 of 7 people.")
    assert measure_words("per_person", NAMES) == "passages a household"
    assert base_words("people", "everyone", NAMES) == "all of each group’s households"


def test_every_caution_has_a_kind_of_its_own():
    seen = set()
    for seed in range(8):
        for measure, base in (
            ("people", "everyone"),
            ("passages", "column"),
            ("per_person", "with_material"),
            ("rate", "words"),
        ):
            asked = Comparison((0, 1, 2), random_groups(seed), measure=measure, base=base, permutations=50, difference=(0, 1) if measure == "people" else None)  # fmt: skip
            told = cautions(compare(random_snapshot(seed), asked), NAMES)
            assert all(re.fullmatch(r"[a-z_]+", one.kind) for one in told)
            assert all(one.text.endswith((".", "?")) for one in told)
            seen |= {one.kind for one in told}
    assert {"small_group", "shuffled", "several_rows", "tests"} <= seen


def test_layers_are_named_in_the_cautions_and_methods_of_every_measure():
    snapshot = one_talk_each([1, 2, 0, 3] * 6)
    outer, inner = np.repeat([0, 1], 12).astype(np.int32), (np.arange(24) % 2).astype(np.int32)
    held = crossed(Groups(("x", "y"), outer), Groups(("a", "b"), inner), snapshot.talks)
    names = Names("person", "people", "Boat", "1 code", second="Island")
    for measure, base in (("people", "with_material"), ("rate", "words"), ("passages", "row")):
        result = compare(snapshot, Comparison((0,), held, measure=measure, base=base, layers=2, permutations=100))
        assert any(
            one.kind == "layers" and "within the groups of Island" in one.text for one in cautions(result, names)
        )
        said, _ = methods_paragraph(result, names)
        assert "Island" in said
        rule, _ = of_the_rule(family_of(result), names)
        assert "inside the groups of Island" in rule


def test_the_rule_is_told_with_its_sources_and_not_where_nothing_was_tested():
    family = family_of(compare(talks_with_rows(np.eye(3, 24, dtype=int)), Comparison((0, 1, 2), halves())))
    said, sources = of_the_rule(family, NAMES)
    assert "all 3 pairs of groups in all rows were tested together on exact p-values by step-down" in said
    assert any("Westfall" in source for source in sources)
    assert any("Yekutieli" in source for source in sources)
    assert not any("Winkler" in source for source in sources)
    alone = family_of(compare(one_talk_each([1, 0]), Comparison((0,), Groups(("a",), np.zeros(2, np.int32)))))
    assert of_the_rule(alone, NAMES) == ("", [])


def test_what_is_sure_in_a_row_is_said_with_the_higher_group_first():
    says = np.array([[1] * 12 + [0] * 12, [0] * 12 + [1] * 12, [1, 0] * 12])
    family = family_of(compare(talks_with_rows(says), Comparison((0, 1, 2), halves())))
    assert [in_words(family, row) for row in range(3)] == [
        ["a above b: sure (p under .001 over all)"],
        ["b above a: sure (p under .001 over all)"],
        [],
    ]


def test_waves_are_told_by_who_changed():
    from core.compare.told.findings import findings

    family = family_of(two_waves([0] * 9 + [1] * 2, [1] * 9 + [1, 0]))
    told = findings(family, ["Late"], [f"P{at}" for at in range(11)], Names("person", "people", "Wave", "1 code"), [])
    assert told[0].text.startswith(
        "Of the 11 people in both, 9 mention it only in “spring”, 1 only in “winter”: 73 points more"
    )


def test_a_fact_about_documents_with_one_group_a_person_is_compared_as_any_other():
    snapshot = one_talk_each([1] * 10 + [0] * 10)
    by_case, by_document = halves(10), by_documents(halves(10), snapshot.talks)
    found = [family_of(compare(snapshot, Comparison((0,), groups))) for groups in (by_case, by_document)]
    assert found[0].p.tolist() == found[1].p.tolist()
    assert found[0].sure.all()


def test_numbers_are_put_as_they_are_read():
    assert [points(gap) for gap in (0.004, 0.01, 0.125, -0.3, 1.0)] == [
        "0 points",
        "1 point",
        "12 points",
        "−30 points",
        "100 points",
    ]
    assert [probability(p) for p in (0.0001, 0.004, 0.0099, 0.03, 0.05)] == ["fewer than 1 of 1,000", "4 of 1,000", "1 of 100", "3 of 100", "5 of 100"]  # fmt: skip
    assert [counted(number, "person", "people") for number in (1, 2, 1200)] == ["1 person", "2 people", "1,200 people"]


@pytest.mark.parametrize("groups", [2, 3, 5])
def test_sums_of_groups_are_those_of_loops(groups):
    generator = np.random.default_rng(groups)
    values = generator.integers(0, 5, (4, 30)).astype(np.float32)
    labels = generator.integers(0, groups, (6, 30)).astype(np.int16)
    summed = Sums(values, groups)
    # Written over and over, for as many arrangements as are asked about.
    for some in (labels[:1], labels, labels[3:5]):
        found = summed.of(some)
        for group in range(groups):
            for draw, one in enumerate(some):
                assert found[group, draw].tolist() == values[:, one == group].sum(axis=1).tolist()


def test_as_many_arrangements_at_once_as_there_is_room_for():
    assert at_once(100) == at_once(1000) > 1
    assert at_once(ROOM // 7) == 7
    assert at_once(ROOM * 3) == 1
    assert at_once(0) == at_once(1)


def test_a_layer_of_nobody_adds_nothing():
    says, base = [[[5, 2], [3, 1]]], [[9, 9], [6, 7]]
    empty_says, empty_base = [[[5, 2], [3, 1], [0, 0]]], [[9, 9], [6, 7], [0, 0]]
    assert common_odds_ratio(empty_says, empty_base).ratio == pytest.approx(common_odds_ratio(says, base).ratio)
