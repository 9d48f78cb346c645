"""What happens by itself, once a day: the backup, which of them are kept, and what is swept."""

import logging
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

from asgiref.sync import async_to_sync
from django.conf import settings
from django.core.management import call_command
from procrastinate.contrib.django import app
from procrastinate.jobs import Status

from core.language import say
from server.common import folders
from server.common.errors import Refusal
from server.gather import media
from server.projects import running
from server.projects.models import Project, TrailEntry
from server.shell import backups
from server.shell.models import Backup
from server.shell.project_file import arrivals
from server.shell.retention import Retention

logger = logging.getLogger(__name__)
KEPT_HOURS = 7 * 24
"""How long finished work stays in the queue's list."""
BROKEN_OFF = 3600
"""Seconds without a write after which an unfinished backup has broken off."""
SILENT = 25
"""Seconds without a sign of life after which a worker is no more: it gives one every ten."""
_NAME = "cohortia-%Y-%m-%dT%H%M%S.backup"


def retention() -> Retention:
    return Retention(**settings.BACKUPS_KEPT)


def back_up(folder: str = "") -> Backup:
    """Make a backup in the folder for it, and drop those that needn't be kept any more: only after a whole one."""
    target = Path(folder or settings.BACKUP_FOLDER) / datetime.now(UTC).strftime(_NAME)
    locked = bool(settings.BACKUP_PASSPHRASE)
    try:
        made = backups.make(target, settings.BACKUP_PASSPHRASE)
    except Refusal as refusal:
        logger.error("no backup: %s", refusal.sentence)
        return Backup.objects.create(name=target.name, whole=False, locked=locked, problem=refusal.sentence)
    if made.problems:
        said = say(
            "Made, but {problems} files aren’t in it as they were: {problems2}.",
            problems=len(made.problems),
            problems2=made.problems[0],
        )
        return Backup.objects.create(name=target.name, size=made.size, whole=False, locked=locked, problem=said)
    found = Backup.objects.create(name=target.name, size=made.size, whole=True, locked=locked)
    _prune(target.parent)
    return found


def _prune(folder: Path) -> None:
    # What a killed backup left: one under way is written to all the time.
    for path in folder.glob(".cohortia-*.unfinished*"):
        if path.stat().st_mtime < time.time() - BROKEN_OFF:
            path.unlink(missing_ok=True)
    made = {moment: path for path in folder.glob("cohortia-*.backup") if (moment := _made_at(path))}
    for moment in made.keys() - retention().kept(made):
        made[moment].unlink(missing_ok=True)


def _made_at(path: Path) -> datetime | None:
    try:
        return datetime.strptime(path.name, _NAME).replace(tzinfo=UTC)
    except ValueError:
        return None


def sweep() -> None:
    """Sessions that are over, finished work, bytes that nothing refers to, and what killed processes left."""
    call_command("clearsessions")
    done = async_to_sync(app.job_manager.delete_old_jobs)
    done(nb_hours=KEPT_HOURS, include_failed=True, include_cancelled=True, include_aborted=True)
    Backup.objects.filter(made_at__lt=datetime.now(UTC) - timedelta(days=400)).delete()
    arrivals.sweep()
    shorten_trails()
    media.sweep()
    folders.sweep()


def shorten_trails() -> int:
    """Entries of trails that are older than their project keeps them; how many went."""
    kept = 0
    for project in Project.objects.filter(trail_days__gt=0):
        before = datetime.now(UTC) - timedelta(days=project.trail_days)
        kept += TrailEntry.objects.filter(project=project, created_at__lt=before).delete()[0]
    return kept


def attend() -> int:
    """Work whose worker is no more: said, so that it can be started again; how many."""
    lost = list(async_to_sync(app.job_manager.get_stalled_jobs)(seconds_since_heartbeat=SILENT))
    for one in lost:
        async_to_sync(app.job_manager.finish_job)(one, Status.FAILED, delete_job=False)
    running.mark_interrupted()
    return len(lost)
