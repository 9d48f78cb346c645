"""Bringing in all staged files at once: sheets, then documents, then answers and links."""

import contextlib
import multiprocessing
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from dataclasses import astuple, dataclass

from django.db import transaction
from django.db.models import Case as Choose
from django.db.models import IntegerField, QuerySet, Sum, Value, When
from procrastinate.contrib.django import app

from core.gather.answers import answers_of
from core.gather.stretches import to_be_typed
from core.gather.transcript import FoundMark, Transcript, read_transcript, timed_by_labels
from core.language import say
from server.coding.actions import mark_comments
from server.common.errors import Refusal
from server.gather import actions, media, queries
from server.gather.models import Document, DocumentKind, Speaker, StagedFile
from server.gather.queries import documents_called
from server.gather.sound import Sound, listen
from server.imports import reading
from server.imports.actions import bring_in_sheet, remember
from server.imports.queries import sheet_problems
from server.people import queries as people
from server.projects import running
from server.projects.change import Change
from server.projects.models import Job, MemberRole, Membership
from server.projects.trail import act_beside
from server.snapshots import words

MANY = 40
"""Documents from which reading ahead pays for starting the processes."""
MUCH = 3_000_000
"""Bytes of text from which it does as well: meanwhile the work can be cancelled."""
READERS, READ_AHEAD = 2, 12
SETTLED = 25
"""Documents after which the database judges them: all of them at the end would stand still for seconds."""
LISTENING = 100
"""Steps in which it is told how far the listening to one recording is."""
RESTS_ON = ("people.", "gather.", "coding.code")
"""What sheets, comments and links are held against, and others may change meanwhile."""


@app.task(name="imports.bring_in", aliases=["gather.bring_in"])
def bring_in_task(job_id: int) -> None:
    # Until it commits, only the files that wait name their bytes, and somebody may let go of those.
    with media.nothing_goes():
        running.run(job_id, bring_in)
    for project_id in Job.objects.filter(pk=job_id, project__isnull=False).values_list("project", flat=True):
        words.prepare(project_id)


def start(member: Membership) -> Job:
    """Queue the import of everything that is ticked."""
    if not member.may(MemberRole.CODER):
        raise Refusal(say("A viewer can’t bring in files."))
    ticked = queries.staged(member).filter(included=True, problem="")
    if not ticked.exists():
        raise Refusal(say("No file is ticked to be brought in."))
    for sheet in ticked.filter(kind="sheet"):
        problems = sheet_problems(member, reading.sheet_of(sheet))
        if problems:
            raise Refusal(f"{sheet.name}: {problems[0]}")
    count = ticked.count()
    job = running.begin(
        member, say("Bringing in {count} {count, plural, one {file} other {files}}", count=count), count
    )
    bring_in_task.defer(job_id=job.pk)
    return job


@dataclass(frozen=True)
class _Brought:
    """What has been brought in, for the closing sentence."""

    documents: int = 0
    cases: int = 0
    answers: int = 0
    comments: int = 0
    linked: int = 0

    def __add__(self, more: "_Brought") -> "_Brought":
        return _Brought(*(one + other for one, other in zip(astuple(self), astuple(more), strict=True)))


Marks = list[tuple[Document, tuple[FoundMark, ...], str]]
"""Comments that came with each document, and what becomes of them."""


def bring_in(job: Job, progress: running.Progress) -> str:
    """The work itself, in the job's one transaction and as one undoable action, beside others' writes."""
    member = Membership.objects.select_related("project", "account").get(project=job.project, account=job.account)
    order = Choose(When(kind="sheet", then=Value(1)), default=Value(0), output_field=IntegerField())
    ticked = list(
        queries.staged(member).filter(included=True, problem="").order_by(order, "id").values_list("id", "kind", "name")
    )
    recordings = {pk for pk, kind, _ in ticked if kind == "recording"}
    partners = _partners(member, recordings) if recordings else {}
    consumed = set(partners.values())
    own = [pk for pk, kind, _ in ticked if kind != "sheet" and pk not in consumed]
    sheets = [(pk, name) for pk, kind, name in ticked if kind == "sheet"]
    if recordings:
        progress.start(len(recordings) * LISTENING, say("Listening"))
    heard = _listened(recordings, progress)
    progress.start(len(ticked), say("Waiting for other work in this project"))
    with act_beside(member, "material.bring_in") as change:
        titles = _Titles(member)
        marks: Marks = []
        for done, (staged, transcript) in enumerate(_read(member, own, partners), start=1):
            document = _bring_in_document(change, titles, staged, transcript, heard.get(staged.pk))
            if transcript.marks and staged.choices.get("comments", "memos") != "leave_out":
                marks.append((document, transcript.marks, staged.choices.get("comments", "memos")))
            if done % SETTLED == 0:
                change.settle()
            progress.step(done, say("Bringing in documents"))

        def at_last() -> _Brought:
            found = _bring_in_people(change, sheets, marks, progress, len(ticked))
            _let_go(queries.staged(member).filter(pk__in=[*(pk for pk, _, _ in ticked), *consumed]))
            return found

        brought = _Brought(documents=len(own)) + change.at_last(at_last, RESTS_ON)
        said = _said(member, brought)
        change.summary = say("Brought in {said}", said=said)
    return say("Brought in {said}.", said=said)


def _bring_in_people(
    change: Change, sheets: list[tuple[int, str]], marks: Marks, progress: running.Progress, total: int
) -> _Brought:
    """What rests on the people and codes that are here: comments, sheets, who is who."""
    comments = sum(mark_comments(change, document, found, what) for document, found, what in marks)
    brought = _Brought(comments=comments)
    for done, (pk, name) in enumerate(sheets, start=total - len(sheets)):
        tell = _telling(progress, done, name)
        tell(say("reading it"))
        brought += _bring_in_sheet(change, StagedFile.objects.get(pk=pk), tell)
        progress.step(done + 1)
    progress.step(total, say("Looking who is who"))
    return brought + _Brought(linked=actions.link_sure_speakers(change.member, change))


def _let_go(staged: QuerySet[StagedFile]) -> None:
    """What waited is in the project now; bytes that only the waiting needed go."""
    digests = media.of_staged(staged)
    staged.delete()
    transaction.on_commit(lambda: media.forget(digests))


def _partners(member: Membership, recordings: set[int]) -> dict[int, int]:
    """For each of these recordings the text that is its own, if it has one."""
    waiting = list(queries.staged(member).filter(problem="").exclude(kind="sheet"))
    return {pk: text.pk for pk, text in reading.partners(waiting).items() if pk in recordings}


def _telling(progress: running.Progress, done: int, name: str) -> Callable[[str], None]:
    """Progress within a sheet: its rows, then its columns, one after the other."""

    def tell(where: str) -> None:
        progress.step(done, say("Bringing in {name}: {where}", name=name, where=where))

    return tell


def _read(member: Membership, own: list[int], partners: dict[int, int]) -> Iterator[tuple[StagedFile, Transcript]]:
    """Each staged document with its text taken apart; many, or much, is read ahead by processes beside this one."""

    def load(pk: int) -> tuple[StagedFile, StagedFile | None]:
        text = partners.get(pk)
        return StagedFile.objects.get(pk=pk), StagedFile.objects.get(pk=text) if text is not None else None

    sizes = (
        queries.staged(member).filter(pk__in=[*own, *partners.values()], kind="transcript").aggregate(all=Sum("size"))
    )
    if len(own) < MANY and (sizes["all"] or 0) < MUCH:
        for pk in own:
            staged, text = load(pk)
            yield staged, reading.transcript_of(staged, text)
        return
    with ProcessPoolExecutor(READERS, multiprocessing.get_context("spawn")) as pool:
        waiting: deque[tuple[StagedFile, Future[Transcript]]] = deque()
        for pk in own:
            staged, text = load(pk)
            waiting.append((staged, pool.submit(read_transcript, *reading.what_to_read(staged, text))))
            staged.content = {key: value for key, value in staged.content.items() if key != "lines"}
            if len(waiting) > READ_AHEAD:
                first, found = waiting.popleft()
                yield first, found.result()
        for staged, found in waiting:
            yield staged, found.result()


def _listened(recordings: set[int], progress: running.Progress) -> dict[int, Sound]:
    """What is heard in each recording. One that can't be listened to comes in all the same."""
    found = {}
    for done, staged in enumerate(StagedFile.objects.filter(pk__in=recordings)):

        def tell(far: float, name: str = staged.name, done: int = done) -> None:
            at = round((done + far) * LISTENING)
            progress.step(at, say("Listening to {name}: {far} %", name=name, far=round(far * 100)))

        medium = next(one for one in staged.content["media"] if one["role"] == "recording")
        with contextlib.suppress(Refusal):
            found[staged.pk] = listen(medium["digest"], medium["type"], tell)
    return found


def _bring_in_document(
    change: Change, titles: "_Titles", staged: StagedFile, transcript: Transcript, sound: Sound | None = None
) -> Document:
    seconds = staged.content.get("seconds") or (sound.seconds if sound else None)
    kind = DocumentKind.TRANSCRIPT
    if staged.kind == "image":
        kind = DocumentKind.IMAGE
    elif staged.kind == "recording":
        kind = DocumentKind.RECORDING
        transcript = timed_by_labels(transcript)
        if not transcript.turns and sound is not None:
            transcript = to_be_typed(sound.stretches, seconds)
    elif staged.content.get("pages"):
        kind = DocumentKind.PDF
    return actions.add_document(
        change,
        titles.free(reading.title_of(staged)),
        transcript if transcript.turns else _silent(),
        staged.name,
        staged.digest,
        kind,
        seconds,
        staged.content.get("media"),
    )


def _silent() -> Transcript:
    """A picture, a scan, a recording without text: one speaker who can be linked, and no words."""
    from core.gather.transcript import WHOLE, FoundSpeaker, FoundTurn

    return Transcript("", (FoundTurn(0, 0, 0, 0, 0, 0, ""),), (FoundSpeaker(WHOLE, "participant", 1, 0, ""),), "none")


def _bring_in_sheet(change: Change, staged: StagedFile, tell: Callable[[str], None]) -> _Brought:
    member = change.member
    sheet = reading.sheet_of(staged)
    tell(say("holding it against what is here"))
    new = bring_in_sheet(change, sheet, staged.choices.get("on_conflict", "keep"), tell).new_cases
    cases = dict(people.cases(member).values_list("identifier", "id"))
    base, answers, titles = reading.title_of(staged), 0, _Titles(member)
    for identifier, transcript in answers_of(sheet):
        title = titles.free(f"{base} {identifier}")
        document = actions.add_document(
            change, title, transcript, staged.name, staged.digest, kind=DocumentKind.ANSWERS
        )
        change.update(document.speakers.get(), case_id=cases[identifier])
        answers += 1
    linked = _link_documents(change, sheet.documents, sheet.identifiers, cases)
    remember(member, staged)
    return _Brought(cases=new, answers=answers, linked=linked)


def _link_documents(
    change: Change, documents: tuple[str, ...], identifiers: tuple[str, ...], cases: dict[str, int]
) -> int:
    """A sheet that names both says who speaks in each document: its one participant is linked."""
    called = documents_called(change.member, documents)
    linked = 0
    for name, identifier in zip(documents, identifiers, strict=True):
        if name not in called or identifier not in cases:
            continue
        own = list(Speaker.objects.filter(document=called[name], role="participant")[:2])
        if len(own) == 1 and own[0].case_id is None:
            linked += change.update(own[0], case_id=cases[identifier])
    return linked


class _Titles:
    """The titles that documents have, and what was given since."""

    def __init__(self, member: Membership) -> None:
        self.taken = set(queries.documents(member).values_list("title", flat=True))

    def free(self, base: str) -> str:
        """The title, or the first of its numbers that nobody has; taken from now on."""
        title = base = base[:300]
        number = 2
        while title in self.taken:
            title = f"{base[:290]} ({number})"
            number += 1
        self.taken.add(title)
        return title


def _said(member: Membership, brought: _Brought) -> str:
    many, one = member.project.case_many, member.project.case_one
    counts: list[tuple[int, str, str]] = [
        (brought.documents, "document", "documents"),
        (brought.cases, say("new {one}", one=one), say("new {many}", many=many)),
        (brought.answers, say("{one}’s answers", one=one), say("{many}’s answers", many=many)),
        (brought.comments, "comment", "comments"),
        (brought.linked, say("speaker linked"), say("speakers linked")),
    ]
    parts = [f"{count:,} {single if count == 1 else several}" for count, single, several in counts if count]
    return ", ".join(parts) or say("0 new {many}", many=many)
