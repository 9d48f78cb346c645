"""Turns and speakers from the ways transcripts are written."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.gather.labels import Line, bold_lines
from core.gather.plain import markdown_lines, text_lines
from core.gather.roles import by_meaning, likely_role
from core.gather.tables import speaker_columns
from core.gather.transcript import BEFORE_FIRST, WHOLE, Corrections, read_transcript
from core.gather.within import Part, parted
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


def bold(text: str):
    return read_transcript(markdown_lines(text))


def test_a_bold_run_within_a_line_is_a_label_where_lines_begin_with_it():
    found = bold("**Anna Roe** Hello. **Bo Lind** Yes? **Anna Roe** I said so.\n**Bo Lind** Good.")
    assert said(found) == [
        ("Anna Roe", "Hello."),
        ("Bo Lind", "Yes?"),
        ("Anna Roe", "I said so."),
        ("Bo Lind", "Good."),
    ]


def test_a_bold_run_behind_a_direction_is_a_label():
    found = bold("**Anna Roe** Good evening.\n(Applause.) **Mr. Bo Lind** Thank you.\n(They laugh.) **AUDIENCE** More!")
    assert said(found)[1:] == [("Mr. Bo Lind", "Thank you.\n(They laugh.)"), ("AUDIENCE", "More!")]


def test_stressed_words_are_no_labels_wherever_they_stand():
    found = bold(
        "**Anna** It never comes. **Never** again. **Really never**, I say.\n**Bo** I **see**. **Often** late?\n**Anna** Yes."
    )
    assert [label for label, _ in said(found)] == ["Anna", "Bo", "Anna"]
    assert "Never again." in found.text


def test_stressed_capitals_make_no_style_for_what_stands_before_a_colon():
    text = "**Anna** It is late. **NEVER** again. So. **NEVER** I say. Well. **NEVER** said. Yes. EU: they know.\n**Bo** Good."
    parts = [Part(number, line) for number, line in enumerate(markdown_lines(text))]
    assert [part.line.text[:4] for part in parted(parts)] == ["Anna", "Bo G"]


def test_a_bold_label_behind_a_line_break_is_noted_as_one_before_it():
    lines = bold_lines(
        [("Anna", True), (": Hello\n", False), ("Bo", True), (" ", False), ("Lind", True), (": Yes", False)]
    )
    assert [(line.text, line.bold, line.runs) for line in lines] == [("Anna: Hello", 4, ()), ("Bo Lind: Yes", 7, ())]
    (line,) = bold_lines([("So. ", False), ("Bo", True), (" yes ", False), ("no", True)])
    assert (line.bold, line.runs) == (0, ((4, 6), (11, 13)))
    assert line.part(4, 13) == Line("Bo yes no", 2, runs=((7, 9),))


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


WITHIN = {
    "one paragraph": "THE MAYOR: Thank you. (Applause.) AUDIENCE MEMBER: We love you! THE MAYOR: So do I.",
    "behind directions": "THE MAYOR: Thank you.\n(Applause.) AUDIENCE MEMBER: We love you!\n[Laughter] THE MAYOR: So do I.",
    "titles and notes": "Dr. ANA VOSS (Chair): Thank you. (Applause.) A VOICE FROM THE AUDIENCE: We love you! Dr. ANA VOSS: So do I.",
    "small letters": "Ana Voss: Thank you.\nAudience: We love you! Ana Voss: So do I.",
}


@pytest.mark.parametrize("way", WITHIN)
def test_labels_within_a_line_begin_a_turn(way):
    found = read(WITHIN[way])
    assert [role.role for role in found.speakers] == ["participant", "other"]
    turns = [
        text.removesuffix("\n(Applause.)").removesuffix(" (Applause.)").removesuffix("\n[Laughter]")
        for _, text in said(found)
    ]
    assert turns == ["Thank you.", "We love you!", "So do I."]
    assert [turn.speaker for turn in found.turns] == [0, 1, 0]


def test_what_stands_before_the_first_label_of_a_line_is_kept():
    found = read("It was late. ANA VOSS: Fine. BEN ROE: Well. ANA VOSS: Good.")
    assert said(found) == [
        (BEFORE_FIRST, "It was late."), ("ANA VOSS", "Fine."), ("BEN ROE", "Well."), ("ANA VOSS", "Good."),
    ]  # fmt: skip


@pytest.mark.parametrize(
    "text",
    [
        "There are two. EU: they pay. NB: they don't. So it is.",
        "We met him. Result: one boat. Dr. Roe said: no. Then we left: all of us.",
        "At 12:30 we ate. See https://example.org: it is there. (Note: wet.) Later: rain.",
    ],
)
def test_colons_within_sentences_are_no_labels(text):
    assert [speaker.label for speaker in read(text).speakers] == [WHOLE]


def test_a_label_within_a_line_that_is_none_leaves_its_line_whole():
    text = "ANA VOSS: We know it. OLD RULE: boats first. I said so.\nBEN ROE: Yes.\nANA VOSS: OLD RULE: again."
    assert "OLD RULE" in [speaker.label for speaker in read(text).speakers]
    found = read(text, ignored=("OLD RULE",))
    assert said(found)[0] == ("ANA VOSS", "We know it. OLD RULE: boats first. I said so.")


MARKED = {
    "wide colon": "{}：{}",
    "dash": "{} – {}",
    "tab": "{}\t{}",
    "numbered": "7 {}: {}",
    "colon in small": "{}: {}",
}


@pytest.mark.parametrize("way", MARKED)
@pytest.mark.parametrize(
    "names",
    [
        ("Ana", "Ben"),
        ("Dr. A. B. Voss", "Roe, Jane"),
        ("李明", "王芳"),
        ("ANA DE LA CRUZ", "P07"),
        ("de la Cruz, Ana", "Ben"),
    ],
)
def test_names_of_many_kinds_are_found_behind_many_signs(way, names):
    turns = [(names[0], "I went – twice."), (names[1], "So did I."), (names[0], "Never: never.")]
    assert said(read("\n".join(MARKED[way].format(*turn) for turn in turns))) == turns


def test_prose_with_dashes_stays_prose():
    text = "Anna – who was late – went home.\nThe boat came.\nWe ate.\nBen – not I – paid.\nIt rained."
    assert [speaker.label for speaker in read(text).speakers] == [WHOLE]


def test_one_speaker_written_in_several_ways_is_one():
    found = read("Ana Voss (fisher, 52): One.\nBEN: Two.\nAna Voss: Three.\nBen: Four.")
    assert [(one.label, one.written) for one in found.speakers] == [
        ("Ana Voss (fisher, 52)", ("Ana Voss (fisher, 52)", "Ana Voss")), ("BEN", ("BEN", "Ben")),
    ]  # fmt: skip
    apart = read("Ana (mother): One.\nAna (nurse): Two.\nAna (mother): Three.\nAna (nurse): Four.")
    assert [one.label for one in apart.speakers] == ["Ana (mother)", "Ana (nurse)"]


MEANT = [
    ("AUDIENCE", "other"), ("Member of the audience 3", "other"), ("Publikum", "other"), ("PUBLIC", "other"), ("Jane Public", "participant"), ("Une voix du public", "other"),
    ("Moderatorin", "interviewer"), ("Modérateur", "interviewer"), ("Moderadora", "interviewer"), ("Gespreksleider", "interviewer"),
    ("Announcer", "other"), ("Ansagerin", "other"), ("INTERPRETER", "other"), ("Dolmetscher", "other"), ("Traductrice", "other"),
    ("Intérprete", "other"), ("Tolk", "other"), ("Several voices", "other"), ("Mehrere Stimmen", "other"), ("Plusieurs voix", "other"),
    ("Unidentified male speaker", "other"), ("Unbekannter Sprecher", "other"), ("Voce sconosciuta", "other"), ("Onbekende vrouw", "other"),
    ("Crowd Smith", "participant"), ("Speaker 2", "participant"), ("Group 2", "participant"), ("Woman with a dog", "participant"),
]  # fmt: skip


@pytest.mark.parametrize(("label", "role"), MEANT)
def test_what_labels_mean_in_six_languages(label, role):
    """Common practice in transcripts; each guess that isn't the usual one says why."""
    guess = by_meaning(label)
    assert guess.role == role
    assert bool(guess.reason) == (role != "participant")


def test_whoever_asks_and_says_less_is_the_interviewer():
    answer = "I waited at the quay because nobody had told us that it would be late again."
    turns = [f"Ana: Was it late{' again' * at}?\nBen: {answer}" for at in range(4)]
    found = read("\n".join(turns))
    assert [one.role for one in found.speakers] == ["interviewer", "participant"]
    assert found.speakers[0].reason == "asks in 4 of 4 turns and says 22 % of the words"
    # Chosen is chosen, and needs no reason; where a label says who asks, nobody else is guessed.
    chosen = read("\n".join(turns), roles={"Ana": "participant"}).speakers[0]
    assert (chosen.role, chosen.reason) == ("participant", "")
    assert read("\n".join([*turns, "Interviewer: Fine."])).speakers[0].role == "participant"
    # Two who both ask are a conversation.
    both = "\n".join(f"Ana: Was it late{' again' * at}?\nBen: Was it? Or not{' at all' * at}?" for at in range(4))
    assert {one.role for one in read(both).speakers} == {"participant"}


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


def test_a_table_of_speakers_is_told_from_a_table_of_facts():
    talk = [
        ["Time", "Who", "What"],
        ["0:01", "Ana", "Was it late?"],
        ["0:09", "Ben", "It was, as ever."],
        ["0:12", "Ana", "And then?"],
    ]
    found = speaker_columns(talk)
    assert (found.when, found.who, found.said, found.headed) == (0, 1, 2, True)
    numbered = speaker_columns(
        [["1", "Ana", "Was it late?"], ["2", "Ben", "It was, as ever."], ["3", "Ana", "And then, tell me?"]]
    )
    assert (numbered.numbers, numbered.who, numbered.headed) == ((0,), 1, False)
    facts = [["Name", "Ana Voss"], ["Place", "the outer island, north"], ["Age", "fifty-two or so"]]
    assert speaker_columns(facts) is None
    assert speaker_columns([["Ana", "One two three four five."], ["Ana"], ["Ben", "Six."]]) is None


def test_numbers_alone_on_their_lines_are_nobody():
    assert [one.label for one in read("1\nIt was late.\n2\nIt rained.\n1\nWe ate.").speakers] == [WHOLE]


def test_whoever_goes_on_in_another_style_means_the_same_people():
    text = "[INT] How was it?\n[ANA] Late.\n[INT] And?\n[ANA] Later.\nINT: Why?\nANA: The wind. NOTE: it was strong.\nNB: nobody."
    found = read_transcript([Line(line) for line in text.split("\n")])
    assert [found.speakers[turn.speaker].label for turn in found.turns] == ["INT", "ANA"] * 3
    # A word before a colon that is nobody's here stays what was said.
    assert found.text.endswith("The wind. NOTE: it was strong.\nNB: nobody.")
