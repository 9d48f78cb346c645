"""Who a speaker seems to be, and how certain that is. Names and files are invented."""

from core.people.linking import UnlinkedSpeaker, propose_links

CASES = {1: "P01", 2: "P02", 3: "P03", 4: "P04"}


def speaker(key, label="Whole document", document="talk.txt", alone=True, beginning=""):
    return UnlinkedSpeaker(key, label, document, alone, beginning)


def links(*speakers, **more):
    return {one.speaker: one for one in propose_links(speakers, CASES, **more)}


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
