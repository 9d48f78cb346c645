"""What stands out: what is said of which difference, and what speaks against reading much into it."""

from dataclasses import replace

import numpy as np
import pytest
from statsmodels.stats.proportion import confint_proportions_2indep

from core.compare.groups import Groups
from core.compare.question import Comparison
from core.compare.result import compare
from core.compare.told.findings import Finding, Layering, findings, nothing_stands_out
from core.compare.told.sentence import Names
from core.snapshot.texture import texture, weave
from tests.core.worlds import one_talk_each

NAMES = Names("person", "people", "Boat", "1 code")


def groups(*sizes: int) -> Groups:
    labels = np.repeat(np.arange(len(sizes)), sizes).astype(np.int32)
    return Groups(tuple("abcdef"[: len(sizes)]), labels)


def told(snapshot, shown: Groups, others=(), **asked) -> tuple[list[Finding], str]:
    pair = (1, 0) if asked.get("measure", "people") == "people" and shown.count == 2 else None
    result = compare(snapshot, Comparison((0,), shown, difference=pair, **asked))
    people = [f"P{number}" for number in range(len(snapshot.case_ids))]
    return findings(snapshot, result, ["Late"], people, NAMES, list(others)), nothing_stands_out(result, NAMES)


def test_a_clear_difference_is_told_in_people_with_its_interval():
    found, _ = told(one_talk_each([1] * 2 + [0] * 10 + [1] * 11 + [0] * 1), groups(12, 12))
    assert [(one.row, one.groups, one.sure) for one in found] == [(0, (1, 0), True)]
    low, high = confint_proportions_2indep(11, 12, 2, 12, method="newcomb")
    assert found[0].text == (
        f"11 of 12 people in “b”, 2 of 12 in “a”: 75 points apart (95 % interval {100 * low:.0f} to {100 * high:.0f})."
    )
    assert found[0].cautions == ()


def test_what_could_be_chance_is_not_told_and_its_absence_is_no_proof():
    found, otherwise = told(one_talk_each([1] * 4 + [0] * 8 + [1] * 6 + [0] * 6), groups(12, 12))
    assert found == []
    assert "No interval of a difference leaves 0 out" in otherwise
    assert "would often not show" in otherwise


def test_one_group_alone_has_nothing_to_stand_out_from():
    found, otherwise = told(one_talk_each([1, 0]), groups(2))
    assert (found, otherwise) == ([], "Choose a code and two groups or more: then there is something to compare.")


def test_a_small_group_is_a_caution():
    found, _ = told(one_talk_each([0] * 20 + [1] * 4), groups(20, 4))
    assert found[0].cautions == ("“b” has only 4 people: one more or less would change much.",)


def test_what_goes_within_the_groups_of_another_fact_is_a_caution():
    # On the first island most mention it and most have a boat; on the second few do either: within each, as many of
    # those with a boat as of those without.
    parts = [(18, 14, 1, 0), (4, 3, 0, 0), (4, 1, 1, 1), (18, 4, 0, 1)]
    counts = [int(place < says) for size, says, _, _ in parts for place in range(size)]
    boat, island = (np.repeat([part[at] for part in parts], [18, 4, 4, 18]).astype(np.int32) for at in (2, 3))
    shown = Groups(("no", "yes"), boat)
    held = Layering("Island", Groups(("north", "south"), island))
    plain, _ = told(one_talk_each(counts), shown)
    found, _ = told(one_talk_each(counts), shown, [held])
    assert plain[0].cautions == ()
    assert len(found[0].cautions) == 1
    assert found[0].cautions[0].startswith("Hardly anything of it is left within the groups of Island")
    # A fact that has nothing to do with it takes nothing away.
    other = Layering("Even", Groups(("even", "odd"), (np.arange(44) % 2).astype(np.int32)))
    assert told(one_talk_each(counts), shown, [other])[0][0].cautions == ()


def test_a_difference_that_hangs_on_the_base_says_so():
    # Ten of those without material are in the group that mentions it.
    snapshot = one_talk_each([0] * 3 + [1] * 1 + [0] * 2 + [1] * 6, silent=12)
    labels = np.array([0] * 6 + [1] * 6 + [1] * 12, np.int32)
    found, _ = told(snapshot, Groups(("a", "b"), labels))
    assert any("It depends on the base: out of all people of each group" in caution for caution in found[0].cautions)


def test_one_talkative_person_is_told_beside_the_passages():
    snapshot = one_talk_each([1] * 2 + [0] * 8 + [12] + [1] * 1 + [0] * 8)
    found, _ = told(snapshot, groups(10, 10), measure="passages", base="row", permutations=500)
    assert [(one.sure, one.groups) for one in found] == [(False, (1, 0))]
    assert found[0].cautions == ("12 of those 13 passages are by P10 alone: one talkative person, or a pattern?",)
    # By people there is no difference; the look of the passages is told all the same.
    by_people, _ = told(snapshot, groups(10, 10))
    assert [(one.sure, one.text) for one in by_people] == [(False, "13 of 15 passages come from “b”.")]


@pytest.mark.parametrize("measure", ["rate", "per_person"])
def test_rates_are_told_with_how_often_chance_would_give_as_much(measure):
    snapshot = one_talk_each([0, 1] * 6 + [3, 4] * 6)
    base = "words" if measure == "rate" else "with_material"
    found, _ = told(snapshot, groups(12, 12), measure=measure, base=base, permutations=500)
    assert found[0].sure
    assert "comes up in fewer than 1 of 100 times" in found[0].text
    assert "42 passages by 12 people" in found[0].text


def with_words(snapshot):
    """Every passage a word of two letters; everybody says 60 of them."""
    weaves = [weave("ab " * 60 + "x" * 20, [(0, 179)]) for _ in snapshot.document_ids]
    found = texture(snapshot, weaves)
    return replace(snapshot, turn_words=np.diff(found.turn_first).astype(np.int32)), found


def test_words_are_told_as_words_and_as_a_share_of_talk():
    snapshot, woven = with_words(one_talk_each([0, 1] * 6 + [3, 4] * 6))
    asked = {"measure": "words", "texture": woven, "permutations": 500}
    found, _ = told(snapshot, groups(12, 12), base="talk", **asked)
    assert found[0].text.startswith(
        "5.8 % of all that is said in “b” (42 words by 12 people), 0.8 % of all that is said in “a”"
    )
    of_row, _ = told(snapshot, groups(12, 12), base="row", **asked)
    assert of_row[0].text.startswith(
        "42 words by 12 people in “b”, which has 12, 6 words by 6 people in “a”, which has 12"
    )
    one, woven = with_words(one_talk_each([1] * 2 + [0] * 8 + [12] + [1] * 1 + [0] * 8))
    alone, _ = told(one, groups(10, 10), base="row", **{**asked, "texture": woven})
    assert alone[0].cautions == ("12 of those 13 words are by P10 alone: one talkative person, or a pattern?",)


def test_ratings_are_told_as_means():
    snapshot = one_talk_each([1] * 24)
    rated = replace(snapshot, coding_rating=np.array([1, 2] * 6 + [4, 5] * 6, np.int8))
    found, _ = told(rated, groups(12, 12), measure="rating", base="ratings", permutations=500)
    assert found[0].text.startswith(
        "a mean rating of 4.50 in “b” (12 ratings by 12 people), a mean rating of 1.50 in “a” (12 ratings by 12 people)"
    )
    assert found[0].sure


@pytest.mark.parametrize("measure", ["people", "passages", "rate"])
def test_a_group_of_nobody_is_never_the_lower_one(measure):
    snapshot = one_talk_each([0] * 3 + [1] * 9 + [3] * 12, silent=5)
    labels = np.array([0] * 12 + [1] * 12 + [2] * 5, np.int32)
    base = {"people": "with_material", "passages": "row", "rate": "words"}[measure]
    found, _ = told(snapshot, Groups(("a", "b", "nobody"), labels), measure=measure, base=base, permutations=500)
    assert all(2 not in one.groups for one in found)
    assert found or measure == "people"


def test_several_groups_need_the_test_over_all_of_them():
    # The two farthest apart look clear, but were picked from six.
    counts = [0] * 7 + [1, 1, 0, 0, 0, 0, 0] * 4 + [1, 1, 1, 1, 0, 0, 0]
    found, _ = told(one_talk_each(counts), groups(7, 7, 7, 7, 7, 7))
    assert found == []
    clear, _ = told(one_talk_each([0] * 9 + [1] * 5 + [0] * 4 + [1] * 9), groups(9, 9, 9))
    assert clear[0].groups == (2, 0)
