"""Changing texts that are coded, and turns: passages stay on their words, or are asked about; undo brings all back."""

import pytest

from core.text.editing import Search
from server.coding import actions as coding
from server.coding.actions import texts
from server.coding.models import Code, Coding, Passage
from server.common.errors import Conflict, NotAllowed, Refusal
from server.gather import actions as gather
from server.gather.models import Document, NamePair, Speaker, Turn
from server.projects import trail
from tests.server.conftest import put


@pytest.fixture
def pier(world):
    return Document.objects.get(title="P1_pier")


def passages(document):
    document.refresh_from_db()
    return [document.text[p.start : p.end] for p in Passage.objects.filter(document=document)]


def whole(document):
    """Everything that has positions in the text, to compare before and after."""
    document.refresh_from_db()
    turns = list(
        Turn.objects.filter(document=document)
        .order_by("number")
        .values_list("number", "start", "end", "ink_start", "ink_end", "words", "speaker__label")
    )
    return document.text, document.words, turns, sorted(passages(document))


def test_a_turn_typed_anew_keeps_its_passages_and_is_undone(world, pier):
    before = whole(pier)
    coding.edit_turn(world.owner, pier.pk, 2, "The old boat was very late 🚢 again. I waited.", {})
    assert passages(pier) == ["The old boat was very late 🚢 again.", "I walked home"]
    pier.refresh_from_db()
    turns = list(Turn.objects.filter(document=pier).order_by("number"))
    assert [turn.end for turn in turns[:-1]] == [turn.start for turn in turns[1:]]
    assert turns[-1].end == pier.length == len(pier.text)
    assert pier.words == sum(turn.words for turn in turns) == before[1] + 2
    trail.undo(world.owner)
    assert whole(pier) == before


def test_a_passage_that_would_lose_its_words_is_asked_about(world, pier):
    text = "I waited."
    with pytest.raises(Conflict, match="would lose all its words"):
        coding.edit_turn(world.owner, pier.pk, 2, text, {})
    (lost,) = texts.lost_by(pier, texts.turn_edits(pier, 2, text))
    assert (lost.text, lost.codes) == ("The boat was late 🚢 again.", ["Late"])
    coding.edit_turn(world.owner, pier.pk, 2, text, {lost.passage: "keep"})
    assert passages(pier)[0] in ("I", "waited")
    trail.undo(world.owner)
    coding.edit_turn(world.owner, pier.pk, 2, text, {lost.passage: "remove"})
    assert passages(pier) == ["I walked home"]
    trail.undo(world.owner)
    assert Coding.objects.filter(code__name="Late").count() == 1


def test_passages_that_become_one_keep_the_codes_of_both(world, pier):
    put(world.owner, pier, "I waited", Code.objects.get(name="Home"))
    put(world.coder, pier, "I waited.", Code.objects.get(name="Late"))
    coding.edit_turn(world.owner, pier.pk, 2, "The boat was late 🚢 again. I waited", {})
    united = Passage.objects.get(document=pier, end=Document.objects.get(pk=pier.pk).text.index("I waited") + 8)
    assert set(united.codings.values_list("code__name", flat=True)) == {"Home", "Late"}


def test_replacing_everywhere_or_where_ticked(world, pier):
    garden = Document.objects.get(title="P2_garden")
    assert coding.replace_all(world.owner, Search("home"), "indoors", None, {}) == 2
    assert passages(garden) == ["I stayed at indoors"]
    trail.undo(world.owner)
    assert passages(garden) == ["I stayed at home"]
    start = pier.text.index("home")
    assert coding.replace_all(world.owner, Search("home"), "back", {pier.pk: [start]}, {}) == 1
    assert passages(garden) == ["I stayed at home"]
    with pytest.raises(Refusal, match="isn’t found any more"):
        coding.replace_all(world.owner, Search("zebra"), "x", None, {})


def test_the_preview_writes_nothing(world, pier):
    client = world.client(world.coder.account)
    found = client.post(world.url("/replace/preview"), {"find": "boat", "replacement": "ferry"}, format="json").json()
    assert (found["total"], found["documents"], found["lost"]) == (1, 1, [])
    assert found["places"][0]["after"].startswith(" was late")
    assert "boat" in Document.objects.get(pk=pier.pk).text
    answer = client.post(world.url("/replace"), {"find": "boat", "replacement": "ferry"}, format="json")
    assert answer.json() == {"count": 1}


def test_names_give_way_to_pseudonyms_in_texts_titles_and_labels(world):
    coding.set_pairs(world.owner, [("Maren", "Ingrid"), ("garden", "orchard")])
    assert coding.anonymise(world.owner, {}) >= 2
    assert Speaker.objects.filter(label="Ingrid").exists()
    assert Document.objects.filter(title="P2_orchard", source_name="P2_orchard.txt").exists()
    entry = trail.last_done(world.owner)
    assert "Maren" not in entry.summary
    trail.undo(world.owner)
    assert Speaker.objects.filter(label="Maren").exists()


def test_the_list_of_names_is_not_for_viewers_and_not_in_the_trail(world):
    coding.set_pairs(world.owner, [("Maren", "Ingrid")])
    with pytest.raises(NotAllowed):
        texts.pairs(world.viewer)
    assert not trail.TrailEntry.objects.filter(summary__contains="Ingrid").exists()
    with pytest.raises(Refusal, match="no pseudonym yet"):
        coding.set_pairs(world.owner, [("Olav", " ")])
    assert NamePair.objects.get().name == "Maren"


def test_a_text_is_never_emptied(world, pier):
    words = [turn.number for turn in Turn.objects.filter(document=pier)]
    decide = {p.pk: "remove" for p in Passage.objects.filter(document=pier)}
    for number in words[:-1]:
        coding.edit_turn(world.owner, pier.pk, number, "", decide)
    with pytest.raises(Refusal, match="Nothing would be left"):
        coding.edit_turn(world.owner, pier.pk, words[-1], "", decide)


def test_a_turn_is_split_between_words_and_joined_again(world, pier):
    before = whole(pier)
    at = pier.text.index("I waited")
    with pytest.raises(Refusal, match="middle of a word"):
        gather.split_turn(world.owner, pier.pk, 2, at + 4)
    gather.split_turn(world.owner, pier.pk, 2, at)
    turns = Turn.objects.filter(document=pier).order_by("number")
    assert [pier.text[t.ink_start : t.ink_end] for t in turns][1:3] == ["The boat was late 🚢 again.", "I waited."]
    assert [t.number for t in turns] == [1, 2, 3, 4, 5]
    gather.join_turn(world.owner, pier.pk, 2)
    assert whole(pier) == before
    trail.undo(world.owner)
    trail.undo(world.owner)
    assert whole(pier) == before
    with pytest.raises(Refusal, match="last turn"):
        gather.join_turn(world.owner, pier.pk, 4)


def test_a_turn_given_to_somebody_else_counts_for_them(world, pier):
    before = whole(pier)
    interviewer = Speaker.objects.get(document=pier, role="interviewer")
    gather.give_turn(world.owner, pier.pk, 4, interviewer.pk)
    assert Turn.objects.get(document=pier, number=4).speaker == interviewer
    gather.give_turn(world.owner, pier.pk, 4, None, "A passer-by", "other")
    assert Speaker.objects.get(document=pier, label="A passer-by").role == "other"
    gather.give_turn(world.owner, pier.pk, 4, Speaker.objects.get(document=pier, label="P1").pk)
    assert not Speaker.objects.filter(document=pier, label="A passer-by").exists(), "nobody’s any more"
    for _ in range(3):
        trail.undo(world.owner)
    assert whole(pier) == before


def test_a_split_turn_of_a_recording_shares_its_time(world):
    from tests.server.conftest import bring_in

    bring_in(world.owner, ("t.vtt", "WEBVTT\n\n00:00.000 --> 00:10.000\n<v P1>One two three four.\n"))
    document = Document.objects.get(title="t")
    gather.split_turn(world.owner, document.pk, 1, document.text.index("three"))
    first, second = Turn.objects.filter(document=document).order_by("number")
    assert first.begin == 0
    assert second.finish == 10
    assert first.finish == second.begin
    assert 0 < second.begin < 10
