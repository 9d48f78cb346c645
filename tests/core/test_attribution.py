"""Who said a passage: worked by hand on one small document.

0123456789 0123456789 0123456789
[ Q: 0–9 ] [ A: 10–19 ] [ B: 20–29 ]   turns with their last character a line break
"""

import numpy as np
import pytest

from core.compare.by_part import compare
from core.compare.evidence import evidence
from core.compare.groups import Groups
from core.compare.question import Comparison
from core.snapshot.attribution import INTERVIEWER_ONLY, NOT_LINKED, OTHER_ONLY, SPOKEN, distinct, expand
from core.snapshot.columns import INTERVIEWER, OTHER, PARTICIPANT
from core.snapshot.masks import case_words, has_material, passage_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot


def one_document(passages, roles=(INTERVIEWER, PARTICIPANT, PARTICIPANT), links=(-1, 0, 1), codings=None) -> Snapshot:
    """Three turns of ten characters by three speakers; each passage is coded with code 0."""
    codings = codings or [(place, 0, 0) for place in range(len(passages))]

    def column(rows, place):
        return np.array([row[place] for row in rows], np.int32)

    return Snapshot(
        revision=1,
        document_ids=np.array([1]),
        turn_document=np.zeros(3, np.int32),
        turn_start=np.array([0, 10, 20], np.int32),
        turn_end=np.array([9, 19, 29], np.int32),
        turn_speaker=np.array([0, 1, 2], np.int32),
        turn_words=np.array([5, 7, 9], np.int32),
        speaker_role=np.array(roles, np.int8),
        speaker_case=np.array(links, np.int32),
        case_ids=np.array([50, 51]),
        passage_ids=np.arange(len(passages)),
        passage_document=np.zeros(len(passages), np.int32),
        passage_start=column(passages, 0),
        passage_end=column(passages, 1),
        coding_passage=column(codings, 0),
        coding_code=column(codings, 1),
        coding_coder=column(codings, 2),
        code_ids=np.array([7, 8]),
        code_parent=np.array([-1, 0], np.int32),
        coder_ids=np.array([1, 2]),
    )


def cases_of(snapshot: Snapshot, passage: int) -> list[int]:
    said = snapshot.attributions
    return said.case[said.first[passage] : said.first[passage + 1]].tolist()


@pytest.mark.parametrize(
    ("passage", "cases", "standing"),
    [
        ((0, 5), [], INTERVIEWER_ONLY),
        ((12, 15), [0], SPOKEN),
        ((12, 25), [0, 1], SPOKEN),
        ((0, 29), [0, 1], SPOKEN),
        # The interviewer's last word and the line break after it: nothing of the next turn.
        ((5, 10), [], INTERVIEWER_ONLY),
        ((5, 11), [0], SPOKEN),
        ((18, 20), [0], SPOKEN),
        ((28, 29), [1], SPOKEN),
    ],
)
def test_a_passage_belongs_to_those_whose_words_it_touches(passage, cases, standing):
    snapshot = one_document([passage])
    assert cases_of(snapshot, 0) == cases
    assert snapshot.attributions.standing[0] == standing


def test_unlinked_and_other_speakers_are_told_apart():
    passages = [(1, 5), (12, 15), (22, 25)]
    snapshot = one_document(passages, roles=(OTHER, PARTICIPANT, PARTICIPANT), links=(-1, -1, 1))
    assert snapshot.attributions.standing.tolist() == [OTHER_ONLY, NOT_LINKED, SPOKEN]


def test_a_linked_voice_in_a_passage_makes_it_count():
    snapshot = one_document([(12, 25)], links=(-1, -1, 1))
    assert cases_of(snapshot, 0) == [1]
    assert snapshot.attributions.standing[0] == SPOKEN


def test_what_two_people_say_together_is_nobodys_alone():
    snapshot = one_document([(12, 15), (12, 25), (28, 29)])
    assert snapshot.attributions.only_by(0).tolist() == [0]
    assert snapshot.attributions.only_by(1).tolist() == [2]
    assert snapshot.attributions.only_by(-1).tolist() == []


def test_one_case_speaking_twice_is_one_case():
    snapshot = one_document([(12, 25)], links=(-1, 1, 1))
    assert cases_of(snapshot, 0) == [1]
    assert not snapshot.attributions.shared[0]


def test_no_passages_and_no_turns_are_calm():
    assert one_document([]).attributions.case.tolist() == []
    assert compare(one_document([]), Comparison((0,), Groups(("a",), np.zeros(2, np.int32)))).left_out.in_scope == 0


def test_a_row_counts_a_passage_once_whatever_codes_and_coders_it_carries():
    # One passage, a code and the code beneath it, by two coders each.
    snapshot = one_document([(12, 15)], codings=[(0, 0, 0), (0, 0, 1), (0, 1, 0), (0, 1, 1)])
    groups = Groups(("a", "b"), np.array([0, 1], np.int32))
    rolled = compare(snapshot, Comparison((0, 1), groups, roll_up=True))
    assert rolled.passages.tolist() == [[1, 0], [1, 0]]
    assert rolled.total_passages.tolist() == [1, 1]
    assert rolled.left_out.in_scope == 1


def test_a_passage_by_people_of_two_groups_counts_in_both_and_once_under_everyone():
    snapshot = one_document([(12, 25)])
    result = compare(
        snapshot, Comparison((0,), Groups(("a", "b"), np.array([0, 1], np.int32)), measure="passages", base="row")
    )
    assert result.passages.tolist() == [[1, 1]]
    assert result.total_passages.tolist() == [1]
    assert result.figure.tolist() == [[1, 1]]


def test_a_passage_by_two_people_of_one_group_counts_once_in_it():
    snapshot = one_document([(12, 25), (12, 15)])
    result = compare(
        snapshot, Comparison((0,), Groups(("a",), np.zeros(2, np.int32)), measure="passages", base="column")
    )
    assert result.passages.tolist() == [[2]]
    assert result.people.tolist() == [[2]]
    assert result.group_passages.tolist() == [2]


def test_rates_are_over_ones_own_words():
    snapshot = one_document([(12, 15), (22, 25), (26, 28)])
    groups = Groups(("a", "b"), np.array([0, 1], np.int32))
    result = compare(snapshot, Comparison((0,), groups, measure="rate", base="words"))
    assert result.base.tolist() == [[7, 9]]
    assert result.figure[0] == pytest.approx([1000 / 7, 2000 / 9])
    assert result.total_figure[0] == pytest.approx(3000 / 16)


def test_a_scope_of_people_leaves_out_their_words_and_passages():
    snapshot = one_document([(12, 15), (22, 25), (1, 5)])
    scope = Scope(cases=np.array([True, False]))
    assert case_words(snapshot, scope).tolist() == [7, 0]
    assert has_material(snapshot, scope).tolist() == [True, False]
    # What nobody said stays in scope: it belongs to the documents.
    assert passage_mask(snapshot, scope).tolist() == [True, False, True]


def test_a_scope_of_coders_leaves_out_what_others_coded():
    snapshot = one_document([(12, 15), (22, 25)], codings=[(0, 0, 0), (1, 0, 1)])
    groups = Groups(("a", "b"), np.array([0, 1], np.int32))
    only_first = Scope(coders=np.array([True, False]))
    assert compare(snapshot, Comparison((0,), groups, scope=only_first)).people.tolist() == [[1, 0]]


def test_evidence_puts_the_most_talkative_first_and_reads_in_order():
    snapshot = one_document([(22, 25), (12, 15), (26, 28)])
    asked = Comparison((0,), Groups(("a", "b"), np.array([0, 1], np.int32)))
    found = evidence(snapshot, asked, 0, None)
    assert list(zip(found.case.tolist(), found.passage.tolist(), strict=True)) == [(1, 0), (1, 2), (0, 1)]
    assert found.silent.tolist() == []
    assert evidence(snapshot, asked, 0, 0).passage.tolist() == [1]


def test_ranges_and_distinct_values():
    owner, values = expand(np.array([2, 5, 9]), np.array([4, 5, 8]))
    assert owner.tolist() == [0, 0]
    assert values.tolist() == [2, 3]
    assert distinct(np.array([3, 1, 3, 2, 1])).tolist() == [1, 2, 3]
    assert distinct(np.array([], np.int64)).tolist() == []


def test_chosen_groups_keep_their_order_and_put_the_rest_outside():
    groups = Groups(("a", "b", "c"), np.array([0, 1, 2, -1], np.int32)).choose([2, 0])
    assert groups.names == ("c", "a")
    assert groups.labels.tolist() == [1, -100, 0, -1]
    assert groups.sizes.tolist() == [1, 1]


def test_regions_are_of_the_one_who_takes_part_and_spans_of_whoever_is_heard():
    """Document 0: a drawing by one participant; 1: a picture two take part in; 2: a notice of nobody's;
    3: a recording with an interviewer, a linked and an unlinked participant."""
    none = np.zeros(0, np.int32)
    roles = np.array([PARTICIPANT, PARTICIPANT, PARTICIPANT, OTHER, INTERVIEWER, PARTICIPANT, PARTICIPANT], np.int8)
    spans = {4: (0.5, 1.0), 5: (0.5, 3.0), 6: (3.5, 4.5), 7: (9.0, 9.5)}
    held = Snapshot(
        1, np.arange(4), np.array([3, 3, 3]), np.array([0, 5, 9]), np.array([4, 8, 12]), np.array([4, 5, 6]), np.ones(3, np.int32),
        roles, np.array([0, 0, 1, -1, -1, 1, -1]), np.array([50, 51]),
        np.arange(8), np.array([0, 1, 2, 3, 3, 3, 3, 3]), np.array([0, 0, 0, 5, 0, 0, 0, 0]), np.array([0, 0, 0, 7, 0, 0, 0, 0]),
        none, none, none, none, none, none,
        speaker_document=np.array([0, 1, 1, 2, 3, 3, 3]), passage_kind=np.array([1, 1, 1, 0, 2, 2, 2, 2], np.int8),
        passage_begin=np.array([spans.get(p, (np.nan,) * 2)[0] for p in range(8)]),
        passage_finish=np.array([spans.get(p, (np.nan,) * 2)[1] for p in range(8)]),
        turn_begin=np.array([0.0, 2.0, 4.0]), turn_finish=np.array([2.0, 4.0, 6.0]),
    )  # fmt: skip
    said = held.attributions
    assert list(zip(said.passage.tolist(), said.case.tolist(), strict=True)) == [(0, 0), (3, 1), (5, 1), (6, 1)]
    assert said.standing.tolist() == [
        SPOKEN, NOT_LINKED, OTHER_ONLY, SPOKEN, INTERVIEWER_ONLY, SPOKEN, SPOKEN, OTHER_ONLY,
    ]  # fmt: skip
