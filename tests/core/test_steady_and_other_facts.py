"""How steady a difference is, and what other facts leave of it: held to loops that leave out and count again."""

from dataclasses import replace

import numpy as np
import pytest

from core.compare.by_part import compare
from core.compare.confounding import Layering, held_apart
from core.compare.groups import Groups, crossed
from core.compare.question import Comparison
from core.compare.rows import PassagesRow
from core.compare.steady import discussions, steady
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from tests.core.worlds import one_talk_each, random_snapshot, talks_with_rows, together

SEEDS = range(12)


def shown(*sizes: int) -> Groups:
    return Groups(tuple("abcdef"[: len(sizes)]), np.repeat(np.arange(len(sizes)), sizes).astype(np.int32))


def counted_without(snapshot: Snapshot, asked: Comparison, scope: Scope) -> float:
    """The first group's figure minus the second's, counted anew in a narrower scope."""
    figure = compare(snapshot, replace(asked, scope=scope)).figure[0]
    return float(figure[0] - figure[1])


def several_talks(seed: int) -> tuple[Snapshot, Groups]:
    """Random projects in which people speak in several documents, every passage of words by participants."""
    snapshot = random_snapshot(seed, documents=8, cases=12, codes=3, codings=160)
    labels = np.random.default_rng(seed).integers(0, 2, 12).astype(np.int32)
    return snapshot, Groups(("a", "b"), labels)


@pytest.mark.parametrize("measure", ["people", "per_person", "rate"])
@pytest.mark.parametrize("seed", SEEDS)
def test_without_any_one_document_is_the_figure_counted_without_it(seed, measure):
    snapshot, groups = several_talks(seed)
    base = "words" if measure == "rate" else "with_material"
    asked = Comparison((0,), groups, measure=measure, base=base)
    result = compare(snapshot, asked)
    if not np.isfinite(result.figure[0]).all():
        return
    found = steady(result, [(0, 0, 1)])[0].documents
    talks = snapshot.talks
    in_groups = np.unique(talks.document[talks.real & (groups.labels[talks.case] >= 0)])
    left = {}
    for document in in_groups.tolist():
        kept = np.ones(len(snapshot.document_ids), bool)
        kept[document] = False
        left[document] = counted_without(snapshot, asked, Scope(documents=kept))
    known = {document: gap for document, gap in left.items() if np.isfinite(gap)}
    if found is None:
        assert len(known) < 2
        return
    assert found.count == len(known)
    assert (found.least, found.most) == pytest.approx((min(known.values()), max(known.values())))
    assert known[found.least_without] == pytest.approx(found.least)
    assert known[found.most_without] == pytest.approx(found.most)


@pytest.mark.parametrize("measure", ["people", "per_person", "rate"])
@pytest.mark.parametrize("seed", SEEDS)
def test_without_any_one_person_is_the_figure_counted_without_them(seed, measure):
    snapshot, groups = several_talks(seed)
    base = "words" if measure == "rate" else "with_material"
    asked = Comparison((0,), groups, measure=measure, base=base)
    result = compare(snapshot, asked)
    found = steady(result, [(0, 0, 1)])[0].people
    left = []
    for case in np.flatnonzero(result.counted.in_base).tolist():
        kept = np.ones(len(snapshot.case_ids), bool)
        kept[case] = False
        left.append(counted_without(snapshot, asked, Scope(cases=kept)))
    known = [gap for gap in left if np.isfinite(gap)]
    if found is None:
        assert len(known) < 2
        return
    assert found.count == len(known)
    assert (found.least, found.most) == pytest.approx((min(known), max(known)))


def coded_by(counts: list[int], coders: list[int]) -> Snapshot:
    """One talk a person; the codings of each person by one coder."""
    snapshot = one_talk_each(counts)
    of = np.repeat(coders, counts).astype(np.int32)
    return replace(snapshot, coding_coder=of, coder_ids=np.arange(max(coders) + 1))


def test_a_coder_is_left_out_with_what_only_that_coder_read():
    # Coder 0 coded the first six of each group, coder 1 the others; everybody mentions it but for coder 1's in b.
    counts = [1] * 12 + [1] * 6 + [2] * 6
    snapshot = coded_by(counts, [0] * 6 + [1] * 6 + [0] * 6 + [1] * 6)
    found = steady(compare(snapshot, Comparison((0,), shown(12, 12), measure="per_person")), [(0, 1, 0)])[0].coders
    assert found.count == 2
    # Of coder 1's twelve: 2 a person in b, 1 in a; of coder 0's: 1 in both.
    assert (found.least, found.most) == pytest.approx((0, 1))
    assert (found.least_without, found.most_without) == (1, 0)


def test_a_coder_without_whom_too_few_people_are_left_isnt_told():
    counts = [1] * 12 + [1] * 12
    snapshot = coded_by(counts, [0] * 10 + [1] * 2 + [0] * 10 + [1] * 2)
    found = steady(compare(snapshot, Comparison((0,), shown(12, 12))), [(0, 0, 1)])[0]
    assert found.coders is None


def test_queries_have_no_coder_and_layers_no_one_figure():
    snapshot = one_talk_each([1] * 8 + [0] * 8)
    rows = (PassagesRow(np.ones(len(snapshot.passage_ids), bool)),)
    assert steady(compare(snapshot, Comparison(rows, shown(8, 8))), [(0, 0, 1)])[0].coders is None
    held = crossed(Groups(("x", "y"), (np.arange(16) % 2).astype(np.int32)), shown(8, 8), snapshot.talks)
    apart = steady(compare(snapshot, Comparison((0,), held, layers=2)), [(0, 0, 1)])[0]
    assert (apart.people, apart.documents, apart.coders, apart.choices) == (None, None, None, ())
    assert steady(compare(snapshot, Comparison((0,), shown(8, 8))), []) == []


def test_shares_of_a_total_hold_where_half_is_left():
    snapshot = together(one_talk_each([3] * 6 + [1] * 6), [0, 1, 2])
    result = compare(snapshot, Comparison((0,), shown(6, 6), measure="passages", base="row"))
    found = steady(result, [(0, 0, 1)])[0]
    assert found.people is None
    assert [(one.discussions, one.holds) for one in found.choices] == [(True, True), (False, True)]
    assert all(one.difference == pytest.approx(0.5) for one in found.choices)


def test_codes_with_others_beneath_are_asked_both_ways():
    snapshot = talks_with_rows(np.array([[0] * 20, [1] * 9 + [0] + [0] * 10]))
    nested = replace(snapshot, code_parent=np.array([-1, 0], np.int32))
    result = compare(nested, Comparison((0,), shown(10, 10)))
    found = steady(result, [(0, 0, 1)])[0]
    ways = {one.roll_up: one for one in found.choices if one.base == "with_material"}
    assert (ways[True].holds, ways[True].as_asked, ways[True].difference) == (True, True, pytest.approx(0.9))
    assert (ways[False].holds, ways[False].difference) == (False, 0)


def test_discussions_are_documents_in_which_several_people_speak():
    snapshot = together(one_talk_each([1, 1, 0]), [0, 2])
    assert discussions(snapshot).tolist() == [False, False, False, True]


def standardised(says, label, layer) -> float:
    """By hand: each layer's difference, weighted by the people of both groups in it, where it holds both."""
    total = weight = 0.0
    for one in np.unique(layer):
        here = layer == one
        first, second = says[here & (label == 0)], says[here & (label == 1)]
        if len(first) and len(second):
            total += (first.mean() - second.mean()) * here.sum()
            weight += here.sum()
    return total / weight


@pytest.mark.parametrize("seed", SEEDS)
def test_standardised_differences_are_those_of_loops(seed):
    generator = np.random.default_rng(seed)
    label, layer = generator.integers(0, 2, 60).astype(np.int32), generator.integers(0, 3, 60).astype(np.int32)
    says = generator.random(60) < 0.2 + 0.2 * layer
    result = compare(talks_with_rows(says[None]), Comparison((0,), Groups(("a", "b"), label)))
    other = Layering("Fact", Groups(("x", "y", "z"), layer))
    found = held_apart(result, 0, 0, 1, [other])[0]
    assert found.difference == pytest.approx(standardised(says, label, layer))
    assert found.plain == pytest.approx(says[label == 0].mean() - says[label == 1].mean())
    assert (found.people, found.all) == (60, 60)


def other_fact(parts) -> tuple[Snapshot, Groups, Layering]:
    """(how many, how many mention it, group, layer), layer −1 for unknown."""
    sizes = [part[0] for part in parts]
    says = np.concatenate([np.arange(many) < some for many, some, _, _ in parts])
    label, layer = (np.repeat([part[at] for part in parts], sizes).astype(np.int32) for at in (2, 3))
    return talks_with_rows(says[None]), Groups(("a", "b"), label), Layering("Fact", Groups(("x", "y"), layer))


@pytest.mark.parametrize(
    ("standing", "parts"),
    [
        # Half of each group in each layer: the fact has nothing to do with it.
        ("stays", [(10, 9, 0, 0), (10, 9, 0, 1), (10, 2, 1, 0), (10, 2, 1, 1)]),
        # Most of the difference lies between layers, a third is left within.
        ("shrinks", [(40, 36, 0, 0), (10, 4, 0, 1), (10, 7, 1, 0), (40, 8, 1, 1)]),
        ("vanishes", [(18, 14, 0, 0), (4, 1, 0, 1), (4, 3, 1, 0), (18, 4, 1, 1)]),
        ("reverses", [(10, 1, 0, 0), (50, 35, 0, 1), (50, 8, 1, 0), (10, 9, 1, 1)]),
        ("inseparable", [(12, 11, 0, 0), (12, 2, 1, 1)]),
    ],
)
def test_what_is_left_of_a_difference_has_its_word(standing, parts):
    snapshot, groups, other = other_fact(parts)
    found = held_apart(compare(snapshot, Comparison((0,), groups)), 0, 0, 1, [other])
    assert [one.standing for one in found] == [standing]


def test_a_fact_that_most_of_these_people_have_no_value_of_isnt_spoken_of():
    snapshot, groups, other = other_fact([(4, 4, 0, 0), (10, 8, 0, -1), (10, 1, 1, -1), (4, 0, 1, 1)])
    assert held_apart(compare(snapshot, Comparison((0,), groups)), 0, 0, 1, [other]) == []
