"""Finding words, held against plain reading of the texts; stems against the algorithm’s published examples."""

import itertools

import pytest
import regex
from hypothesis import given
from hypothesis import strategies as st

from core.coding import find as finding
from core.coding.find import _USUAL, BadQuery, find, query, runs, stem
from core.coding.near_misses import near_misses
from core.text.sentences import sentences_around
from core.text.words import words

TEXT = "The boats were late. We waited and waited; nobody tells you, it’s waiting that wears you out. Boat-house, boathouse."


def found(text, asked, how="words", **more):
    return [text[start:end] for start, end in find(text, query(asked, how, **more))]


@pytest.mark.parametrize(
    ("asked", "how", "expected"),
    [
        ("boat", "words", ["Boat"]),
        ("boat", "forms", ["boats", "Boat"]),
        ("wait", "forms", ["waited", "waited", "waiting"]),
        ("waited and waited", "phrase", ["waited and waited"]),
        ("it's", "words", ["it’s"]),
        ("late nobody", "words", ["late", "nobody"]),
        ("waited you", "near", ["waited; nobody tells you"]),
        (r"wait(ed|ing)", "pattern", ["waited", "waited", "waiting"]),
        ("oat", "words", []),
    ],
)
def test_what_is_found(asked, how, expected):
    assert found(TEXT, asked, how) == expected


PHRASES = "A well-known boat; a well\nknown quay. Well known, well  known. Unwell known (sic)."


@pytest.mark.parametrize(
    ("asked", "how", "expected"),
    [
        ("well known", "phrase", ["well-known", "well\nknown", "Well known", "well  known"]),
        ("well known", "exact", []),
        ("well-known", "exact", ["well-known"]),
        ("Well known", "exact", ["Well known"]),
        ("well  known", "exact", ["well  known"]),
        ("known.", "exact", ["known."]),
        ("(sic)", "exact", ["(sic)"]),
        ("ell known", "exact", []),
    ],
)
def test_a_phrase_may_have_signs_between_and_an_exact_one_none_but_its_own(asked, how, expected):
    assert [PHRASES[start:end] for start, end in find(PHRASES, query(asked, how))] == expected


def test_words_that_are_written_nearly_so_are_offered():
    said = {"ferry": 40, "ferries": 9, "fairy": 2, "berry": 50, "boat": 70, "ferryman": 1, "fe": 3}
    assert near_misses(["fery"], said)[0] == ("ferry", 40)
    assert {"ferryman", "ferries"} <= {word for word, _ in near_misses(["ferr"], said)}
    assert near_misses(["ferry"], {"ferry": 40, "boat": 3}) == []
    assert near_misses(["zz"], said) == []


@pytest.mark.parametrize(
    ("language", "word", "expected"),
    [
        # Examples from the vocabularies published with the algorithms (from memory).
        ("english", "consignment", "consign"), ("english", "knightly", "knight"), ("english", "carries", "carri"),
        ("german", "aufeinanderfolgenden", "aufeinanderfolg"), ("french", "continuellement", "continuel"),
        ("swedish", "jaktkarlarne", "jaktkarl"), ("spanish", "chicharrones", "chicharron"),
    ],
)  # fmt: skip
def test_stems(language, word, expected):
    assert stem(word, language) == expected


def test_all_forms_of_a_word_whose_stem_ends_in_another_letter():
    assert found("carry carries carried carrying Carr cart", "carried", "forms") == ["carry", "carries", "carried", "carrying"]  # fmt: skip


@given(
    st.lists(st.sampled_from(["boat", "Boat", "late", "the", "é", "🚢", "—"]), max_size=12),
    st.sampled_from([" ", ", ", "\n"]),
)
def test_words_are_found_wherever_a_plain_reading_has_them(parts, sign):
    text = sign.join(parts)
    spans = list(find(text, query("boat", "words")))
    assert [text[start:end].casefold() for start, end in spans] == [w.casefold() for w in words(text) if w.casefold() == "boat"]  # fmt: skip
    assert all(left[1] <= right[0] for left, right in itertools.pairwise(spans))


@given(st.text(max_size=40), st.sampled_from(["words", "phrase", "exact", "forms", "near", "pattern"]))
def test_any_query_finds_or_says_why_not(asked, how):
    try:
        spans = list(find(TEXT, query(asked, how)))
    except BadQuery:
        return
    assert all(0 <= start < end <= len(TEXT) for start, end in spans)


def test_a_pattern_that_would_run_for_ever_is_stopped(monkeypatch):
    monkeypatch.setattr(finding, "SECONDS", 0.2)
    with pytest.raises(BadQuery, match="takes too long"):
        list(find("a" * 5000 + "b", query(r"(a|a|aa)+(?<!b)c", "pattern")))


def test_a_stretch_is_widened_to_its_sentences_inside_its_turn():
    text = "I asked Dr. Lund. He went home! Did he? Yes."
    at = text.index("home")
    low, high = sentences_around(text, at, at + 4, 0, len(text))
    assert text[low:high].strip() == "He went home!"
    at = text.index("asked")
    low, high = sentences_around(text, at, at + 5, 0, len(text))
    assert text[low:high].strip() == "I asked Dr. Lund."
    assert sentences_around(text, 0, 1, 0, 7) == (0, 7)


@given(
    st.lists(st.sampled_from(["boat's", "Boats", "boat_house", "boat-late", "été", "e\u0301te\u0301", "ﬁsh", "🚢late", "U.S.", "carries"]), max_size=8),
    st.sampled_from(["boat", "boat’s", "late", "été", "fish", "carry", "us", "s boat"]),
    st.sampled_from(["words", "forms", "phrase", "near"]),
)  # fmt: skip
def test_a_text_with_a_hit_holds_the_pieces_by_which_it_is_looked_up(parts, asked, how):
    if how == "near" and len(words(asked)) < 2:
        return
    text, wanted = " ".join(parts), query(asked, how)
    held = finding.runs(text)
    if any(find(text, wanted)):
        whole = [
            all(any(run.startswith(piece) if how == "forms" else run == piece for run in held) for piece in pieces)
            for pieces in wanted.pieces
        ]
        assert any(whole) if how in ("words", "forms") else all(whole)


def test_usual_texts_have_the_same_runs_by_the_plainer_expression():
    usual = "".join(f"x{chr(code)}y " for code in [*range(0x530), *range(0x2000, 0x2070)] if code not in (0x23A, 0x23E))
    for text in (usual, "Straße_2 – ½ don’t ǅ É\u0301 Ёж naïve", "boat_boat 12,5"):
        assert _USUAL.fullmatch(text.casefold())
        assert runs(text) == regex.findall(r"[\p{L}\p{N}]+", text.casefold())
    # Another letter anywhere, and the whole of the text is gone through by the other one.
    assert runs(f"boat \u1e9e {chr(0x1F6A2)} हिन्दी") == regex.findall(r"[\p{L}\p{N}]+", "boat ss हिन्दी")
