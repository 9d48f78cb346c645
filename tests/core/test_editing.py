"""Passages stay on their words when the text around, at their edges and inside them changes."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.text.editing import Edit, Search, apply_edits, difference, one_after_another, pseudonyms, replacements

TEXT = "The boat was late again. I waited on the quay. Then I walked home."


def where(quote, text=TEXT):
    start = text.index(quote)
    return start, start + len(quote)


def quote_after(edits, quote):
    edited = apply_edits(TEXT, edits)
    moved = edited.moved(*where(quote))
    return None if moved is None else edited.text[slice(*moved)]


def test_a_change_before_a_passage_moves_it():
    assert quote_after([Edit(*where("The boat"), "The old ferry")], "I waited") == "I waited"


def test_a_change_after_a_passage_leaves_it():
    assert apply_edits(TEXT, [Edit(*where("home"), "to work")]).moved(*where("I waited")) == where("I waited")


def test_a_word_changed_inside_stays_inside():
    assert (
        quote_after([Edit(*where("waited"), "stood and froze")], "I waited on the quay.")
        == "I stood and froze on the quay."
    )


def test_a_word_changed_at_an_edge_stays_in():
    assert quote_after([Edit(*where("quay."), "pier.")], "I waited on the quay.") == "I waited on the pier."
    assert quote_after([Edit(*where("I"), "We")], "I waited") == "We waited"


def test_a_passage_over_one_word_that_is_replaced_stands_on_what_replaces_it():
    assert quote_after([Edit(*where("boat"), "ferry")], "boat") == "ferry"


def test_an_edit_across_an_edge_takes_only_what_it_takes():
    assert quote_after([Edit(*where("again. I waited"), "")], "I waited on the quay") == "on the quay"


def test_a_passage_all_of_whose_words_go_is_lost_and_not_put_elsewhere():
    assert quote_after([Edit(*where("I waited on the quay. "), "")], "waited on") is None
    assert quote_after([Edit(*where("was late again. I waited on the quay"), "left")], "late again") is None


def test_words_put_in_beside_a_passage_dont_join_it():
    start, end = where("I waited")
    assert quote_after([Edit(start, start, "Honestly, ")], "I waited") == "I waited"
    assert apply_edits(TEXT, [Edit(end, end, " for long")]).moved(start, end) is not None


def test_edits_that_overlap_or_reach_out_are_refused():
    with pytest.raises(ValueError, match="overlap"):
        apply_edits(TEXT, [Edit(0, 5, ""), Edit(4, 8, "")])
    with pytest.raises(ValueError, match="beyond"):
        apply_edits(TEXT, [Edit(0, len(TEXT) + 1, "")])


words = st.lists(st.sampled_from(["boat", "late", "I", "waited", "🚢", "é", ".", "quay"]), min_size=0, max_size=25).map(
    " ".join
)


@given(words, words)
def test_the_difference_makes_the_new_text_of_the_old(old, new):
    assert apply_edits(old, difference(old, new)).text == new


@given(words, words, words)
def test_whatever_changes_around_a_passage_it_keeps_its_words(before, after, other):
    passage = "the very words"
    old = f"{before} {passage} {after}"
    start = len(before) + 1
    edited = apply_edits(old, [Edit(0, len(before), other), Edit(start + len(passage) + 1, len(old), other)])
    moved = edited.moved(start, start + len(passage))
    assert moved is not None
    assert edited.text[slice(*moved)] == passage


@given(words, words)
def test_moved_positions_always_lie_in_the_new_text(old, new):
    edited = apply_edits(old, difference(old, new))
    for start in range(len(old)):
        for end in (start + 1, len(old)):
            moved = edited.moved(start, end)
            assert moved is None or 0 <= moved[0] < moved[1] <= len(new)


@given(words, words)
def test_boundaries_keep_their_order(old, new):
    edited = apply_edits(old, difference(old, new))
    boundaries = [edited.boundary(position) for position in range(len(old) + 1)]
    assert boundaries == sorted(boundaries)
    assert boundaries[-1] == len(new)


def test_finding_whole_words_only_and_over_line_breaks():
    text = "The ferry. Ferryman and\nferry man."
    assert [text[e.start : e.end] for e in replacements(text, Search("ferry"), "boat")] == ["ferry", "ferry"]
    assert len(replacements(text, Search("ferry", words=False), "boat")) == 3
    assert len(replacements(text, Search("Ferry", words=False, case=True), "boat")) == 1
    assert len(replacements(text, Search("and ferry"), "x")) == 1
    assert replacements(text, Search("  "), "x") == []


def test_names_are_replaced_longest_first_with_their_genitive():
    text = "Anna Berg saw Anna's boat; ANNA waved, Annabel didn't. Mr Berg left."
    pairs = [("Anna", "Maren"), ("Anna Berg", "Maren Ness"), ("Berg", "Ness")]
    assert (
        apply_edits(text, pseudonyms(text, pairs)).text
        == "Maren Ness saw Maren's boat; MAREN waved, Annabel didn't. Mr Ness left."
    )


def test_a_name_stays_where_no_pair_has_it():
    assert pseudonyms(TEXT, []) == []
    assert pseudonyms(TEXT, [("", "x"), ("Zed", "x")]) == []


def test_none_lands_on_another_on_its_way():
    at = [(0, 5), (10, 15), (20, 25), (30, 35)]
    for by in (-10, 10):
        held = dict(enumerate(at[1:] if by < 0 else at))
        moves = [(place, (place[0] + by, place[1] + by)) for place in held.values()]
        for number in one_after_another(moves):
            assert moves[number][1] not in held.values()
            held[number] = moves[number][1]
        assert list(held.values()) == [now for _, now in moves]
    assert one_after_another([((0, 5), (0, 5)), ((7, 9), (4, 6))]) == [1]
