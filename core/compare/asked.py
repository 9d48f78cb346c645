"""Who was asked about a row, and what was said when asked or of their own accord.

*People who were asked* makes each row a base of its own. Rows that were asked about in the same documents have the same people:
they are compared together, and every such part is a comparison like any other, whose groups hold those people only.
"""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from core.coding.guide import Guide, interviewed
from core.compare.groups import AnyGroups, Groups
from core.compare.question import Accord, Comparison
from core.compare.rows import CodesRow, Row, Rows, rows_of
from core.snapshot.incidence import of_pairs
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot

Ints = npt.NDArray[np.int64]
Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Part:
    """Some of a comparison's rows (``places`` among them) with the comparison that they alone make."""

    places: Ints
    asked: Comparison


def parts_of(snapshot: Snapshot, asked: Comparison) -> list[Part]:
    """One where all rows have the same base."""
    if asked.base != "asked":
        return [Part(np.arange(len(asked.rows)), asked)]
    guide = guide_of(asked)
    found: dict[bytes, tuple[Bools, list[int]]] = {}
    for place, row in enumerate(asked.rows):
        documents = guide.asked_in(snapshot, questions_on(snapshot, guide, row, asked.roll_up))
        found.setdefault(documents.tobytes(), (documents, []))[1].append(place)
    return [
        Part(np.array(places, np.int64), _narrowed(snapshot, asked, documents, places))
        for documents, places in found.values()
    ]


def part_of(snapshot: Snapshot, asked: Comparison, row: int) -> tuple[Comparison, int]:
    """The comparison that a row is counted in, and the row's place in it."""
    if asked.base != "asked":
        return asked, row
    guide = guide_of(asked)
    documents = guide.asked_in(snapshot, questions_on(snapshot, guide, asked.rows[row], asked.roll_up))
    return _narrowed(snapshot, asked, documents, [row]), 0


def _narrowed(snapshot: Snapshot, asked: Comparison, documents: Bools, places: list[int]) -> Comparison:
    return replace(
        asked,
        rows=tuple(asked.rows[place] for place in places),
        groups=_of_asked(snapshot, asked.groups, asked.scope, documents),
        base="with_material",
        asked_in=documents,
    )


def _of_asked(snapshot: Snapshot, groups: AnyGroups, scope: Scope, documents: Bools) -> AnyGroups:
    """Only who speaks in one of these documents in scope; of groups on talks, in the same group."""
    talks = snapshot.talks
    put = talks.real & talks.mask(scope) & np.append(documents, False)[talks.document]
    if isinstance(groups, Groups):
        who = np.zeros(len(snapshot.case_ids), bool)
        who[talks.case[put]] = True
        return groups.asked(who)
    there = np.zeros((len(snapshot.case_ids), groups.count), bool)
    talk, group = np.nonzero(groups.member & put[:, None])
    there[talks.case[talk], group] = True
    return groups.asked(there[talks.case])


def guide_of(asked: Comparison) -> Guide:
    assert asked.guide is not None
    return asked.guide


def questions_on(snapshot: Snapshot, guide: Guide, row: Row, roll_up: bool) -> Ints:
    """The guide's questions that ask about a row; none about a saved query, which has no codes."""
    return guide.questions_on(snapshot, np.array(_codes(row), np.int64), roll_up)


def _codes(row: Row) -> tuple[int, ...]:
    if isinstance(row, int):
        return (row,)
    return row.codes if isinstance(row, CodesRow) else ()


def people_asked(snapshot: Snapshot, asked: Comparison, row: int) -> Bools:
    """Who in scope was asked about a row, in whatever group, (cases,)."""
    guide, talks = guide_of(asked), snapshot.talks
    documents = guide.asked_in(snapshot, questions_on(snapshot, guide, asked.rows[row], asked.roll_up))
    put = talks.real & talks.mask(asked.scope) & np.append(documents, False)[talks.document]
    found = np.zeros(len(snapshot.case_ids), bool)
    found[talks.case[put]] = True
    return found


def never_asked(snapshot: Snapshot, asked: Comparison) -> Ints:
    """Places of rows that no question of the guide asks about."""
    guide = guide_of(asked)
    return np.array(
        [at for at, row in enumerate(asked.rows) if not len(questions_on(snapshot, guide, row, asked.roll_up))],
        np.int64,
    )


def counted_rows(snapshot: Snapshot, asked: Comparison) -> Rows:
    """The rows with what is counted of them: everything, or only what was said when asked or of people's own accord."""
    rows = rows_of(snapshot, asked.rows, asked.counted_in(snapshot), asked.roll_up)
    if asked.accord == "either":
        return rows
    row, passage = rows.incidence.pairs_of(rows.chosen)
    kept = np.zeros(len(row), bool)
    for place, one in enumerate(asked.rows):
        own = row == place
        kept[own] = when_asked(snapshot, asked, one, passage[own].astype(np.int64)) == (asked.accord == "when_asked")
    made = of_pairs(snapshot, row[kept], passage[kept], len(asked.rows))
    return Rows(made, np.arange(len(asked.rows)))


def accords(snapshot: Snapshot, asked: Comparison, row: Row, passages: Ints) -> list[Accord]:
    """Of each of a row's passages whether it was said when asked or of their own accord; ``either`` where no interviewer says
    anything in its document, so that nobody knows."""
    known = interviewed(snapshot).documents
    assert known is not None
    prompted = when_asked(snapshot, asked, row, passages)
    return [
        "either" if not told else "when_asked" if soon else "own_accord"
        for told, soon in zip(known[snapshot.passage_document[passages]].tolist(), prompted.tolist(), strict=True)
    ]


def when_asked(snapshot: Snapshot, asked: Comparison, row: Row, passages: Ints) -> Bools:
    """Which of a row's passages begin soon after a question on it, (passages,)."""
    guide = guide_of(asked)
    return guide.when_asked(snapshot, questions_on(snapshot, guide, row, asked.roll_up), passages)
