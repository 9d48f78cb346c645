"""What else is coded around the passages of one number: on them, or in the turns that they lie in."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.evidence import evidence
from core.compare.question import Comparison
from core.compare.rows import CodesRow, PassagesRow, Row
from core.snapshot.lineage import lineage
from core.snapshot.masks import attribution_mask, rows_in
from core.snapshot.nearness import Nearness, extents, near_pairs
from core.snapshot.snapshot import Snapshot
from core.statistics.ranges import distinct, expand

Ints = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Around:
    """Other codes, by position, most people first, (codes,) each: how many of the number's people have a passage of it
    there, and how many such passages there are."""

    code: Ints
    people: Ints
    passages: Ints


def around(snapshot: Snapshot, asked: Comparison, row: int | None, group: int | None) -> Around:
    """Codes of passages that lie on, or in the same turns as, those of one cell, and are said by its people.

    The row's own codes are left out (a query's row has none). Codes count by themselves, not rolled up.
    """
    scope = asked.counted_in(snapshot)
    found = evidence(snapshot, asked, row, group, None)
    spoken = found.case >= 0
    own, people = np.unique(found.passage[spoken]), np.unique(found.case[spoken])
    said, held = snapshot.attributions, rows_in(snapshot, scope, roll_up=False)
    theirs = np.zeros(len(snapshot.passage_ids), bool)
    theirs[said.passage[np.isin(said.case, people) & attribution_mask(snapshot, scope)]] = True
    theirs &= np.isin(snapshot.passage_document, snapshot.passage_document[own])
    one, other = near_pairs(extents(snapshot, Nearness("turns", 0)), theirs)
    among = np.zeros(len(theirs), bool)
    among[own] = True
    there = among.copy()
    there[other[among[one]]] = True
    there[one[among[other]]] = True
    code, passage = held.pairs_of(np.arange(held.rows))
    kept = there[passage] & ~_codes_of(snapshot, asked, row)[code]
    return _counted(snapshot, code[kept].astype(np.int64), passage[kept].astype(np.int64), people)


def _codes_of(snapshot: Snapshot, asked: Comparison, row: int | None) -> npt.NDArray[np.bool_]:
    """The codes that the row is made of, (codes,)."""
    made = np.zeros(len(snapshot.code_ids), bool)
    rows: tuple[Row, ...] = asked.rows if row is None else (asked.rows[row],)
    for one in rows:
        if not isinstance(one, PassagesRow):
            made[list(one.codes) if isinstance(one, CodesRow) else one] = True
    if asked.roll_up:
        below, above = lineage(snapshot.code_parent)
        made[below[made[above]]] = True
    return made


def _counted(snapshot: Snapshot, code: Ints, passage: Ints, people: Ints) -> Around:
    codes, said = len(snapshot.code_ids), snapshot.attributions
    pair, at = expand(said.first[passage], said.first[passage + 1])
    theirs = np.isin(said.case[at], people)
    cases = max(len(snapshot.case_ids), 1)
    persons = distinct(code[pair[theirs]] * cases + said.case[at[theirs]])
    by_people = np.bincount(persons // cases, minlength=codes)
    by_passages = np.bincount(code, minlength=codes)
    order = np.lexsort((np.arange(codes), -by_passages, -by_people))
    order = order[by_people[order] > 0]
    return Around(order, by_people[order], by_passages[order])
