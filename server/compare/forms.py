"""What single forms of a comparison need beyond its table: a map and an order, people one by one, a number's spread."""

from datetime import date
from typing import Any

import numpy as np
import numpy.typing as npt

from core.compare.documents import by_document
from core.compare.measures.measure import Counts
from core.compare.tally import base_of
from core.language import say
from core.statistics.corrections import holm
from core.statistics.correspondence import by_likeness, correspondence
from core.statistics.ordered import mann_whitney
from server.common.errors import Refusal
from server.common.numbers import finite
from server.compare.answers import Answer, answer
from server.compare.asking import Asked
from server.people import facts
from server.people import queries as people
from server.people.models import VariableKind
from server.people.queries import case_names
from server.projects.models import Membership
from server.scope.axes import titles

MOST_CELLS = 400_000
Json = dict[str, Any]


def map_of(member: Membership, said: Json) -> Json:
    """Rows and groups on the first two axes of their correspondence, and the order in which like rows stand together.
    The table analysed is the one shown: people for people, else what is counted."""
    result = answer(member, said).result
    found = correspondence(result.count)
    order = by_likeness(result.figure)
    if found is None:
        return {"order": order, "inertia": [], "total": 0.0, "rows": [], "groups": []}
    return {
        "order": order,
        "inertia": [round(float(one), 9) for one in found.inertia],
        "total": found.total,
        "rows": _points(found.rows, found.row_contributions, found.row_quality, found.row_mass),
        "groups": _points(found.groups, found.group_contributions, found.group_quality, found.group_mass),
    }


Floats = npt.NDArray[np.float64]


def _points(at: Floats, contribution: Floats, quality: Floats, mass: Floats) -> list[Json | None]:
    """Where each stands on the first two axes (0 on a second one that isn't there); None for an empty one."""
    found: list[Json | None] = []
    for place in range(len(at)):
        if np.isnan(mass[place]):
            found.append(None)
            continue
        two = [float(one) for one in at[place, :2]] + [0.0]
        found.append(
            {
                "x": round(two[0], 6),
                "y": round(two[1], 6),
                "contributions": [round(float(one), 4) for one in contribution[place, :2]],
                "quality": round(float(quality[place, :2].sum()), 4),
                "mass": round(float(mass[place]), 4),
            }
        )
    return found


def one_by_one(member: Membership, said: Json) -> Json:
    """Everyone in the base (or every document in scope) with their groups, and how many passages of each row they have there."""
    answered = answer(member, said)
    return _documents(answered) if said["each"] == "documents" else _people(answered, said)


def _documents(answered: Answer) -> Json:
    asked, comparison = answered.asked, answered.asked.comparison
    held = asked.snapshot
    _refuse_many(len(held.document_ids), asked)
    scope = comparison.counted_in(held)
    rows = answered.result.rows
    found = by_document(held, rows.incidence, rows.chosen, comparison.groups, scope)
    names = titles(asked.member, held)
    return {
        "each": [
            {
                "id": int(held.document_ids[place]),
                "name": names[place],
                "groups": np.flatnonzero(found.base[place]).tolist(),
                "counts": found.counts[:, found.base[place], place].tolist(),
            }
            for place in np.flatnonzero(found.base.any(axis=1)).tolist()
        ],
        "nobody": [names[place] for place in np.flatnonzero(found.nobody).tolist()],
    }


def _refuse_many(many: int, asked: Asked) -> None:
    if many * len(asked.rows) * max(asked.comparison.groups.count, 1) > MOST_CELLS:
        raise Refusal(say("That is too many to show one by one: choose fewer rows or groups, or narrow the scope."))


def _people(answered: Answer, said: Json) -> Json:
    asked, result = answered.asked, answered.result
    base = base_of(
        asked.snapshot,
        asked.comparison.groups,
        asked.comparison.counted_in(asked.snapshot),
        said.get("base") == "everyone",
    )
    who = np.flatnonzero(base.any(axis=1))
    _refuse_many(len(who), asked)
    counts = np.zeros((len(asked.rows), base.shape[1], len(base)), object)
    for places, part in result.parts:
        own = _by_group(asked, part.counted.counts, part.counted.said, base).astype(object)
        # Who wasn't asked about a row neither mentions it nor doesn't.
        if part is not result:
            own[:, ~part.counted.base.T] = None
        counts[places] = own
    names = case_names(asked.member, asked.snapshot)
    return {
        "each": [
            {
                "id": int(asked.snapshot.case_ids[case]),
                "name": names.get(int(asked.snapshot.case_ids[case]), "?"),
                "groups": np.flatnonzero(base[case]).tolist(),
                # By row, one figure for each group that the person is in.
                "counts": counts[:, base[case], case].tolist(),
            }
            for case in who.tolist()
        ],
        "nobody": [],
    }


def _by_group(asked: Asked, counts: Counts, said: Counts | None, base: npt.NDArray[np.bool_]) -> Counts:
    """Passages by row, group and person, (rows, groups, cases)."""
    if said is not None:
        return said
    return counts[:, None, :] * base.T[None, :, :]


def spread(member: Membership, said: Json) -> Json:
    """A number among those who mention each row and those who don't, of everyone in the groups shown."""
    answered = answer(member, said)
    asked, result = answered.asked, answered.result
    variable = people.variable(member, said["number"])
    if variable.kind not in (VariableKind.NUMBER, VariableKind.DATE):
        raise Refusal(say("“{name}” is neither a number nor a date; choose another variable.", name=variable.name))
    known = facts.known([variable], asked.snapshot.case_ids.tolist())[variable.pk]
    value = np.array([_number(one.value) for one in known.held])
    in_base = result.counted.in_base
    told = in_base & np.isfinite(value)
    found: dict[int, Json] = {}
    exact = True
    for places, part in result.parts:
        there = part.counted.in_base & told
        says = part.counted.counts[:, there] > 0
        tested = mann_whitney(says, value[there])
        exact &= tested.exact
        for at, place in enumerate(places.tolist()):
            found[place] = {
                "mention": _five(value[there][says[at]]),
                "silent": _five(value[there][~says[at]]),
                "p": tested.p[at],
                "effect": finite(tested.effect[at]),
            }
    corrected = holm([found[place]["p"] for place in range(len(asked.rows))])
    return {
        "variable": variable.name,
        "unknown": int(in_base.sum() - told.sum()),
        "people": int(told.sum()),
        "exact": exact,
        "of_days": variable.kind == VariableKind.DATE,
        "rows": [
            {
                **row._asdict(),
                **found[place],
                "p": finite(found[place]["p"]),
                "holm": finite(corrected[place]),
            }
            for place, row in enumerate(asked.rows)
        ],
    }


def _number(value: object) -> float:
    """A date as days since 1970-01-01; NaN where there is none."""
    if isinstance(value, date):
        return float((value - date(1970, 1, 1)).days)
    return value if isinstance(value, float) else float("nan")


def _five(values: Floats) -> Json:
    """All values in order, with median and quartiles."""
    if not len(values):
        return {"values": [], "median": None, "low": None, "high": None}
    low, median, high = np.quantile(values, [0.25, 0.5, 0.75])
    return {"values": np.sort(values).tolist(), "median": float(median), "low": float(low), "high": float(high)}
