"""Groups by facts about documents, by two facts at once, by cohorts that overlap: counted against slow counting."""

import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.contingency_tables import StratifiedTable

from core.compare.by_part import compare
from core.compare.counts import REASONS_LEFT_OUT
from core.compare.evidence import evidence
from core.compare.groups import (
    OUTSIDE,
    Groups,
    SharedGroups,
    by_cohorts,
    by_document_cohorts,
    by_documents,
    by_talk,
    crossed,
)
from core.compare.question import Comparison
from core.compare.tally import tally
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics import association
from tests.core.worlds import SlowCount, random_groups, random_scope, random_snapshot

SEEDS = range(20)


def of_documents(seed: int, snapshot: Snapshot) -> SharedGroups:
    labels = np.random.default_rng(seed + 5).choice([0, 1, 0, 1, -1, OUTSIDE], len(snapshot.document_ids))
    return by_documents(Groups(("winter", "spring"), labels.astype(np.int32)), snapshot.talks)


def any_groups(seed: int, snapshot: Snapshot) -> list[Groups | SharedGroups]:
    member = np.random.default_rng(seed + 6).random((len(snapshot.case_ids), 3)) < 0.4
    papers = np.random.default_rng(seed + 7).random((len(snapshot.document_ids), 2)) < 0.5
    by_fact, by_document = random_groups(seed), of_documents(seed, snapshot)
    return [
        by_fact,
        by_document,
        crossed(by_fact, by_document, snapshot.talks),
        crossed(by_document, by_fact, snapshot.talks),
        by_cohorts(("early", "late", "both"), member, snapshot.talks),
        by_document_cohorts(("short", "odd"), papers, snapshot.talks),
    ]


@pytest.mark.parametrize("seed", SEEDS)
def test_counting_by_talks_is_counting_by_cases(seed):
    snapshot = random_snapshot(seed)
    groups, scope = random_groups(seed), random_scope(seed, snapshot)
    rows, chosen = snapshot.branch_rows, np.arange(len(snapshot.code_ids))
    for everyone in (True, False):
        one = tally(snapshot, rows, chosen, groups, scope, everyone)
        other = tally(snapshot, rows, chosen, by_talk(groups, snapshot.talks), scope, everyone)
        for name in ("people", "passages", "most", "base", "group_words", "group_passages", "fate"):
            assert np.array_equal(getattr(one, name), getattr(other, name)), name


@pytest.mark.parametrize("seed", SEEDS)
def test_a_fact_about_documents_is_counted_as_sets_are(seed):
    snapshot = random_snapshot(seed)
    scope, groups = random_scope(seed, snapshot), of_documents(seed, snapshot)
    slow = SlowCount(snapshot, scope)
    asked = Comparison(tuple(range(len(snapshot.code_ids))), groups, scope=scope)
    found = compare(snapshot, asked)
    label = np.random.default_rng(seed + 5).choice([0, 1, 0, 1, -1, OUTSIDE], len(snapshot.document_ids))
    for code in asked.rows:
        for group in (0, 1):
            pairs = {
                (passage, case)
                for passage in slow.passages_of(code, True)
                for case in slow.cases_of(passage)
                if label[snapshot.passage_document[passage]] == group
            }
            assert found.people[code, group] == len({case for _, case in pairs})
            assert found.passages[code, group] == len({passage for passage, _ in pairs})
    assert (found.left_out.by_row.sum(axis=1) == [len(slow.passages_of(code, True)) for code in asked.rows]).all()


@pytest.mark.parametrize("seed", SEEDS)
def test_every_cell_opens_exactly_what_it_counts(seed):
    """In every form of groups, every number is the passages and people that its drawer lists."""
    snapshot = random_snapshot(seed)
    scope = random_scope(seed, snapshot)
    for groups in any_groups(seed, snapshot):
        asked = Comparison(tuple(range(len(snapshot.code_ids))), groups, scope=scope, measure="people")
        found = compare(snapshot, asked)
        for row in asked.rows:
            for group in range(groups.count):
                opened = evidence(snapshot, asked, row, group)
                assert len(np.unique(opened.case)) == found.people[row, group]
                assert len(np.unique(opened.passage)) == found.passages[row, group]
                assert len(opened.silent) == found.group_people[group] - found.people[row, group]
            everyone = evidence(snapshot, asked, row, None)
            assert len(np.unique(everyone.case)) == found.total_people[row]
            assert len(np.unique(everyone.passage)) == found.total_passages[row]
            for place, reason in enumerate(REASONS_LEFT_OUT[1:], start=1):
                lost = evidence(snapshot, asked, row, None, reason)
                assert len(np.unique(lost.passage)) == found.left_out.by_row[row, place]


def waves(says: list[tuple[int, int]], alone: int = 0) -> Snapshot:
    """One interview a person and wave: whether each mentions the code in winter, and in spring; then people who spoke
    in winter only, and mention it."""
    people = len(says) + alone
    speaking = [(wave, person) for person in range(people) for wave in (0, 1) if person < len(says) or wave == 0]
    mentions = [at for at, (wave, person) in enumerate(speaking) if person >= len(says) or says[person][wave]]
    size = len(speaking)
    each, one = np.arange(size), np.ones(len(mentions), np.int32)
    return Snapshot(
        1, each, each, np.zeros(size, np.int32), np.full(size, 20), each, np.full(size, 4), np.zeros(size, np.int8),
        np.array([person for _, person in speaking]), np.arange(people), np.array(mentions), np.array(mentions), one, one * 9,
        np.arange(len(mentions)), one * 0, one * 0, np.array([1]), np.array([-1]), np.array([7]),
    )  # fmt: skip


def wave_groups(snapshot: Snapshot) -> SharedGroups:
    order = np.lexsort((np.arange(len(snapshot.document_ids)), snapshot.speaker_case))
    labels = np.zeros(len(order), np.int32)
    seen: set[int] = set()
    for document in order.tolist():
        labels[document] = int(int(snapshot.speaker_case[document]) in seen)
        seen.add(int(snapshot.speaker_case[document]))
    return by_documents(Groups(("winter", "spring"), labels), snapshot.talks)


def test_waves_are_tested_on_who_changed_and_only_on_those_in_both():
    snapshot = waves([(1, 1)] * 3 + [(1, 0)] * 1 + [(0, 1)] * 8 + [(0, 0)] * 2, alone=5)
    found = compare(snapshot, Comparison((0,), wave_groups(snapshot), difference=(1, 0)))
    assert (found.people.tolist(), found.group_people.tolist()) == ([[9, 11]], [19, 14])
    assert found.tests.kind == ("changes",)
    assert found.tests.p[0] == pytest.approx(stats.binomtest(1, 9).pvalue)
    assert found.changes is not None
    counted = (found.changes.both, found.changes.only_first, found.changes.only_second, found.changes.neither)
    assert [int(part[0]) for part in counted] == [3, 1, 8, 2]
    # Newcombe's interval and adjusted residuals are for different people.
    assert found.difference is None
    assert np.isnan(found.residual).all()
    assert (found.shared_people, found.total_people.tolist(), found.total_base.tolist()) == (14, [17], [19])


def test_passages_and_rates_of_waves_are_not_shuffled():
    snapshot = waves([(1, 0), (1, 1), (0, 1)])
    for measure, base in (("passages", "column"), ("rate", "words"), ("per_person", "with_material")):
        asked = Comparison((0,), wave_groups(snapshot), measure=measure, base=base, permutations=200)
        found = compare(snapshot, asked)
        assert found.tests.kind == ("none",)
        assert found.count.tolist() == [[2, 2]]
    assert found.median.tolist() == [[1.0, 1.0]]


def test_cohorts_that_overlap_have_shares_but_no_test():
    snapshot = waves([(1, 1), (0, 1), (0, 0)])
    overlapping = by_cohorts(("a", "b"), np.array([[1, 1], [1, 0], [0, 1]], bool), snapshot.talks)
    found = compare(snapshot, Comparison((0,), overlapping, difference=(1, 0)))
    assert found.figure.tolist() == [[1.0, 0.5]]
    assert (found.tests.kind, found.difference, found.shared_people) == (("none",), None, 1)
    apart = by_cohorts(("a", "b"), np.array([[1, 0], [0, 1], [0, 0]], bool), snapshot.talks)
    assert isinstance(apart, Groups)
    assert apart.labels.tolist() == [0, 1, OUTSIDE]


def test_layers_are_held_apart():
    dice = np.random.default_rng(2)
    island, boat = dice.integers(0, 3, 60), dice.integers(0, 2, 60)
    snapshot = waves([(int(dice.random() < 0.3 + 0.4 * b), 0) for b in boat])
    groups = crossed(Groups(("N", "Y", "H"), island.astype(np.int32)), Groups(("no", "yes"), boat.astype(np.int32)), snapshot.talks)  # fmt: skip
    assert groups.names[:2] == ("N · no", "N · yes")
    found = compare(snapshot, Comparison((0,), groups, layers=3))
    says, base = found.people.reshape(3, 2), found.group_people.reshape(3, 2)
    table = np.stack([says[:, ::-1], (base - says)[:, ::-1]], axis=1).transpose(2, 1, 0).astype(float)
    theirs = StratifiedTable(table)
    assert found.tests.kind == ("layered",)
    assert found.tests.p[0] == pytest.approx(theirs.test_null_odds(correction=False).pvalue, abs=1e-9)
    assert found.within_layers is not None
    alone = association.adjusted_residuals(says[None, 1], base[1])
    assert found.residual[:, 2:4] == pytest.approx(alone, nan_ok=True)
    assert found.within_layers.odds_ratio[0] == pytest.approx(theirs.oddsratio_pooled, abs=1e-9)
    assert found.within_layers.differ_p[0] == pytest.approx(theirs.test_equal_odds(adjust=True).pvalue, abs=1e-7)


def test_a_person_without_material_counts_only_when_everyone_is_asked_for():
    snapshot = waves([(1, 0)])
    more = Snapshot(**{**vars(snapshot), "case_ids": np.arange(3)})
    groups = Groups(("a", "b"), np.array([0, 0, 1], np.int32))
    for shown in (groups, by_talk(groups, more.talks)):
        assert compare(more, Comparison((0,), shown)).group_people.tolist() == [1, 0]
        assert compare(more, Comparison((0,), shown, base="everyone")).group_people.tolist() == [2, 1]
    assert Scope(documents=np.array([True, False])).documents is not None
    only = compare(more, Comparison((0,), groups, scope=Scope(documents=np.array([False, True]))))
    assert only.group_words.tolist() == [4, 0]


@pytest.mark.parametrize("seed", SEEDS)
def test_cohorts_of_documents_that_part_them_are_a_fact_about_documents_and_others_arent_tested(seed):
    snapshot = random_snapshot(seed)
    fact = of_documents(seed, snapshot)
    labels = np.random.default_rng(seed + 5).choice([0, 1, 0, 1, -1, OUTSIDE], len(snapshot.document_ids))
    inside = labels[:, None] == np.arange(2)[None, :]
    cohorts = by_document_cohorts(("winter", "spring"), inside, snapshot.talks)
    asked = lambda groups: compare(snapshot, Comparison(tuple(range(len(snapshot.code_ids))), groups))  # noqa: E731
    one, other = asked(fact), asked(cohorts)
    assert np.array_equal(one.people, other.people)
    assert one.tests.kind == other.tests.kind
    np.testing.assert_array_equal(one.tests.p, other.tests.p)
    inside[:, 1] = True
    overlapping = by_document_cohorts(("winter", "all"), inside, snapshot.talks)
    if inside[:, 0].any() and not overlapping.apart:
        assert set(asked(overlapping).tests.kind) == {"none"}
