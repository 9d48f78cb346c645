"""What this room adds to those below it: what was asked about a code or a category that was merged can be asked of what it
became, and a saved query narrows a scope."""

from dataclasses import replace

from django.dispatch import receiver

from core.language import say
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from server.compare import searching
from server.compare.models import Became
from server.projects.becoming import Kind, became
from server.projects.change import Change
from server.projects.models import Membership
from server.scope.grammar import Said, one_row
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
    return (
        ""
        if scope.passages is None
        else say("passages of “{name}”", name=searching.saved_query(member, said["query"]).name)
    )


_SAID = Said("query", "id", one_row("Passages of this saved query only."), "query", kind="query")
PARTS.append(Part(_SAID, _query, _query_said))
