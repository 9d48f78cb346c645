"""Words and ratings, counted against sets of characters and lists; rows that are no single codes; whole tables."""

from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from core.compare.by_part import compare
from core.compare.evidence import evidence
from core.compare.question import Comparison
from core.compare.rows import CodesRow, PassagesRow
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture, texture, weave
from tests.core.test_shared_groups import any_groups
from tests.core.worlds import SlowCount, random_groups, random_scope, random_snapshot

SEEDS = range(25)


def woven(seed: int, snapshot: Snapshot) -> tuple[Snapshot, Texture]:
    """Texts of random letters and blanks under the snapshot's turns, and the snapshot with the words they hold."""
    generator = np.random.default_rng(seed + 31)
    weaves = []
    for document in range(len(snapshot.document_ids)):
        turns = np.flatnonzero(snapshot.turn_document == document)
        bounds = [(int(snapshot.turn_start[t]), int(snapshot.turn_end[t])) for t in turns]
        text = "".join(generator.choice(list("abc  \n"), bounds[-1][1] + 1))
        weaves.append(weave(text, bounds))
    found = texture(snapshot, weaves)
    return replace(snapshot, turn_words=np.diff(found.turn_first).astype(np.int32)), found


def slow_words(snapshot: Snapshot, found: Texture, slow: SlowCount, passages: set[int], keep) -> set[int]:
    """Words overlapped by any of the passages in turns whose (case, document) ``keep`` wants, as a set."""
    held = set()
    for turn in range(len(snapshot.turn_document)):
        case, document = int(snapshot.turn_case[turn]), int(snapshot.turn_document[turn])
        if case < 0 or not keep(case, document):
            continue
        for word in range(found.turn_first[turn], found.turn_first[turn + 1]):
            if any(
                snapshot.passage_document[p] == document
                and max(found.word_start[word], snapshot.passage_start[p])
                < min(found.word_end[word], snapshot.passage_end[p])
                for p in passages
            ):
                held.add(word)
    return held


@pytest.mark.parametrize("seed", SEEDS)
def test_words_are_counted_as_sets_are(seed):
    snapshot, found = woven(seed, random_snapshot(seed))
    scope = random_scope(seed, snapshot)
    slow, rows = SlowCount(snapshot, scope), tuple(range(len(snapshot.code_ids)))
    talks = snapshot.talks
    for groups in any_groups(seed, snapshot):
        for base in ("talk", "row", "column"):
            result = compare(snapshot, Comparison(rows, groups, measure="words", base=base, scope=scope, texture=found))
            member = result.asked.groups
            for group in range(groups.count):
                said = by_talk_of(member, talks, group)

                def keep(case: int, document: int, said=said) -> bool:
                    in_scope = (scope.cases is None or scope.cases[case]) and (
                        scope.documents is None or scope.documents[document]
                    )
                    return in_scope and (case, document) in said

                shown = set()
                for row in rows:
                    words = slow_words(snapshot, found, slow, slow.passages_of(row, True), keep)
                    shown |= words
                    assert result.count[row, group] == len(words)
                if base == "column":
                    assert (result.base[:, group] == len(shown)).all()
                if base == "talk":
                    assert (result.base[:, group] == result.group_words[group]).all()
            if base == "row":
                assert (result.base == result.total_count[:, None]).all()


def by_talk_of(groups, talks, group: int) -> set[tuple[int, int]]:
    from core.compare.groups import by_talk

    member = by_talk(groups, talks).member[:, group]
    return {(int(talks.case[t]), int(talks.document[t])) for t in np.flatnonzero(member)}


def test_a_turn_has_the_words_of_its_own_text():
    # Common practice: words are counted turn by turn, so none lies across two.
    found = weave("P1: Well, no.\nP2: it’s 3.5 boats", [(4, 13), (18, 34)])
    assert found.words.tolist() == [[4, 8], [10, 12], [18, 22], [23, 26], [27, 32]]
    assert found.paragraphs.tolist() == [0, 14]


def with_ratings(seed: int, snapshot: Snapshot) -> Snapshot:
    rating = np.random.default_rng(seed + 3).integers(0, 6, len(snapshot.coding_code)).astype(np.int8)
    return replace(snapshot, coding_rating=rating)


@pytest.mark.parametrize("seed", SEEDS)
def test_ratings_are_summed_up_as_lists_are(seed):
    snapshot = with_ratings(seed, random_snapshot(seed))
    scope = random_scope(seed, snapshot)
    slow = SlowCount(snapshot, scope)
    for groups in any_groups(seed, snapshot):
        asked = Comparison((0, 1, CodesRow((2, 3))), groups, measure="rating", base="ratings", scope=scope)
        asked = replace(asked, roll_up=False)
        result = compare(snapshot, asked)
        for row, codes in enumerate(({0}, {1}, {2, 3})):
            for group in range(groups.count):
                said = by_talk_of(groups, snapshot.talks, group)
                listed = [
                    int(snapshot.coding_rating[k])
                    for k in range(len(snapshot.coding_code))
                    if int(snapshot.coding_code[k]) in codes
                    and snapshot.coding_rating[k] > 0
                    and (scope.coders is None or scope.coders[snapshot.coding_coder[k]])
                    and (
                        scope.documents is None
                        or scope.documents[snapshot.passage_document[snapshot.coding_passage[k]]]
                    )
                    and any(
                        (case, int(snapshot.passage_document[snapshot.coding_passage[k]])) in said
                        for case in slow.cases_of(int(snapshot.coding_passage[k]))
                    )
                ]
                assert result.count[row, group] == len(listed)
                if listed:
                    assert result.figure[row, group] == pytest.approx(np.mean(listed))
                if len(listed) > 1:
                    assert result.deviation[row, group] == pytest.approx(np.std(listed, ddof=1))
                opened = evidence(snapshot, asked, row, group)
                assert len(np.unique(opened.passage)) == result.passages[row, group]


def test_ratings_on_no_coding_at_all_have_no_mean():
    snapshot = random_snapshot(4)
    result = compare(snapshot, Comparison((0,), random_groups(4), measure="rating", base="ratings", permutations=100))
    assert np.isnan(result.figure).all()
    assert result.count.sum() == 0
    assert result.tests.kind == ("none",)


def test_shuffling_ratings_finds_a_planted_difference():
    from core.compare.groups import Groups
    from core.statistics.dealing import exchange
    from core.statistics.intervals import studentised
    from core.statistics.permutation import permute_cases

    generator = np.random.default_rng(5)
    times = generator.integers(0, 5, (2, 24)).astype(float)
    times[:, 0] = times[:, -1] = 3
    apart = np.where(np.arange(24) < 12, 4, 2)
    sums = np.stack([times[0] * apart, times[1] * 3]).astype(np.int64)
    groups = Groups(("a", "b"), np.repeat([0, 1], 12).astype(np.int32))
    found = permute_cases(sums, times, exchange(groups.labels), 2, 2000, 1)
    assert found.p[0] < 0.01
    assert found.p[1] == 1.0
    # Where all are alike there is no spread to tell an interval from.
    low, high = studentised(sums[:, :12], times[:, :12])
    assert np.isnan(low).all()
    assert np.isnan(high).all()


@pytest.mark.parametrize("seed", SEEDS)
def test_rows_that_are_codes_together_or_passages_one_by_one(seed):
    snapshot = random_snapshot(seed)
    scope, slow = random_scope(seed, snapshot), None
    slow = SlowCount(snapshot, scope)
    picked = np.random.default_rng(seed).random(len(snapshot.passage_ids)) < 0.4
    for groups in any_groups(seed, snapshot):
        asked = Comparison((0, CodesRow((0, 1, 2)), PassagesRow(picked)), groups, scope=scope)
        found = compare(snapshot, asked)
        together = slow.passages_of(0, True) | slow.passages_of(1, True) | slow.passages_of(2, True)
        assert found.left_out.by_row[0].sum() == len(slow.passages_of(0, True))
        assert found.left_out.by_row[1].sum() == len(together)
        for row in range(3):
            for group in range(groups.count):
                opened = evidence(snapshot, asked, row, group)
                assert len(np.unique(opened.passage)) == found.passages[row, group]
                assert len(np.unique(opened.case)) == found.people[row, group]


def test_a_whole_table_is_told_only_where_everyone_mentions_one_row():
    snapshot = random_snapshot(2)
    assert compare(snapshot, Comparison((0, 1, 2), random_groups(2))).whole is None


def test_exclusive_rows_make_one_table():
    """Everyone mentions one of three codes: the table as a whole is tested as scipy does."""
    table = np.array([[12, 3, 8], [5, 14, 6], [9, 7, 10]])
    from core.statistics.whole import of_table

    found = of_table(table)
    theirs = stats.chi2_contingency(table)
    assert (found.statistic, found.degrees, found.p) == pytest.approx(
        (theirs.statistic, theirs.dof, theirs.pvalue), rel=1e-9
    )
    assert found.v == pytest.approx(stats.contingency.association(table, method="cramer"), rel=1e-9)


@pytest.mark.parametrize("seed", range(6))
def test_people_who_heard_each_other_are_counted(seed):
    snapshot = random_snapshot(seed)
    groups, scope = random_groups(seed), random_scope(seed, snapshot)
    result = compare(snapshot, Comparison((0, 1), groups, scope=scope))
    base = set(np.flatnonzero(result.counted.in_base).tolist())
    speaking: dict[int, set[int]] = {}
    for turn, case in enumerate(snapshot.turn_case.tolist()):
        document = int(snapshot.turn_document[turn])
        inked = snapshot.turn_end[turn] > snapshot.turn_start[turn]
        if case in base and inked and (scope.documents is None or scope.documents[document]):
            speaking.setdefault(document, set()).add(case)
    expected = set().union(*(cases for cases in speaking.values() if len(cases) > 1))
    assert result.heard_each_other == len(expected)
