"""A thousand random projects, counted twice: every measure and kind of column, everyone, exposures and what intervals and
shuffles are made of."""

from dataclasses import replace

import numpy as np
import pytest

from core.compare.by_part import compare
from core.compare.groups import Groups, by_talk
from core.compare.measures import MEASURES
from core.compare.question import Comparison
from tests.core.naive import Naive
from tests.core.test_measures import woven
from tests.core.test_shared_groups import any_groups
from tests.core.worlds import SlowCount, random_scope, random_snapshot

BATCHES, EACH = 8, 50


def made(seed: int):
    """A project with its texts and ratings, columns of some kind, and a scope."""
    snapshot, texture = woven(seed, random_snapshot(seed))
    rating = np.random.default_rng(seed + 5).integers(0, 6, len(snapshot.coding_code)).astype(np.int8)
    snapshot = replace(snapshot, coding_rating=rating)
    texture = replace(texture, snapshot=snapshot)
    kinds = list(any_groups(seed, snapshot))
    return snapshot, texture, kinds[seed % len(kinds)], random_scope(seed, snapshot)


@pytest.mark.parametrize("batch", range(BATCHES))
def test_everything_counted_agrees_with_sets_and_loops(batch):
    for seed in range(batch * EACH, (batch + 1) * EACH):
        snapshot, texture, groups, scope = made(seed)
        talks = by_talk(groups, snapshot.talks)
        pairs = zip(snapshot.talks.case.tolist(), snapshot.talks.document.tolist(), strict=True)
        of = {talk: set(np.flatnonzero(talks.member[at]).tolist()) for at, talk in enumerate(pairs)}
        roll_up = bool(seed % 3)
        for measure in MEASURES:
            for base in (one for one in measure.bases if one != "asked"):
                panel = not isinstance(groups, Groups) and groups.panel
                naive = Naive(
                    snapshot, SlowCount(snapshot, scope), of, groups.count, texture, roll_up, base == "everyone", panel
                )
                asked = Comparison(
                    tuple(range(len(snapshot.code_ids))), groups, roll_up, measure.id, base, scope, texture=texture
                )  # type: ignore[arg-type]
                result = compare(snapshot, asked)
                CHECKS[measure.id](naive, result, base)


def _shares(result, counts, bases, totals, total_bases, scale=1.0):
    assert result.count.tolist() == counts
    assert np.array(result.base).tolist() == bases
    assert result.total_count.tolist() == totals
    assert np.array(result.total_base).tolist() == total_bases
    for row, line in enumerate(counts):
        for group, count in enumerate(line):
            over = bases[row][group]
            figure = result.figure[row, group]
            assert np.isnan(figure) if not over else figure == pytest.approx(scale * count / over)
        over = total_bases[row]
        assert (
            np.isnan(result.total_figure[row])
            if not over
            else result.total_figure[row] == pytest.approx(scale * totals[row] / over)
        )


def _exposure(naive: Naive, result, by_case: list[list[int]], exposure: list[float]):
    """What intervals and shuffles are made of, where every person of the base is in one group."""
    if result.counted.case_group is None:
        return
    members = sorted(set().union(*naive.base()))
    assert result.made.by_case[:, members].tolist() == [[row[case] for case in members] for row in by_case]
    found = np.broadcast_to(result.made.exposure, (len(by_case), len(by_case[0]) if by_case else 0))
    if len(by_case):
        assert found[0, members].tolist() == [exposure[case] for case in members]


def people(naive: Naive, result, base):
    rows, bases = naive.rows(), naive.base()
    counts = [[len({case for _, case, at in row if at == group}) for group in range(naive.count)] for row in rows]
    totals = [len({case for _, case, _ in row}) for row in rows]
    sizes = [len(one) for one in bases]
    everyone = len(set().union(*bases)) if bases else 0
    _shares(result, counts, [sizes] * len(rows), totals, [everyone] * len(rows))
    assert result.total_passages.tolist() == [len({passage for passage, _, _ in row}) for row in rows]


def _passages(naive: Naive, result, base):
    rows = naive.rows()
    counts = [[len({p for p, _, at in row if at == group}) for group in range(naive.count)] for row in rows]
    totals = [len({p for p, _, _ in row}) for row in rows]
    whole = len({p for row in rows for p, _, _ in row})
    by_group = [len({p for row in rows for p, _, at in row if at == group}) for group in range(naive.count)]
    bases = {
        "row": [[total] * naive.count for total in totals],
        "column": [by_group] * len(rows),
        "table": [[whole] * naive.count] * len(rows),
    }
    _shares(result, counts, bases[base], totals, totals if base == "row" else [whole] * len(rows))
    cases = range(len(naive.snapshot.case_ids))
    by_case = [[len({p for p, who, _ in row if who == case}) for case in cases] for row in rows]
    union = [len({p for row in rows for p, who, _ in row if who == case}) for case in cases]
    in_base = set().union(*naive.base()) if naive.count else set()
    _exposure(
        naive,
        result,
        by_case,
        [float(one) for one in union] if base == "column" else [float(case in in_base) for case in cases],
    )


def per_person(naive: Naive, result, base):
    rows, bases = naive.rows(), naive.base()
    counts = [
        [len({(p, who) for p, who, at in row if at == group and who in bases[group]}) for group in range(naive.count)]
        for row in rows
    ]
    in_base = set().union(*bases) if bases else set()
    totals = [len({(p, who) for p, who, _ in row if who in in_base}) for row in rows]
    _shares(result, counts, [[len(one) for one in bases]] * len(rows), totals, [len(in_base)] * len(rows))
    cases = range(len(naive.snapshot.case_ids))
    _exposure(
        naive,
        result,
        [[len({p for p, who, _ in row if who == case}) for case in cases] for row in rows],
        [float(case in in_base) for case in cases],
    )


def rate(naive: Naive, result, base):
    rows, words = naive.rows(), naive.words()
    counts = [[len({p for p, _, at in row if at == group}) for group in range(naive.count)] for row in rows]
    by_group = [sum(n for talk, n in words.items() if group in naive.of(*talk)) for group in range(naive.count)]
    # Words of one in two groups count once for everyone; words outside the groups don't.
    everyone = sum(n for talk, n in words.items() if naive.of(*talk))
    totals = [len({p for p, _, _ in row}) for row in rows]
    _shares(result, counts, [by_group] * len(rows), totals, [everyone] * len(rows), 1000)
    cases = range(len(naive.snapshot.case_ids))
    own = [float(sum(n for talk, n in words.items() if talk[0] == case and naive.of(*talk))) for case in cases]
    _exposure(naive, result, [[len({p for p, who, _ in row if who == case}) for case in cases] for row in rows], own)


def words(naive: Naive, result, base):
    codes = range(len(naive.snapshot.code_ids))
    passages = [naive.slow.passages_of(code, naive.roll_up) for code in codes]
    under = [naive.words_under(one) for one in passages]
    union = naive.words_under(set().union(*passages))

    def tallied(found, keep) -> int:
        return sum(len(held) for talk, held in found.items() if keep(talk))

    counts = [
        [tallied(found, lambda talk, g=group: g in naive.of(*talk)) for group in range(naive.count)] for found in under
    ]
    totals = [tallied(found, lambda talk: bool(naive.of(*talk))) for found in under]
    own = naive.words()
    if base == "talk":
        bases = [[sum(n for talk, n in own.items() if g in naive.of(*talk)) for g in range(naive.count)]] * len(counts)
        everyone = [sum(n for talk, n in own.items() if naive.of(*talk))] * len(counts)
    elif base == "row":
        bases, everyone = [[total] * naive.count for total in totals], totals
    else:
        bases = [[tallied(union, lambda talk, g=group: g in naive.of(*talk)) for group in range(naive.count)]] * len(
            counts
        )
        everyone = [tallied(union, lambda talk: bool(naive.of(*talk)))] * len(counts)
    _shares(result, counts, bases, totals, everyone)


def rating(naive: Naive, result, base):
    for row in range(len(naive.snapshot.code_ids)):
        every = naive.ratings(row)
        kept = [(rated, {g for _, _, g in naive.said({passage})}) for _, passage, rated in every]
        for group in range(naive.count):
            values = [rated for rated, groups in kept if group in groups]
            assert result.count[row, group] == len(values)
            figure = result.figure[row, group]
            assert np.isnan(figure) if not values else figure == pytest.approx(np.mean(values))
        values = [rated for rated, groups in kept if groups]
        assert result.total_count[row] == len(values)
        assert (
            np.isnan(result.total_figure[row])
            if not values
            else result.total_figure[row] == pytest.approx(np.mean(values))
        )


CHECKS = {
    "people": people,
    "passages": _passages,
    "per_person": per_person,
    "rate": rate,
    "words": words,
    "rating": rating,
}
