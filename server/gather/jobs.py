"""Long work on material that is here already: listening to a recording that nobody has listened to on this machine."""

from procrastinate.contrib.django import app

from core.language import say
from server.common.errors import Refusal
from server.gather.sound import listen, recording_of
from server.projects import running
from server.projects.models import Job, MemberRole, Membership


def start_listening(member: Membership, document_id: int) -> Job:
    if not member.may(MemberRole.CODER):
        raise Refusal(say("Only owners and coders have a recording listened to."))
    title = recording_of(member, document_id)[0].title
    job = running.begin(member, say("Listening to “{title}”", title=title), 100)
    listen_task.defer(job_id=job.pk, document_id=document_id)
    return job


@app.task(name="gather.listen")
def listen_task(job_id: int, document_id: int) -> None:
    def work(job: Job, progress: running.Progress) -> str:
        member = Membership.objects.select_related("project", "account").get(project=job.project, account=job.account)
        document, medium = recording_of(member, document_id)
        progress.start(100, say("Listening"))
        listen(medium.digest, medium.content_type, lambda far: progress.step(round(far * 100)))
        return say("Listened to “{title}”.", title=document.title)

    running.run(job_id, work)
