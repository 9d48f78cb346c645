"""Cells so small that a reader might recognise somebody: hidden, with all that would give them away.

What a reader can work out of the numbers that are out is bounded by linear programming: every hidden number may still be
anything over a stretch as wide as the limit. Source: complementary suppression and its audit, common practice of
statistical offices (Hundepool et al. 2012, *Statistical Disclosure Control*, 4.3–4.4).
"""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]
_CLOSE = 1e-6


@dataclass(frozen=True)
class Known:
    """One number of a line: how many of ``people`` (everybody,) it counts. ``shown``: it is out, or goes out;
    ``size_shown``: how many people that is at most, is out too."""

    people: Bools
    count: int
    shown: bool = True
    size_shown: bool = True


def bounds(line: list[Known], of: Known) -> tuple[float, float]:
    """Between what a reader of all that is shown of a line can tell the count of ``of`` to lie; infinite where nothing
    bounds it. One unknown a set of people who stand in the same numbers."""
    sets = np.stack([one.people for one in (*line, of)])
    atoms = np.unique(sets[:, sets.any(axis=0)], axis=1).astype(float)
    shown = np.array([one.shown for one in line], bool)
    sized = np.array([one.size_shown for one in line], bool)
    # Loaded when it is asked for: most starts have no need of it.
    from scipy.optimize import linprog

    counts = np.array([one.count for one in line], float)
    sizes = np.array([one.people.sum() for one in line], float)
    own = atoms[-1]
    ends = []
    for sign in (1, -1):
        found = linprog(
            sign * own,
            A_eq=atoms[:-1][shown] if shown.any() else None,
            b_eq=counts[shown] if shown.any() else None,
            A_ub=atoms[:-1][sized] if sized.any() else None,
            b_ub=sizes[sized] if sized.any() else None,
            bounds=(0, None),
            method="highs",
        )
        ends.append(sign * float(found.fun or 0) if found.status == 0 else sign * -np.inf)
    return float(ends[0]), float(ends[1])


def narrow(line: list[Known], of: Known, least: int) -> bool:
    """Whether a hidden number could be told more closely than the limit."""
    low, high = bounds(line, of)
    return high - low < least - _CLOSE


def hidden(current: list[Known], earlier: list[Known], least: int) -> list[bool]:
    """Which numbers of a line to hide: those from 1 to ``least`` − 1, and the smallest others until none of the hidden ones,
    now or in ``earlier`` numbers of the same line, can be told more closely than the limit.

    ``current`` in the order in which they are shown; where that is groups that share nobody and then all of them
    together, and nothing was out before, the bounds need no program."""
    line = [replace(one, shown=not 0 < one.count < least) for one in current]
    plain = not earlier and _adds_up(current)
    while True:
        secret = [one for one in line if not one.shown]
        if not secret or not _any_narrow(line, earlier, secret, least, plain):
            return [not one.shown for one in line]
        open_ = [at for at, one in enumerate(line) if one.shown]
        if not open_:
            return [True] * len(line)
        # The smallest that holds somebody costs the reader least; a nought covers nothing.
        at = min(open_, key=lambda place: (line[place].count == 0, line[place].count, -place))
        line[at] = replace(line[at], shown=False)


def _any_narrow(line: list[Known], earlier: list[Known], secret: list[Known], least: int, plain: bool) -> bool:
    if plain:
        return _narrow_plain(line, least)
    every = [*line, *earlier]
    return any(narrow(every, one, least) for one in (*secret, *(one for one in earlier if not one.shown)))


def _adds_up(line: list[Known]) -> bool:
    """Whether the last is all the others together, none of whom is in two."""
    if len(line) < 2:
        return False
    parts = np.stack([one.people for one in line[:-1]])
    return bool((parts.sum(axis=0) == line[-1].people).all())


def _narrow_plain(line: list[Known], least: int) -> bool:
    """The same for groups and their sum: a hidden one lies between what the others leave of the hidden sum and all of it."""
    parts, total = line[:-1], line[-1]
    secret = [one for one in parts if not one.shown]
    caps = [float(one.people.sum()) if one.size_shown else np.inf for one in secret]
    if not total.shown:
        # Then nothing but sizes bounds them, and the total lies between what is shown and that with all sizes.
        most = float(total.people.sum()) if total.size_shown else np.inf
        shown = sum(one.count for one in parts if one.shown)
        return any(min(cap, most - shown) < least for cap in caps) or min(sum(caps), most - shown) < least
    left = total.count - sum(one.count for one in parts if one.shown)
    for place, cap in enumerate(caps):
        others = sum(caps) - cap if np.isfinite(caps).all() else sum(one for at, one in enumerate(caps) if at != place)
        low, high = max(0.0, left - others), min(cap, float(left))
        if high - low < least:
            return True
    return False


def hidden_cells(
    people: Ints, groups: Bools, least: int, whole: bool = False, earlier: list[list[Known]] | None = None
) -> tuple[Bools, Bools]:
    """Which cells of a table to hide: (rows, groups + 1) with everyone's last, and which sizes of groups, (groups + 1,).

    ``people`` (rows, groups + 1) who mention each row; ``groups`` (groups + 1, everybody) who is in each, everybody's
    last; ``whole``: each person is in exactly one row, so that columns add up too; ``earlier`` (rows,) what was out
    before of each row.
    """
    sizes = groups.sum(axis=1)
    bases = [Known(one, int(size), size_shown=False) for one, size in zip(groups, sizes, strict=True)]
    small = hidden(bases, [], least)
    before = earlier or [[] for _ in people]
    found = np.zeros(people.shape, bool)
    for row, counts in enumerate(people.tolist()):
        line = [Known(groups[at], count, size_shown=not small[at]) for at, count in enumerate(counts)]
        found[row] = hidden(line, before[row], least)
    # Figures of a group whose size is hidden would tell it.
    found |= np.asarray(small)[None, :] & (people > 0)
    if whole:
        _cover_columns(found, people, least)
    for row in np.flatnonzero(found.any(axis=1)).tolist():
        found[row] |= _again(found[row], people[row], groups, np.asarray(small), before[row], least)
    return found, np.asarray(small)


def _again(row: Bools, counts: Ints, groups: Bools, small: Bools, earlier: list[Known], least: int) -> Bools:
    """More of a row, where what was hidden for other reasons can be told by the rest."""
    now = row.copy()
    while now.any() and not now.all():
        line = [Known(groups[at], int(count), not now[at], not small[at]) for at, count in enumerate(counts)]
        secret = [one for one in line if not one.shown]
        if not _any_narrow(line, earlier, secret, least, not earlier and _adds_up(line)):
            break
        open_ = np.flatnonzero(~now)
        now[min(open_.tolist(), key=lambda at: (counts[at] == 0, counts[at], -at))] = True
    return now


def _cover_columns(found: Bools, people: Ints, least: int) -> None:
    """Columns that add up to the size of their group: hidden ones of a column together leave as much room as the limit."""
    for group in range(people.shape[1]):
        while found[:, group].any():
            left = int(people[found[:, group], group].sum())
            if found[:, group].sum() > 1 and left >= least:
                break
            open_ = np.flatnonzero(~found[:, group])
            if not len(open_):
                break
            found[min(open_.tolist(), key=lambda row: (people[row, group] == 0, people[row, group])), group] = True


def rounded(count: int, to: int) -> int:
    """To the nearest multiple, a tie upwards: the same everywhere; 0 rounds nothing."""
    return int((2 * count + to) // (2 * to) * to) if to else count


def taken_out(counts: list[int], least: int) -> list[int | None]:
    """A line of counts of different people, their sum last, without the small ones and what would give them away."""
    if least < 2:
        return list(counts)
    *parts, total = counts
    starts = np.cumsum([0, *parts])
    everybody = np.arange(max(int(starts[-1]), 1))
    masks = [
        (everybody >= start) & (everybody < start + count) for start, count in zip(starts.tolist(), parts, strict=False)
    ]
    line = [Known(mask, count, size_shown=False) for mask, count in zip(masks, parts, strict=True)]
    gone = hidden([*line, Known(everybody >= 0, total, size_shown=False)], [], least)
    return [None if one else count for one, count in zip(gone, counts, strict=True)]
