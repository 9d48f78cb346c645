"""Reads on the installation as a whole."""

from dataclasses import dataclass
from datetime import date, datetime

from django.conf import settings

from server.common.errors import NotAllowed
from server.projects.models import Account, MemberRole, Membership
from server.shell.models import Backup
from server.shell.nightly import retention


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
        raise NotAllowed("Backups are shown to those who own a project.")
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
