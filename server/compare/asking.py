"""From a request's words and IDs to the core's comparison, and back to names."""

from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from core.compare.comparison import BASES, Comparison, ComparisonError
from core.compare.groups import Groups, bands, missing_label, proposed_cuts
from core.compare.scope import Scope
from core.compare.snapshot import Snapshot
from core.compare.wording import Names
from core.people.derived import in_words
from server.coding import queries as coding
from server.common.errors import NotFound, Refusal
from server.compare.snapshots import places, snapshot
from server.people import facts
from server.people import queries as people
from server.people.models import Variable, VariableKind
from server.projects.models import Membership

PERMUTATIONS = 10_000
_COMPARABLE = (VariableKind.CATEGORY, VariableKind.ORDERED, VariableKind.YES_NO, VariableKind.NUMBER)


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
    all_groups: tuple[str, ...]
    variable: Variable
    cuts: list[float]


def ask(member: Membership, said: dict[str, Any]) -> Asked:
    """Check a request against the project as it is."""
    held = snapshot(member.project_id)
    variable = people.variable(member, said["variable"])
    if variable.kind not in _COMPARABLE:
        raise Refusal(
            f"“{variable.name}” is {variable.get_kind_display()}: it doesn’t make groups. Choose another variable."
        )
    every, cuts = groups_of(held, variable, said.get("cuts"))
    chosen = said.get("groups")
    groups = (
        every if chosen is None else every.choose([every.names.index(name) for name in chosen if name in every.names])
    )
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
            difference=difference_of(groups, said.get("difference")),
            permutations=PERMUTATIONS if said.get("permutations", True) else 0,
        )
    except ComparisonError as error:
        raise Refusal(str(error)) from error
    names = Names(
        member.project.case_one,
        member.project.case_many,
        variable.name,
        rows_in_words(codes, said["codes"]),
        scope_words(member, held, comparison.scope),
    )
    return Asked(member, held, comparison, names, list(said["codes"]), codes, every.names, variable, cuts)


def groups_of(held: Snapshot, variable: Variable, cuts: list[float] | None = None) -> tuple[Groups, list[float]]:
    """All groups that a variable makes; a number is cut into bands (proposed where none are given)."""
    known = facts.known([variable], held.case_ids.tolist())[variable.pk]
    labels = np.array(
        [0 if one.missing is None else missing_label(one.missing) for one in known.held], np.int32
    ).reshape(len(known.held))
    if variable.kind == VariableKind.NUMBER:
        numbers = np.array([one.value if isinstance(one.value, float) else 0.0 for one in known.held])
        cuts = proposed_cuts(numbers[labels >= 0]) if cuts is None else sorted(set(cuts))
        return bands(numbers, labels, cuts), cuts
    place = {label: position for position, label in enumerate(known.categories)}
    own = [0 if one.value is None else place.get(in_words(one.value), 0) for one in known.held]
    labels = np.where(labels < 0, labels, np.array(own, np.int32).reshape(len(own))).astype(np.int32)
    return Groups(tuple(known.categories), labels, variable.kind == VariableKind.ORDERED), []


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


def difference_of(groups: Groups, said: list[str] | None) -> tuple[int, int] | None:
    """The pair asked for; else, with two groups or an order, the last minus the first."""
    if said and len(said) == 2 and all(name in groups.names for name in said) and said[0] != said[1]:
        return groups.names.index(said[0]), groups.names.index(said[1])
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
