"""Writes on documents, speakers and staged files."""

import hashlib
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db.models import QuerySet

from core.gather.transcript import Transcript
from server.common.errors import Conflict, NotAllowed, NotFound, Refusal
from server.gather import queries
from server.gather.models import Document, Speaker, SpeakerRole, StagedFile, Turn
from server.gather.readers.kinds import Unreadable, kind_of
from server.gather.readers.sandbox import read_files
from server.people.models import Case
from server.projects.models import Membership
from server.projects.trail import Change, act

MAX_STAGED = 2_000


def stage(member: Membership, uploads: list[UploadedFile]) -> list[StagedFile]:
    """Read uploaded files and keep what was found, apart from the project, until "Bring in"."""
    if not member.may("coder"):
        raise NotAllowed("A viewer can’t bring in files.")
    waiting = queries.staged(member)
    if waiting.count() + len(uploads) > MAX_STAGED:
        raise Refusal(f"At most {MAX_STAGED:,} files can wait at once. Bring in what is here first.")
    known = set(Document.objects.filter(project=member.project_id).values_list("source_digest", flat=True))
    known_staged = set(waiting.values_list("digest", flat=True))
    rows = [_new_staged(member, upload) for upload in uploads]
    readable = [(row, upload) for row, upload in zip(rows, uploads, strict=True) if not row.problem]
    answers = read_files((row.name, upload.read()) for row, upload in readable)
    for (row, upload), answer in zip(readable, answers, strict=True):
        upload.seek(0)
        row.digest = hashlib.sha256(upload.read()).hexdigest()
        row.problem = answer.get("problem", "")
        row.content = answer.get("content", {})
        # The same file twice is offered, but left out unless somebody ticks it.
        row.included = not row.problem and row.digest not in known and row.digest not in known_staged
        known_staged.add(row.digest)
    return StagedFile.objects.bulk_create(rows)


def _new_staged(member: Membership, upload: UploadedFile) -> StagedFile:
    name = (upload.name or "file").replace("\x00", "").replace("\\", "/").rsplit("/", 1)[-1][-300:]
    size = upload.size or 0
    row = StagedFile(
        project_id=member.project_id,
        account=member.account,
        name=name,
        kind="transcript",
        digest="",
        size=min(size, 2**31 - 1),
    )
    try:
        row.kind = kind_of(name)
        if size > settings.FILE_LIMIT:
            limit = settings.FILE_LIMIT // settings.MEGABYTE
            row.problem = (
                f"The file has {size / settings.MEGABYTE:,.0f} MB; a transcript or sheet may have up to {limit} MB."
            )
    except Unreadable as unreadable:
        row.problem = str(unreadable)
    row.included = not row.problem
    return row


def correct_staged(
    member: Membership, staged_id: int, included: bool | None, choices: dict[str, Any] | None
) -> StagedFile:
    """Keep corrections to how a staged file is read."""
    if not member.may("coder"):
        raise NotAllowed("A viewer can’t bring in files.")
    row = queries.one_staged(member, staged_id)
    if included is not None:
        if included and row.problem:
            raise Refusal("This file can’t be read, so it can’t be brought in.")
        row.included = included
    if choices is not None:
        row.choices = choices
    row.save(update_fields=["included", "choices"])
    return row


def discard_staged(member: Membership, staged: QuerySet[StagedFile]) -> int:
    """Forget staged files; the project never held them."""
    if not member.may("coder"):
        raise NotAllowed("A viewer can’t bring in files.")
    return staged.delete()[0]


def add_document(
    change: Change, title: str, transcript: Transcript, source_name: str = "", digest: str = ""
) -> Document:
    """One document with its turns and speakers, inside an action."""
    document = change.create(
        Document(
            project_id=change.project_id,
            title=title,
            source_name=source_name,
            source_digest=digest,
            text=transcript.text,
            length=len(transcript.text),
            words=transcript.words,
        )
    )
    speakers = change.create_many(
        [Speaker(document=document, label=found.label[:120], role=found.role) for found in transcript.speakers]
    )
    change.create_many(
        [
            Turn(
                document=document,
                speaker=speakers[turn.speaker],
                number=number,
                start=turn.start,
                end=turn.end,
                ink_start=turn.ink_start,
                ink_end=turn.ink_end,
                words=turn.words,
                time=turn.time[:40],
            )
            for number, turn in enumerate(transcript.turns, start=1)
        ]
    )
    return document


def rename_document(member: Membership, document_id: int, title: str) -> Document:
    with act(member, "coder", "document") as change:
        document = queries.document(member, document_id)
        title = title.strip()
        if not title:
            raise Refusal("Give the document a name.")
        if queries.documents(member).filter(title=title).exclude(pk=document_id).exists():
            raise Conflict(f"There is a document called “{title}” already.")
        change.summary = f"Renamed “{document.title}” to “{title}”"
        change.update(document, title=title)
    return document


def delete_documents(member: Membership, document_ids: list[int]) -> int:
    """Delete documents with their passages and codings; undo brings all of it back."""
    with act(member, "coder", "document") as change:
        rows = queries.documents(member).filter(pk__in=document_ids)
        titles = [row.title for row in rows[:2]]
        count = change.delete(rows)
        if not count:
            raise NotFound("These documents aren’t in the project any more.")
        change.summary = f"Deleted “{titles[0]}”" if count == 1 else f"Deleted {count} documents"
    return count


def change_speaker(member: Membership, speaker_id: int, **fields: Any) -> Speaker:
    """Link a speaker to a case (``case_id``, None unlinks), or change the role or label."""
    with act(member, "coder", "speaker") as change:
        speaker = queries.speakers(member).filter(pk=speaker_id).first()
        if speaker is None:
            raise NotFound("This speaker isn’t in the project any more.")
        case_id = fields.get("case_id")
        if case_id is not None and not Case.objects.filter(project=member.project_id, pk=case_id).exists():
            raise NotFound(f"This {member.project.case_one} isn’t in the project any more.")
        role = fields.get("role", speaker.role)
        if role != SpeakerRole.PARTICIPANT:
            if case_id is not None:
                raise Refusal("Only a participant is linked; change the speaker’s role first.")
            fields["case_id"] = None
        if "label" in fields:
            fields["label"] = fields["label"].strip()
            if not fields["label"]:
                raise Refusal("A speaker needs a label.")
            if (
                Speaker.objects.filter(document=speaker.document_id, label=fields["label"])
                .exclude(pk=speaker_id)
                .exists()
            ):
                raise Conflict(f"Another speaker of this document is called “{fields['label']}”.")
        if change.update(speaker, **fields):
            change.summary = _speaker_summary(speaker, fields)
    return queries.speakers(member).get(pk=speaker_id)


def _speaker_summary(speaker: Speaker, fields: dict[str, Any]) -> str:
    where = f"“{speaker.label}” in “{speaker.document.title}”"
    if fields.get("case_id"):
        return f"Linked {where} to {Case.objects.get(pk=fields['case_id']).identifier}"
    if "role" in fields:
        return f"Made {where} {speaker.get_role_display()}"
    return f"Unlinked {where}" if "case_id" in fields else f"Renamed a speaker to {where}"


def link_sure_speakers(member: Membership, change: Change | None = None) -> int:
    """Link every speaker whose case is certain."""
    if change is None:
        with act(member, "coder", "speaker") as change:
            linked = link_sure_speakers(member, change)
            change.summary = f"Linked {linked} speaker{'' if linked == 1 else 's'} that were certain"
            return linked
    sure = [proposal for proposal in queries.link_proposals(member) if proposal.case is not None]
    by_id = {speaker.pk: speaker for speaker in queries.speakers(member).filter(pk__in=[p.speaker for p in sure])}
    for proposal in sure:
        change.update(by_id[proposal.speaker], case_id=proposal.case)
    return len(sure)
