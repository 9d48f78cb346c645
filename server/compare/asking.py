"""From a request's words and IDs to the core's comparison, and back to names."""

from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from core.compare.comparison import BASES, Comparison, ComparisonError
from core.compare.scope import Scope
from core.compare.shared import AnyGroups
from core.compare.snapshot import Snapshot
from core.compare.wording import Names
from server.coding import queries as coding
from server.common.errors import NotFound, Refusal
from server.compare.axes import Columns, columns_of
from server.compare.snapshots import places, snapshot
from server.people import queries as people
from server.projects.models import Membership

PERMUTATIONS = 10_000


class CodeName(NamedTuple):
    """What a row shows of its code."""

    name: str
    parent: int | None
    colour: int


@dataclass(frozen=True)
class Asked:
    """A comparison with the names that its result is told in."""

    member: Membership
    snapshot: Snapshot
    comparison: Comparison
    names: Names
    code_ids: list[int]
    codes: dict[int, CodeName]
    columns: Columns


def ask(member: Membership, said: dict[str, Any]) -> Asked:
    """Check a request against the project as it is."""
    held = snapshot(member.project_id)
    columns = columns_of(member, held, said)
    groups = columns.groups
    rows = places(held.code_ids, np.asarray(said["codes"], np.int64))
    if (rows < 0).any():
        raise NotFound("A code of this comparison isn’t in the codebook any more; choose the rows again.")
    rows_said = coding.codes(member).values_list("id", "name", "parent_id", "colour")
    codes = {pk: CodeName(name, parent, colour) for pk, name, parent, colour in rows_said}
    measure = said.get("measure", "people")
    base = said.get("base") or BASES[measure][0]
    try:
        comparison = Comparison(
            rows=tuple(int(row) for row in rows),
            groups=groups,
            roll_up=said.get("roll_up", True),
            measure=measure,
            base=base if base in BASES[measure] else BASES[measure][0],
            scope=scope_of(held, said.get("scope") or {}),
            difference=difference_of(columns.inner.groups if columns.layered else groups, said.get("difference")),
            layers=columns.layers,
            permutations=PERMUTATIONS if said.get("permutations", True) else 0,
        )
    except ComparisonError as error:
        raise Refusal(str(error)) from error
    names = Names(
        member.project.case_one,
        member.project.case_many,
        columns.first.name,
        rows_in_words(codes, said["codes"]),
        scope_words(member, held, comparison.scope),
        second="" if columns.outer is None else (columns.outer if columns.layered else columns.inner).name,
        about="document" if columns.first.about == "document" else "case",
        not_shown=columns.first.left if said.get("groups") is None else 0,
    )
    return Asked(member, held, comparison, names, list(said["codes"]), codes, columns)


def scope_of(held: Snapshot, said: dict[str, Any]) -> Scope:
    """Masks from lists of IDs; an absent list leaves everything in."""

    def mask(ids: npt.NDArray[np.int64], wanted: list[int] | None) -> npt.NDArray[np.bool_] | None:
        return None if wanted is None else np.isin(ids, np.asarray(wanted, np.int64))

    return Scope(
        mask(held.document_ids, said.get("documents")),
        mask(held.case_ids, said.get("cases")),
        mask(held.coder_ids, said.get("coders")),
    )


def scope_words(member: Membership, held: Snapshot, scope: Scope) -> str:
    """What the scope leaves in, for the sentence; "" where it leaves everything in."""
    said = []
    for mask, noun in (
        (scope.cases, member.project.case_many),
        (scope.documents, "documents"),
        (scope.coders, "coders"),
    ):
        if mask is not None:
            said.append(f"{int(mask.sum())} of {len(mask)} {noun}")
    return f"only {' and '.join(said)}" if said else ""


def difference_of(groups: AnyGroups, said: list[str] | None) -> tuple[int, int] | None:
    """The pair asked for; else, with two groups or an order, the last minus the first, and yes minus no."""
    if said and len(said) == 2 and all(name in groups.names for name in said) and said[0] != said[1]:
        return groups.names.index(said[0]), groups.names.index(said[1])
    if groups.names == ("yes", "no"):
        return 0, 1
    if groups.count == 2 or (groups.ordered and groups.count > 1):
        return groups.count - 1, 0
    return None


def rows_in_words(codes: dict[int, CodeName], chosen: list[int]) -> str:
    """``8 codes under Getting across``; one code by its name."""
    if not chosen:
        return "no codes yet"
    if len(chosen) == 1:
        return f"“{codes[chosen[0]].name}”"
    if len(set(chosen)) == len(codes):
        return f"all {len(codes)} codes"
    parents = {codes[pk].parent for pk in chosen}
    if parents == {None}:
        return f"{len(chosen)} codes at the top"
    if len(parents) == 1 and (parent := parents.pop()) is not None:
        return f"{len(chosen)} codes under {codes[parent].name}"
    return f"{len(chosen)} codes"


def case_names(member: Membership, ids: list[int] | None = None) -> dict[int, str]:
    """Identifiers of the project's cases, or of these."""
    found = people.cases(member) if ids is None else people.cases(member).filter(pk__in=ids)
    return dict(found.values_list("id", "identifier"))
