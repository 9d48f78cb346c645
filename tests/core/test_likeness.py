"""Likeness of texts, held against plain reckoning."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.coding import likeness
from core.coding.likeness import folded, likest, together, vectors

TEXTS = ["Let the bus wait", "The boat is late", "let the bus wait!", "Boats are late, always", "", "Buses that wait"]


def test_equal_answers_stand_together_and_like_ones_are_near():
    order = together(TEXTS)
    assert sorted(order) == list(range(6))
    assert order[-1] == 4
    at = {place: order.index(place) for place in range(6)}
    assert abs(at[0] - at[2]) == 1
    assert abs(at[1] - at[3]) == 1
    assert max(abs(at[5] - at[0]), abs(at[5] - at[2])) == 2


def test_weights_are_those_of_the_formula():
    """tf–idf with logarithmic tf, reckoned by hand."""
    held = vectors(["boat boat late", "boat"]).toarray()
    boat, late = (1 + math.log(2)) * math.log(2), math.log(3)
    assert np.allclose(held[0], np.array([boat, late]) / math.hypot(boat, late))
    assert np.allclose(held[1], [1, 0])


def test_what_is_likest():
    found = likest(vectors(TEXTS), np.array([0]), 3)
    assert [row for row, _ in found][:2] == [2, 5]
    assert found[0][1] == pytest.approx(1)
    assert likest(vectors(TEXTS), np.array([4]), 3) == []


@given(st.lists(st.sampled_from(["a boat", "A boat!", "two boats", "", "—", "été 🚢", "late"]), max_size=9))
def test_every_text_stands_once_and_equal_ones_follow_each_other(texts):
    order = together(texts)
    assert sorted(order) == list(range(len(texts)))
    seen = [folded(texts[place]) for place in order]
    runs = [text for place, text in enumerate(seen) if place == 0 or seen[place - 1] != text]
    assert len(runs) == len(set(runs))


def test_more_texts_than_are_clustered_are_laid_along_a_line(monkeypatch):
    monkeypatch.setattr(likeness, "CLUSTERED", 3)
    texts = ["bus wait", "boat late", "bus waits here", "boat late again", "bus wait there"]
    order = together(texts)
    halves = ["b" if "boat" in texts[place] else "a" for place in order]
    assert "".join(halves) in ("aaabb", "bbaaa")
