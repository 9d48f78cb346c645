"""Codes with codes, and conditions on passages: against loops over every pair."""

from dataclasses import replace

import numpy as np
import pytest

from core.compare.evidence import evidence
from core.compare.groups import by_talk
from core.compare.question import Comparison
from core.passages.around import around
from core.passages.search import Blocks, Coded, Made, Placed, Search
from core.passages.together import by_group, meetings, met
from core.snapshot.columns import REGION, SPAN
from core.snapshot.nearness import Nearness, TooNear
from core.snapshot.scope import Scope
from tests.core.test_measures import woven
from tests.core.test_shared_groups import any_groups
from tests.core.worlds import SlowCount, random_groups, random_scope, random_snapshot

SEEDS = range(20)
WAYS = [Nearness(), Nearness("turns", 0), Nearness("turns", 2), Nearness("paragraphs", 1)]


def unit_range(snapshot, texture, p: int, unit: str) -> tuple[int, int]:
    """First and last turn or paragraph of a passage, by looking at each."""
    start, end, document = (
        int(x[p]) for x in (snapshot.passage_start, snapshot.passage_end, snapshot.passage_document)
    )
    if unit == "turns":
        held = [
            t for t in range(len(snapshot.turn_document))
            if snapshot.turn_document[t] == document and snapshot.turn_start[t] < end and start < snapshot.turn_end[t]
        ]  # fmt: skip
        return (held[0], held[-1]) if held else (-9 - 9 * p, -9 - 9 * p)
    starts = texture.paragraph_start[texture.paragraph_first[document] : texture.paragraph_first[document + 1]]
    return int((starts <= start).sum()), int((starts <= max(end - 1, start)).sum())


def near(snapshot, texture, nearness: Nearness, p: int, q: int) -> bool:
    if snapshot.passage_document[p] != snapshot.passage_document[q]:
        return False
    if nearness.unit == "overlap":
        return max(snapshot.passage_start[p], snapshot.passage_start[q]) < min(
            snapshot.passage_end[p], snapshot.passage_end[q]
        )
    a, b = (unit_range(snapshot, texture, one, nearness.unit) for one in (p, q))
    return max(b[0] - a[1], a[0] - b[1], 0) <= nearness.within


def within_turns(snapshot):
    """Each passage cut to the turn that it begins in: said by one speaker at most, though others speak near it."""
    start, end = snapshot.passage_start.copy(), snapshot.passage_end.copy()
    for p in range(len(start)):
        turn = next(
            (
                t for t in range(len(snapshot.turn_document))
                if snapshot.turn_document[t] == snapshot.passage_document[p] and snapshot.turn_end[t] > start[p]
            ),
            None,
        )  # fmt: skip
        if turn is not None and snapshot.turn_start[turn] <= start[p]:
            end[p] = min(end[p], snapshot.turn_end[turn])
    return replace(snapshot, passage_end=end)


def one_speaks(snapshot):
    """One person in each document, as in interviews."""
    documents = len(snapshot.document_ids)
    return replace(
        snapshot,
        speaker_role=np.zeros(documents, np.int8),
        speaker_case=(np.arange(documents) % len(snapshot.case_ids)).astype(np.int32),
        turn_speaker=snapshot.turn_document.copy(),
    )


@pytest.mark.parametrize("nearness", WAYS)
@pytest.mark.parametrize("seed", SEEDS)
def test_codes_meet_as_often_as_loops_find(seed, nearness):
    _meet_as_loops_find(seed, nearness, random_snapshot(seed))


@pytest.mark.parametrize("made", [within_turns, one_speaks])
@pytest.mark.parametrize("seed", range(8))
def test_so_they_do_where_each_passage_is_one_persons(seed, made):
    _meet_as_loops_find(seed, Nearness("turns", 1), made(random_snapshot(seed)))


def _meet_as_loops_find(seed, nearness, snapshot):
    snapshot, texture = woven(seed, snapshot)
    scope = random_scope(seed, snapshot)
    slow = SlowCount(snapshot, scope)
    codes = range(len(snapshot.code_ids))
    found = meetings(snapshot, np.array(codes), scope, nearness, texture=texture)
    table = found.among()
    held = {c: {p for p in slow.passages_of(c, False) if slow.cases_of(p)} for c in codes}
    for i in codes:
        for j in codes:
            pairs = {(p, q) for p in held[i] for q in held[j] if p == q or near(snapshot, texture, nearness, p, q)}
            assert table.pairs[i, j] == len(pairs)
            assert table.passages[i, j] == len({p for p, _ in pairs})
            assert table.documents[i, j] == len({int(snapshot.passage_document[p]) for p, _ in pairs})
            assert table.people[i, j] == len({c for p, q in pairs for c in slow.cases_of(p) & slow.cases_of(q)})
            assert {(one.first, one.second) for one in met(found, i, j)} == pairs
    likeness = table.likeness("documents")
    assert np.nanmax(likeness, initial=0) <= 1
    assert np.allclose(likeness, likeness.T, equal_nan=True)


@pytest.mark.parametrize("seed", SEEDS)
def test_what_is_around_a_cell_is_what_loops_find(seed):
    """Other codes on passages that share a turn with the cell's own, said by its people."""
    snapshot = random_snapshot(seed)
    scope, groups = random_scope(seed, snapshot), random_groups(seed)
    slow = SlowCount(snapshot, scope)
    asked = Comparison((0, 1, 2), groups, scope=scope)
    for row, group in ((0, 0), (1, 2), (2, None)):
        opened = evidence(snapshot, asked, row, group)
        own, people = set(opened.passage.tolist()), set(opened.case.tolist())
        expected = {}
        for code in range(len(snapshot.code_ids)):
            if code in branch(snapshot, row):
                continue
            there = {
                p for p in slow.passages_of(code, False)
                if slow.cases_of(p) & people
                and (p in own or any(near(snapshot, None, Nearness("turns", 0), p, q) for q in own))
            }  # fmt: skip
            if there:
                who = {case for p in there for case in slow.cases_of(p) & people}
                expected[code] = (len(who), len(there))
        found = around(snapshot, asked, row, group)
        told = zip(found.code.tolist(), found.people.tolist(), found.passages.tolist(), strict=True)
        assert {code: (people, passages) for code, people, passages in told} == expected
        assert sorted(found.people, reverse=True) == found.people.tolist()


def branch(snapshot, code: int) -> set[int]:
    """A code and all beneath it."""
    held = {code}
    while True:
        below = {c for c in range(len(snapshot.code_ids)) if int(snapshot.code_parent[c]) in held}
        if below <= held:
            return held
        held |= below


@pytest.mark.parametrize("seed", range(8))
def test_a_group_by_itself_is_the_project_without_the_others(seed):
    snapshot = random_snapshot(seed)
    for groups in any_groups(seed, snapshot):
        found = meetings(snapshot, np.arange(len(snapshot.code_ids)))
        shared = by_talk(groups, snapshot.talks)
        for group, table in enumerate(by_group(found, groups)):
            own = {
                int(p): {int(c) for c in snapshot.attributions.case[snapshot.attributions.first[p] : snapshot.attributions.first[p + 1]]
                         if shared.member[(snapshot.talks.case == c) & (snapshot.talks.document == snapshot.passage_document[p])][0, group]}
                for p in range(len(snapshot.passage_ids))
            }  # fmt: skip
            passages = [p for p, cases in own.items() if cases]
            codes = {p: set(snapshot.coding_code[snapshot.coding_passage == p].tolist()) for p in passages}
            pairs = [
                (p, q) for p in passages for q in passages
                if p == q or near(snapshot, None, Nearness(), p, q)
            ]  # fmt: skip
            for i, j in ((0, 1), (2, 3), (4, 4)):
                both = [(p, q) for p, q in pairs if i in codes[p] and j in codes[q]]
                assert table.pairs[i, j] == len(both)
                assert table.people[i, j] == len({c for p, q in both for c in own[p] & own[q]})


def test_recordings_meet_in_time_and_regions_only_themselves():
    snapshot = random_snapshot(1, documents=1, codes=2, codings=40)
    size = len(snapshot.passage_ids)
    kind = np.zeros(size, np.int8)
    kind[:2], kind[2:4] = SPAN, REGION
    begin, finish = np.full(size, np.nan), np.full(size, np.nan)
    begin[:2], finish[:2] = [1.0, 2.5], [3.0, 4.0]
    times = np.full(len(snapshot.turn_document), np.nan)
    heard = replace(
        snapshot, passage_kind=kind, passage_begin=begin, passage_finish=finish, turn_begin=times, turn_finish=times,
        speaker_document=np.zeros(len(snapshot.speaker_role), np.int32),
        passage_start=np.where(kind > 0, 0, snapshot.passage_start), passage_end=np.where(kind > 0, 0, snapshot.passage_end),
    )  # fmt: skip
    from core.snapshot.nearness import extents, near_pairs

    def pairs(nearness: Nearness) -> set[tuple[int, int]]:
        one, other = near_pairs(extents(heard, nearness), kind > 0)
        return set(zip(one.tolist(), other.tolist(), strict=True))

    assert pairs(Nearness()) == {(0, 1)}
    assert pairs(Nearness("seconds", 5)) == {(0, 1)}


def test_too_many_neighbours_are_refused_in_words(monkeypatch):
    from core.snapshot import nearness

    monkeypatch.setattr(nearness, "MOST_PAIRS", 3)
    with pytest.raises(TooNear, match="smaller distance"):
        meetings(random_snapshot(3), np.arange(6), nearness=Nearness("turns", 50)).among().pairs.sum()


RELATIONS = ["inside", "contains", "overlaps", "near", "before", "after"]


@pytest.mark.parametrize("relation", RELATIONS)
@pytest.mark.parametrize("seed", SEEDS)
def test_places_are_those_that_loops_find(seed, relation):
    snapshot, texture = woven(seed, random_snapshot(seed))
    size = len(snapshot.passage_ids)
    for nearness in WAYS[1:]:
        found = Search(snapshot, Scope(), texture).found(Placed(relation, (0, 1), False, nearness))
        others = [q for q in range(size) if set(snapshot.coding_code[snapshot.coding_passage == q].tolist()) & {0, 1}]
        for p in range(size):
            a, b = int(snapshot.passage_start[p]), int(snapshot.passage_end[p])
            fits = False
            for q in others:
                if snapshot.passage_document[p] != snapshot.passage_document[q]:
                    continue
                c, d = int(snapshot.passage_start[q]), int(snapshot.passage_end[q])
                # One that carries the code itself lies on it, inside it and near it.
                close = q == p or near(snapshot, texture, nearness, p, q)
                fits |= {
                    "inside": c <= a and b <= d,
                    "contains": a <= c and d <= b,
                    "overlaps": max(a, c) < min(b, d),
                    "near": close,
                    "before": b <= c and close,
                    "after": d <= a and close,
                }[relation]
            assert found[p] == fits, (p, nearness)


@pytest.mark.parametrize("seed", SEEDS)
def test_conditions_keep_what_sets_keep_and_say_how_many(seed):
    snapshot = replace(
        random_snapshot(seed),
        coding_day=np.random.default_rng(seed).integers(0, 10, 60).astype(np.int32),
        coding_rating=np.random.default_rng(seed + 1).integers(0, 6, 60).astype(np.int8),
    )
    made = len(snapshot.coding_code)
    snapshot = replace(snapshot, coding_day=snapshot.coding_day[:made], coding_rating=snapshot.coding_rating[:made])
    scope = random_scope(seed, snapshot)
    if scope.coders is None:  # so that passages nobody coded are out of play
        scope = replace(scope, coders=np.ones(2, bool))
    slow, search = SlowCount(snapshot, scope), Search(snapshot, scope)
    every = set().union(*(slow.passages_of(code, False) for code in range(6)))
    a, b = (slow.passages_of(code, True) for code in (0, 1))

    def keeps(block) -> set[int]:
        return set(np.flatnonzero(search.found(block)).tolist()) & every

    assert keeps(Coded("all", (0, 1))) == a & b
    assert keeps(Coded("any", (0, 1))) == a | b
    assert keeps(Coded("one", (0, 1))) == a ^ b
    assert keeps(Coded("none", (0, 1))) == every - a - b
    block = Blocks("all", (Coded("any", (0,)), Blocks("all", (Coded("any", (1,)),), negated=True)))
    assert keeps(block) == a - b
    counts = search.kept(block)
    assert (counts.count, counts.parts[0].count, counts.parts[1].so_far) == (len(a - b), len(a), len(a - b))
    assert counts.parts[1].count == len(every - b)
    coder = Made(coders=(1,), rating=(2, 4), days=(3, 7))
    expected = {
        int(snapshot.coding_passage[k]) for k in range(made)
        if snapshot.coding_coder[k] == 1 and 2 <= snapshot.coding_rating[k] <= 4 and 3 <= snapshot.coding_day[k] <= 7
        and (scope.coders is None or scope.coders[1])
    }  # fmt: skip
    assert keeps(coder) == expected & every
