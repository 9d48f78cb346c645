"""Reads on the installation as a whole."""

from dataclasses import dataclass
from datetime import date, datetime

import numpy as np
from django.conf import settings

from core.language import say
from server.common.errors import NotAllowed
from server.compare.models import KeptComparison
from server.gather.models import StagedFile
from server.projects import queries as projects
from server.projects import trail
from server.projects.models import Account, Job, JobState, MemberRole, Membership
from server.projects.running import mark_interrupted
from server.report.models import Exhibit
from server.shell.models import Backup
from server.shell.nightly import retention
from server.snapshots.queries import snapshot


@dataclass(frozen=True)
class Backups:
    """How things stand with backups. ``by_themselves``: whether they are made every night; ``kept`` in words; ``problem``
    of the newest try, "" where it was whole; ``gone_by`` the day by which the last one has gone, None where they
    stay."""

    by_themselves: bool
    kept: str
    last_whole_at: datetime | None
    size: int
    locked: bool
    problem: str
    gone_by: date | None


def backups(account: Account) -> Backups:
    """For whoever owns a project."""
    if not Membership.objects.filter(account=account, role=MemberRole.OWNER).exists():
        raise NotAllowed(say("Backups are shown to those who own a project."))
    newest = Backup.objects.first()
    last = Backup.objects.filter(whole=True).first()
    return Backups(
        by_themselves=bool(settings.BACKUP_FOLDER),
        kept=retention().said(),
        last_whole_at=last.made_at if last else None,
        size=last.size if last else 0,
        locked=bool(last and last.locked),
        problem=newest.problem if newest else "",
        # Only a new one makes an old one go.
        gone_by=retention().gone_by(last.made_at) if last and settings.BACKUP_FOLDER else None,
    )


@dataclass(frozen=True)
class Status:
    """How far along each step is, and what is going on: what the top bar shows."""

    revision: int
    documents: int
    cases: int
    linked_cases: int
    comparisons: int
    exhibits: int
    codings: int
    codes: int
    staged: int
    undo: str | None
    redo: str | None
    jobs: list[Job]


def status(member: Membership) -> Status:

    project = member.project
    mark_interrupted(project.pk)
    held = snapshot(project.pk)
    linked = held.speaker_case[held.speaker_case >= 0]
    done, undone = trail.last_done(member), trail.last_undone(member)
    return Status(
        revision=held.revision,
        documents=len(held.document_ids),
        cases=len(held.case_ids),
        linked_cases=len(np.unique(linked)),
        exhibits=Exhibit.objects.filter(project=project).count(),
        comparisons=KeptComparison.objects.filter(project=project).count(),
        codings=len(held.coding_ids),
        codes=len(held.code_ids),
        staged=StagedFile.objects.filter(project=project, account=member.account).count(),
        undo=done.summary if done else None,
        redo=undone.summary if undone else None,
        jobs=list(projects.jobs(member).filter(state__in=[JobState.WAITING, JobState.RUNNING])),
    )
