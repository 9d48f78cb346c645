"""What forgetting would take along, told before it happens."""

from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any

from django.conf import settings

from core.text.editing import apply_edits
from server.coding.actions.texts import lost_by
from server.coding.models import Coding, Passage
from server.compare.models import FrozenResult
from server.gather.models import Document, StagedFile
from server.people.models import Value
from server.report.models import Digest, ExhibitPiece, Memo
from server.shell.forgetting.actions import WRITTEN, media_of
from server.shell.forgetting.reach import Reach
from server.shell.forgetting.staged import telling
from server.shell.forgetting.traces import Traces
from server.shell.nightly import retention


@dataclass(frozen=True)
class Preview:
    """Counts of what goes; ``elsewhere`` other texts in which a name of theirs stands, which stay as they are."""

    called: str
    documents: list[str]
    shared: list[str]
    names: list[str]
    turns: int
    passages: int
    codings: int
    values: int
    memos: int
    digests: int
    pieces: int
    media: int
    staged: int
    frozen: int
    written: int
    elsewhere: list[str]
    backups_gone_by: date | None
    backups_by_themselves: bool


def preview(reach: Reach) -> Preview:
    documents = [one.pk for one in reach.documents]
    passages = Passage.objects.filter(document__in=documents) | Passage.objects.filter(pk__in=_lost(reach))
    project = reach.member.project_id
    traces = Traces(reach.names, reach.words, datetime.now(UTC).date())
    memos = Memo.objects.filter(document__in=documents) | Memo.objects.filter(passage__in=passages)
    digests = Digest.objects.none()
    values = Value.objects.filter(document__in=documents)
    if reach.case is not None:
        memos = memos | Memo.objects.filter(case=reach.case)
        digests = Digest.objects.filter(case=reach.case)
        values = values | Value.objects.filter(case=reach.case)
    return Preview(
        called=reach.called,
        documents=[one.title for one in reach.documents],
        shared=[one.title for one in reach.shared],
        names=sorted(reach.names),
        turns=len(reach.turns),
        passages=passages.count(),
        codings=Coding.objects.filter(passage__in=passages).count(),
        values=values.count(),
        memos=memos.distinct().count(),
        digests=digests.count(),
        pieces=ExhibitPiece.objects.filter(passage__in=passages).count(),
        media=len(media_of(reach)),
        staged=sum(telling(row, reach) for row in StagedFile.objects.filter(project=project)),
        frozen=sum(reach.stands_in(row) for row in FrozenResult.objects.filter(project=project)),
        written=sum(
            _told(model, way, names, project, traces) for model, way, names in WRITTEN if model.__name__ != "TrailEntry"
        ),
        elsewhere=_elsewhere(reach),
        backups_gone_by=retention().gone_by(datetime.now(UTC)) if settings.BACKUP_FOLDER else None,
        backups_by_themselves=bool(settings.BACKUP_FOLDER),
    )


def _lost(reach: Reach) -> list[int]:
    """Passages of nothing but their words, in documents in which others speak too; and all regions and spans of those."""
    found = [one.passage for document in reach.shared for one in lost_by(document, reach.edits(document))]
    beside = Passage.objects.filter(document__in=[one.pk for one in reach.shared])
    return [*found, *beside.exclude(page=None, begin=None).values_list("id", flat=True)]


def _told(model: Any, way: str, names: tuple[str, ...], project: int, traces: Traces) -> int:
    """How many rows of what people wrote would lose a name or a quotation."""
    rows = model.objects.filter(**{way: project}).values_list(*names)
    return sum(any(traces.json(said) != said for said in row) for row in rows.iterator(chunk_size=500))


def _elsewhere(reach: Reach) -> list[str]:
    gone = [one.pk for one in reach.documents]
    traces = Traces(reach.names, (), datetime.now(UTC).date())
    rows = Document.objects.filter(project=reach.member.project_id).exclude(pk__in=gone)
    called = set(
        rows.filter(speakers__label__in=reach.names)
        .exclude(pk__in=[one.pk for one in reach.shared])
        .values_list("id", flat=True)
    )
    found = []
    for row in rows.iterator(chunk_size=50):
        text = apply_edits(row.text, reach.edits(row)).text
        if row.pk in called or traces.text(text) != text:
            found.append(row.title)
    return found
