"""JSON that names rows: the same with every ID said anew. Out of the database IDs become the file's numbers, and back."""

import base64
import json
import zlib
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from typing import Any, Protocol

from server.compare.asked import QUESTION
from server.compare.publishing import digest_of
from server.scope.grammar import Way
from server.scope.parts import PARTS

Json = dict[str, Any]
PART_OF_KIND = {"code": "codes", "theme": "themes", "query": "queries", "cohort": "cohorts", "variable": "variables",
                "document": "documents", "case": "cases", "person": "people"}  # fmt: skip
"""What comparisons call things, and the part that each is a row of."""


class Renumber(Protocol):
    """Says what a row of a part is called on the other side."""

    def __call__(self, part: str, one: Any) -> int: ...

    def digest(self, said: str) -> str: ...


Said = Callable[[Any, Renumber], Any]


@dataclass(frozen=True)
class Within:
    """How what stands in a field goes out and comes in. ``check`` raises ``ValueError`` for what no action would have kept."""

    out: Said
    into: Said
    check: Callable[[Any], None] = lambda said: None
    packed: bool = False
    """Whether it is text in the database and JSON in the file."""


def both(said: Said, check: Callable[[Any], None] = lambda said: None) -> Within:
    return Within(said, said, check)


def _all(part: str, ids: Any, to: Renumber) -> Any:
    return None if ids is None else [to(part, one) for one in ids]


def _one(part: str, pk: Any, to: Renumber) -> Any:
    return None if pk is None else to(part, pk)


def _naming(way: Way) -> dict[str, str]:
    """The words by which questions and scopes name rows in this way, and the part that those are rows of."""
    parts = [*QUESTION, *(part.said for part in PARTS)]
    return {one.name: PART_OF_KIND[one.kind] for one in parts if one.kind and one.way == way}


@cache
def _lists() -> dict[str, str]:
    return _naming("ids")


@cache
def _single() -> dict[str, str]:
    """Conditions name a cohort besides."""
    return {**_naming("id"), "cohort": "cohorts"}


def asked(said: Json, to: Renumber) -> Json:
    """A question, a scope, a condition on people or on passages: all name rows by the same words."""
    found: Json = {}
    for name, value in said.items():
        if name in _lists():
            found[name] = _all(_lists()[name], value, to)
        elif name in _single():
            found[name] = _one(_single()[name], value, to)
        elif name in ("scope", "who", "condition", "blocks") and isinstance(value, dict):
            found[name] = asked(value, to)
        elif name == "parts":
            found[name] = [asked(part, to) for part in value]
        else:
            found[name] = value
    return found


def definition(said: Json | None, to: Renumber) -> Json | None:
    """How a variable is made of others."""
    if said is None:
        return None
    found = dict(said)
    if said["kind"] == "bands":
        found["of"] = to("variables", said["of"])
    elif said["kind"] == "crossing":
        found["of"] = _all("variables", said["of"], to)
    elif said["kind"] == "cohort":
        found["cohort"] = to("cohorts", said["cohort"])
    elif said.get("code"):
        found["code"] = to("codes", said["code"])
    return found


def condition(said: Json | None, to: Renumber) -> Json | None:
    return None if said is None else asked(said, to)


def shown(said: Json, to: Renumber) -> Json:
    """How a comparison is drawn: by a number, for one of its forms."""
    return {**said, "number": to("variables", said["number"])} if said.get("number") else said


def called(said: Json, to: Renumber) -> Json:
    """By kind and ID, a name."""
    return {
        kind: {str(to(PART_OF_KIND[kind], int(pk))): name for pk, name in names.items()} for kind, names in said.items()
    }


def result(said: Json, to: Renumber) -> Json:
    """A comparison as it was answered: its rows have IDs; what passages conditions found has none."""
    if "rows" not in said:
        return said
    return {**said, "rows": [{**row, "id": to(PART_OF_KIND[row["kind"]], row["id"])} for row in said["rows"]]}


def _held(content: Json, to: Renumber) -> Json:
    """The passages and people of every cell; 0 stands for nobody."""

    def key(said: str) -> str:
        kind, _, pk = said.partition(":")
        return f"{kind}:{to(PART_OF_KIND[kind], int(pk))}" if pk else said

    def pair(passage: Any, case: Any) -> list[int]:
        return [to("passages", passage), to("cases", case) if case else 0]

    return {
        "cells": [[key(row), group, sorted(pair(*one) for one in pairs)] for row, group, pairs in content["cells"]],
        "bases": {group: _all("cases", ids, to) for group, ids in content["bases"].items()},
        "passages": {
            str(to("passages", int(pk))): [to("documents", document), title, words]
            for pk, (document, title, words) in content["passages"].items()
        },
    }


def _unpacked(said: str, to: Renumber) -> Json:
    return _held(json.loads(zlib.decompress(base64.b85decode(said))), to)


def _packed(said: Json, to: Renumber) -> str:
    return base64.b85encode(zlib.compress(json.dumps(_held(said, to)).encode())).decode()


HELD = Within(_unpacked, _packed, packed=True)


def published(row: Json, to: Renumber) -> Json:
    """Numbers that left, and the sets of people that they are of. Sets are named by who is in them, so by other names on
    the other side; a line whose people aren't told (of an older version) can't be, and is left out."""
    sets = {name: sorted(to("cases", one) for one in ids) for name, ids in row["sets"].items()}
    now = {name: digest_of(ids) for name, ids in sets.items()}
    return {
        **row,
        "sets": {now[name]: ids for name, ids in sets.items()},
        "lines": {
            now[name]: [[now[people], *rest] for people, *rest in numbers]
            for name, numbers in row["lines"].items()
            if name in now
        },
    }


def note(row: Json, to: Renumber) -> Json:
    """A note on a cell: what its row is, and which."""
    return {**row, "row": to(PART_OF_KIND[row["kind"]], row["row"])}


def became(row: Json, to: Renumber) -> Json:
    """What a merged code or category went into."""
    if row["what"] == "code":
        return {**row, **{name: str(to("codes", int(row[name]))) for name in ("gone", "now")}}
    return {**row, "within": to("variables", row["within"])}
