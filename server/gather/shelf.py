"""The shelf: every document without its text, with who speaks in it and what has been done on it."""

from datetime import timedelta
from typing import Any

import numpy as np

from core.snapshot.columns import DAY_ZERO
from core.snapshot.snapshot import Snapshot
from server.gather.models import Document
from server.gather.queries import documents
from server.people import facts
from server.people import queries as people
from server.people.models import Subject
from server.projects.models import Membership
from server.snapshots.memory import Made
from server.snapshots.queries import snapshot

_rows: Made[list[dict[str, Any]]] = Made("gather.document", "gather.speaker", "gather.medium", "people.")


def shelf(member: Membership) -> list[dict[str, Any]]:
    """Plain rows: the documents' own are kept while nothing that they rest on is touched, what was done is counted in the
    snapshot."""
    held = snapshot(member.project_id)
    rows = _rows.of(member.project_id, held, lambda: _documents(member))
    at = {pk: place for place, pk in enumerate(held.document_ids.tolist())}
    done = _done(held)
    return [{**row, **done[at[row["id"]]]} for row in rows if row["id"] in at]


def _done(held: Snapshot) -> list[dict[str, Any]]:
    """Each document's turns, passages and the day of its last coding."""
    size = len(held.document_ids)
    turns = np.bincount(held.turn_document, minlength=size).tolist()
    passages = np.bincount(held.passage_document, minlength=size).tolist()
    # Of the same kind as the days: of two kinds, it takes ten times as long.
    last = np.full(size, -1, held.coding_day.dtype)
    if len(held.coding_day):
        np.maximum.at(last, held.passage_document[held.coding_passage], held.coding_day)
    days = [None if day < 0 else DAY_ZERO + timedelta(days=day) for day in last.tolist()]
    names = ("turns", "passages", "last_coded")
    return [dict(zip(names, one, strict=True)) for one in zip(turns, passages, days, strict=True)]


def _documents(member: Membership) -> list[dict[str, Any]]:
    rows = list(documents(member).defer("text").prefetch_related("speakers__case", "media"))
    about = list(people.variables(member, Subject.DOCUMENT))
    known = facts.of_documents(about, [row.pk for row in rows])
    return [
        _document(row, {str(pk): people.shown(one.held[place]) for pk, one in known.items()})
        for place, row in enumerate(rows)
    ]


def _document(row: Document, values: dict[str, Any]) -> dict[str, Any]:
    return {
        **{name: getattr(row, name) for name in ("id", "title", "kind", "source_name", "words", "seconds", "added_at")},
        "thumbnail": any(medium.role == "thumbnail" for medium in row.media.all()),
        "values": values,
        "speakers": [
            {
                **{name: getattr(one, name) for name in ("id", "label", "role")},
                "case": one.case_id,
                "case_name": one.case.identifier if one.case else None,
            }
            for one in row.speakers.all()
        ],
    }
