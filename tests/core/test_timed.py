"""Timed texts, headings, comments, pages and answers on their way to turns."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.gather.answers import answers_of
from core.gather.labels import Line
from core.gather.pages import page_lines
from core.gather.timed import Cue, beyond, cue_lines, seconds_written, written_time
from core.gather.transcript import HEADINGS, Remark, read_transcript, timed_by_labels
from core.people.participants import SheetChoices, read_participants


def said(found):
    return [(found.speakers[turn.speaker].label, found.text[turn.ink_start : turn.ink_end]) for turn in found.turns]


def test_voices_are_speakers_and_keep_their_times():
    lines, warnings = cue_lines(
        [Cue(0, 2, "So how was it?", "INT"), Cue(2.1, 4, "Late.", "Olav"), Cue(4.2, 6, "Always late.", "Olav")]
    )
    found = read_transcript(lines)
    assert warnings == []
    assert said(found) == [("INT", "So how was it?"), ("Olav", "Late. Always late.")]
    assert [(turn.begin, turn.finish, turn.time) for turn in found.turns] == [(0, 2, "0:00"), (2.1, 6, "0:02")]
    assert [speaker.role for speaker in found.speakers] == ["interviewer", "participant"]


def test_names_before_colons_serve_where_there_are_no_voices():
    lines, _ = cue_lines([Cue(0, 1, "P1: One."), Cue(1, 2, "and more"), Cue(2, 3, "I: Two?"), Cue(3, 4, "P1: Three.")])
    assert said(read_transcript(lines)) == [("P1", "One. and more"), ("I", "Two?"), ("P1", "Three.")]


def test_a_long_pause_begins_another_turn():
    lines, _ = cue_lines([Cue(0, 1, "One."), Cue(30, 31, "Two.")])
    assert [turn.begin for turn in read_transcript(lines).turns] == [0, 30]


def test_cues_out_of_order_or_overlapping_are_put_right_and_said():
    lines, warnings = cue_lines([Cue(5, 6, "b"), Cue(0, 5.5, "a"), Cue(9, 8, "c")])
    assert [line.text for line in lines] == ["a", "b", "c"]
    assert len(warnings) == 3
    assert all((line.end or 0) >= (line.begin or 0) for line in lines)


def test_a_rolling_caption_is_kept_once():
    lines, _ = cue_lines([Cue(0, 1, "same"), Cue(1, 2, "same"), Cue(2, 3, "other")])
    assert [line.text for line in lines] == ["same", "other"]


def test_a_text_that_goes_on_after_its_recording_is_said():
    lines, _ = cue_lines([Cue(0, 100, "a")])
    assert "goes on to 1:40, but the recording ends at 0:50" in beyond(lines, 50)
    assert beyond(lines, 99) == ""
    assert beyond(lines, None) == ""


@pytest.mark.parametrize(
    ("time", "seconds"),
    [("1:02:07", 3727), ("04:09", 249), ("00:01.5 --> 00:04", 1.5), ("00:00:02,250", 2.25), ("noon", None)],
)
def test_times_as_written(time, seconds):
    assert seconds_written(time) == seconds


@given(st.integers(0, 40_000))
def test_times_survive_being_written_and_read(seconds):
    assert seconds_written(written_time(seconds)) == seconds


def test_times_beside_labels_serve_a_recording():
    found = timed_by_labels(
        read_transcript([Line("[00:00:02] P1: One."), Line("[00:00:09] I: Two?"), Line("[00:00:11] P1: Three.")])
    )
    assert [(turn.begin, turn.finish) for turn in found.turns] == [(2, 9), (9, 11), (11, 11)]


def test_headings_become_sections_and_nobodys_words():
    lines = [
        Line("Talk one", heading=1),
        Line("P1: Hello."),
        Line("I: Yes?"),
        Line("Later", heading=2),
        Line("P1: Bye."),
    ]
    found = read_transcript(lines)
    assert [(s.title, s.level, found.text[s.start : s.end].count("\n")) for s in found.sections] == [
        ("Talk one", 1, 4),
        ("Later", 2, 1),
    ]
    assert (HEADINGS, "Later") in said(found)
    assert next(speaker.role for speaker in found.speakers if speaker.label == HEADINGS) == "other"


def test_in_a_text_without_labels_headings_stay_in_the_one_turn():
    found = read_transcript(
        [Line("Note", heading=1), Line("It rained."), Line("After", heading=1), Line("It stopped.")]
    )
    assert len(found.turns) == 1
    assert [found.text[s.start : s.end].strip() for s in found.sections] == ["Note\nIt rained.", "After\nIt stopped."]


def test_comments_move_from_the_file_to_the_words_without_labels():
    lines = [Line("P1: The boat was late."), Line("I: And?"), Line("P1: I walked.")]
    start = lines[0].text.index("boat")
    found = read_transcript(
        lines, remarks=[Remark((0, start), (0, start + 4), "Which?", "Kim"), Remark((0, 0), (2, 12), "All", "Kim")]
    )
    assert [(found.text[mark.start : mark.end], mark.text) for mark in found.marks] == [
        ("boat", "Which?"),
        ("The boat was late.\nAnd?\nI walked", "All"),
    ]


def test_a_comment_on_a_label_alone_is_not_put_on_other_words():
    lines = [Line("P1: One."), Line("I: Two."), Line("P1: Three.")]
    assert read_transcript(lines, remarks=[Remark((0, 0), (0, 2), "who?", "Kim")]).marks == ()


def test_printed_lines_go_together_into_paragraphs_page_by_page():
    page = "The boat was late again and every one of us stood on the quay\r\nin the snow, waiting for the trans-\nport to come.\nP1: Hello there, said the man who stood beside me then.\n"
    lines = page_lines([page, "Next page."])
    assert [line.page for line in lines] == [1, 1, 2]
    assert lines[0].text.endswith("waiting for the transport to come.")
    assert lines[1].text.startswith("P1:")
    found = read_transcript([Line("Alone.", page=1), Line("Second.", page=2)])
    assert [(s.title, found.text[s.start : s.end].strip()) for s in found.sections] == [
        ("Page 1", "Alone."),
        ("Page 2", "Second."),
    ]


def test_headings_and_rows_of_a_table_stay_lines_of_their_own_on_a_page():
    page = "\n".join(
        [
            "Winter timetable",
            "From the first of November our crossings follow a plan that was drawn up with care, so",
            "that every vessel is where it is needed most. Crossings with low use were put",
            "together.",
            "Crossing Until October From November",
            "Evening, to the islands and back again the same night 17.05, 18.10, 20.30 17.05, 18.10",
            "Freight lifts four a day two a day",
            "Tell us what you think",
        ]
    )
    assert [line.text for line in page_lines([page])] == [
        "Winter timetable",
        "From the first of November our crossings follow a plan that was drawn up with care, so that every vessel is "
        "where it is needed most. Crossings with low use were put together.",
        "Crossing Until October From November",
        "Evening, to the islands and back again the same night 17.05, 18.10, 20.30 17.05, 18.10",
        "Freight lifts four a day two a day",
        "Tell us what you think",
    ]


def test_answers_are_one_document_a_person_and_a_section_a_question():
    rows = [
        ["ID", "Town", "What is hardest here?", "What would help you most?"],
        ["H1", "North", "Getting home late at night", "A later bus than that"],
        ["H2", "South", "", "Somebody who answers letters"],
        ["H3", "South", "n/a", " "],
    ]
    found = dict(answers_of(read_participants(rows, [], SheetChoices())))
    assert list(found) == ["H1", "H2"]
    assert found["H1"].text == "Getting home late at night\nA later bus than that"
    assert [(s.title, found["H1"].text[s.start : s.end].strip()) for s in found["H1"].sections] == [
        ("What is hardest here?", "Getting home late at night"),
        ("What would help you most?", "A later bus than that"),
    ]
    assert found["H2"].turns[0].ink_end == len(found["H2"].text)


texts = st.lists(
    st.sampled_from(["P1: One.", "I: Two?", "and more", "[00:03] P1: Three", "🚢", "", "Title"]), max_size=12
)


@given(texts, st.booleans())
def test_turns_always_cover_the_whole_text_in_order(lines, headed):
    found = read_transcript([Line(text, heading=int(headed and text == "Title")) for text in lines])
    at = 0
    for turn in found.turns:
        assert turn.start == at
        assert turn.start <= turn.ink_start <= turn.ink_end <= turn.end
        at = turn.end
    assert at == len(found.text)
    for section in found.sections:
        assert 0 <= section.start <= section.end <= len(found.text)


def test_comments_of_any_number_stand_where_they_did_and_take_their_time_in_proportion():
    """Comments on labels, on empty lines and beyond the end move as they did when each was looked for in all lines."""
    lines = [Line("P1: one two"), Line(""), Line("P2:"), Line("and more"), Line("")]
    remarks = [
        Remark((first, 0), (last, 99), f"{first}{last}", "Kim") for first in range(7) for last in range(first, 7)
    ]
    found = read_transcript(lines, remarks=remarks)
    told = {mark.text: found.text[mark.start : mark.end] for mark in found.marks}
    assert told["00"] == "one two"
    assert told["01"] == "one two"
    assert told["03"] == found.text.strip()
    assert told["13"] == told["33"] == "and more"
    assert "44" not in told
    assert "56" not in told
    many = [Line(f"P1: word {number} here") for number in range(30_000)]
    looked = [Remark((number, 4), (number, 8), str(number), "Kim") for number in range(30_000)]
    found = read_transcript(many, remarks=looked)
    assert [found.text[mark.start : mark.end] for mark in found.marks] == ["word"] * 30_000


def test_times_beside_labels_reach_to_the_next_that_is_written():
    lines = [Line(f"[00:00:{at:02}] P1: said" if at % 3 == 0 else "P2: said") for at in range(12)]
    found = timed_by_labels(read_transcript(lines))
    told = [(turn.begin, turn.finish) for turn in found.turns]
    assert told == [(at, at + 3 if at < 9 else at) if at % 3 == 0 else (None, None) for at in range(12)]
