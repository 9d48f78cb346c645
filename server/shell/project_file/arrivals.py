"""Files of projects that have arrived: looked into, waiting, brought in by a job, let go."""

from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.db.models import QuerySet

from core.language import say, spoken
from server.common.errors import NotFound, Refusal
from server.common.folders import temporary_folder
from server.gather import media
from server.projects import running
from server.projects.actions import check_may_begin
from server.projects.models import Account, Job, JobState
from server.shell.models import ArrivedProject
from server.shell.project_file import rows
from server.shell.project_file.bringing import Wish, bring_in, size_of
from server.shell.project_file.opening import NotOurs, Opened

KEPT_FOR = timedelta(days=1)
_COUNTED = ("documents", "cases", "codes", "codings", "memos", "comparisons", "frozen", "exhibits")


@dataclass(frozen=True)
class Somebody:
    """A person named in a file: ``here`` is the account of that name on this server, ``me`` that it is who asks."""

    id: int
    name: str
    username: str
    role: str | None
    here: Account | None
    me: bool


def receive(account: Account, upload: UploadedFile) -> ArrivedProject:
    """Look into a file that somebody sends and keep it; one at a time each."""
    check_may_begin(account)
    if (upload.size or 0) > settings.FILE_LIMITS["project"]:
        raise Refusal(
            say(
                "The file has {megabyte} MB; a project may have up to {file_limits, number} MB here.",
                megabyte=f"{(upload.size or 0) / settings.MEGABYTE:,.0f}",
                file_limits=settings.FILE_LIMITS["project"] // settings.MEGABYTE,
            )
        )
    with media.nothing_goes(), temporary_folder("project") as folder:
        path = folder / "arrived"
        with path.open("wb") as out:
            for chunk in upload.chunks():
                out.write(chunk)
        with closing(Opened(path)) as file:
            said = {**file.said, "people": file.people()}
        size = path.stat().st_size
        with transaction.atomic():
            before = let_go(ArrivedProject.objects.filter(account=account))
            row = ArrivedProject.objects.create(
                account=account, name=(upload.name or "")[-300:], digest=media.keep(path), size=size, said=said
            )
    media.forget(before)
    return row


def arrived(account: Account, arrived_id: int) -> ArrivedProject:
    found = ArrivedProject.objects.filter(account=account, pk=arrived_id).first()
    if found is None:
        raise NotFound(say("This file isn’t waiting any more; choose it again."))
    return found


def people_in(row: ArrivedProject) -> list[Somebody]:
    """Who is named in the file, and who of them has an account here."""
    found = []
    for one in row.said["people"]:
        here = Account.objects.filter(username__iexact=one["username"], is_active=True).first()
        found.append(Somebody(one[rows.ID], one["name"], one["username"], one["role"], here, here == row.account))
    return found


def counts_in(row: ArrivedProject) -> dict[str, int]:
    return {name: row.said["parts"][name]["rows"] for name in _COUNTED}


def start(account: Account, arrived_id: int, people: dict[int, str], trail: bool) -> Job:
    """Queue the bringing in. ``people``, by number: “account” (the one of that name here), “me”, or “name”."""
    from server.shell.jobs import bring_in_project

    row = arrived(account, arrived_id)
    _wish(row, people, trail)
    name = row.said["project"]["name"]
    job = Job.objects.create(
        account=account,
        title=say("Bringing in “{name}”", name=name)[:200],
        total=size_of(row.said),
        language=spoken().language,
    )
    bring_in_project.defer(
        job_id=job.pk, arrived_id=row.pk, people={str(key): one for key, one in people.items()}, trail=trail
    )
    return job


def carry_out(job: Job, progress: running.Progress, arrived_id: int, people: dict[int, str], trail: bool) -> str:
    """The work itself, in the job's one transaction."""
    row = arrived(job.account, arrived_id)
    progress.start(size_of(row.said), say("Bringing in the project"))
    project = bring_in(media.here(row.digest), _wish(row, people, trail), progress.step)
    digests = let_go(ArrivedProject.objects.filter(pk=row.pk))
    transaction.on_commit(lambda: media.forget(digests))
    # Last: until this commits, others report progress in the same row.
    Job.objects.filter(pk=job.pk).update(project=project)
    return say("Brought in “{name}”.", name=project.name)


def _wish(row: ArrivedProject, people: dict[int, str], trail: bool) -> Wish:
    chosen: dict[int, Account] = {}
    for one in people_in(row):
        wish = people.get(one.id, "name")
        account = row.account if wish == "me" else one.here if wish == "account" else None
        if wish == "account" and account is None:
            raise NotOurs(
                say(
                    "Nobody signs in as “{username}” here any more: choose again who {name} is.",
                    username=one.username,
                    name=one.name,
                )
            )
        if account is not None:
            if account in chosen.values():
                raise NotOurs(
                    say(
                        "Two people of the file can’t both be {display_name} here: choose again.",
                        display_name=account.display_name,
                    )
                )
            chosen[one.id] = account
    return Wish(row.account, chosen, trail)


def discard(account: Account, arrived_id: int) -> None:
    """Let go of a file that waits."""
    media.forget(let_go(ArrivedProject.objects.filter(pk=arrived(account, arrived_id).pk)))


def let_go(waiting: QuerySet[ArrivedProject]) -> set[str]:
    """Forget files that wait; the digests of their bytes, to be let go when that is certain."""
    digests = set(waiting.values_list("digest", flat=True))
    waiting.delete()
    return digests


def sweep() -> None:
    """Files that nobody has brought in for a day, unless a job is at it."""
    busy = Job.objects.filter(project=None, state__in=[JobState.WAITING, JobState.RUNNING]).values("account")
    old = ArrivedProject.objects.filter(arrived_at__lt=datetime.now(UTC) - KEPT_FOR).exclude(account__in=busy)
    media.forget(let_go(old))


def said_of(row: ArrivedProject) -> dict[str, Any]:
    """A file that waits, for whoever sent it."""
    return {
        "id": row.pk,
        **{name: row.said["project"][name] for name in ("name", "case_one", "case_many")},
        "made_at": row.said["made_at"],
        "size": row.size,
        "trail": row.said["trail"],
        "missing": len(row.said["missing"]),
        "counts": counts_in(row),
        "people": people_in(row),
    }
