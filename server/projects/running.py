"""Running long work: progress, cancel, all or nothing, and what a killed worker leaves behind."""

import logging
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import NamedTuple

from django.conf import settings
from django.db import DatabaseError, IntegrityError, connections, transaction
from django.db.models import QuerySet

from core.language import say, speaking, spoken, worded
from server.common import languages
from server.common.errors import Conflict, Refusal
from server.common.logs import request_id
from server.common.trouble import trouble_of
from server.common.watched import slow_questions_named
from server.projects.models import Job, JobState, MemberRole, Membership

logger = logging.getLogger(__name__)
_LOCKS = 8321
"""First key of the advisory locks by which a running job shows that its worker lives."""
TOLD = 0.2
"""Seconds between two reports under one message."""
LOOKED = 0.5
"""Seconds between two looks whether a running job is to stop."""


class Failed(NamedTuple):
    """What work returns that couldn't do what was asked, but has kept something: that it failed, say."""

    sentence: str


class Cancelled(Exception):
    """Somebody asked for the job to stop."""


class Progress:
    """Reported beside the job's own transaction, so that others see it at once."""

    def __init__(self, job_id: int) -> None:
        self.job_id = job_id
        self._message: str | None = None
        self._told = 0.0

    def start(self, total: int, message: str) -> None:
        self._set(done=0, total=total, message=message)

    def step(self, done: int, message: str | None = None) -> None:
        """Report, and stop here if somebody asked for it; of many steps under one message only as often as somebody looks."""
        now = time.monotonic()
        if message == self._message and now - self._told < TOLD:
            return
        self._message, self._told = message, now
        self._set(done=done, **({} if message is None else {"message": message}))
        if _asked_to_stop(self.job_id):
            raise Cancelled

    def _set(self, **fields: object) -> None:
        Job.objects.using(settings.PROGRESS_DATABASE).filter(pk=self.job_id).update(**fields)


def begin(member: Membership, title: str, total: int) -> Job:
    """A job of this member's, not yet begun; one at a time in a project."""
    mine = Job.objects.filter(project=member.project_id, account=member.account)
    if mine.filter(state__in=[JobState.WAITING, JobState.RUNNING]).exists():
        raise Conflict(say("Long work of yours is under way here. Wait for it, or cancel it first."))
    return Job.objects.create(
        project_id=member.project_id, account=member.account, title=title[:200], total=total, language=spoken().language
    )


def run(job_id: int, work: Callable[[Job, Progress], str | Failed]) -> None:
    """Do ``work`` in one transaction; it returns the closing sentence."""
    token = request_id.set(f"job-{job_id}")
    with connections[settings.PROGRESS_DATABASE].cursor() as cursor:
        cursor.execute("SELECT pg_advisory_lock(%s, %s)", [_LOCKS, job_id])
    try:
        taken = Job.objects.using(settings.PROGRESS_DATABASE).filter(pk=job_id, state=JobState.WAITING)
        if not taken.update(state=JobState.RUNNING):
            return
        language = Job.objects.values_list("language", flat=True).get(pk=job_id)
        # In the language of whoever asked for it.
        with speaking(languages.catalogue_of(language)):
            _finish(job_id, *_outcome(job_id, work))
    finally:
        with connections[settings.PROGRESS_DATABASE].cursor() as cursor:
            cursor.execute("SELECT pg_advisory_unlock(%s, %s)", [_LOCKS, job_id])
        request_id.reset(token)


def _outcome(job_id: int, work: Callable[[Job, Progress], str | Failed]) -> tuple[str, str]:
    try:
        with slow_questions_named(), transaction.atomic(), _stopped_when_asked(job_id):
            message = work(Job.objects.select_related("project", "account").get(pk=job_id), Progress(job_id))
        return (JobState.FAILED, message.sentence) if isinstance(message, Failed) else (JobState.DONE, message)
    except Cancelled:
        return JobState.CANCELLED, say("Cancelled; nothing was written.")
    except Refusal as refusal:
        return JobState.FAILED, say("{sentence} Nothing was written.", sentence=refusal.sentence)
    except IntegrityError:
        logger.exception("job %s met others' changes", job_id)
        return JobState.FAILED, say("Others changed just this meanwhile. Nothing was written; start it again.")
    except Exception as error:
        if isinstance(error, DatabaseError) and _asked_to_stop(job_id):
            return JobState.CANCELLED, say("Cancelled; nothing was written.")
        logger.exception("job %s failed", job_id)
        trouble = trouble_of(error)
        said = (
            worded(trouble.sentence) if trouble else say("Something went wrong inside Cohortia. Nothing was written.")
        )
        return JobState.FAILED, say("{said} What it was to work on is still there: start it again.", said=said)


@contextmanager
def _stopped_when_asked(job_id: int) -> Iterator[None]:
    """A statement that takes the database long ends as well when somebody asks the job to stop."""
    working, ended = connections["default"].connection, threading.Event()

    def watch() -> None:
        try:
            while not ended.wait(LOOKED):
                if _asked_to_stop(job_id):
                    working.cancel_safe(timeout=LOOKED)
        except Exception:
            logger.exception("job %s isn’t watched any more", job_id)
        finally:
            connections[settings.PROGRESS_DATABASE].close()

    watching = threading.Thread(target=watch, daemon=True)
    watching.start()
    try:
        yield
    finally:
        ended.set()
        watching.join()


def _asked_to_stop(job_id: int) -> bool:
    return Job.objects.using(settings.PROGRESS_DATABASE).filter(pk=job_id, cancel_asked=True).exists()


def _finish(job_id: int, state: str, message: str) -> None:
    Job.objects.using(settings.PROGRESS_DATABASE).filter(pk=job_id).update(state=state, message=message)


def mark_interrupted(project_id: int | None = None) -> None:
    """A job (of one project, or of all) whose worker died holds no lock any more: say so, so that it can be started again."""
    running = Job.objects.filter(state=JobState.RUNNING)
    for job in running if project_id is None else running.filter(project=project_id):
        with transaction.atomic(), connections["default"].cursor() as cursor:
            cursor.execute("SELECT pg_try_advisory_xact_lock(%s, %s)", [_LOCKS, job.pk])
            if cursor.fetchone()[0]:
                Job.objects.filter(pk=job.pk, state=JobState.RUNNING).update(
                    state=JobState.FAILED,
                    message=say(
                        "Interrupted before it was finished. Nothing was written; what it was to work on is still there: start it again."
                    ),
                )


def cancel(member: Membership, job_id: int) -> None:
    """Ask a job to stop; one that hasn't begun stops at once."""
    if not member.may(MemberRole.CODER):
        raise Refusal(say("A viewer can’t cancel a job."))
    stop(Job.objects.filter(project=member.project_id, pk=job_id))


def stop(jobs: QuerySet[Job]) -> None:
    """The same of any jobs, whoever may have asked for it."""
    jobs.update(cancel_asked=True)
    jobs.filter(state=JobState.WAITING).update(state=JobState.CANCELLED, message=say("Cancelled; nothing was written."))
