"""What in a codebook wants a look, held against slow counting and against rapidfuzz's published example."""

import itertools

import numpy as np
import pytest

from core.coding import health
from core.snapshot.columns import PARTICIPANT
from core.snapshot.scope import Scope
from tests.core.worlds import random_snapshot


def passages_of(snapshot, code):
    return {int(p) for p, c in zip(snapshot.coding_passage, snapshot.coding_code, strict=True) if c == code}


def cases_of(snapshot, passage):
    """Cases of participants whose turns the passage touches, counted turn by turn."""
    found = set()
    for turn in range(len(snapshot.turn_start)):
        speaker = snapshot.turn_speaker[turn]
        if (
            snapshot.turn_document[turn] == snapshot.passage_document[passage]
            and snapshot.turn_start[turn] < snapshot.passage_end[passage]
            and snapshot.turn_end[turn] > snapshot.passage_start[passage]
            and snapshot.speaker_role[speaker] == PARTICIPANT
            and snapshot.speaker_case[speaker] >= 0
        ):
            found.add(int(snapshot.speaker_case[speaker]))
    return found


def beneath(snapshot, code):
    branch = {code}
    for _ in snapshot.code_ids:
        branch |= {place for place, parent in enumerate(snapshot.code_parent) if parent in branch}
    return branch


@pytest.mark.parametrize("seed", range(12))
def test_uses_are_those_of_counting_one_by_one(seed):
    snapshot = random_snapshot(seed)
    passages, people, documents = health.uses(snapshot)
    for code in range(len(snapshot.code_ids)):
        own = passages_of(snapshot, code)
        assert passages[code] == len(own)
        assert people[code] == len(set().union(*(cases_of(snapshot, one) for one in own)))
        assert documents[code] == len({int(snapshot.passage_document[one]) for one in own})


@pytest.mark.parametrize("seed", range(12))
def test_several_codes_count_each_passage_and_person_once(seed):
    snapshot = random_snapshot(seed)
    chosen = [0, 1, len(snapshot.code_ids) - 1]
    own = set().union(*(passages_of(snapshot, code) for one in chosen for code in beneath(snapshot, one)))
    people = set().union(*(cases_of(snapshot, one) for one in own))
    documents = {int(snapshot.passage_document[one]) for one in own}
    assert health.uses_together(snapshot, chosen) == (len(own), len(people), len(documents))
    assert health.uses_together(snapshot, []) == (0, 0, 0)


@pytest.mark.parametrize("seed", range(12))
def test_codes_on_the_same_passages_are_those_of_jaccard_pair_by_pair(seed, monkeypatch):
    monkeypatch.setattr(health, "SAME_PASSAGES", 0.25)
    monkeypatch.setattr(health, "FEWEST", 2)
    snapshot = random_snapshot(seed, codings=90)
    expected = {}
    for left, right in itertools.combinations(range(len(snapshot.code_ids)), 2):
        one, two = passages_of(snapshot, left), passages_of(snapshot, right)
        if min(len(one), len(two)) >= 2 and len(one & two) / len(one | two) >= 0.25:
            expected[left, right] = len(one & two) / len(one | two)
    found = health.alike_by_passages(snapshot)
    assert {(one.left, one.right): pytest.approx(one.likeness) for one in found} == expected
    assert [one.likeness for one in found] == sorted((one.likeness for one in found), reverse=True)


@pytest.mark.parametrize(
    ("names", "pairs"),
    [
        (["Missed connections", "missed conections", "Own boat"], [(0, 1)]),
        (["Waiting, cold", "cold waiting", "Who waits"], [(0, 1)]),
        (["Boat", "Bus"], []),
        (["Alone"], []),
        ([], []),
        (["A", "a", "A!"], [(0, 1), (0, 2), (1, 2)]),
    ],
)
def test_names_that_may_be_one(names, pairs):
    assert [(one.left, one.right) for one in health.alike_by_name(names)] == pairs


def test_likeness_of_names_is_the_published_one():
    # The README of rapidfuzz gives this ratio as 96.55172413793103 (from memory), without its order of words.
    (one,) = health.alike_by_name(["this is a test", "this is a test!"])
    assert one.likeness == pytest.approx(100.0)
    (two,) = health.alike_by_name(["this is a test", "this is a tests"])
    assert two.likeness == pytest.approx(96.55172413793103)


def test_an_empty_project_has_nothing_to_look_at():
    snapshot = random_snapshot(1, codings=2)
    nothing = np.zeros(0, np.int32)
    empty = type(snapshot)(**{**{name: getattr(snapshot, name) for name in snapshot.__dataclass_fields__},
                              "coding_passage": nothing, "coding_code": nothing, "coding_coder": nothing})  # fmt: skip
    assert health.alike_by_passages(empty) == []
    assert [counts.sum() for counts in health.uses(empty)] == [0, 0, 0]


@pytest.mark.parametrize("seed", range(6))
def test_what_a_merge_makes_one(seed):
    snapshot = random_snapshot(seed)
    said = health.merging(snapshot, 0, [1, 2])
    kept, *others = (passages_of(snapshot, code) for code in range(3))
    assert (said.kept, said.together) == (len(kept), len(kept | others[0] | others[1]))
    assert said.others == tuple((len(one), len(one & kept)) for one in others)


@pytest.mark.parametrize("seed", range(8))
def test_counts_in_scope_are_those_counted_passage_by_passage(seed):
    snapshot = random_snapshot(seed)
    generator = np.random.default_rng(seed)
    documents = generator.random(len(snapshot.document_ids)) < 0.6
    cases = generator.random(len(snapshot.case_ids)) < 0.6
    counts = health.uses(snapshot, Scope(documents, cases))
    for code in range(len(snapshot.code_ids)):
        said = {passage: cases_of(snapshot, passage) for passage in passages_of(snapshot, code)}
        kept = {
            passage
            for passage, who in said.items()
            if documents[snapshot.passage_document[passage]] and (not who or any(cases[one] for one in who))
        }
        people = {one for passage in kept for one in said[passage] if cases[one]}
        assert [int(column[code]) for column in counts] == [
            len(kept), len(people), len({int(snapshot.passage_document[passage]) for passage in kept}),
        ]  # fmt: skip
