"""Writes on saved queries and saved scopes."""

from typing import Any

from core.language import say
from server.common import names
from server.compare import queries, searching
from server.compare.models import SavedQuery, SavedScope
from server.projects.models import Membership
from server.projects.trail import act
from server.scope.parts import scope_of
from server.snapshots.queries import snapshot

Json = dict[str, Any]


def save_query(member: Membership, name: str, blocks: Json) -> SavedQuery:
    """Save conditions on passages under a name; they have to make sense now."""
    with act(member, "query.save") as change:
        name = names.free(searching.saved_queries(member), name, say("a saved query"))
        searching.passages_found(member, snapshot(member.project_id), blocks)
        change.summary = say("Saved the query “{name}”", name=name)
        return change.create(SavedQuery(project_id=member.project_id, name=name, blocks=blocks, author=member.account))


def change_query(member: Membership, query_id: int, **fields: Any) -> SavedQuery:
    """Another name, or other conditions."""
    with act(member, "query.change") as change:
        saved = searching.saved_query(member, query_id)
        if "name" in fields:
            fields["name"] = names.free(searching.saved_queries(member), fields["name"], say("a saved query"), saved.pk)
        if "blocks" in fields:
            searching.passages_found(member, snapshot(member.project_id), fields["blocks"])
        change.update(saved, **fields)
        change.summary = say("Changed the query “{name}”", name=saved.name)
    return saved


def delete_query(member: Membership, query_id: int) -> None:
    """Let go of a saved query."""
    with act(member, "query.delete") as change:
        saved = searching.saved_query(member, query_id)
        change.summary = say("Let go of the query “{name}”", name=saved.name)
        change.delete(SavedQuery.objects.filter(pk=saved.pk))


def save_scope(member: Membership, name: str, scope: Json) -> SavedScope:
    """Save what is in play under a name."""
    with act(member, "scope.save") as change:
        name = names.free(queries.saved_scopes(member), name, say("a saved scope"))
        scope_of(member, snapshot(member.project_id), scope)
        change.summary = say("Saved the scope “{name}”", name=name)
        return change.create(SavedScope(project_id=member.project_id, name=name, scope=scope, author=member.account))


def delete_scope(member: Membership, scope_id: int) -> None:
    """Let go of a saved scope."""
    with act(member, "scope.delete") as change:
        saved = queries.saved_scope(member, scope_id)
        change.summary = say("Let go of the scope “{name}”", name=saved.name)
        change.delete(SavedScope.objects.filter(pk=saved.pk))
