"""Bringing in all staged files at once: sheets, then documents, then the sure links."""

from procrastinate.contrib.django import app

from server.common.errors import Refusal
from server.gather import actions, queries, reading
from server.gather.models import Document, StagedFile
from server.people.actions import bring_in_sheet
from server.projects import jobs
from server.projects.models import Job, JobState, Membership
from server.projects.trail import Change, act


@app.task(name="gather.bring_in")  # type: ignore[untyped-decorator]
def bring_in_task(job_id: int) -> None:
    jobs.run(job_id, bring_in)


def start(member: Membership) -> Job:
    """Queue the import of everything that is ticked."""
    if not member.may("coder"):
        raise Refusal("A viewer can’t bring in files.")
    ticked = queries.staged(member).filter(included=True, problem="")
    if not ticked.exists():
        raise Refusal("No file is ticked to be brought in.")
    busy = Job.objects.filter(
        project=member.project_id, account=member.account, state__in=[JobState.WAITING, JobState.RUNNING]
    )
    if busy.exists():
        raise Refusal("An import of yours is under way. Wait for it, or cancel it first.")
    for sheet in ticked.filter(kind="sheet"):
        problems = reading.sheet_of(sheet).problems
        if problems:
            raise Refusal(f"{sheet.name}: {problems[0]}")
    count = ticked.count()
    job = Job.objects.create(
        project_id=member.project_id,
        account=member.account,
        title=f"Bringing in {count} file{'' if count == 1 else 's'}",
        total=count,
    )
    bring_in_task.defer(job_id=job.pk)
    return job


def bring_in(job: Job, progress: jobs.Progress) -> str:
    """The work itself, in the job's one transaction and as one undoable action."""
    member = Membership.objects.select_related("project", "account").get(project=job.project, account=job.account)
    ticked = list(
        queries.staged(member).filter(included=True, problem="").order_by("-kind", "id").values_list("id", "kind")
    )
    sheets = [pk for pk, kind in ticked if kind == "sheet"]
    transcripts = [pk for pk, kind in ticked if kind == "transcript"]
    progress.start(len(ticked), "Reading")
    with act(member, "coder", "import") as change:
        cases = 0
        for done, pk in enumerate(sheets, start=1):
            cases += bring_in_sheet(change, reading.sheet_of(StagedFile.objects.get(pk=pk))).new_cases
            progress.step(done, "Bringing in people")
        titles = set(queries.documents(member).values_list("title", flat=True))
        for done, pk in enumerate(transcripts, start=len(sheets) + 1):
            _bring_in_transcript(change, StagedFile.objects.get(pk=pk), titles)
            progress.step(done, "Bringing in documents")
        linked = actions.link_sure_speakers(member, change)
        queries.staged(member).filter(pk__in=[pk for pk, _ in ticked]).delete()
        said = _said(member, cases, len(transcripts), linked)
        change.summary = f"Brought in {said}"
    return f"Brought in {said}."


def _bring_in_transcript(change: Change, staged: StagedFile, titles: set[str]) -> Document:
    title = base = reading.title_of(staged)
    number = 2
    while title in titles:
        title = f"{base[:290]} ({number})"
        number += 1
    titles.add(title)
    return actions.add_document(change, title, reading.transcript_of(staged), staged.name, staged.digest)


def _said(member: Membership, cases: int, documents: int, linked: int) -> str:
    many, one = member.project.case_many, member.project.case_one
    parts = []
    if documents:
        parts.append(f"{documents} document{'' if documents == 1 else 's'}")
    if cases or not documents:
        parts.append(f"{cases} new {one if cases == 1 else many}")
    if linked:
        parts.append(f"{linked} speaker{'' if linked == 1 else 's'} linked")
    return ", ".join(parts)
