"""Words, and the word nearest to a place: where a passage stands that has lost its own."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.text.words import count_words, word_at, words

TEXT = "The boat — late again 🚢, I waited."


@pytest.mark.parametrize(
    ("position", "word"),
    [
        (0, "The"),
        (4, "boat"),
        (8, "boat"),
        (9, "boat"),
        (10, "late"),
        (TEXT.index("🚢"), "again"),
        (len(TEXT), "waited"),
    ],
)
def test_the_word_at_or_nearest_to_a_place(position, word):
    bounds = word_at(TEXT, position)
    assert bounds is not None
    assert TEXT[slice(*bounds)] == word


def test_a_text_without_words_has_none():
    assert word_at(" — 🚢 … ", 3) is None
    assert word_at("", 0) is None


@given(st.text(max_size=60), st.integers(0, 60))
def test_what_is_found_is_always_one_of_the_words(text, position):
    bounds = word_at(text, min(position, len(text)))
    assert (bounds is None) == (count_words(text) == 0)
    if bounds is not None:
        assert text[slice(*bounds)] in words(text)


# Unicode Standard Annex 29 gives these as its examples of word boundaries.
@pytest.mark.parametrize(
    ("text", "found"),
    [
        (
            "The quick (“brown”) fox can’t jump 32.3 feet, right?",
            ["The", "quick", "brown", "fox", "can’t", "jump", "32.3", "feet", "right"],
        ),
        ("e-mail", ["e", "mail"]),
        ("3,456.789", ["3,456.789"]),
    ],
)
def test_words_as_the_annex_cuts_them(text, found):
    assert words(text) == found
