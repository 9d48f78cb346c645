"""What this room adds to those below it: what was asked about a code or a category that was merged can be asked of what it
became, and a saved query narrows a scope."""

from dataclasses import replace
from typing import Any

from django.dispatch import receiver
from rest_framework import serializers

from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from server.compare import searching
from server.compare.models import Became
from server.projects.becoming import Kind, became
from server.projects.change import Change
from server.projects.models import Membership
from server.scope.parts import PARTS, Json, Part, both


@receiver(became)
def note(*, change: Change, what: Kind, gone: int | str, now: int | str, within: int, **_: object) -> None:
    if what in ("code", "category"):
        row = Became(project_id=change.project_id, what=what, within=within, gone=str(gone), now=str(now))
        change.create(row)


def _query(member: Membership, held: Snapshot, said: int, scope: Scope) -> Scope:
    found = searching.passages_found(member, held, searching.saved_query(member, said).blocks)
    return replace(scope, passages=both(scope.passages, found))


def _query_said(member: Membership, held: Snapshot, said: Json, scope: Scope) -> str:
    return "" if scope.passages is None else f"passages of “{searching.saved_query(member, said['query']).name}”"


def _query_field() -> "serializers.Field[Any, Any, Any, Any]":
    return serializers.IntegerField(required=False, allow_null=True, help_text="Passages of this saved query only.")


PARTS.append(Part("query", _query_field, _query, _query_said))
