"""What stands out: what is said of which difference, and what speaks against reading much into it."""

from dataclasses import replace

import numpy as np
import pytest
from statsmodels.stats.proportion import confint_proportions_2indep

from core.compare.by_part import compare, family_of
from core.compare.confounding import Layering
from core.compare.groups import Groups
from core.compare.question import Comparison
from core.compare.told.findings import Finding, findings, nothing_stands_out
from core.compare.told.sentence import Names
from core.snapshot.texture import texture, weave
from tests.core.worlds import one_talk_each, talks_with_rows, together

NAMES = Names("person", "people", "Boat", "1 code")


def groups(*sizes: int) -> Groups:
    labels = np.repeat(np.arange(len(sizes)), sizes).astype(np.int32)
    return Groups(tuple("abcdef"[: len(sizes)]), labels)


def told(snapshot, shown: Groups, others=(), rows=(0,), **asked) -> tuple[list[Finding], str]:
    pair = (1, 0) if asked.get("measure", "people") == "people" and shown.count == 2 else None
    family = family_of(compare(snapshot, Comparison(rows, shown, difference=pair, **asked)))
    people = [f"P{number}" for number in range(len(snapshot.case_ids))]
    names = ["Late", *(f"row {row}" for row in rows[1:])]
    return findings(family, names, people, NAMES, list(others)), nothing_stands_out(family, NAMES)


def kinds(found: Finding) -> list[str]:
    return [one.kind for one in found.cautions]


def test_a_clear_difference_is_told_in_people_with_its_interval():
    found, _ = told(one_talk_each([1] * 2 + [0] * 10 + [1] * 11 + [0] * 1), groups(12, 12))
    assert [(one.row, one.groups, one.standing) for one in found] == [(0, (1, 0), "sure")]
    low, high = confint_proportions_2indep(11, 12, 2, 12, method="newcomb")
    assert found[0].text.startswith(
        f"11 of 12 people in “b”, 2 of 12 in “a”: 75 points apart (interval {100 * low:.0f} to {100 * high:.0f}, 95 %). Sure:"
    )
    assert found[0].cautions == ()


def test_what_could_be_chance_is_not_told_and_its_absence_is_no_proof():
    found, otherwise = told(one_talk_each([1] * 4 + [0] * 8 + [1] * 6 + [0] * 6), groups(12, 12))
    assert found == []
    assert otherwise.startswith("Nothing is sure or worth a look among 1 difference.")
    assert "would often not show" in otherwise


def test_one_group_alone_has_nothing_to_stand_out_from():
    found, otherwise = told(one_talk_each([1, 0]), groups(2))
    assert (found, otherwise) == ([], "Choose a code and two groups or more: then there is something to compare.")


def test_one_person_against_none_of_six_is_never_sure():
    found, _ = told(one_talk_each([0] * 6 + [1]), groups(6, 1))
    assert all(one.standing != "sure" for one in found)


def test_what_is_picked_out_of_many_is_not_sure_and_says_how_many_chance_would_give():
    # One row of 20 differs by as much as one in 20 would by chance.
    rows = np.random.default_rng(4).random((20, 24)) < 0.4
    rows[0] = [1] * 3 + [0] * 9 + [1] * 9 + [0] * 3
    found, _ = told(talks_with_rows(rows), groups(12, 12), rows=tuple(range(20)))
    assert found[0].standing == "look"
    assert found[0].row == 0
    assert "Worth a look, not sure" in found[0].text
    assert "of 20 differences looked at, " in found[0].text
    assert "widened for being picked out of 20" in found[0].text
    alone, _ = told(talks_with_rows(rows[:1]), groups(12, 12))
    assert alone[0].low > found[0].low


def test_a_small_group_is_a_caution():
    found, _ = told(one_talk_each([0] * 20 + [1] * 4), groups(20, 4))
    assert [one.text for one in found[0].cautions] == ["“b” has only 4 people: one more or less would change much."]
    assert kinds(found[0]) == ["small_group"]


def people_in(parts, size=44):
    """Counts, a group and a layer of people: (how many, how many of them mention it, group, layer)."""
    counts = [int(place < says) for many, says, _, _ in parts for place in range(many)]
    group, layer = (
        np.repeat([part[at] for part in parts], [part[0] for part in parts]).astype(np.int32) for at in (2, 3)
    )
    return counts, Groups(("no", "yes"), group), Layering("Island", Groups(("north", "south"), layer))


def test_what_goes_within_the_groups_of_another_fact_is_a_caution():
    # On the first island most mention it and most have a boat; on the second few do either: within each, as many of
    # those with a boat as of those without.
    counts, shown, held = people_in([(18, 14, 1, 0), (4, 3, 0, 0), (4, 1, 1, 1), (18, 4, 0, 1)])
    plain, _ = told(one_talk_each(counts), shown)
    found, _ = told(one_talk_each(counts), shown, [held])
    assert plain[0].cautions == ()
    assert kinds(found[0]) == ["vanishes"]
    assert found[0].cautions[0].text.startswith("Hardly anything of it is left within the groups of Island")
    # A fact that has nothing to do with it takes nothing away.
    other = Layering("Even", Groups(("even", "odd"), (np.arange(44) % 2).astype(np.int32)))
    assert told(one_talk_each(counts), shown, [other])[0][0].cautions == ()


def test_a_difference_that_turns_round_within_another_fact_says_so():
    # Invented: X: A 8 of 50, B 1 of 10; Y: A 9 of 10, B 35 of 50. All together B lies above A; within X and Y A does.
    counts, shown, held = people_in([(50, 8, 0, 0), (10, 1, 1, 0), (10, 9, 0, 1), (50, 35, 1, 1)])
    found, _ = told(one_talk_each(counts), shown, [held])
    assert found[0].groups == (1, 0)
    assert kinds(found[0]) == ["reverses"]
    assert "Held apart by Island it turns round: 13 points the other way" in found[0].cautions[0].text


def test_a_fact_that_goes_with_the_groups_cant_be_told_apart():
    counts, shown, _ = people_in([(12, 2, 0, 0), (12, 11, 1, 1)])
    held = Layering("Island", Groups(("north", "south"), shown.labels))
    found, _ = told(one_talk_each(counts), shown, [held])
    assert kinds(found[0]) == ["inseparable"]
    assert "can’t be told apart from Island" in found[0].cautions[0].text


def test_people_who_heard_each_other_are_told_in_the_finding_and_dealt_together():
    counts = [1] * 2 + [0] * 10 + [1] * 11 + [0] * 1
    snapshot = together(one_talk_each(counts), [12, 13, 14, 15])
    found, _ = told(snapshot, groups(12, 12))
    assert kinds(found[0]) == ["conversations"]
    assert found[0].cautions[0].text.startswith("4 of these 24 people heard each other in a conversation")


def test_one_talkative_person_is_told_beside_the_passages():
    snapshot = one_talk_each([1] * 2 + [0] * 8 + [12] + [1] * 1 + [0] * 8)
    for asked in ({"measure": "passages", "base": "row"}, {"measure": "per_person"}, {}):
        found, _ = told(snapshot, groups(10, 10), **asked)
        assert [(one.standing, one.groups) for one in found] == [("one_voice", (1, 0))]
        assert found[0].text == (
            "13 of 15 passages come from “b”, but 12 of those are by P10 alone: more likely one person’s theme than the group’s."
        )


@pytest.mark.parametrize("measure", ["rate", "per_person"])
def test_rates_are_told_as_they_stand_with_their_interval(measure):
    snapshot = one_talk_each([0, 1] * 6 + [3, 4] * 6)
    base = "words" if measure == "rate" else "with_material"
    found, _ = told(snapshot, groups(12, 12), measure=measure, base=base)
    assert found[0].standing == "sure"
    assert "comes up by chance in fewer than 1 of 1,000 projects in which nothing differs" in found[0].text
    assert "42 passages by 12 people" in found[0].text
    assert 0 < found[0].low < found[0].difference < found[0].high


def test_that_people_heard_each_other_is_said_with_the_interval_only_where_there_is_one():
    snapshot = together(one_talk_each([0, 1] * 6 + [5, 6] * 6), [12, 13])
    found, _ = told(snapshot, groups(12, 12), measure="rate", base="words")
    assert found[0].cautions[0].text.endswith("they are dealt out together, but count singly in the interval.")
    # Too few who add anything for an interval of the first group.
    bare = together(one_talk_each([0] * 12 + [5, 6] * 6), [12, 13])
    found, _ = told(bare, groups(12, 12), measure="rate", base="words")
    assert "too few people for an interval" in found[0].text
    assert found[0].cautions[0].text.endswith("in a conversation: they are dealt out together.")


def with_words(snapshot):
    """Every passage a word of two letters; everybody says 60 of them."""
    weaves = [weave("ab " * 60 + "x" * 20, [(0, 179)]) for _ in snapshot.document_ids]
    found = texture(snapshot, weaves)
    return replace(snapshot, turn_words=np.diff(found.turn_first).astype(np.int32)), found


def test_words_are_told_as_words_and_as_a_share_of_talk():
    snapshot, woven = with_words(one_talk_each([0, 1] * 6 + [3, 4] * 6))
    asked = {"measure": "words", "texture": woven}
    found, _ = told(snapshot, groups(12, 12), base="talk", **asked)
    assert found[0].text.startswith(
        "5.8 % in “b” (42 words by 12 people), 0.8 % in “a” (6 words by 6 people): 5 points apart"
    )
    of_row, _ = told(snapshot, groups(12, 12), base="row", **asked)
    assert of_row[0].text.startswith(
        "88 % in “b” (42 words by 12 people), 12 % in “a” (6 words by 6 people): 75 points apart."
    )


def test_ratings_are_told_as_means():
    snapshot = one_talk_each([1] * 24)
    rated = replace(snapshot, coding_rating=np.array([1, 2] * 6 + [4, 5] * 6, np.int8))
    found, _ = told(rated, groups(12, 12), measure="rating", base="ratings")
    assert found[0].text.startswith(
        "4.50 mean rating in “b” (12 ratings by 12 people), 1.50 in “a” (12 ratings by 12 people): 3.00 apart"
    )
    assert found[0].standing == "sure"


@pytest.mark.parametrize("measure", ["people", "passages", "rate"])
def test_a_group_of_nobody_is_never_the_lower_one(measure):
    snapshot = one_talk_each([0] * 3 + [1] * 9 + [3] * 12, silent=5)
    labels = np.array([0] * 12 + [1] * 12 + [2] * 5, np.int32)
    base = {"people": "with_material", "passages": "row", "rate": "words"}[measure]
    found, _ = told(snapshot, Groups(("a", "b", "nobody"), labels), measure=measure, base=base)
    assert all(2 not in one.groups for one in found)
    assert found or measure == "people"


def test_the_two_farthest_of_six_groups_were_picked():
    counts = [0] * 7 + [1, 1, 0, 0, 0, 0, 0] * 4 + [1, 1, 1, 1, 0, 0, 0]
    found, _ = told(one_talk_each(counts), groups(7, 7, 7, 7, 7, 7))
    assert all(one.standing != "sure" for one in found)
    clear, _ = told(one_talk_each([0] * 9 + [1] * 5 + [0] * 4 + [1] * 9), groups(9, 9, 9))
    assert [(one.groups, one.standing) for one in clear] == [((2, 0), "sure")]
