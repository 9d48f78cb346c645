"""Turns and speakers from the ways transcripts are written."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.gather.labels import Line
from core.gather.plain import markdown_lines, text_lines
from core.gather.roles import likely_role
from core.gather.transcript import BEFORE_FIRST, WHOLE, Corrections, read_transcript
from core.text.normalise import ink_bounds, normalise
from core.text.words import count_words, words


def read(text: str, **corrections):
    return read_transcript(text_lines(text), Corrections(**corrections))


def said(found):
    return [(found.speakers[t.speaker].label, found.text[t.ink_start : t.ink_end]) for t in found.turns]


LABELLED = {
    "colon": "Interviewer: How are you?\nP1: Well: thanks.\nAnd you?\nInterviewer: Fine.\nP1: Good.",
    "bracket": "[Interviewer] How are you?\n[P1] Well: thanks.\nAnd you?\n[Interviewer] Fine.\n[P1] Good.",
    "upper": "INTERVIEWER\nHow are you?\n\nP1\nWell: thanks.\nAnd you?\n\nINTERVIEWER\nFine.\n\nP1\nGood.",
    "alone": "Interviewer\nHow are you?\nP1\nWell: thanks.\nAnd you?\nInterviewer\nFine.\nP1\nGood.",
    "stamped colon": "[00:00:01] Interviewer: How are you?\n[00:00:04] P1: Well: thanks.\nAnd you?\n[00:01:00] Interviewer: Fine.\n(00:01:02) P1: Good.",
    "stamp after": "Interviewer 00:01\nHow are you?\nP1 00:04\nWell: thanks.\nAnd you?\nInterviewer 01:00\nFine.\nP1 01:02\nGood.",
    "stamped bracket": "00:00:01 [Interviewer] How are you?\n00:00:04 [P1] Well: thanks.\nAnd you?\n00:01:00 [Interviewer] Fine.\n00:01:02 [P1] Good.",
}


@pytest.mark.parametrize("way", LABELLED)
def test_every_way_of_labelling_gives_the_same_turns(way):
    found = read(LABELLED[way])
    turns = [(label.casefold(), text) for label, text in said(found)]
    assert turns == [
        ("interviewer", "How are you?"),
        ("p1", "Well: thanks.\nAnd you?"),
        ("interviewer", "Fine."),
        ("p1", "Good."),
    ]
    assert [speaker.role for speaker in found.speakers] == ["interviewer", "participant"]
    if "stamp" in way:
        assert all(turn.time for turn in found.turns)


def test_bold_labels_with_and_without_a_colon():
    lines = [
        Line("Anna: Hello there", 5),
        Line("Bo  I see: yes", 3),
        Line("really bold statement in the middle", 0),
        Line("Anna Good", 5),
    ]
    assert said(read_transcript(lines)) == [
        ("Anna", "Hello there"), ("Bo", "I see: yes\nreally bold statement in the middle"), ("Anna", "Good"),
    ]  # fmt: skip
    assert said(read_transcript(markdown_lines("**Int.:** Hm?\n\n**P3:** Some **loud** word.\n\n**Int.:** Ah.")))[
        1
    ] == ("P3", "Some loud word.")


@pytest.mark.parametrize(
    "text",
    [
        "A field note. I went there: and back.\nToday: rain.\nNote: bring boots.",
        "See https://example.org\nat 12:30 we ate",
        "He said: no.\nAnd then she said: yes.",
    ],
)
def test_prose_is_one_turn(text):
    found = read(text)
    assert [speaker.label for speaker in found.speakers] == [WHOLE]
    assert found.text == text


def test_what_stands_above_the_first_label_is_kept_and_nobodys():
    found = read("Interview of 3 May\nDate: 3 May\nQ: What?\nA: That.\nQ: Why?\nA: So.")
    assert said(found)[0] == (BEFORE_FIRST, "Interview of 3 May\nDate: 3 May")
    assert [speaker.role for speaker in found.speakers] == ["other", "interviewer", "participant"]


def test_whoever_speaks_once_is_found_where_labels_are_marked():
    lines = [Line("Interviewer: And you?", 12), Line("The lady in green: Never.", 18), Line("Interviewer: Thanks.", 12)]
    assert [label for label, _ in said(read_transcript(lines))] == ["Interviewer", "The lady in green", "Interviewer"]


def test_corrections_rename_merge_ignore_and_give_roles():
    text = "Int.: Hm?\nMaria: Yes.\nINT: And?\nMaria: No.\nWarning: wet floor.\nMaria: Oh.\nWarning: again."
    found = read(text, renamed={"INT": "Int."}, ignored=("Warning",), roles={"Maria": "other"})
    assert [speaker.label for speaker in found.speakers] == ["Int.", "Maria"]
    assert said(found)[3] == ("Maria", "No.\nWarning: wet floor.")
    assert found.speakers[1].role == "other"
    assert [speaker.label for speaker in read(text, one_turn=True).speakers] == [WHOLE]


@pytest.mark.parametrize("label", ["Interviewer", "INT.", "I", "Q", "Moderator 2", "Interviewerin", "entrevistadora"])
def test_common_interviewer_labels(label):
    assert likely_role(label) == "interviewer"


@pytest.mark.parametrize("label", ["P1", "A", "R", "Maren", "Speaker 3", "Man with dog"])
def test_others_are_participants(label):
    assert likely_role(label) == "participant"


@settings(max_examples=150)
@given(st.text(max_size=400))
def test_turns_cover_any_text_whole_and_in_order(text):
    found = read_transcript(text_lines(text))
    at = 0
    for turn in found.turns:
        assert turn.start == at
        assert turn.start <= turn.ink_start <= turn.ink_end <= turn.end
        at = turn.end
    assert at == len(found.text)
    assert normalise(found.text) == found.text


def test_words_are_unicode_word_segments():
    # UAX 29, table 3 and its examples: an apostrophe between letters, a point between digits.
    assert words("I can't pay 3.2 euros – e.g. now!") == ["I", "can't", "pay", "3.2", "euros", "e.g", "now"]
    assert count_words("… — !!") == 0


def test_normalising_keeps_one_form():
    assert normalise("e\u0301a\r\nb\rc\x00\ufeff") == "éa\nb\nc"
    assert ink_bounds("  ab c \n", 0, 8) == (2, 6)
    assert ink_bounds(" \n ", 0, 3) == (0, 0)
