"""People who were asked as the base, and mentions when asked or of their own accord: held to sets and loops, and to what the rule
for *sure* promises."""

from dataclasses import replace

import numpy as np
import pytest

from core.coding.guide import Guide, Put
from core.compare.asked import accords
from core.compare.by_part import FamilyByPart, compare, family_of
from core.compare.counts import REASONS_LEFT_OUT
from core.compare.evidence import every_cell, evidence
from core.compare.groups import Groups, by_talk
from core.compare.question import Comparison, ComparisonError
from core.compare.rows import CodesRow, PassagesRow
from core.compare.steady import steady
from core.compare.told.cautions import cautions
from core.compare.told.left_out import left_out_line
from core.compare.told.methods import methods_paragraph, of_the_rule
from core.compare.told.sentence import Names, sentence
from core.snapshot.columns import INTERVIEWER, PARTICIPANT
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.corrections import holm
from tests.core.naive import Naive, NaiveAsked
from tests.core.test_guide import random_put
from tests.core.test_shared_groups import any_groups
from tests.core.worlds import SlowCount, random_scope, random_snapshot

SEEDS = range(30)
NAMES = Names("person", "people", "Where", "3 codes")


def random_guide(seed: int, snapshot: Snapshot) -> Guide:
    generator = np.random.default_rng(seed + 71)
    codes = len(snapshot.code_ids)
    about = tuple(tuple(generator.choice(codes, generator.integers(0, 3), replace=False).tolist()) for _ in range(3))
    return Guide(random_put(seed, snapshot), about, within=2)


def slowly(snapshot: Snapshot, guide: Guide) -> NaiveAsked:
    put = list(zip(guide.put.turn.tolist(), guide.put.question.tolist(), strict=True))
    return NaiveAsked(snapshot, put, [set(codes) for codes in guide.about], guide.within)


def naive_of(snapshot: Snapshot, groups, scope: Scope, roll_up: bool) -> Naive:
    talks = by_talk(groups, snapshot.talks)
    pairs = zip(snapshot.talks.case.tolist(), snapshot.talks.document.tolist(), strict=True)
    of = {talk: set(np.flatnonzero(talks.member[at]).tolist()) for at, talk in enumerate(pairs)}
    return Naive(snapshot, SlowCount(snapshot, scope), of, groups.count, roll_up=roll_up)


@pytest.mark.parametrize("seed", SEEDS)
def test_figures_of_people_asked_are_those_of_sets_and_loops(seed):
    held, scope, roll_up = (snapshot := random_snapshot(seed)), random_scope(seed, snapshot), bool(seed % 2)
    guide = random_guide(seed, held)
    slow_guide = slowly(held, guide)
    for groups in any_groups(seed, held):
        naive = naive_of(held, groups, scope, roll_up)
        asked = Comparison(tuple(range(6)), groups, roll_up=roll_up, base="asked", scope=scope, guide=guide)
        found, means = compare(held, asked), compare(held, replace(asked, measure="per_person"))
        for code, said in enumerate(naive.rows()):
            documents = slow_guide.documents(code, roll_up)
            base = [set() for _ in range(groups.count)]
            of_case: dict[int, set[int]] = {}
            for (case, document), of in naive.groups.items():
                there = (
                    document in documents and (case, document) in naive.material() and naive.in_scope(case, document)
                )
                for group in of if there else ():
                    base[group].add(case)
                    of_case.setdefault(case, set()).add(group)
            whole = set().union(*base) if isinstance(groups, Groups) else None
            for group in range(groups.count):
                people = {case for _, case, at in said if at == group} & base[group]
                assert found.base[code, group] == len(base[group]), (seed, code, group)
                assert found.people[code, group] == found.count[code, group] == len(people)
                spoken = {(passage, case) for passage, case, at in said if at == group and case in base[group]}
                assert (means.count[code, group], means.base[code, group]) == (len(spoken), len(base[group]))
                opened = evidence(held, asked, code, group)
                assert {int(case) for case in opened.case} == people
                assert {int(case) for case in opened.silent} == base[group] - people
            if whole is not None:
                assert found.total_base[code] == len(whole)
        # What isn't in the table is told, and adds up for each row and for all.
        in_scope = [len(naive.slow.passages_of(code, roll_up)) for code in range(6)]
        assert (found.left_out.by_row.sum(axis=1) == in_scope).all()
        for row in range(6):
            for place, reason in enumerate(REASONS_LEFT_OUT[1:], start=1):
                lost = evidence(held, asked, row, None, reason)
                assert len(np.unique(lost.passage)) == found.left_out.by_row[row, place]
        whole = compare(held, replace(asked, base="with_material"))
        assert found.left_out.in_scope == whole.left_out.in_scope
        assert found.left_out.overall[0] <= whole.left_out.overall[0]


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("accord", ["when_asked", "own_accord"])
def test_mentions_when_asked_or_not_are_those_of_sets_and_loops(seed, accord):
    held, roll_up = random_snapshot(seed), bool(seed % 2)
    scope, guide = random_scope(seed, held), random_guide(seed, held)
    slow_guide = slowly(held, guide)
    for groups in any_groups(seed, held):
        naive = naive_of(held, groups, scope, roll_up)
        asked = Comparison(tuple(range(6)), groups, roll_up=roll_up, scope=scope, guide=guide, accord=accord)
        found, cells = compare(held, asked), every_cell(held, asked)
        for code, said in enumerate(naive.rows()):
            kept = {
                (passage, case, group)
                for passage, case, group in said
                if slow_guide.when_asked(passage, code, roll_up) == (accord == "when_asked")
                and slow_guide.interviewed(int(held.passage_document[passage]))
            }
            for group in range(groups.count):
                here = [(passage, case) for passage, case, at in kept if at == group]
                assert found.people[code, group] == len({case for _, case in here})
                assert found.passages[code, group] == len({passage for passage, _ in here})
                own = (cells.row == code) & (cells.group == group)
                assert set(zip(cells.passage[own].tolist(), cells.case[own].tolist(), strict=True)) == set(here)


def interviews(asked: list[list[int]], mentions: list[list[int]]) -> tuple[Snapshot, Guide]:
    """One talk a person, of a question a row and an answer: whether each was asked (rows, people), and mentions it."""
    rows, people = len(asked), len(asked[0])
    turns, put, passages = [], [], []
    for person in range(people):
        at = 0
        for row in range(rows):
            if asked[row][person]:
                put.append((len(turns), row))
            turns.append((person, at, at + 4, 2 * person))
            if mentions[row][person]:
                passages.append((person, at + 5, at + 9, row))
            turns.append((person, at + 5, at + 9, 2 * person + 1))
            at += 10
    turn, made = np.array(turns, np.int32).T, np.array(passages, np.int32).reshape(-1, 4).T
    each = np.arange(len(made[0]))
    none = np.zeros(len(each), np.int32)
    snapshot = Snapshot(
        1, np.arange(people), turn[0], turn[1], turn[2], turn[3], np.full(len(turns), 4),
        np.tile(np.array([INTERVIEWER, PARTICIPANT], np.int8), people),
        np.stack([np.full(people, -1), np.arange(people)], axis=1).ravel().astype(np.int32), np.arange(people),
        each, made[0], made[1], made[2], each, made[3], none, np.arange(rows), np.full(rows, -1), np.array([7]),
    )  # fmt: skip
    return snapshot, Guide(
        Put(*(np.array(column, np.int64) for column in zip(*put, strict=True))), tuple((row,) for row in range(rows))
    )


def halves(people: int) -> Groups:
    return Groups(("a", "b"), np.repeat([0, 1], [people // 2, people - people // 2]).astype(np.int32))


def test_each_row_is_compared_as_if_only_its_people_were_there():
    generator = np.random.default_rng(3)
    asked = (generator.random((3, 40)) < 0.7).astype(int).tolist()
    asked[2] = asked[0]
    held, guide = interviews(asked, (generator.random((3, 40)) < 0.4).astype(int).tolist())
    groups = halves(40)
    found = compare(held, Comparison((0, 1, 2), groups, base="asked", guide=guide, difference=(1, 0)))
    family = family_of(found)
    assert isinstance(family, FamilyByPart)
    # Rows 0 and 2 were asked of the same people: one set; row 1 another.
    assert family.sets == 2
    for rows in ((0, 2), (1,)):
        those = np.array(asked[rows[0]], bool)
        alone = compare(held, Comparison(rows, groups, scope=Scope(cases=those), difference=(1, 0)))
        own = family_of(alone)
        for at, row in enumerate(rows):
            for name in ("figure", "low", "high", "residual", "people", "passages"):
                assert np.array_equal(getattr(found, name)[row], getattr(alone, name)[at], equal_nan=True), name
            assert found.tests.p[row] == alone.tests.p[at]
            assert found.difference.low[row] == alone.difference.low[at]
            assert found.difference.seen[row] == alone.difference.seen[at]
            assert family.p[row, 0] == pytest.approx(min(2 * own.p[at, 0], 1))
    assert np.array_equal(found.tests.holm, holm(found.tests.p))


def test_who_was_not_asked_neither_makes_a_difference_nor_hides_one():
    # Everybody who was asked mentions it in one group, nobody in the other; most of both weren't asked.
    asked = [[1] * 8 + [0] * 12 + [1] * 8 + [0] * 12]
    says = [[1] * 8 + [0] * 12 + [0] * 8 + [1] * 12]
    held, guide = interviews(asked, says)
    plain = Comparison((0,), halves(40), guide=guide, difference=(0, 1))
    before, after = (compare(held, replace(plain, base=base)) for base in ("with_material", "asked"))
    assert before.figure.tolist() == [[0.4, 0.6]]
    assert after.figure.tolist() == [[1.0, 0.0]]
    assert (after.base.tolist(), after.group_people.tolist()) == ([[8, 8]], [8, 8])
    assert family_of(after).sure.tolist() == [[True]]
    assert not family_of(before).sure.any()
    line = left_out_line(after, NAMES)
    assert "20 passages in scope = 8 in this table + 12 by people who weren’t asked about it" in line
    # Asked another way it turns round: what is told says so.
    (one,) = steady(after, [(0, 0, 1)])
    choices = {(choice.base, choice.accord): choice for choice in one.choices}
    assert choices["asked", "either"].as_asked
    assert choices["asked", "either"].holds
    assert choices["with_material", "either"].difference == pytest.approx(-0.2)
    assert not choices["with_material", "either"].holds
    assert ("asked", "own_accord") not in choices
    assert (one.people.least, one.people.most) == (1.0, 1.0)
    assert one.documents.count == one.people.count == 16


def test_without_a_document_goes_who_was_asked_in_no_other():
    # Person 0 is asked in one talk and mentions it in another: without the first, they aren't in the base any more.
    held, guide = interviews([[1] * 6], [[1, 1, 0, 0, 0, 1]])
    speaker = held.speaker_case.copy()
    speaker[2 * 1 + 1] = 0
    held = replace(held, speaker_case=speaker)
    guide = replace(guide, put=Put(guide.put.turn[[0, 2, 3, 4, 5]], guide.put.question[[0, 2, 3, 4, 5]]))
    groups = Groups(("a", "b"), np.array([0, 0, 0, 1, 1, 1], np.int32))
    found = compare(held, Comparison((0,), groups, base="asked", guide=guide))
    assert found.count.tolist() == [[1, 1]]
    assert found.base.tolist() == [[2, 3]]
    (one,) = steady(found, [(0, 0, 1)])
    # Without person 0's asking talk: 0 of 1 against 1 of 3; without person 2's: 1 of 1 against 1 of 3.
    assert one.documents.least == pytest.approx(0 - 1 / 3)
    assert one.documents.most == pytest.approx(1 - 1 / 3)


def test_rows_that_no_question_asks_about_have_no_figure_and_it_is_said():
    held, guide = interviews([[1] * 12, [1] * 12, [1] * 12], [[1, 0] * 6] * 3)
    guide = replace(guide, about=((0,), (), (0,)))
    nothing = np.zeros(len(held.passage_ids), bool)
    rows = (0, 1, CodesRow((0, 1)), PassagesRow(~nothing))
    asked = Comparison(rows, halves(12), base="asked", guide=guide, difference=(1, 0))
    found = compare(held, asked)
    assert found.base.tolist() == [[6, 6], [0, 0], [6, 6], [0, 0]]
    assert np.isnan(found.figure[[1, 3]]).all()
    assert found.tests.kind[1] == found.tests.kind[3] == "none"
    told = {one.kind: one.text for one in cautions(found, NAMES)}
    assert told["never_asked"].startswith("No question of the guide asks about 2 of these 4 rows")
    assert "matched to the guide" in told["asked_as_matched"]
    family = family_of(found)
    assert np.isnan(family.p[[1, 3]]).all()
    assert family.looked_at == 2


def test_the_sentence_and_the_methods_say_who_was_asked():
    held, guide = interviews([[1] * 12, [1, 0] * 6], [[1, 0] * 6] * 2)
    asked = Comparison((0, 1), halves(12), base="asked", guide=guide)
    result = compare(held, asked)
    assert "as a share of each group’s people who were asked about it" in sentence(result, NAMES)
    text, _ = methods_paragraph(result, NAMES)
    assert "people to whom a question on it was put" in text
    assert "questions of the interview guide" in text
    assert "multiplied by the number of such sets of rows, 2" in of_the_rule(family_of(result), NAMES)[0]
    own = compare(held, replace(asked, base="with_material", accord="own_accord"))
    told = {one.kind: one.text for one in cautions(own, NAMES)}
    assert "what answers other words counts as said of their own accord" in told["accord_as_matched"]
    assert "counting people who mention it of their own accord, as a share of" in sentence(own, NAMES)
    assert "Passages that begin within 4 turns after such a question aren’t counted" in methods_paragraph(own, NAMES)[0]
    plain = compare(held, replace(asked, base="with_material"))
    assert "guide" not in sentence(plain, NAMES) + methods_paragraph(plain, NAMES)[0]


def test_where_no_interviewer_speaks_nobody_knows_what_came_when_asked():
    # The second talk has no interviewer, as a survey's answers: neither when asked nor of their own accord.
    held, guide = interviews([[1, 1, 1]], [[1, 1, 1]])
    role = held.speaker_role.copy()
    role[2] = PARTICIPANT
    held = replace(held, speaker_role=role)
    guide = replace(guide, put=Put(guide.put.turn[[0]], guide.put.question[[0]]))
    asked = Comparison((0,), halves(3), guide=guide)
    assert accords(held, asked, 0, np.arange(3)) == ["when_asked", "either", "own_accord"]
    found = [compare(held, replace(asked, accord=one)) for one in ("when_asked", "own_accord")]
    assert [(int(one.total_people[0]), int(one.total_base[0])) for one in found] == [(1, 2), (1, 2)]
    told = {
        one.kind: one.text
        for one in cautions(
            compare(held, replace(asked, rows=(PassagesRow(np.ones(3, bool)),), accord="own_accord")), NAMES
        )
    }
    assert "nothing of them can have been said when asked" in told["never_asked"]


def test_what_cannot_be_known_is_refused():
    for wrong in ({"base": "asked"}, {"accord": "own_accord"}):
        with pytest.raises(ComparisonError, match="Nobody can be said to have been asked"):
            Comparison((0,), halves(4), **wrong)
    with pytest.raises(ComparisonError, match="Ratings"):
        Comparison(
            (0,), halves(4), guide=interviews([[1]], [[1]])[1], measure="rating", base="ratings", accord="own_accord"
        )


@pytest.mark.parametrize("base", ["asked"])
def test_at_most_one_in_twenty_projects_without_a_difference_is_told_anything(base):
    """Whoever is asked may depend on the group; whether they mention it doesn't. Three sets of rows, 300 projects."""
    generator, told = np.random.default_rng(17), 0
    for _ in range(300):
        share = np.where(np.arange(30) < 15, 0.9, 0.5)
        asked = (generator.random((3, 30)) < share).astype(int)
        asked[:, [0, 29]] = 1
        held, guide = interviews(asked.tolist(), (generator.random((3, 30)) < 0.5).astype(int).tolist())
        family = family_of(compare(held, Comparison((0, 1, 2), halves(30), base=base, guide=guide)))
        told += bool(replace(family, shuffles=500).sure.any())
    # Of 300 at 5 %: 15 expected, at most 26 in 99.5 of 100 runs (binomial).
    assert told <= 26
