"""The passages behind a number, and the people who did not say it."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.compare.asked import counted_rows, part_of, parts_of
from core.compare.counts import REASONS_LEFT_OUT
from core.compare.groups import by_talk
from core.compare.question import Comparison
from core.compare.tally import base_of, in_groups, shared_fates
from core.snapshot.masks import attribution_mask
from core.snapshot.snapshot import Snapshot

Positions = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Evidence:
    """``passage`` and ``case`` (pairs,): who said which passage, people with most first, each
    person's passages in reading order; case −1 where nobody is linked. ``silent``: the people
    of the base who have none."""

    passage: Positions
    case: Positions
    silent: Positions


def evidence(
    snapshot: Snapshot, asked: Comparison, row: int | None, group: int | None, left_out: str | None = None
) -> Evidence:
    """Open one number of a comparison.

    row       position among ``asked.rows``; None for all of them
    group     position of the group; None for everyone in the groups shown
    left_out  instead of a group, one of ``REASONS_LEFT_OUT[1:]``
    """
    if row is not None:
        asked, row = part_of(snapshot, asked, row)
    elif asked.base == "asked":
        return _together([evidence(snapshot, part.asked, None, group, left_out) for part in parts_of(snapshot, asked)])
    scope = asked.counted_in(snapshot)
    rows = counted_rows(snapshot, asked)
    places = range(len(asked.rows)) if row is None else (row,)
    held = np.zeros(len(snapshot.passage_ids), bool)
    for place in places:
        held[rows.incidence.passages_of(int(rows.chosen[place]))] = True
    said, groups = snapshot.attributions, by_talk(asked.groups, snapshot.talks)
    if left_out is not None:
        held &= shared_fates(snapshot, scope, groups) == REASONS_LEFT_OUT.index(left_out)
        kept = held[said.passage] & attribution_mask(snapshot, scope)
        nobody = np.flatnonzero(held & (np.diff(said.first) == 0))
        passage = np.concatenate([said.passage[kept], nobody]).astype(np.int64)
        case = np.concatenate([said.case[kept], np.full(len(nobody), -1)]).astype(np.int64)
        return _ordered(passage, case, np.zeros(0, np.int64))
    member = np.array(groups.member.any(axis=1) if group is None else groups.member[:, group])
    kept = held[said.passage] & member[snapshot.talks.of_attribution] & attribution_mask(snapshot, scope)
    passage, case = said.passage[kept].astype(np.int64), said.case[kept].astype(np.int64)
    base = base_of(snapshot, asked.groups, scope, asked.base == "everyone")
    silent = np.array(base.any(axis=1) if group is None else base[:, group])
    silent[case] = False
    return _ordered(passage, case, np.flatnonzero(silent))


def _together(found: list[Evidence]) -> Evidence:
    """Each passage by each person once; silent is who says nothing of any row that they were asked about."""
    none = np.zeros(0, np.int64)
    pairs = np.unique(np.stack([np.concatenate([one.case for one in found] or [none]),
                                np.concatenate([one.passage for one in found] or [none])]), axis=1)  # fmt: skip
    silent = np.unique(np.concatenate([one.silent for one in found] or [none]))
    return _ordered(pairs[1], pairs[0], np.setdiff1d(silent, pairs[0]))


def _ordered(passage: Positions, case: Positions, silent: Positions) -> Evidence:
    times = np.bincount(case + 1, minlength=1)
    order = np.lexsort((passage, case, -times[case + 1]))
    return Evidence(passage[order], case[order], silent)


@dataclass(frozen=True)
class Held:
    """Everything a table counts: one entry for each passage, person, row and group, (entries,) each, no two alike.
    ``bases`` are who each group is made of, (cases, groups), for some rows each."""

    row: Positions
    group: Positions
    passage: Positions
    case: Positions
    bases: list[tuple[Positions, npt.NDArray[np.bool_]]]


def every_cell(snapshot: Snapshot, asked: Comparison) -> Held:
    """What every cell would open, at once."""
    found, bases = [], []
    for part in parts_of(snapshot, asked):
        scope = part.asked.counted_in(snapshot)
        rows = counted_rows(snapshot, part.asked)
        shared = by_talk(part.asked.groups, snapshot.talks)
        row, entry, group = in_groups(snapshot, rows.incidence, rows.chosen, shared, scope)
        held = rows.incidence
        found.append((part.places[row], group, held.entry_passage[entry], held.entry_case[entry]))
        bases.append((part.places, base_of(snapshot, part.asked.groups, scope, part.asked.base == "everyone")))
    none = np.zeros(0, np.int64)
    row, group, passage, case = (
        np.concatenate([none, *(one[at] for one in found)]).astype(np.int64) for at in range(4)
    )
    return Held(row, group, passage, case, bases)
