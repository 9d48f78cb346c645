"""Long work on what is coded: a recording made a text of by a transcriber."""

from procrastinate.contrib.django import app

from core.language import say, spoken
from server.coding import actions
from server.common.errors import Refusal
from server.gather import media, transcriber
from server.gather.sound import heard, recording_of
from server.gather.texts import text_in
from server.projects import running
from server.projects.models import Job, MemberRole, Membership


def start_transcribing(member: Membership, document_id: int) -> Job:
    """Queue it; only a recording without a word is transcribed, so that nothing typed is at stake."""
    if not member.may(MemberRole.CODER):
        raise Refusal(say("Only owners and coders have a recording transcribed."))
    document, _ = recording_of(member, document_id)
    actions.check_wordless(document)
    if transcriber.asked() is None:
        raise Refusal(say("No transcriber is set up, or it doesn’t answer. Type the text, or bring one."))
    job = running.begin(member, say("Transcribing “{title}”", title=document.title), 100)
    transcribe_task.defer(job_id=job.pk, document_id=document_id)
    return job


@app.task(name="coding.transcribe")
def transcribe_task(job_id: int, document_id: int) -> None:
    def work(job: Job, progress: running.Progress) -> str:
        member = Membership.objects.select_related("project", "account").get(project=job.project, account=job.account)
        document, medium = recording_of(member, document_id)
        progress.start(100, say("The recording is on its way"))
        sound = heard(medium.digest)
        path, kind = media.here(medium.digest), medium.content_type
        if sound is not None and sound.light:
            path, kind = sound.folder / "light", sound.light

        def tell(far: float) -> None:
            progress.step(round(far * 99), say("The transcriber is at work"))

        said = transcriber.transcribed(path, kind, spoken().language, tell)
        found, _ = text_in(document, "transcript.vtt", said)
        actions.take_text(member, document_id, found, {}, only_wordless=True)
        return say(
            "“{title}” has a text: {words} {words, plural, one {word} other {words}}. Read it against the recording.",
            title=document.title,
            words=found.words,
        )

    running.run(job_id, work)
