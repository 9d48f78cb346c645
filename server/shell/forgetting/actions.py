"""Erasing a person or a document, so that nothing brings it back."""

from datetime import UTC, datetime
from typing import Any

from django.db import connection, models

from core.coding.words import TEXTS
from core.language import say
from server.coding.actions.texts import Decision, retext
from server.coding.models import Code, DroppedWord, GuideQuestion, Passage, ResearchQuestion, Theme, Topic, TopicPhrase
from server.common.errors import Refusal
from server.compare.frozen import pack, unpacked
from server.compare.models import CellNote, FrozenResult, KeptComparison, SavedQuery, SavedScope
from server.gather import media
from server.gather.models import Document, DocumentKind, Medium, NamePair, Section, Speaker, SpeakerRole, StagedFile
from server.people.models import Case, Category, Cohort, Value, Variable
from server.projects.change import Change
from server.projects.models import (
    Job,
    JobState,
    MemberRole,
    Membership,
    Project,
    Published,
    Touched,
    TrailEntry,
    TrailState,
)
from server.projects.revisions import raise_revision
from server.projects.trail import act
from server.report.models import Digest, Exhibit, ExhibitPiece, Memo, MemoLink, OwnMemoKind
from server.shell.forgetting.reach import Reach, found
from server.shell.forgetting.staged import telling
from server.shell.forgetting.traces import Traces
from server.shell.models import ArrivedProject
from server.shell.project_file.arrivals import let_go
from server.snapshots import files

WRITTEN: tuple[tuple[type[models.Model], str, tuple[str, ...]], ...] = (
    (Memo, "project", ("text", "source")),
    (OwnMemoKind, "project", ("name",)),
    (Digest, "project", ("text",)),
    (Code, "project", ("name", *TEXTS)),
    (Theme, "project", ("name", "statement")),
    (ResearchQuestion, "project", ("text",)),
    (GuideQuestion, "project", ("text",)),
    (Topic, "project", ("name",)),
    (TopicPhrase, "topic__project", ("said",)),
    (Cohort, "project", ("name", "description", "condition")),
    (Variable, "project", ("name", "description")),
    (Value, "variable__project", ("words",)),
    (Category, "variable__project", ("label",)),
    (KeptComparison, "project", ("name", "asked", "called")),
    (CellNote, "comparison__project", ("text", "group")),
    (SavedQuery, "project", ("name", "blocks")),
    (SavedScope, "project", ("name", "scope")),
    (FrozenResult, "project", ("name", "asked", "result")),
    (Exhibit, "project", ("name", "audience")),
    (ExhibitPiece, "exhibit__project", ("caption",)),
    (Published, "project", ("what",)),
)
"""What people write, and what is made of it: all of it is looked through."""
_SWEPT = ("gather_document", "gather_turn", "gather_wordindex", "coding_passage", "coding_topicphrase", "people_case", "people_value", "report_memo", "report_memolink",
          "report_digest", "compare_frozenresult", "projects_trailentry", "gather_stagedfile")  # fmt: skip


def forget(member: Membership, typed: str, keep_figures: bool, **what: int | None) -> str:
    """Erase a person (``case``) or a ``document``: an owner's to do, who types its name. The sentence that says what was done."""
    with act(member, "project.forget", needs=MemberRole.OWNER) as change:
        # Looked for when nobody else can change it any more.
        reach = found(member, **what)
        if typed.strip() != reach.called:
            raise Refusal(say("The name typed isn’t the one that is to be forgotten; nothing was changed."))
        if Job.objects.filter(project=member.project_id, state__in=[JobState.WAITING, JobState.RUNNING]).exists():
            raise Refusal(
                say(
                    "An import is under way, and may bring in what is to be forgotten: wait for it, or cancel it first."
                )
            )
        digests = _erase(reach, change, keep_figures)
        # Nothing takes it back: what an undoing would need isn't kept.
        change.inverse.clear()
        _note(member)
    media.forget(digests)
    files.remove(member.project_id)
    _sweep()
    noun = "document" if reach.case is None else member.project.case_one
    return say(
        "The {noun} is forgotten. Undo doesn’t bring it back, nor anything else that was done before.", noun=noun
    )


def _erase(reach: Reach, change: Change, keep_figures: bool) -> set[str]:
    """All of it, inside the action; the digests of bytes that are to go when it is certain."""
    project = reach.member.project_id
    today = datetime.now(UTC).date()
    traces = Traces(reach.names, reach.words, today)
    digests = media_of(reach)
    _frozen(reach, traces, keep_figures)
    _trail(project)
    for document in reach.shared:
        _erase_turns(reach, change, document)
    _rename_speakers(reach)
    Document.objects.filter(pk__in=[one.pk for one in reach.documents]).delete()
    if reach.case is not None:
        Case.objects.filter(pk=reach.case.pk).delete()
    _beside(project, traces)
    parts = {part.casefold() for name in reach.names for part in name.split()}
    DroppedWord.objects.filter(project=project, word__in=parts).delete()
    digests |= _waiting(project, reach)
    # The words of a memo lose the name too, and then mean nothing that could be opened.
    links = MemoLink.objects.filter(memo__project=project)
    links.filter(pk__in=[link.pk for link in links if traces.text(link.said) != link.said]).delete()
    for model, way, names in WRITTEN:
        _clean(model._default_manager.filter(**{way: project}), names, traces)
    # The trail quotes what was coded, be it one word.
    _clean(TrailEntry.objects.filter(project=project), ("summary",), Traces(reach.names, reach.words, today, least=1))
    return digests


def media_of(reach: Reach) -> set[str]:
    """Bytes that go: of documents that go, and pictures and recordings of those in which their voice or words are."""
    return set(Medium.objects.filter(document__in=reach.heard_in).values_list("digest", flat=True))


def _erase_turns(reach: Reach, change: Change, document: Document) -> None:
    """In what others say too: their turns without their words, and no recording or page that holds them."""
    own = [turn.number for turn in reach.turns if turn.document_id == document.pk and turn.ink_start < turn.ink_end]
    lost: dict[int, Decision] = dict.fromkeys(
        Passage.objects.filter(document=document).values_list("id", flat=True), "remove"
    )
    retext(change, document, reach.edits(document), lost)
    held = Passage.objects.filter(document=document)
    held.exclude(page=None, begin=None).delete()
    held.filter(turns_only(document, own)).delete()
    Medium.objects.filter(document=document).delete()
    Section.objects.filter(document=document, kind="page").delete()
    Document.objects.filter(pk=document.pk).update(kind=DocumentKind.TRANSCRIPT, seconds=None)


def _rename_speakers(reach: Reach) -> None:
    for number, speaker in enumerate(reach.speakers, start=1):
        taken = set(speaker.document.speakers.exclude(pk=speaker.pk).values_list("label", flat=True))
        label = "Forgotten" if "Forgotten" not in taken else say("Forgotten {number}", number=number)
        Speaker.objects.filter(pk=speaker.pk).update(label=label, role=SpeakerRole.OTHER, case=None)


def turns_only(document: Document, own: list[int]) -> models.Q:
    """Passages of nothing but what stands instead of somebody's words, in turns of these numbers."""
    found = models.Q(pk__in=[])
    for turn in document.turns.filter(number__in=own):
        found |= models.Q(start__gte=turn.ink_start, end__lte=turn.ink_end)
    return found & models.Q(page=None, begin=None)


def _frozen(reach: Reach, traces: Traces, keep_figures: bool) -> None:
    """What was kept of a day: figures stay if wished, words don't."""
    gone = {one.pk for one in reach.documents}
    for row in FrozenResult.objects.filter(project=reach.member.project_id):
        if not keep_figures and reach.stands_in(row):
            row.delete()
            continue
        then = unpacked(row)
        said = reach.said_in(then)
        passages = {
            passage: [document, traces.instead, traces.instead]
            if document in gone
            else [document, traces.text(title), traces.instead if passage in said else traces.text(words)]
            for passage, (document, title, words) in then.passages.items()
        }
        cells = [[key, traces.text(group), sorted(pairs)] for (key, group), pairs in then.cells.items()]
        bases = {traces.text(group): ids for group, ids in then.bases.items()}
        FrozenResult.objects.filter(pk=row.pk).update(held=pack({"cells": cells, "bases": bases, "passages": passages}))


def _trail(project: int) -> None:
    """What taking back needs is what was there: none of it stays."""
    entries = TrailEntry.objects.filter(project=project)
    entries.filter(state=TrailState.DONE).update(state=TrailState.STAYS)
    entries.filter(state=TrailState.UNDONE).update(state=TrailState.GONE)
    entries.update(inverse=[])


def _beside(project: int, traces: Traces) -> None:
    """Real names and their pseudonyms; sentences of finished work, which name files."""
    for pair in NamePair.objects.filter(project=project):
        if any(traces.text(said) != said for said in (pair.name, pair.pseudonym)):
            pair.delete()
    Job.objects.filter(project=project).delete()


def _waiting(project: int, reach: Reach) -> set[str]:
    """Files that wait and hold any of it; whole projects that members have sent and not brought in."""
    gone = [row.pk for row in StagedFile.objects.filter(project=project) if telling(row, reach)]
    waiting = StagedFile.objects.filter(pk__in=gone)
    digests = media.of_staged(waiting)
    waiting.delete()
    return digests | let_go(ArrivedProject.objects.filter(account__memberships__project=project))


def _clean(rows: models.QuerySet[Any], names: tuple[str, ...], traces: Traces) -> None:
    for row in rows.only("pk", *names).iterator(chunk_size=500):
        changed = {name: now for name in names if (now := _cleaned(row, name, traces)) != getattr(row, name)}
        if changed:
            rows.model.objects.filter(pk=row.pk).update(**changed)


def _cleaned(row: Any, name: str, traces: Traces) -> Any:
    said = getattr(row, name)
    now = traces.json(said)
    field = row._meta.get_field(name)
    if isinstance(now, str) and now != said and field.max_length:
        # Names are unique: two that become alike are told apart.
        ending = f" ({row.pk})" if name in ("name", "label") else ""
        now = now[: field.max_length - len(ending)] + ending
    return now


def _note(member: Membership) -> None:
    """That something was forgotten, and by whom; not what."""
    project = Project.objects.get(pk=member.project_id)
    # Not even numbers of what went are kept.
    Touched.objects.filter(project=project).delete()
    TrailEntry.objects.create(
        project=project,
        actor=member.account,
        revision=raise_revision(project, None),
        verb="project.forget",
        needs=MemberRole.OWNER,
        summary="Forgot somebody, or a document, for good; what was done before can’t be taken back",
        state=TrailState.STAYS,
    )


def _sweep() -> None:
    """Have the database use the room of what is erased anew, rather than leave it lying."""
    if connection.in_atomic_block:
        return
    with connection.cursor() as cursor:
        for table in _SWEPT:
            cursor.execute(f'VACUUM "{table}"')
