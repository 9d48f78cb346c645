"""Long work on what is coded: a recording made a text of by a transcriber, topics proposed by words."""

from typing import Any

from procrastinate.contrib.django import app

from core.coding.topics import TooLittle, propose
from core.language import say, spoken
from server.coding import actions, topics
from server.common.errors import Refusal
from server.gather import media, transcriber
from server.gather.sound import heard, recording_of
from server.gather.texts import text_in
from server.projects import running
from server.projects.models import Job, MemberRole, Membership
from server.projects.revisions import revision_of
from server.scope.parts import scope_of
from server.snapshots.queries import snapshot


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


def start_proposing(member: Membership, asked: dict[str, Any]) -> Job:
    """Queue it. ``asked``: ``scope``, ``question`` (its answers alone), ``language`` and how ``many``."""
    if not member.may(MemberRole.CODER):
        raise Refusal(say("Only owners and coders have topics proposed."))
    job = running.begin(member, say("Proposing topics"), 100)
    propose_task.defer(job_id=job.pk, asked=asked)
    return job


@app.task(name="coding.propose_topics")
def propose_task(job_id: int, asked: dict[str, Any]) -> None:
    def work(job: Job, progress: running.Progress) -> str:
        member = Membership.objects.select_related("project", "account").get(project=job.project, account=job.account)
        language = asked["language"]
        progress.start(100, say("The texts are read"))
        begun = revision_of(member.project_id)
        held = snapshot(member.project_id)
        scope = scope_of(member, held, asked.get("scope") or {})
        talks = list(topics.talks(member, held, scope, asked.get("question")))

        def tell(far: float) -> None:
            progress.step(round(99 * far), say("Phrases are gathered"))

        try:
            proposal = propose(talks, language, topics.says_nothing(member, language), asked["many"], tell)
        except TooLittle as little:
            raise Refusal(str(little)) from little
        count = actions.put_topics(member, proposal, [one.document for one in talks], language, begun)
        return say(
            "{n, plural, one {# topic is} other {# topics are}} proposed. Nothing is coded: read, weed, and keep what is one.",
            n=count,
        )

    running.run(job_id, work)
