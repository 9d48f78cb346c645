"""Words that were marked in an earlier text are found again, or nothing is taken for them."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from core.coding.places import Stretch

letters = st.text("ab ", min_size=1, max_size=30)


@given(letters, letters, letters)
def test_words_that_stand_where_they_were_stay_there_however_often_they_come(before, words, after):
    text = before + words + after
    there = Stretch(len(before), len(before) + len(words))
    assert there.found_again(text, words[:4], words[-4:]) == there


@given(letters, letters, letters, letters)
def test_whatever_is_found_is_what_was_marked_and_the_only_one(before, words, after, put_in):
    text = put_in + before + words + after
    was = Stretch(len(before), len(before) + len(words))
    assume(text[was.start : was.end] != words)
    found = was.found_again(text, words, words)
    places = [at for at in range(len(text)) if text.startswith(words, at)]
    assert found == (Stretch(places[0], places[0] + len(words)) if len(places) == 1 else None)


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("She said: the boat was late again.", Stretch(10, 33)),
        # Changed between its ends: what it would reach to isn't what was marked.
        ("She said: the boat was very late again.", None),
        ("The boat was late.", None),
        ("", None),
    ],
)
def test_of_long_words_the_two_ends_are_looked_for_as_far_apart(text, found):
    assert Stretch(0, 23).found_again(text, "the boat", "again") == found
