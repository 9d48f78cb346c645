"""Writes on whole documents: what an import adds, names, deletes."""

from typing import Any

from core.gather.transcript import FoundSection, Transcript
from core.language import say
from server.common.errors import Conflict, NotFound, Refusal
from server.gather import queries
from server.gather.models import Document, DocumentKind, Medium, Section, Speaker, Turn, WordIndex
from server.gather.word_index import indexed
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act


def add_document(
    change: Change,
    title: str,
    transcript: Transcript,
    source_name: str = "",
    digest: str = "",
    kind: str = DocumentKind.TRANSCRIPT,
    seconds: float | None = None,
    media: list[dict[str, Any]] | None = None,
) -> Document:
    """One document with its turns, speakers, sections and media, inside an action."""
    document = change.create(
        Document(
            project_id=change.project_id,
            title=title,
            kind=kind,
            seconds=seconds,
            source_name=source_name,
            source_digest=digest,
            text=transcript.text,
            length=len(transcript.text),
            words=transcript.words,
        )
    )
    change.create(WordIndex(document=document, words=indexed(transcript.text)))
    speakers = change.create_many(
        [Speaker(document=document, label=found.label[:120], role=found.role) for found in transcript.speakers]
    )
    add_turns(change, document, transcript, [speaker.pk for speaker in speakers])
    change.create_many(
        [
            Medium(
                document=document,
                role=one["role"],
                number=one["number"],
                digest=one["digest"],
                content_type=one["type"],
                width=one["width"],
                height=one["height"],
            )
            for one in media or []
        ]
    )
    return document


_TURN = (
    "document_id", "speaker_id", "number", "start", "end", "ink_start", "ink_end", "words", "time", "begin", "finish",
)  # fmt: skip


def add_turns(change: Change, document: Document, transcript: Transcript, speakers: list[int]) -> None:
    """The turns and sections of a document that has none; ``speakers`` by their place in the transcript."""
    change.copy(
        Turn,
        _TURN,
        [
            (document.pk, speakers[one.speaker], number, one.start, one.end, one.ink_start, one.ink_end, one.words, one.time[:40], one.begin, one.finish)
            for number, one in enumerate(transcript.turns, start=1)
        ],
    )  # fmt: skip
    change.create_many([_section(document, found) for found in transcript.sections])


def _section(document: Document, found: FoundSection) -> Section:
    return Section(
        document=document, kind=found.kind, title=found.title, level=found.level, start=found.start, end=found.end
    )


def rename_document(member: Membership, document_id: int, title: str) -> Document:
    with act(member, "document.rename") as change:
        document = queries.document(member, document_id)
        title = title.strip()
        if not title:
            raise Refusal(say("Give the document a name."))
        if queries.documents(member).filter(title=title).exclude(pk=document_id).exists():
            raise Conflict(say("There is a document called “{title}” already.", title=title))
        change.summary = say("Renamed “{title}” to “{title2}”", title=document.title, title2=title)
        change.update(document, title=title)
    return document


def delete_documents(member: Membership, document_ids: list[int]) -> int:
    """Delete documents with their passages and codings; undo brings all of it back."""
    with act(member, "document.delete") as change:
        rows = queries.documents(member).filter(pk__in=document_ids)
        titles = [row.title for row in rows[:2]]
        count = change.delete(rows)
        if not count:
            raise NotFound(say("These documents aren’t in the project any more."))
        change.summary = (
            say("Deleted “{titles}”", titles=titles[0]) if count == 1 else say("Deleted {count} documents", count=count)
        )
    return count
