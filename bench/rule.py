"""The rule for sure, how steady what it finds is, and several facts held at once; and a whole answer, part by part."""

import statistics
from collections.abc import Callable
from typing import Any

import numpy as np

from core.compare.adjusted import Fact, adjusted
from core.compare.by_part import compare, family_of
from core.compare.groups import Groups
from core.compare.question import Comparison
from core.compare.result import Result
from core.compare.steady import steady
from core.compare.told.findings import picked_of
from core.snapshot.snapshot import Snapshot

Report = Callable[..., None]
Timed = Callable[..., list[float]]
PARTS = (
    "people", "figure", "interval", "residual", "tests", "difference", "trend", "within_layers", "changes", "whole",
    "left_out", "heard_each_other", "everyone", "shared_people",
)  # fmt: skip


def answered(snapshot: Snapshot, asked: Comparison) -> Result:
    """A result with all that the table shows: by itself it computes nothing."""
    result = compare(snapshot, asked)
    for part in PARTS:
        getattr(result, part)
    return result


def core(report: Report, timed: Timed, snapshot: Snapshot, groups: Groups) -> None:
    every, apart = tuple(range(len(snapshot.code_ids))), _planted(snapshot, groups)
    # Something is sure here, so that all shuffles are made.
    for measure, base in (("people", "with_material"), ("per_person", "with_material"), ("rate", "words")):
        asked = Comparison(every, apart, measure=measure, base=base)  # type: ignore[arg-type]
        assert family_of(compare(snapshot, asked)).made == 10_000
        report(
            f"the rule for sure, {measure}: 400 rows × 15 pairs, 1,000 people, 10,000 shuffles",
            statistics.median(timed(lambda asked=asked: _ruled(snapshot, asked), 3)),  # type: ignore[misc]
        )
    report(
        "the same where nothing can be sure any more after 2,000",
        statistics.median(timed(lambda: _dealt_anew(snapshot, groups), 3)),
    )
    _steady(report, timed, snapshot, apart)
    _adjusted(report, timed, snapshot, groups)


def _ruled(snapshot: Snapshot, asked: Comparison) -> Any:
    family = family_of(compare(snapshot, asked))
    return family.sure, family.look, family.by_chance


def _planted(snapshot: Snapshot, groups: Groups) -> Groups:
    """Groups by who mentions the last code most: then something is sure, and every shuffle is made. The last has no
    codes beneath it, so its row counts these mentions and no others."""
    rows, last = snapshot.own_rows, len(snapshot.code_ids) - 1
    counts = np.bincount(rows.entry_case[rows.entry_row == last], minlength=len(snapshot.case_ids))
    rank = np.argsort(np.argsort(counts, kind="stable"), kind="stable")
    return Groups(groups.names, (rank * groups.count // len(rank)).astype(np.int32))


def _dealt_anew(snapshot: Snapshot, groups: Groups) -> Any:
    labels = np.random.default_rng(3).permutation(groups.labels).astype(np.int32)
    asked = Comparison(tuple(range(len(snapshot.code_ids))), Groups(groups.names, labels))
    return family_of(compare(snapshot, asked)).sure


def _steady(report: Report, timed: Timed, snapshot: Snapshot, groups: Groups) -> None:
    asked = Comparison(tuple(range(len(snapshot.code_ids))), groups, measure="per_person")
    result = answered(snapshot, asked)
    family = family_of(result)
    picked = picked_of(family)
    pairs = [(one.row, *family.pairs[one.pair]) for one in picked]
    pairs += [(row, 0, 1) for row in range(5 - len(pairs))]
    report("how steady five findings are", statistics.median(timed(lambda: steady(result, pairs), 3)))


def _adjusted(report: Report, timed: Timed, snapshot: Snapshot, groups: Groups) -> None:
    dice, people = np.random.default_rng(4), len(snapshot.case_ids)
    facts = [
        Fact("one", numbers=dice.normal(size=people)),
        Fact("two", labels=dice.integers(0, 3, people).astype(np.int32), names=("a", "b", "c")),
        Fact("three", labels=dice.integers(0, 2, people).astype(np.int32), names=("a", "b")),
        Fact("four", numbers=dice.normal(size=people)),
    ]
    three = Groups(("a", "b", "c"), (groups.labels % 3).astype(np.int32))
    # Fewer mentions than the made project has, as an interview study would have.
    asked = Comparison(tuple(range(40)), three)
    result = compare(snapshot, asked)
    result.counted.counts[:] = (dice.random(result.counted.counts.shape) < 0.3).astype(np.int64)
    report("40 rows adjusted for 4 facts, 1,000 people", statistics.median(timed(lambda: adjusted(result, facts), 3)))
