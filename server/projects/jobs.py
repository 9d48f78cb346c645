"""Taking back or doing again what is too much for a request."""

from procrastinate.contrib.django import app

from core.language import say
from server.common.errors import Conflict
from server.projects import running, trail
from server.projects.models import Job, MemberRole, Membership, TrailState
from server.projects.steps import weight

QUEUED = 5_000
"""Rows from which turning is a job."""


@app.task(name="projects.turn")
def turn_task(job_id: int, entry_id: int, state: str) -> None:
    running.run(job_id, lambda job, progress: _turn(job, progress, entry_id, TrailState(state)))


def queued(member: Membership, state: TrailState) -> Job | None:
    """The job that takes back (or does again) what the member would turn next, where that is much; else None."""
    entry = trail.next_turned(member, state) if member.may(MemberRole.CODER) else None
    if entry is None or weight(entry.inverse) <= QUEUED:
        return None
    doing = say("Taking back") if state == TrailState.UNDONE else say("Doing again")
    job = running.begin(member, f"{doing}: {entry.summary}", total=1)
    turn_task.defer(job_id=job.pk, entry_id=entry.pk, state=state.value)
    return job


def _turn(job: Job, progress: running.Progress, entry_id: int, state: TrailState) -> str | running.Failed:
    member = Membership.objects.select_related("project", "account").get(project=job.project, account=job.account)
    entry = trail.next_turned(member, state)
    if entry is None or entry.pk != entry_id:
        raise Conflict(say("Something else was done meanwhile."))

    def tell(done: int, steps: int) -> None:
        if done == 0:
            progress.start(steps, job.title)
        else:
            progress.step(done)

    turn = trail.undo if state == TrailState.UNDONE else trail.redo
    try:
        turned = turn(member, tell)
    except Conflict as conflict:
        # It stands aside now, and that is kept.
        return running.Failed(conflict.sentence)
    said = say("Taken back") if state == TrailState.UNDONE else say("Done again")
    return f"{said}: {turned.summary if turned else ''}"
