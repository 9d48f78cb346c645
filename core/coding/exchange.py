"""A codebook found in a file, set against the one there is: what is new, what changes, what would go."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from core.coding.words import FIELDS

How = Literal["merge", "replace"]


@dataclass(frozen=True)
class FoundCode:
    """A code in a file; ``above``: which of the file's codes it lies beneath, −1 at the top. ``said`` holds the
    fields that the file fills, of ``core.coding.words``; ``colour`` is a place in the palette, −1 where it says none."""

    name: str
    above: int = -1
    said: Mapping[str, str] = field(default_factory=dict)
    colour: int = -1
    parked: bool | None = None


@dataclass(frozen=True)
class FoundTheme:
    """A theme in a file with the codes (places in the file) it draws together."""

    name: str
    statement: str
    codes: tuple[int, ...]


@dataclass(frozen=True)
class FoundCodebook:
    codes: tuple[FoundCode, ...]
    themes: tuple[FoundTheme, ...] = ()
    warnings: tuple[str, ...] = ()


@dataclass(frozen=True)
class HeldCode:
    """A code of the project; ``above`` by its ID."""

    id: int
    name: str
    above: int | None
    said: Mapping[str, str]


@dataclass(frozen=True)
class Plan:
    """``matched`` (codes of the file): the ID that each is already, None where it is new. ``changes`` by ID: the
    fields that get other words. ``moved``: codes of the file (their places) that come to lie beneath another code than now.
    ``gone``: IDs that the file doesn't have, to go when it replaces the codebook."""

    matched: tuple[int | None, ...]
    changes: Mapping[int, Mapping[str, str]]
    gone: tuple[int, ...]
    moved: frozenset[int] = frozenset()


def plan(held: Sequence[HeldCode], found: Sequence[FoundCode], how: How) -> Plan:
    """What bringing a codebook in would do.

    A code of the file is one of the project where all names from the top down to it are the same but for case,
    or where just one code on either side has its name. Merging takes over what the file says and leaves what it
    is silent about; replacing makes the codebook what the file is.
    """
    by_id = {code.id: code for code in held}
    by_path = {_path(code.id, lambda at: (by_id[at].name, by_id[at].above)): code.id for code in held}
    alone_here = _alone([code.name for code in held], [code.id for code in held])
    alone_there = _alone([code.name for code in found], list(range(len(found))))
    matched: list[int | None] = [
        by_path.get(_path(place, lambda at: (found[at].name, None if found[at].above < 0 else found[at].above)))
        for place in range(len(found))
    ]
    taken = {one for one in matched if one is not None}
    for place, code in enumerate(found):
        key = code.name.casefold()
        own = alone_here.get(key)
        if matched[place] is None and own is not None and own not in taken and key in alone_there:
            matched[place] = own
            taken.add(own)
    changes: dict[int, dict[str, str]] = {}
    for one, code in zip(matched, found, strict=True):
        if one is None:
            continue
        here = by_id[one].said
        said = {name: code.said.get(name, "") for name in FIELDS if how == "replace" or code.said.get(name)}
        other = {name: text for name, text in said.items() if text != here.get(name, "")}
        if other:
            changes[one] = other
    gone = tuple(code.id for code in held if code.id not in taken) if how == "replace" else ()
    return Plan(tuple(matched), changes, gone, _moved(by_id, found, matched, how))


def _moved(
    by_id: Mapping[int, HeldCode], found: Sequence[FoundCode], matched: Sequence[int | None], how: How
) -> frozenset[int]:
    """Places of the file's codes that lie elsewhere than here. What stands at the top of a file is silent about that when
    it is merged, but where its codes couldn't lie above one another else."""
    moved = set()
    # What each code lies beneath in the end: IDs, and places of codes that are new as −1, −2 …
    above: dict[int, int | None] = {code.id: code.above for code in by_id.values()}
    ids = [-1 - place if one is None else one for place, one in enumerate(matched)]
    for place, code in enumerate(found):
        wanted = ids[code.above] if code.above >= 0 else None
        one = matched[place]
        if one is None or code.above >= 0 or how == "replace":
            above[ids[place]] = wanted
        if one is not None and wanted != by_id[one].above and (code.above >= 0 or how == "replace"):
            moved.add(place)
    for place, code in enumerate(found):
        if code.above < 0 and _beneath_itself(ids[place], above):
            above[ids[place]] = None
            moved.add(place)
    return frozenset(moved)


def _beneath_itself(start: int, above: Mapping[int, int | None]) -> bool:
    at = above[start]
    seen = set()
    while at is not None and at not in seen:
        if at == start:
            return True
        seen.add(at)
        at = above[at]
    return False


def in_tree_order(parents: Sequence[tuple[int, int | None]]) -> list[int]:
    """IDs with each code before those beneath it, branch by branch; ``parents`` are (ID, what it lies beneath), siblings in order."""
    beneath: dict[int | None, list[int]] = {}
    for one, parent in parents:
        beneath.setdefault(parent, []).append(one)
    found, waiting = [], list(reversed(beneath.get(None, [])))
    while waiting:
        found.append(waiting.pop())
        waiting += reversed(beneath.get(found[-1], []))
    return found


def _path(start: int, look: Callable[[int], tuple[str, int | None]]) -> tuple[str, ...]:
    """Names from the top down to one code, folded; ``look`` gives its name and what it lies beneath."""
    names: list[str] = []
    at: int | None = start
    while at is not None:
        name, at = look(at)
        names.insert(0, name.casefold())
    return tuple(names)


def _alone(names: Sequence[str], keys: Sequence[int]) -> dict[str, int]:
    """Names that occur once, folded, with whose they are."""
    found: dict[str, int] = {}
    twice = set()
    for name, key in zip(names, keys, strict=True):
        folded = name.casefold()
        if folded in found:
            twice.add(folded)
        found[folded] = key
    return {name: key for name, key in found.items() if name not in twice}
