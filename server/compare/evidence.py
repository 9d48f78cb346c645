"""The passages behind a number, by person and in their context; who did not say it; and what is coded around them."""

from typing import Any

import numpy as np
import numpy.typing as npt

from core.coding.guide import interviewed, present
from core.compare.asked import accords, never_asked, people_asked
from core.compare.evidence import evidence
from core.language import say
from core.passages.around import around
from server.coding.context import passages_in_context
from server.common.database import of_one_state
from server.compare.answers import answer
from server.compare.asking import Asked, codes_of
from server.people.queries import facts_of
from server.projects.models import Membership


@of_one_state
def evidence_for(member: Membership, said: dict[str, Any]) -> dict[str, Any]:
    """The passages behind one number, by person, and the people who did not say it."""
    asked = answer(member, said).asked
    found = evidence(asked.snapshot, asked.comparison, said.get("row"), said.get("group"), said.get("left_out"))
    limit = said.get("limit") or 200
    pairs = list(zip(found.passage[:limit].tolist(), found.case[:limit].tolist(), strict=True))
    ids = asked.snapshot.case_ids
    shown = {int(ids[case]) for _, case in pairs if case >= 0}
    silent = [int(ids[case]) for case in found.silent]
    about = facts_of(member, asked.snapshot, [*shown, *silent])
    passages = passages_in_context(member, [int(asked.snapshot.passage_ids[passage]) for passage, _ in pairs])
    every = np.bincount(found.case + 1, minlength=len(ids) + 1)
    persons: list[dict[str, Any]] = []
    for passage, case in pairs:
        key = int(ids[case]) if case >= 0 else None
        if not persons or persons[-1]["case"] != key:
            known = about.get(key or 0, {"identifier": say("Nobody linked"), "facts": []})
            persons.append({"case": key, **known, "total": int(every[case + 1]), "passages": []})
        persons[-1]["passages"].append(passages[int(asked.snapshot.passage_ids[passage])])
    return {
        "people": int((np.unique(found.case) >= 0).sum()),
        "passages": len(np.unique(found.passage)),
        "persons": persons,
        "silent": [{"case": pk, **about[pk]} for pk in silent],
        "more": max(0, len(found.passage) - limit),
        **_asked(asked, said.get("row"), np.unique(found.passage[:limit]), [*shown, *silent]),
    }


def _asked(asked: Asked, row: int | None, passages: npt.NDArray[np.int64], cases: list[int]) -> dict[str, Any]:
    """Who of these people was asked about a row, and which of these passages were said soon after; nothing of all rows at once."""
    held, comparison = asked.snapshot, asked.comparison
    if row is None or comparison.guide is None or row in never_asked(held, comparison):
        return {"asks": False, "asked": [], "not_asked": [], "when_asked": [], "own_accord": []}
    said = np.array(accords(held, comparison, comparison.rows[row], passages), object)
    who = set(held.case_ids[people_asked(held, comparison, row)].tolist())
    # Whoever talks with no interviewer may have been asked by a survey: of them nothing is said.
    talked = set(held.case_ids[present(held, interviewed(held, comparison.scope)).any(axis=0)].tolist())
    return {
        "asks": True,
        "asked": [pk for pk in cases if pk in who],
        "not_asked": [pk for pk in cases if pk in talked - who],
        **{one: held.passage_ids[passages[said == one]].tolist() for one in ("when_asked", "own_accord")},
    }


def around_for(member: Membership, said: dict[str, Any]) -> dict[str, Any]:
    """What else is coded on the passages behind one number, or in the turns that they lie in."""
    asked = answer(member, said).asked
    found = around(asked.snapshot, asked.comparison, said.get("row"), said.get("group"))
    names = codes_of(member, asked.snapshot)
    ids = asked.snapshot.code_ids[found.code].tolist()
    told = zip(ids, found.people.tolist(), found.passages.tolist(), strict=True)
    return {
        "codes": [
            {"id": pk, "name": names[pk].name, "colour": names[pk].colour, "people": people, "passages": passages}
            for pk, people, passages in told
            if pk in names
        ]
    }
