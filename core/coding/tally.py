"""What people say counted by their groups."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class GroupTally:
    """``hits`` in a group, by how many ``people`` of the ``size`` that it has."""

    name: str
    hits: int
    people: int
    size: int


def by_group(hits: Mapping[int | None, int], group_of: Mapping[int, int], names: Sequence[str]) -> list[GroupTally]:
    """``hits`` by case, ``group_of`` each case's place in ``names``; hits of cases in no group are in none."""
    size = Counter(group_of.values())
    found, people = Counter[int](), Counter[int]()
    for case, count in hits.items():
        if case is not None and case in group_of:
            found[group_of[case]] += count
            people[group_of[case]] += 1
    return [GroupTally(name, found[at], people[at], size[at]) for at, name in enumerate(names)]
