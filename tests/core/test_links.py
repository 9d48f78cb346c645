"""Who a speaker seems to be, and how certain that is. Names and files are invented."""

import pytest

from core.people.called import Calling
from core.people.linking import UnlinkedSpeaker, propose_links

CASES = {1: "P01", 2: "P02", 3: "P03", 4: "P04"}


def speaker(key, label="Whole document", document="talk.txt", alone=True, beginning="", main=False):
    return UnlinkedSpeaker(key, label, document, alone, beginning, 0.9 if main else 0.1)


def links(*speakers, names=None, callings=(), **more):
    callings = [*callings, *(Calling(case, name, "Name") for case, those in (names or {}).items() for name in those)]
    return {one.speaker: one for one in propose_links(speakers, CASES, callings, **more)}


def test_an_id_in_the_first_words_is_likely_not_sure():
    found = links(speaker(1, beginning="Interview with P03, at the pier"))
    assert (found[1].case, found[1].certainty) == (3, "likely")
    assert "first words hold P03" in found[1].reason


def test_file_name_and_first_words_that_disagree_are_a_conflict():
    found = links(speaker(1, document="P02.txt", beginning="This is P03"))
    assert found[1].case is None
    assert found[1].conflict
    assert "P02" in found[1].reason
    assert "P03" in found[1].reason


def test_a_name_that_a_variable_holds_is_as_good_as_an_id():
    found = links(speaker(1, "Maren Ness", alone=False), names={4: ["Maren Ness"]})
    assert (found[1].case, found[1].certainty) == (4, "sure")


def test_a_name_written_a_little_differently_is_offered():
    found = links(speaker(1, "Marren Ness", alone=False), names={4: ["Maren Ness"], 2: ["Olav Lind"]})
    assert (found[1].case, found[1].certainty) == (4, "likely")
    assert "written much like" in found[1].reason


def test_a_name_between_two_is_not_guessed():
    found = links(speaker(1, "Maren Nes", alone=False), names={4: ["Maren Ness"], 2: ["Maren Nest"]})
    assert found[1].case is None


def test_numbers_are_never_taken_for_misspelt_names():
    assert links(speaker(1, "P05", alone=False))[1].case is None


def test_the_last_speaker_and_the_last_person_are_likely_one():
    found = links(speaker(1, document="a.txt"), without_material=[2])
    assert (found[1].case, found[1].certainty) == (2, "likely")


def test_the_same_order_is_possible_only_where_the_numbers_agree():
    talks = [speaker(key, document=f"talk {key}.txt") for key in (10, 2)]
    found = links(*talks, without_material=[1, 3])
    assert {key: (one.case, one.certainty) for key, one in found.items()} == {2: (1, "possible"), 10: (3, "possible")}
    assert all(one.case is None for one in links(*talks, without_material=[1, 3, 4]).values())


def test_two_speakers_of_one_document_are_not_one_person():
    pair = [speaker(1, "Maren Ness", alone=False), speaker(2, "Marren Ness", alone=False)]
    found = links(*pair, names={4: ["Maren Ness"]})
    assert (found[1].case, found[1].certainty) == (4, "sure")
    assert found[2].case is None


def test_nothing_to_go_by_is_said():
    assert links(speaker(1, "Man with a dog", alone=False))[1].reason == "nothing points at one person"


SHEET = [
    Calling(case, words, variable)
    for case, first, last, mail, room in [
        (1, "Jane Marie", "Roe", "jane.roe@island.example", "R 12"),
        (2, "Dana", "Voss", "d.voss@island.example", "R 14"),
        (3, "José", "Roe", "jr77@island.example", "Old mill"),
        (4, "Dana", "Lind", "lind@island.example", "R 20"),
    ]
    for variable, words in (("First name", first), ("Surname", last), ("E-mail", mail), ("Room", room))
]
BY_LABEL = {
    "Dana Voss": (2, "sure"), "DANA VOSS (Chair)": (2, "sure"), "VOSS, Dana": (2, "sure"), "Señor Jose Roe": (3, "sure"), "JANE ROE": (1, "sure"),
    "Lind": (4, "likely"), "Jose": (3, "likely"), "Senator Voss": (2, "likely"), "Jane M. Roe": (1, "likely"), "D. Voss": (2, "sure"),
    "J. M. Roe": (1, "likely"), "DV": (2, "likely"), "d.voss@island.example": (2, "sure"), "Old Mill": (3, "sure"), "r 20": (4, "sure"),
}  # fmt: skip


@pytest.mark.parametrize("label", BY_LABEL)
def test_anything_that_names_one_person_links(label):
    found = links(speaker(1, label, alone=False), callings=SHEET)[1]
    assert (found.case, found.certainty) == BY_LABEL[label], found.reason
    assert CASES[found.case] in found.reason


@pytest.mark.parametrize("label", ["Dana", "Roe", "Dana V. Lind Voss", "J. Roe", "R 1"])
def test_a_name_that_two_bear_or_nobody_is_not_guessed(label):
    found = links(speaker(1, label, alone=False), callings=SHEET)[1]
    assert found.case is None
    if label in ("Dana", "Roe"):
        assert found.conflict
        assert "could be" in found.reason


def test_what_everybody_shares_is_no_name():
    occupation = [Calling(case, "Nurse" if case < 4 else "Baker", "Occupation") for case in CASES]
    assert links(speaker(1, "Baker", alone=False), callings=occupation)[1].case is None


def test_a_column_isnt_a_name_because_letters_of_one_stand_in_its_name():
    status = [
        Calling(1, "Baker", "Economic status"),
        *(Calling(case, "Nurse", "Economic status") for case in (2, 3, 4)),
    ]
    assert links(speaker(1, "Baker", alone=False), callings=status)[1].case is None
    village = [Calling(case, "Holm" if case < 4 else "Ytter", "Name of the village") for case in CASES]
    # Only one person of the sheet lives there; the label need not be them.
    assert links(speaker(1, "Ytter", alone=False), callings=village)[1].certainty == "likely"


def test_first_words_alone_dont_settle_who_of_two_it_is():
    found = links(speaker(1, "Roe", document="7.txt", beginning="I thank José Roe for coming"), callings=SHEET)[1]
    assert (found.case, found.certainty) == (3, "likely")


def test_two_weaker_signs_that_agree_are_sure_and_that_disagree_a_conflict():
    talk = {"document": "2031-05_Voss_Dana_Harbour.txt", "alone": False, "main": True}
    agree = links(speaker(1, "Senator Voss", **talk), callings=SHEET)[1]
    assert (agree.case, agree.certainty) == (2, "sure")
    assert "file name" in agree.reason
    assert "“Senator Voss”" in agree.reason
    apart = links(speaker(1, "Lind", **talk), callings=SHEET)[1]
    assert apart.case is None
    assert apart.conflict
    aside = links(speaker(1, "Lind", document=talk["document"], alone=False), callings=SHEET)[1]
    assert (aside.case, aside.certainty) == (4, "likely")


def test_a_surname_that_two_bear_is_told_apart_by_the_file_name():
    talk = {"document": "2031-05-03 Jane Roe, harbour.txt", "alone": False, "main": True}
    found = links(speaker(1, "Senator Roe", **talk), callings=SHEET)[1]
    assert (found.case, found.certainty) == (1, "sure")
    assert found.reason.startswith("“Senator Roe” could be P01 and P03; file name holds P01")
    other = links(speaker(1, "Senator Roe", document="2031 Dana Voss.txt", alone=False, main=True), callings=SHEET)[1]
    assert other.case is None
    assert other.conflict


def test_a_file_called_by_first_and_last_name_in_any_order_is_sure_where_one_speaks():
    for document in ("Roe_Jane.docx", "03 jane-roe harbour.txt", "José Roe.txt"):
        found = links(speaker(1, document=document), callings=SHEET)[1]
        assert found.certainty == "sure"
        assert found.case == (3 if "Jos" in document else 1)
    first_words = links(speaker(1, document="7.txt", beginning="Remarks by Dana Lind at the quay"), callings=SHEET)[1]
    assert (first_words.case, first_words.certainty) == (4, "likely")
