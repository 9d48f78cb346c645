"""Words: the quick ways find what the segments of UAX 29, as the regex package has them, are."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.text.words import _BOUNDARY, _HAS_LETTER_OR_DIGIT, bounds_in_turns, word_bounds, words

LETTERS = st.text(alphabet=[*"ab9éhyœY_.:'’‘,; \n-–“ß0Z…", "🚢", "ا", "漢", "\u0301"], max_size=24)


def segments(text: str) -> list[tuple[int, int]]:
    """Every segment that holds a letter or a digit, by the package's own boundaries."""
    found, at = [], 0
    for part in _BOUNDARY.split(text):
        if _HAS_LETTER_OR_DIGIT.search(part):
            found.append((at, at + len(part)))
        at += len(part)
    return found


@given(LETTERS)
def test_words_are_the_segments_that_hold_a_letter_or_digit(text):
    assert word_bounds(text) == segments(text)
    assert words(text) == [text[start:end] for start, end in segments(text)]


@given(st.lists(LETTERS, min_size=1, max_size=5))
def test_all_turns_at_once_are_each_turn_by_itself(parts):
    text, turns = "", []
    for part in parts:
        turns.append((len(text), len(text) + len(part)))
        text += part
    expected = [
        (start + a, start + b) for (start, _), part in zip(turns, parts, strict=True) for a, b in segments(part)
    ]
    assert [tuple(one) for one in bounds_in_turns(text, turns).tolist()] == expected


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("don’t", ["don’t"]),
        ("3.5 km, 1,000", ["3.5", "km", "1,000"]),
        ("end.Start 9.a", ["end.Start", "9", "a"]),
        ("a_b __ c", ["a_b", "c"]),
    ],
)
def test_words_by_hand(text, expected):
    # Unicode Standard Annex 29, table 3: MidLetter, MidNum and ExtendNumLet join; by hand.
    assert words(text) == expected
