"""Topics that words propose: planted ones are found again, in English and German; only what several people say; bad input."""

import random
from itertools import pairwise

import numpy as np
import pytest
from scipy import stats

from core.coding.phrases import phrases_of
from core.coding.talk import ALONE, NOTHING, WITHIN, Talk, spoken_in
from core.coding.topic_hits import Sentences, stretches
from core.coding.topics import TooLittle, _ratio, propose
from core.text.words import words

IDLE = {
    "english": set(
        [
            "the",
            "a",
            "an",
            "of",
            "to",
            "in",
            "on",
            "and",
            "it",
            "is",
            "was",
            "i",
            "we",
            "they",
            "you",
            "that",
            "then",
            "so",
            "there",
            "with",
            "for",
            "our",
            "my",
            "at",
            "her",
        ]
    ),
    "german": set(
        [
            "der",
            "die",
            "das",
            "und",
            "ist",
            "war",
            "ich",
            "wir",
            "sie",
            "es",
            "zu",
            "im",
            "in",
            "auf",
            "mit",
            "für",
            "den",
            "dem",
            "nicht",
            "dann",
            "ein",
            "eine",
        ]
    ),
}
PLANTED = {
    "english": {
        "bus": ("The bus driver never waited at the {}.", "We missed the connection with the bus driver in the {}.",
                "I saw the driver close the doors of the buses."),
        "letter": ("I wrote a letter to the {} and no answer came.", "They answered our letters with a printed {}.",
                   "A printed answer to my letter is no answer."),
        "clinic": ("The clinic moved the appointment to {}.", "My appointments at the clinic were in the {}.",
                   "The doctor of the clinic had no appointment."),
    },
    "german": {
        "Bus": ("Der Busfahrer wartet nicht auf den {}.", "Die Busfahrer fahren mit dem Anschluss zum {}.",
                "Der Anschluss ist weg und der Busfahrer lacht."),
        "Brief": ("Ich schrieb einen Brief zu dem {} und die Antwort war leer.", "Die Antworten auf die Briefe waren {}.",
                  "Ein Brief ist ein Brief und die Antwort ist leer."),
        "Arzt": ("Der Arzt verschob den Termin zu {}.", "Die Termine im Krankenhaus waren mit dem Arzt.",
                 "Im Krankenhaus war der Arzt und es war Termin."),
    },
}  # fmt: skip
OTHER = ["harbour", "lamp", "stone", "apple", "river", "window", "candle", "garden", "paper", "engine"]


def idle(language):
    return lambda said: said & IDLE[language]


def planted(language, people=12, seed=3):
    """Each person talks of two of the topics, among other things, in sentences that are no two people's alike."""
    dice = random.Random(seed)
    talks = []
    for person in range(people):
        parts = []
        for sentences in dice.sample(sorted(PLANTED[language].values()), 2):
            parts.append(" ".join(one.format(dice.choice(OTHER)) for one in dice.sample(sentences, 3)))
            parts.append(" ".join(f"{dice.choice(OTHER)} {dice.choice(OTHER)}." for _ in range(25)))
        text, turns = "", []
        for part in parts:
            turns.append((len(text), len(text) + len(part)))
            text += part + "\n"
        talks.append(Talk(person, text, tuple(turns), (person,) * len(turns)))
    return talks


def proposed(talks, language="english", many=6):
    return propose(talks, language, idle(language), many, lambda far: None)


@pytest.mark.parametrize("language", ["english", "german"])
def test_planted_topics_are_found_each_with_its_own_words_and_forms(language):
    talks = planted(language)
    found = proposed(talks, language)
    for key, sentences in PLANTED[language].items():
        mine = [one for one in found.topics if any(key.casefold() in phrase.said.casefold() for phrase in one.phrases)]
        assert mine, (key, [one.name for one in found.topics])
        # Nothing of another planted topic is gathered with it.
        own = {word.casefold() for sentence in sentences for word in words(sentence)}
        others = {
            word.casefold()
            for other, said in PLANTED[language].items()
            if other != key
            for one in said
            for word in words(one)
        }
        strange = {word.casefold() for topic in mine for phrase in topic.phrases for word in words(phrase.said)} & (
            others - own
        )
        assert not strange, (key, strange)


def test_its_hits_are_all_sentences_with_any_form_of_its_words_and_its_people_all_who_say_them():
    talks = planted("english")
    found = proposed(talks)
    topic = next(one for one in found.topics if any("letter" in phrase.said for phrase in one.phrases))
    said = {
        (talks[int(found.spoken.document[at])].document, talks[int(found.spoken.document[at])].text[found.spoken.start[at] : found.spoken.end[at]])
        for at in topic.sentences
    }  # fmt: skip
    by_hand = {
        (talk.document, sentence.strip())
        for talk in talks
        for start, end in talk.turns
        for sentence in talk.text[start:end].replace(".", ".\n").split("\n")
        if "letter" in sentence
    }
    assert by_hand <= said
    assert set(found.spoken.speaker[topic.sentences].tolist()) >= {person for person, _ in by_hand}
    people = [len(set(found.spoken.speaker[one.sentences].tolist())) for one in found.topics]
    assert people == sorted(people, reverse=True)


def test_what_one_person_says_alone_is_no_topic_however_often():
    talks = planted("english")
    rave = "Submarines submarines everywhere. " * 40
    talks[0] = Talk(
        0, talks[0].text + rave, (*talks[0].turns, (len(talks[0].text), len(talks[0].text) + len(rave))), (0,) * 5
    )
    said = {phrase.said.casefold() for topic in proposed(talks).topics for phrase in topic.phrases}
    assert not {one for one in said if "submarine" in one}


def test_words_that_the_project_leaves_out_and_interviewers_turns_say_nothing():
    talks = planted("english")
    without = propose(
        talks, "english", lambda said: (said & IDLE["english"]) | (said & {"letter", "letters"}), 6, lambda far: None
    )
    assert not [phrase.said for topic in without.topics for phrase in topic.phrases if "letter" in phrase.said]
    # A talk's turns are what is read: what stands between them isn't.
    quiet = [Talk(one.document, one.text, one.turns[1::2], one.people[1::2]) for one in talks]
    said = {phrase.said for topic in proposed(quiet).topics for phrase in topic.phrases}
    assert said
    assert not {one for one in said if "letter" in one or "clinic" in one}


def test_the_same_material_proposes_the_same():
    assert [one.name for one in proposed(planted("english")).topics] == [
        one.name for one in proposed(planted("english")).topics
    ]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("Boats and boats.", "3 words here"),
        ("", "0 words here"),
        (" ".join(f"word{at}." for at in range(300)), "No word that says something is said by two people"),
        ("the of to in on and it is was " * 40, "No word that says something is said by two people"),
    ],
)
def test_too_little_to_gather_is_a_sentence(text, says):
    half = text.find(" ", len(text) // 2) + 1
    with pytest.raises(TooLittle, match=says):
        proposed([Talk(1, text, ((0, half), (half, len(text))), (1, 2))] if text else [])
    with pytest.raises(TooLittle, match="Only one person"):
        proposed([Talk(1, "The boat is late. " * 60, ((0, 1080),), (1,))])


def test_words_sentences_and_stretches_against_going_through_the_text():
    talks = [
        *planted("english", people=3),
        Talk(9, "\n", (), ()),
        Talk(8, "Mr. Holm said: “It’s late – too late!” Really?", ((0, 47),), (8,)),
    ]
    spoken = spoken_in(talks, "english", idle("english"), lambda far: None)
    assert [spoken.forms[at] for at in spoken.form] == [
        word for talk in talks for start, end in talk.turns for word in words(talk.text[start:end])
    ]
    last = [
        talks[int(spoken.document[at])].text[spoken.start[at] : spoken.end[at]]
        for at in range(len(spoken.start)) if talks[int(spoken.document[at])].document == 8
    ]  # fmt: skip
    assert last == ["Mr. Holm said: “It’s late – too late!”", "Really?"]
    # A stretch is whole sentences of one turn.
    for before, after in pairwise(range(len(spoken.start))):
        if spoken.turn[before] != spoken.turn[after]:
            assert spoken.stretch[before] != spoken.stretch[after]
    assert (np.diff(spoken.sentence) >= 0).all()
    worth = {spoken.forms[form]: int(kind) for form, kind in zip(spoken.form, spoken.worth, strict=True)}
    assert (worth["the"], worth["missed"], worth["never"]) == (NOTHING, ALONE, WITHIN)


def test_phrases_against_going_through_the_words():
    talks = planted("english", people=4)
    spoken = spoken_in(talks, "english", idle("english"), lambda far: None)
    found = phrases_of(spoken, 2)
    naive = {}
    for at in range(len(spoken.form)):
        if spoken.worth[at] == ALONE:
            naive.setdefault(int(spoken.stem[at]), []).append(at)
    alone = {found.stems[place][0]: place for place in range(len(found.people)) if len(found.stems[place]) == 1}
    for stem, place in alone.items():
        assert sorted(found.at[found.phrase == place].tolist()) == naive[stem]
        assert found.people[place] == len({int(spoken.person[at]) for at in naive[stem]}) >= 2
    said = {one.casefold() for one in found.said}
    # No sign stands within a phrase, and one that is always part of a longer one isn't one of its own.
    assert "wrote a letter" in said
    assert not {one for one in said if "." in one}
    assert {"missed", "missed the connection"} & said == {"missed the connection"}


def test_sentences_that_follow_one_another_are_one_stretch_where_they_are_ticked_alike():
    column = lambda *values: np.array(values, np.int64)  # noqa: E731
    found = stretches(
        Sentences(
            topic=column(1, 1, 1, 1, 1, 2),
            document=column(5, 5, 5, 5, 5, 5),
            turn=column(0, 0, 0, 0, 1, 0),
            start=column(11, 0, 0, 40, 60, 0),
            end=column(20, 10, 10, 59, 70, 10),
            case=column(3, 3, 3, 3, 4, 3),
            ticked=np.array([True, True, True, True, True, True]),
        )
    )
    # The same sentence by two phrases, and the next one; one further on; one of another turn; another topic's.
    assert list(zip(found.topic, found.start, found.end, strict=True)) == [
        (1, 0, 20),
        (1, 40, 59),
        (1, 60, 70),
        (2, 0, 10),
    ]
    parted = stretches(
        Sentences(
            column(1, 1), column(5, 5), column(0, 0), column(0, 11), column(10, 20), column(3, 3), np.array([True, False])
        )
    )  # fmt: skip
    assert parted.ticked.tolist() == [True, False]


def test_what_binds_two_phrases_is_the_log_likelihood_ratio():
    """Held to scipy's of the same fourfold tables."""
    dice = np.random.default_rng(4)
    there = dice.random((200, 6)) < [0.1, 0.2, 0.3, 0.5, 0.7, 0.02]
    there[:, 1] |= there[:, 0]
    joint = (there.T.astype(float) @ there).astype(float)
    found = _ratio(joint, np.diag(joint).copy(), 200)
    for one in range(6):
        for other in range(6):
            if one != other:
                table = [
                    [int((there[:, one] == a).__and__(there[:, other] == b).sum()) for b in (True, False)]
                    for a in (True, False)
                ]
                right = stats.chi2_contingency(table, correction=False, lambda_="log-likelihood").statistic
                assert found[one, other] == pytest.approx(right, abs=1e-9)


def test_a_phrase_that_is_always_said_the_same_is_a_topic_of_its_own():
    """Its words are nothing by themselves, and it stands near no other phrase."""
    talks = []
    for at, word in enumerate(["aab", "bbc", "ccd", "dde", "eef", "ffg", "ggh", "hhi"]):
        own = f"{word} {word}x {word}y {word}z. " * 4
        text = f"{own}The wet lamp oil burned. {own}" if at < 3 else own * 2
        talks.append(Talk(at, text, ((0, len(text)),), (at,)))
    assert [topic.name for topic in proposed(talks).topics] == ["wet lamp oil"]
