"""A distribution as it may leave: small counts hidden with what would give them away, or all of them rounded."""

from core.language import say, worded
from core.people.distribution import Crosstab
from core.statistics.disclosure import rounded, taken_out
from core.text.missing import IN_WORDS
from server.common.exports import Cell
from server.projects.models import Project

HIDDEN = "hidden"


def leaving(found: Crosstab, project: Project) -> list[list[Cell]]:
    """A line a value, the bases, and a line a reason for a missing value: count and share of each group."""
    names = [
        *found.values,
        say("Value known"),
        *(say("Missing: {reason}", reason=worded(IN_WORDS[reason])) for reason, _ in found.missing),
    ]
    columns = [_group(found, place, project) for place in range(len(found.groups))]
    return [[name, *(cell for column in columns for cell in column[line])] for line, name in enumerate(names)]


def _group(found: Crosstab, place: int, project: Project) -> list[tuple[Cell, Cell]]:
    """Counts with their shares: of values, of all known, of missing ones."""
    limit, to = project.hide_below, project.round_to
    base = found.bases[place]
    *values, known = taken_out([shares[place].count for shares in found.shares] + [base], limit)
    missing = [
        count if limit < 2 or not 0 < count < limit else None
        for count in (counts[place] for _, counts in found.missing)
    ]
    lines: list[tuple[Cell, Cell]] = []
    for count, shares in zip(values, found.shares, strict=True):
        exact = shares[place].share
        if count is None:
            lines.append((HIDDEN, HIDDEN))
        elif to:
            near = rounded(base, to)
            lines.append((rounded(count, to), rounded(count, to) / near if near else None))
        else:
            lines.append((count, HIDDEN if known is None else exact))
    lines.append((HIDDEN if known is None else rounded(known, to), None))
    return lines + [(HIDDEN if count is None else rounded(count, to), None) for count in missing]
