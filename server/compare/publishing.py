"""What may leave a project: its limit, what is hidden for it, and what was out before."""

import hashlib
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import numpy.typing as npt
from django.db import transaction

from core.compare.counts import case_counts
from core.compare.groups import Groups
from core.compare.result import Result
from core.compare.told.findings import in_words
from core.compare.told.methods import of_the_rule
from core.language import say
from core.snapshot.masks import attribution_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.disclosure import Known, hidden_cells
from server.common.errors import Refusal
from server.compare.adjusting import adjusted_out
from server.compare.answers import Answer
from server.compare.exports.hidden import with_rounding, with_small_hidden
from server.compare.queries import result_out
from server.projects.models import Membership, Project, Published

Json = dict[str, Any]
Bools = npt.NDArray[np.bool_]


def limit_of(member: Membership, asked: int) -> int:
    """The project's limit, or a tighter one asked for; 0 where nothing is hidden."""
    limit = max(member.project.hide_below, asked)
    return limit if limit > 1 else 0


@dataclass(frozen=True)
class Hidden:
    """Of a comparison: which cells may not leave, (rows, groups + 1) with everyone's last, and which sizes of groups."""

    cells: Bools
    sizes: Bools

    @property
    def count(self) -> int:
        return int(self.cells.sum())


def hidden_of(member: Membership, found: Answer, limit: int) -> Hidden:
    """Against the table itself and against all that is out of the same data."""
    parts = [(places, _hidden_in(member, part, limit)) for places, part in found.result.parts]
    whole = Hidden(
        np.zeros((len(found.asked.rows), found.result.asked.groups.count + 1), bool),
        np.any([one.sizes for _, one in parts], axis=0),
    )
    for places, one in parts:
        whole.cells[places] = one.cells
    return whole


def _hidden_in(member: Membership, result: Result, limit: int) -> Hidden:
    groups = _groups(result)
    people = np.column_stack([result.people, result.total_people])
    if not _adds_up(result):
        # A person in several groups: nothing adds up, so nothing can be taken off anything; sizes likewise.
        sizes = groups.sum(axis=1)
        small = (sizes > 0) & (sizes < limit)
        return Hidden(((people > 0) & (people < limit)) | (small[None, :] & (people > 0)), small)
    digests, ids = [digest_of(said_by) for said_by in _mentioning(result)], result.snapshot.case_ids
    lines, sets = _before(member, digests)
    earlier = [[_known(one, sets, ids) for one in lines.get(digest, [])] for digest in digests]
    cells, sizes = hidden_cells(people, groups, limit, result.whole is not None, earlier)
    return Hidden(cells, sizes)


def _groups(result: Result) -> Bools:
    """Who is in each group, everybody in any of them last, (groups + 1, cases)."""
    base = result.counted.base.T
    return np.concatenate([base, np.any(base, axis=0)[None, :]])


def _adds_up(result: Result) -> bool:
    groups = result.asked.groups
    return isinstance(groups, Groups) or not groups.panel


def _mentioning(result: Result) -> list[npt.NDArray[np.int64]]:
    """Who mentions each row, whoever of them is in scope, by case ID: two files of the same people count the same."""
    scope = replace(result.scope, cases=None)
    ids = result.snapshot.case_ids
    rows = result.rows.incidence.only(result.rows.chosen, len(ids))
    says = case_counts(result.snapshot, rows, scope) > 0
    return [ids[row] for row in says]


def digest_of(ids: npt.ArrayLike) -> str:
    """The name of a set of people."""
    return hashlib.sha256(np.sort(np.asarray(ids, np.int64)).tobytes()).hexdigest()[:24]


def _before(member: Membership, digests: list[str]) -> tuple[dict[str, list[list[Any]]], dict[str, list[int]]]:
    """Lines and sets of all that is out of these rows, each once."""
    lines: dict[str, dict[str, list[Any]]] = {digest: {} for digest in digests}
    sets: dict[str, list[int]] = {}
    for row in Published.objects.filter(project=member.project_id, lines__has_any_keys=digests).iterator():
        sets |= row.sets
        for digest in lines.keys() & row.lines.keys():
            lines[digest] |= {str(number): number for number in row.lines[digest]}
    return {digest: list(numbers.values()) for digest, numbers in lines.items()}, sets


def _known(number: list[Any], sets: dict[str, list[int]], ids: npt.NDArray[np.int64]) -> Known:
    people, count, shown, size_shown = number
    return Known(np.isin(ids, np.asarray(sets[people], np.int64)), int(count), bool(shown), bool(size_shown))


def record(member: Membership, found: Answer, hidden: Hidden | None, limit: int, what: str) -> None:
    """Note what goes out, so that later files are checked against it. Everybody who may export writes here."""
    if not _adds_up(found.result):
        return
    lines: dict[str, list[list[Any]]] = {}
    sets: dict[str, list[int]] = {}
    for places, result in found.result.parts:
        groups, ids = _groups(result), result.snapshot.case_ids
        names = [digest_of(ids[one]) for one in groups]
        people = np.column_stack([result.people, result.total_people])
        cells = np.zeros(people.shape, bool) if hidden is None else hidden.cells[places]
        sizes = np.zeros(len(groups), bool) if hidden is None else hidden.sizes
        sets |= {name: ids[one].tolist() for name, one in zip(names, groups, strict=True)}
        for row, said_by in enumerate(_mentioning(result)):
            numbers = lines.setdefault(digest_of(said_by), [])
            sets[digest_of(said_by)] = said_by.tolist()
            for at, name in enumerate(names):
                numbers.append([name, int(people[row, at]), not bool(cells[row, at]), not bool(sizes[at])])
    Published.objects.create(
        project_id=member.project_id, account=member.account, what=what[:200], hide_below=limit, lines=lines, sets=sets
    )


def leaving(member: Membership, found: Answer, asked: int, what: str) -> tuple[Json, Hidden | None]:
    """A comparison as it may leave, recorded as having left; and what of it is hidden."""
    limit = limit_of(member, asked)
    result, hidden = result_out(found.asked, found.result), _checked(member, found, limit, what)
    if hidden is not None:
        result = with_small_hidden(result, hidden.cells, hidden.sizes, limit, member.project.case_many)
    result = _with_the_rule(found, result, hidden)
    if found.asked.adjusted and not limit and not member.project.round_to:
        result = {**result, "adjusted": adjusted_out(found)}
    return with_rounding(result, member.project.round_to), hidden


def _checked(member: Membership, found: Answer, limit: int, what: str) -> Hidden | None:
    """What is hidden in what goes out, and a note that it does. One at a time: of two files made at once, neither would
    know of the other."""
    with transaction.atomic():
        Project.objects.select_for_update(no_key=True).get(pk=member.project_id)
        hidden = hidden_of(member, found, limit) if limit else None
        record(member, found, hidden, limit, what)
    return hidden


def _with_the_rule(found: Answer, result: Json, hidden: Hidden | None) -> Json:
    """What is sure or worth a look in each row, in words, but for rows of which something is hidden; and how that was found."""
    names, family = found.asked.names, found.family
    text, sources = of_the_rule(family, names)
    if not text:
        return result
    gone = set() if hidden is None else set(np.flatnonzero(hidden.cells.sum(axis=1)).tolist())
    words = ["" if at in gone else "; ".join(in_words(family, at)) for at in range(len(result["rows"]))]
    rows = [{**row, "standing": said} for row, said in zip(result["rows"], words, strict=True)]
    every = [*result["sources"], *(one for one in sources if one not in result["sources"])]
    return {**result, "rows": rows, "methods": f"{result['methods']} {text}", "sources": every}


def frozen_leaving(member: Membership, result: Json, asked: int) -> Json:
    """A frozen result as it may leave: hidden by its own numbers, since the people behind them may have changed."""
    limit = limit_of(member, asked)
    if limit and result["rows"] and result["groups"]:
        people = np.array([[cell["people"] for cell in (*row["cells"], row["total"])] for row in result["rows"]])
        sizes = np.array([group["people"] for group in result["groups"]])
        alone = np.repeat(np.arange(len(sizes)), sizes)
        groups = np.concatenate([alone[None, :] == np.arange(len(sizes))[:, None], np.ones((1, len(alone)), bool)])
        if result["shared_people"]:
            cells = (people > 0) & (people < limit)
            small = np.append((sizes > 0) & (sizes < limit), False)
        else:
            cells, small = hidden_cells(people, groups, limit, result["whole"] is not None)
        result = with_small_hidden(result, cells, small, limit, member.project.case_many)
    return with_rounding(result, member.project.round_to)


def refuse_few(member: Membership, held: Snapshot, passages: npt.NDArray[np.int64], scope: Scope) -> None:
    """Passages of fewer people than the limit don't leave."""
    limit, said = limit_of(member, 0), held.attributions
    among = np.zeros(len(held.passage_ids), bool)
    among[passages] = True
    people = len(np.unique(said.case[among[said.passage] & attribution_mask(held, scope)]))
    if 0 < people < limit:
        project = member.project
        raise Refusal(
            say(
                "These are passages of fewer than {limit} {many}: they don’t leave this project, whose owners set that limit under Members.",
                limit=limit,
                many=project.case_many,
            )
        )
