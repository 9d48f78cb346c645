"""From a request's words and IDs to the core's comparison, and back to names."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np

from core.compare.groups import AnyGroups, own_order
from core.compare.measures import measure_of
from core.compare.question import Comparison, ComparisonError
from core.compare.rows import CodesRow, PassagesRow, Row
from core.compare.told.sentence import Names
from core.language import say
from core.snapshot.snapshot import Snapshot
from core.snapshot.tables import places
from core.text.lists import listed
from server.coding import queries as coding
from server.coding.guide import guide_of
from server.common.errors import NotFound, Refusal
from server.compare import searching
from server.people import queries as people
from server.projects.models import Membership
from server.scope.axes import Columns, columns_of
from server.scope.parts import scope_of, scope_words
from server.snapshots.memory import Made
from server.snapshots.queries import snapshot
from server.snapshots.texts import texture_of

PERMUTATIONS = 10_000
Json = dict[str, Any]


class CodeName(NamedTuple):
    """What a row shows of its code."""

    name: str
    parent: int | None
    colour: int


class RowName(NamedTuple):
    """What a row is: a ``code``, a ``theme`` or a saved ``query``; a colour only where it has one."""

    kind: str
    id: int
    name: str
    colour: int | None


@dataclass(frozen=True)
class Asked:
    """A comparison with the names that its result is told in; ``rows`` in the comparison's order; ``adjusted`` the
    variables that are held at once beside it."""

    member: Membership
    snapshot: Snapshot
    comparison: Comparison
    names: Names
    rows: list[RowName]
    columns: Columns
    adjusted: tuple[int, ...] = ()


def ask(member: Membership, said: Json) -> Asked:
    """Check a request against the project as it is."""
    held = snapshot(member.project_id)
    columns = columns_of(member, held, said)
    groups = columns.groups
    codes = codes_of(member, held)
    rows = rows_asked(member, held, said)
    named = rows_named(member, said, codes)
    measure = said.get("measure", "people")
    fitting = tuple(measure_of(measure).bases)
    base = said.get("base")
    if measure == "rating" and any(isinstance(row, PassagesRow) for row in rows):
        raise Refusal(say("A saved query has no ratings of its own: take it out of the rows, or count something else."))
    try:
        comparison = Comparison(
            rows=rows,
            groups=groups,
            roll_up=said.get("roll_up", True),
            measure=measure,
            base=base if base in fitting else fitting[0],  # type: ignore[arg-type]
            scope=scope_of(member, held, said.get("scope") or {}),
            difference=difference_of(columns.inner.groups if columns.layered else groups, said.get("difference")),
            layers=columns.layers,
            permutations=PERMUTATIONS if said.get("permutations", True) else 0,
            texture=texture_of(member.project_id, held) if measure == "words" else None,
            guide=guide_of(member, held),
            accord=said.get("accord") or "either",
        )
    except ComparisonError as error:
        raise Refusal(str(error)) from error
    adjusting = tuple(dict.fromkeys(said.get("adjusted") or []))
    names = Names(
        member.project.case_one,
        member.project.case_many,
        columns.first.name,
        rows_in_words(codes, said["codes"], named),
        scope_words(member, held, comparison.scope, said.get("scope") or {}),
        second="" if columns.outer is None else (columns.outer if columns.layered else columns.inner).name,
        about=columns.first.about,
        not_shown=columns.first.left if said.get("groups") is None else 0,
        adjusted=adjusted_words(member, adjusting),
    )
    return Asked(member, held, comparison, names, named, columns, adjusting)


def adjusted_words(member: Membership, chosen: tuple[int, ...]) -> str:
    """The facts held at once, for the sentence."""
    return listed([people.variable(member, pk, None).name for pk in chosen])


_codes: Made[Mapping[int, CodeName]] = Made("coding.code")


def codes_of(member: Membership, held: Snapshot) -> Mapping[int, CodeName]:
    """All codes by ID."""
    return _codes.of(member.project_id, held, lambda: _read_codes(member))


def _read_codes(member: Membership) -> dict[int, CodeName]:
    rows = coding.codes(member).values_list("id", "name", "parent_id", "colour")
    return {pk: CodeName(name, parent, colour) for pk, name, parent, colour in rows}


def rows_asked(member: Membership, held: Snapshot, said: Json) -> tuple[Row, ...]:
    """Codes, then themes, then saved queries."""
    codes = places(held.code_ids, np.asarray(said["codes"], np.int64))
    if (codes < 0).any():
        raise NotFound(say("A code of this comparison isn’t in the codebook any more; choose the rows again."))
    rows: list[Row] = [int(place) for place in codes]
    for pk in said.get("themes") or []:
        theme = coding.theme(member, pk)
        drawn = list(theme.placings.values_list("code_id", flat=True))
        rows.append(CodesRow(tuple(places(held.code_ids, np.asarray(drawn, np.int64)).tolist())))
    for pk in said.get("queries") or []:
        saved = searching.saved_query(member, pk)
        rows.append(PassagesRow(searching.passages_found(member, held, saved.blocks)))
    return tuple(rows)


def rows_named(member: Membership, said: Json, codes: Mapping[int, CodeName]) -> list[RowName]:
    """The same rows by name."""
    named = [RowName("code", pk, codes[pk].name, codes[pk].colour) for pk in said["codes"]]
    for kind, rows, wanted in (
        ("theme", coding.themes(member), said.get("themes") or []),
        ("query", searching.saved_queries(member), said.get("queries") or []),
    ):
        names = dict(rows.values_list("id", "name")) if wanted else {}
        named += [RowName(kind, pk, names[pk], None) for pk in wanted]
    return named


def difference_of(groups: AnyGroups, said: list[str] | None) -> tuple[int, int] | None:
    """The pair asked for; else, with two groups or an order, the last minus the first, and yes minus no."""
    if said and len(said) == 2 and all(name in groups.names for name in said) and said[0] != said[1]:
        return groups.names.index(said[0]), groups.names.index(said[1])
    if groups.names == ("yes", "no"):
        return 0, 1
    if groups.ordered and groups.count > 1:
        order = own_order(groups)
        return order[-1], order[0]
    if groups.count == 2:
        return 1, 0
    return None


def rows_in_words(codes: Mapping[int, CodeName], chosen: list[int], named: list[RowName]) -> str:
    """``8 codes under Getting across``; one row by its name; ``5 codes, 2 themes and 1 saved query``."""
    if len(named) == 1:
        return say("“{name}”", name=named[0].name)
    parts = [_codes_in_words(codes, chosen)] if chosen or not named else []
    for kind, one, many in (
        ("theme", say("theme"), say("themes")),
        ("query", say("saved query"), say("saved queries")),
    ):
        count = sum(row.kind == kind for row in named)
        if count:
            parts.append(f"{count} {one if count == 1 else many}")
    return listed(parts)


def _codes_in_words(codes: Mapping[int, CodeName], chosen: list[int]) -> str:
    if not chosen:
        return say("no codes yet")
    if len(chosen) == 1:
        return say("“{name}”", name=codes[chosen[0]].name)
    if len(set(chosen)) == len(codes):
        return say("all {codes} codes", codes=len(codes))
    parents = {codes[pk].parent for pk in chosen}
    if parents == {None}:
        return say("{chosen} codes at the top", chosen=len(chosen))
    if len(parents) == 1 and (parent := parents.pop()) is not None:
        return say("{chosen} codes under {name}", chosen=len(chosen), name=codes[parent].name)
    return say("{chosen} codes", chosen=len(chosen))
