"""Whether JSON that a file brings is what an action would have kept: checked by the same rules as a request's."""

import re
from typing import Any

from rest_framework import serializers

from server.compare.asked import ComparisonIn, ShownIn
from server.compare.blocks import check as check_blocks
from server.gather.readers.recordings import TYPES
from server.people.asked import Definition
from server.people.asked import check as check_condition
from server.scope.asked import ScopeIn

CONTENT_TYPES = {*TYPES.values(), "application/pdf", "image/webp"}
"""What the readers make of uploads: nothing that a browser would run."""


def _by(kind: type[serializers.Serializer[Any]], said: Any) -> None:
    kind(data=said).is_valid(raise_exception=True)


def question(said: Any) -> None:
    _by(ComparisonIn, said)


def question_or_conditions(said: Any) -> None:
    """What was frozen: a comparison, or conditions on passages within a scope."""
    if "blocks" in said:
        check_blocks(said["blocks"])
        _by(ScopeIn, said.get("scope") or {})
    else:
        question(said)


def scope(said: Any) -> None:
    _by(ScopeIn, said)


def shown(said: Any) -> None:
    _by(ShownIn, said)


def blocks(said: Any) -> None:
    check_blocks(said)


def condition(said: Any) -> None:
    if said is not None:
        check_condition(said)


def definition(said: Any) -> None:
    if said is not None:
        _by(Definition, said)


def answer(said: Any) -> None:
    """Figures of a comparison, or how much conditions found: what the pages read of it is there."""
    wanted = ("groups", "rows", "cautions", "sentence") if "rows" in said else ("sentence", "passages", "people")
    if not all(name in said for name in wanted):
        raise ValueError("a frozen result lacks what is shown of it")


def content_type(said: Any) -> None:
    if said not in CONTENT_TYPES:
        raise ValueError(f"{said} is no kind of picture, page or recording that is kept here")


def words(said: Any) -> None:
    """Words as the database's index writes them."""
    if said is not None and not re.fullmatch(r"('(?:[^'\\\\]|'')+'( |$))*", said):
        raise ValueError("an index of words isn't one")
