"""Questions of the guide: which turn asks which; who was asked; what came when asked."""

import numpy as np
import pytest

from core.coding.guide import LIKE, Put, asked, begins_in, interviewed, likenesses, mentions, present, told
from core.snapshot.columns import INTERVIEWER, PARTICIPANT, SPAN
from core.snapshot.incidence import incidence
from core.snapshot.snapshot import Snapshot
from tests.core.worlds import SlowCount, random_groups, random_scope, random_snapshot

QUESTIONS = [
    "How often do you go across?",
    "Were you told about the new timetable before it came?",
    "Who do you think decided it?",
    "Have you thought of leaving the island?",
]
TURNS = [
    ("(laughs) Who do you think decided it?", 2),
    ("So it is. Were you told, before it came?", 1),
    ("How often do you go over?", 0),
    ("Would you leave the island?", 3),
    ("And then?", None),
    ("Mm.", None),
    ("Whose idea was the shed?", None),
]


def test_a_turn_asks_the_question_it_is_most_like_whatever_stands_before_it():
    found = likenesses([turn for turn, _ in TURNS], QUESTIONS)
    for row, (turn, right) in zip(found, TURNS, strict=True):
        if right is None:
            assert row.max() < LIKE, turn
        else:
            assert (row.argmax(), row.max() >= LIKE) == (right, True), turn


def test_the_same_words_are_alike_and_nothing_is_like_nothing():
    assert likenesses(["Who decided?"], ["Who decided?"]) == pytest.approx(1.0)
    assert likenesses([], QUESTIONS).shape == (0, 4)
    assert likenesses(["…"], ["?"]).max() == 0
    german = likenesses(
        ["Wie oft fahren Sie denn hinüber?"], ["Wie oft sind Sie hinübergefahren?", "Wer half?"], "german"
    )
    assert german.argmax() == 0


def random_put(seed, snapshot, questions=3):
    """Interviewers' turns that ask one of so many questions."""
    generator = np.random.default_rng(seed + 31)
    own = np.flatnonzero(snapshot.speaker_role[snapshot.turn_speaker] == INTERVIEWER)
    turns = np.sort(generator.choice(own, min(len(own), 6), replace=False)) if len(own) else own
    return Put(turns.astype(np.int64), generator.integers(0, questions, len(turns)))


@pytest.mark.parametrize("seed", range(25))
def test_who_was_asked_is_who_speaks_where_it_was_put(seed):
    held = random_snapshot(seed)
    scope, put = random_scope(seed, held), random_put(seed, held)
    found = asked(held, put, 3, present(held, scope))
    for question in range(3):
        documents = {
            int(held.turn_document[turn]) for turn, one in zip(put.turn, put.question, strict=True) if one == question
        }
        slowly = set()
        for document, speaker in zip(held.turn_document.tolist(), held.turn_speaker.tolist(), strict=True):
            case = int(held.speaker_case[speaker])
            if document not in documents or held.speaker_role[speaker] != PARTICIPANT or case < 0:
                continue
            if (scope.documents is None or scope.documents[document]) and (scope.cases is None or scope.cases[case]):
                slowly.add(case)
        assert set(np.flatnonzero(found[question]).tolist()) == slowly


@pytest.mark.parametrize("seed", range(25))
def test_when_asked_is_within_so_many_turns_of_the_same_talk(seed):
    held = random_snapshot(seed)
    scope, put = random_scope(seed, held), random_put(seed, held)
    codes, within = np.array([0, 3]), 2
    rows = incidence(held, roll_up=True, codings=scope.coding_mask(held))
    found = mentions(held, put, 1, rows, codes, within, scope)
    slow = SlowCount(held, scope)
    when, own = set(), set()

    def beneath(code):
        return code in codes or (held.code_parent[code] >= 0 and beneath(held.code_parent[code]))

    for passage in range(len(held.passage_ids)):
        codings = [
            at
            for at in range(len(held.coding_code))
            if held.coding_passage[at] == passage
            and beneath(held.coding_code[at])
            and (scope.coders is None or scope.coders[held.coding_coder[at]])
        ]
        if not codings or (scope.documents is not None and not scope.documents[held.passage_document[passage]]):
            continue
        turns = [
            turn
            for turn in range(len(held.turn_document))
            if held.turn_document[turn] == held.passage_document[passage]
            and held.speaker_role[held.turn_speaker[turn]] != INTERVIEWER
            and max(held.turn_start[turn], held.passage_start[passage])
            < min(held.turn_end[turn], held.passage_end[passage])
        ]
        prompted = bool(turns) and any(
            question == 1
            and held.turn_document[turn] == held.passage_document[passage]
            and 0 <= turns[0] - turn <= within
            for turn, question in zip(put.turn.tolist(), put.question.tolist(), strict=True)
        )
        (when if prompted else own).update(slow.cases_of(passage))
    assert set(np.flatnonzero(found.when_asked).tolist()) == when
    assert set(np.flatnonzero(found.own_accord).tolist()) == own
    # By group, each case once, those outside nowhere.
    groups, people = random_groups(seed), np.ones(len(held.case_ids), bool)
    put_to = asked(held, put, 3, present(held, scope))[1]
    counted = told(groups.labels, groups.count, people, put_to, found)
    for group in range(groups.count):
        there = set(np.flatnonzero(groups.labels == group).tolist())
        asked_there = there & set(np.flatnonzero(put_to).tolist())
        assert counted.asked[group] == len(asked_there)
        assert counted.asked_mention[group] == len(asked_there & (when | own))
        assert (counted.when_asked[group], counted.own_accord[group]) == (len(there & when), len(there & own))


def test_a_span_of_a_recording_begins_in_the_turn_of_its_time():
    held = Snapshot(
        1, np.arange(1), *(np.array(one, np.int32) for one in ([0, 0, 0], [0, 5, 10], [4, 9, 14], [0, 1, 1], [1, 1, 1])),
        np.array([INTERVIEWER, PARTICIPANT], np.int8), np.array([-1, 0], np.int32), np.array([7]),
        np.array([50, 51, 52]), *(np.array(one, np.int32) for one in ([0, 0, 0], [0, 0, 0], [0, 0, 0], [0], [0], [0])),
        np.array([9]), np.array([-1], np.int32), np.arange(1),
        passage_kind=np.array([SPAN, SPAN, SPAN], np.int8),
        passage_begin=np.array([0.5, 3.0, 8.0]), passage_finish=np.array([1.0, 4.5, 9.0]),
        turn_begin=np.array([0.0, 2.0, 4.0]), turn_finish=np.array([2.0, 4.0, 6.0]),
    )  # fmt: skip
    # In the interviewer's time nobody else speaks; between two it is the first; after the last there is none.
    assert begins_in(held, np.arange(3)).tolist() == [-1, 1, -1]


@pytest.mark.parametrize("seed", range(8))
def test_where_no_interviewer_says_a_word_nobody_could_be_asked(seed):
    held = random_snapshot(seed)
    asks = {
        int(held.turn_document[turn])
        for turn in range(len(held.turn_document))
        if held.speaker_role[held.turn_speaker[turn]] == INTERVIEWER and held.turn_words[turn]
    }
    assert set(np.flatnonzero(interviewed(held).documents).tolist()) == asks
    scope = random_scope(seed, held)
    narrowed = interviewed(held, scope)
    assert narrowed.cases is scope.cases
    kept = (
        set(range(len(held.document_ids))) if scope.documents is None else set(np.flatnonzero(scope.documents).tolist())
    )
    assert set(np.flatnonzero(narrowed.documents).tolist()) == asks & kept


def test_no_question_and_no_code_are_nothing():
    held = random_snapshot(3)
    nothing = Put(np.zeros(0, np.int64), np.zeros(0, np.int64))
    assert not asked(held, nothing, 2, present(held)).any()
    found = mentions(held, nothing, 0, held.branch_rows, np.zeros(0, np.int64))
    assert not (found.when_asked | found.own_accord).any()
