"""A backup of the large project with a gigabyte of media, and putting it back, beside PostgreSQL's own dump alone."""

import os
import shutil
import time
from collections.abc import Callable
from pathlib import Path

from django.conf import settings
from django.db import transaction

from bench import team
from server.gather import media
from server.gather.models import Document, Medium
from server.projects.models import Membership, Project
from server.shell import backups, restoring
from server.shell.backups import name_of_database, run_program
from server.shell.project_file.bringing import Wish, bring_in
from server.shell.project_file.writing import write

Report = Callable[..., None]
RECORDINGS, EACH = 16, 64 * 1024 * 1024


def run(report: Report, project: int) -> None:
    folder = Path(settings.LOCAL) / "bench-backups"
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir()
    try:
        _with_media(project, folder)
        took = _took(lambda: run_program("pg_dump", "--format=custom", f"--file={folder / 'dump'}", name_of_database()))
        for passphrase, said in (("", ""), ("a passphrase for the bench", ", encrypted")):
            kept = folder / f"bench{len(passphrase)}.backup"
            made = _took(lambda kept=kept, passphrase=passphrase: backups.make(kept, passphrase))  # type: ignore[misc]
            report(f"backup of 500,000 codings and 1 GB of media{said}", made, pg_dump_alone=took)
            put_back = _took(lambda kept=kept, passphrase=passphrase: restoring.restore(kept, passphrase))  # type: ignore[misc]
            report(f"restoring it{said}", put_back)
            restoring.drop_from_before()
        _as_one_file(report, "the demo", team.demo(), folder / "demo.zip")
    finally:
        shutil.rmtree(folder, ignore_errors=True)
        made = Medium.objects.filter(document__project=project, role="recording")
        digests = set(made.values_list("digest", flat=True))
        made.delete()
        media.forget(digests)


def _as_one_file(report: Report, what: str, project: int, target: Path) -> None:
    """The same project taken out as one file, and brought in again beside itself."""
    member = Membership.objects.select_related("project", "account").filter(project=project, role="owner")[0]
    report(f"{what} as one file, out", _took(lambda: write(member, target, trail=False)))

    def brought_in() -> None:
        with transaction.atomic():
            bring_in(target, Wish(member.account, {}, False), lambda done, said: None)
            transaction.set_rollback(True)

    report(f"{what} as one file, in", _took(brought_in))


def _with_media(project: int, folder: Path) -> None:
    """Recordings that can't be pressed any smaller."""
    documents = Document.objects.filter(project=Project.objects.get(pk=project)).order_by("id")[:RECORDINGS]
    for document in documents:
        held = document.media.first()
        if held and media.path_of(held.digest).exists():
            continue
        (folder / "bytes").write_bytes(os.urandom(EACH))
        digest = media.keep(folder / "bytes")
        Medium.objects.update_or_create(
            document=document, role="recording", number=1, defaults={"digest": digest, "content_type": "audio/ogg"}
        )


def _took(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start
