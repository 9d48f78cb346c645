"""A codebook from a file set against the one there is."""

from hypothesis import given
from hypothesis import strategies as st

from core.coding.exchange import FoundCode, HeldCode, in_tree_order, plan

HELD = [
    HeldCode(1, "Barriers", None, {"definition": "What hinders"}),
    HeldCode(2, "Money", 1, {"definition": "Fares", "covers": "Tickets"}),
    HeldCode(3, "Weather", 1, {}),
    HeldCode(4, "Help", None, {}),
    HeldCode(5, "Money", 4, {}),
]


def test_codes_are_known_by_their_place_or_by_a_name_that_stands_alone():
    found = [
        FoundCode("barriers"), FoundCode("Money", 0, {"definition": "Cost of crossing"}),
        FoundCode("weather"), FoundCode("Money"), FoundCode("Time", 2),
    ]  # fmt: skip
    said = plan(HELD, found, "merge")
    # Weather has moved to the top and is still the one weather; a third Money isn't either of the two.
    assert said.matched == (1, 2, 3, None, None)
    assert said.changes == {2: {"definition": "Cost of crossing"}}
    assert said.gone == ()
    # The top of a file says nothing of where a code lies, when it is merged.
    assert said.moved == frozenset()
    replaced = plan(HELD, found, "replace")
    assert replaced.gone == (4, 5)
    assert replaced.moved == {2}
    assert replaced.changes == {1: {"definition": ""}, 2: {"definition": "Cost of crossing", "covers": ""}}


@given(st.lists(st.tuples(st.sampled_from("abcde"), st.integers(-1, 5)), max_size=8))
def test_a_codebook_set_against_itself_changes_nothing(rows):
    """Each code at most once at a place, as the database has it."""
    held, seen = [], set()
    for place, (name, above) in enumerate(rows):
        parent = above + 1 if 0 <= above < place and above + 1 in {code.id for code in held} else None
        if (name, parent) not in seen:
            seen.add((name, parent))
            held.append(HeldCode(place + 1, name, parent, {"definition": name * 2}))
    at = {code.id: place for place, code in enumerate(held)}
    found = [FoundCode(code.name.upper(), at.get(code.above, -1), dict(code.said)) for code in held]
    for how in ("merge", "replace"):
        said = plan(held, found, how)
        assert said.matched == tuple(code.id for code in held)
        assert (said.changes, said.gone, said.moved) == ({}, (), frozenset())


def test_a_code_that_lies_beneath_another_in_the_file_moves():
    moved = plan(
        HELD, [FoundCode("Help"), FoundCode("Weather", 0), FoundCode("New"), FoundCode("Barriers", 2)], "merge"
    )
    assert moved.matched == (4, 3, None, 1)
    assert moved.moved == {1, 3}
    # Turned round: what was above can't stay there.
    turned = plan(HELD, [FoundCode("Weather"), FoundCode("Barriers", 0)], "merge")
    assert turned.moved == {0, 1}


@given(st.lists(st.integers(-1, 6), max_size=7))
def test_a_tree_is_written_branch_by_branch(above):
    parents = [(at, one if 0 <= one < at else None) for at, one in enumerate(above)]
    found = in_tree_order(parents)
    assert sorted(found) == list(range(len(parents)))
    for at, parent in parents:
        if parent is not None:
            between = found[found.index(parent) + 1 : found.index(at)]
            assert all(_lies_beneath(one, parent, dict(parents)) for one in between)


def _lies_beneath(one, parent, parents):
    while one is not None and one != parent:
        one = parents[one]
    return one == parent
