"""Words by their numbers against the same found by expressions in the texts themselves."""

import numpy as np
import pytest
import regex
from hypothesis import given
from hypothesis import strategies as st

from core.coding.find import find, query, runs
from core.snapshot.word_places import by_participants, hits_of, key_of, places_in, together
from tests.core.worlds import random_snapshot

TEXTS = st.text(st.sampled_from("abAB ßẞsS\n.,'’-_é́Жж7٣न漢字🚢İı ſŉ"), max_size=60)


@given(TEXTS)
def test_words_stand_where_an_expression_finds_them(text: str) -> None:
    places = places_in(text)
    begun = [text[start:] for start in places.start.tolist()]
    from_letters = [(found.start(), found.group()) for found in regex.finditer(r"[\p{L}\p{N}]+", text)]
    assert places.start.tolist() == [start for start, _ in from_letters]
    assert all(rest.startswith(word) for rest, (_, word) in zip(begun, from_letters, strict=True))
    alike: dict[str, set[int]] = {}
    for key, (_, word) in zip(places.key.tolist(), from_letters, strict=True):
        alike.setdefault(word.casefold(), set()).add(key)
    # One number a folded word, and no number for two.
    assert all(len(keys) == 1 for keys in alike.values())
    assert len({key for keys in alike.values() for key in keys}) == len(alike)


@given(
    st.text(st.sampled_from("abAB ßsS\n.,'’-_éЖж7漢字🚢"), max_size=60),
    st.sampled_from(["a", "Ab", "ß", "ss", "ж", "7", "é", "字", "sß"]),
)
def test_a_word_is_found_as_often_as_by_going_through_the_text(text: str, word: str) -> None:
    """But for letters of Turkish, which expressions take for others."""
    key = key_of(word)
    assert key is not None
    places = places_in(text)
    assert places.start[places.key == np.uint64(key)].tolist() == [
        start for start, _ in find(text, query(word, "words"))
    ]


@pytest.mark.parametrize("word", ["", "don’t", "a b", "e\u0301e", "-", "P01.", "न्"])
def test_what_is_no_single_run_has_no_number(word: str) -> None:
    assert key_of(word) is None


def test_different_words_have_different_numbers() -> None:
    """Letters in another order, words within words, digits: what a weak number would mix up."""
    words = {"".join(a + b + c) for a in "abcde1" for b in "abcde1" for c in ["", "a", "ab", "ba", "aa", "11"]}
    words |= {word * times for word in ("ab", "ba", "a", "0") for times in range(1, 40)} | {
        "listen",
        "silent",
        "enlist",
    }
    assert len({key_of(word) for word in words}) == len(words)


def test_hits_lie_in_turns_and_are_whose_the_turn_is() -> None:
    rng = np.random.default_rng(5)
    for seed in range(20):
        snapshot = random_snapshot(seed)
        ends = [
            int(snapshot.turn_end[snapshot.turn_document == one].max(initial=0))
            for one in range(len(snapshot.document_ids))
        ]
        texts = ["".join(rng.choice(list("ab  "), size=end + 6)) for end in ends]
        places = together([places_in(text) for text in texts])
        hits = hits_of(places, snapshot, [key_of("a"), key_of("ab")])  # type: ignore[list-item]
        expected = [
            (document, start, turn)
            for document, text in enumerate(texts)
            for start, _ in find(text, query("a ab", "words"))
            for turn in np.flatnonzero(snapshot.turn_document == document).tolist()
            if snapshot.turn_start[turn] <= start < snapshot.turn_end[turn]
        ]
        assert list(zip(hits.document.tolist(), hits.start.tolist(), hits.turn.tolist(), strict=True)) == expected
        roles = np.array([snapshot.speaker_role[snapshot.turn_speaker[turn]] for turn in hits.turn.tolist()], int)
        assert by_participants(snapshot, hits.turn).tolist() == (roles == 0).tolist()
    assert places.of(0).key.tolist() == places_in(texts[0]).key.tolist()


def test_no_words_and_no_texts_are_nothing() -> None:
    assert len(together([]).key) == 0
    assert len(places_in("… – \n").key) == 0
    assert runs("… – \n") == []
