"""Files that wait: read when they arrive, corrected, forgotten. Nothing of them is in the project yet."""

from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.db.models import QuerySet

from core.language import say
from server.common.errors import NotAllowed, Refusal
from server.common.folders import temporary_folder
from server.gather import media, queries
from server.gather.models import Document, RememberedReading, StagedFile
from server.gather.readers.kinds import Unreadable, extension, kind_of
from server.gather.readers.sandbox import read_files
from server.imports import reading
from server.projects.models import MemberRole, Membership

MAX_STAGED = 2_000
# Sheets of one workbook that are offered, each as if it were a file.
MAX_SHEETS = 30


def stage(member: Membership, uploads: list[UploadedFile]) -> list[StagedFile]:
    """Read uploaded files and keep what was found, apart from the project, until "Bring in"."""
    _check_coder(member)
    waiting = queries.staged(member)
    if waiting.count() + len(uploads) > MAX_STAGED:
        raise Refusal(
            say(
                "At most {max_staged, number} files can wait at once. Bring in what is here first.",
                max_staged=MAX_STAGED,
            )
        )
    rows = [_new_staged(member, upload) for upload in uploads]
    readable = [(row, upload) for row, upload in zip(rows, uploads, strict=True) if not row.problem]
    # Bytes come before the rows that name them: nobody else's letting go may take them in between.
    with media.nothing_goes():
        with temporary_folder("upload") as folder:
            answers = read_files(_on_disk(readable, folder), media.keep)
            for (row, _), answer in zip(readable, answers, strict=True):
                _take(row, answer)
            for row, upload in readable:
                rows += _further_sheets(row, upload, folder)
        for row in rows:
            if row.stored:
                row.choices = _remembered(member, row)
        return _kept(member, rows, {id(row) for row, _ in readable})


def _kept(member: Membership, rows: list[StagedFile], readable: set[int]) -> list[StagedFile]:
    """The rows, ticked unless the same file is in the project, or waits already: also where two batches come at once."""
    known = set(Document.objects.filter(project=member.project_id).values_list("source_digest", flat=True))
    with transaction.atomic():
        Membership.objects.select_for_update().get(pk=member.pk)
        known |= set(queries.staged(member).values_list("digest", flat=True))
        for row in rows:
            if id(row) in readable:
                # It is offered all the same.
                row.included = not row.problem and row.digest not in known
                known.add(row.digest)
        return StagedFile.objects.bulk_create(rows)


def _take(row: StagedFile, answer: dict[str, Any]) -> None:
    row.problem = answer.get("problem", "")
    row.content = {**answer.get("content", {}), "media": answer.get("media", []), "source": answer.get("source", "")}
    row.stored = answer.get("stored", "")


def _further_sheets(row: StagedFile, upload: UploadedFile, folder: Path) -> list[StagedFile]:
    """A workbook's other sheets, each a row of its own that is left out unless somebody ticks it."""
    first, *others = row.content.get("sheets") or [""]
    if not others:
        return []
    said = [
        say(
            "The workbook has {others} sheets with something in them. Each is listed; only the first is ticked.",
            others=len(others) + 1,
        )
    ]
    if len(others) > MAX_SHEETS:
        said.append(say("Only the first {max_sheets} sheets are listed.", max_sheets=MAX_SHEETS + 1))
    found = []
    for title in others[:MAX_SHEETS]:
        name = f"{row.name} · {title}"[:300]
        one = StagedFile(project=row.project, account=row.account, name=row.name, kind=row.kind, size=row.size)
        (answer,) = read_files(_on_disk([(one, upload)], folder), media.keep, title=title)
        _take(one, answer)
        one.name, one.included = name, False
        found.append(one)
    row.name = f"{row.name} · {first}"[:300]
    row.content["warnings"] = [*said, *row.content.get("warnings", [])]
    return found


def _on_disk(readable: Iterable[tuple[StagedFile, UploadedFile]], folder: Path) -> Iterator[tuple[str, Path]]:
    """Each upload as a file, written when its turn comes: a recording needn't fit into memory."""
    for row, upload in readable:
        path = folder / "upload"
        with path.open("wb") as file:
            for chunk in upload.chunks():
                file.write(chunk)
        row.digest = media.digest_of(path)
        yield row.name, path
        path.unlink(missing_ok=True)


def _new_staged(member: Membership, upload: UploadedFile) -> StagedFile:
    name = (upload.name or "file").replace("\x00", "").replace("\\", "/").rsplit("/", 1)[-1][-300:]
    size = upload.size or 0
    row = StagedFile(
        project_id=member.project_id, account=member.account, name=name, kind="transcript", digest="", size=size
    )
    try:
        row.kind = kind_of(name)
        limit = settings.FILE_LIMITS["pdf" if extension(name) == "pdf" else row.kind]
        if size > limit:
            said = {
                "transcript": say("a text"),
                "sheet": say("a sheet"),
                "image": say("a picture"),
                "recording": say("a recording"),
            }
            row.problem = say(
                "The file has {size} MB; {said} may have up to {limit} MB.",
                size=f"{size / settings.MEGABYTE:,.0f}",
                said=said[row.kind],
                limit=limit // settings.MEGABYTE,
            )
    except Unreadable as unreadable:
        row.problem = str(unreadable)
    row.included = not row.problem
    return row


def _remembered(member: Membership, row: StagedFile) -> dict[str, Any]:
    """How a sheet with the same columns was read before, if one was."""
    row.content["signature"] = reading.signature_of(reading.sheet_of(row))
    known = RememberedReading.objects.filter(project=member.project_id, signature=row.content["signature"])
    found = known.first()
    return {**found.choices, "remembered": True} if found else {}


def remember(member: Membership, row: StagedFile) -> None:
    """Keep how this sheet was read, for the next one like it."""
    kept = {
        key: value for key, value in row.choices.items() if key in ("header", "header_rows", "columns", "without_text")
    }
    RememberedReading.objects.update_or_create(
        project_id=member.project_id,
        signature=row.content["signature"],
        defaults={"choices": kept},
    )


def correct_staged(
    member: Membership, staged_id: int, included: bool | None, choices: dict[str, Any] | None
) -> StagedFile:
    """Keep corrections to how a staged file is read."""
    _check_coder(member)
    row = queries.one_staged(member, staged_id)
    fields = ["included"]
    if included is not None:
        if included and row.problem:
            raise Refusal(say("This file can’t be read, so it can’t be brought in."))
        row.included = included
    if choices is not None:
        again = choices.get("encoding") != row.choices.get("encoding")
        row.choices = choices
        if again:
            return _read_again(row)
        reading.keep_summary(row)
        fields += ["choices", "content"]
    row.save(update_fields=fields)
    return row


def _read_again(row: StagedFile) -> StagedFile:
    """The same bytes with their letters read in another way."""
    source, before = row.content.get("source", ""), media.of_staged(StagedFile.objects.filter(pk=row.pk))
    if not source:
        raise Refusal(say("How its letters are stored is told by the file itself: there is nothing to choose."))
    signature = row.content.get("signature")
    with media.nothing_goes():
        asked = {"encoding": row.choices["encoding"]} if row.choices.get("encoding") else {}
        (answer,) = read_files([(row.name, media.here(source))], media.keep, **asked)
        if "problem" in answer:
            raise Refusal(say("It can’t be read so: {answer}", answer=answer["problem"]))
        _take(row, answer)
        row.content["source"] = source
        reading.keep_summary(row)
        if row.stored and signature:
            row.content["signature"] = reading.signature_of(reading.sheet_of(row))
        row.save()
    media.forget(before - media.of_staged(StagedFile.objects.filter(pk=row.pk)))
    return row


def correct_speakers(member: Membership, changes: dict[str, dict[str, str]]) -> int:
    """Correct labels over all texts that wait: ``written label → {"name": …, "role": …}``, each optional."""
    _check_coder(member)
    changed = 0
    rows = [row for row in queries.staged(member).filter(problem="") if row.kind in ("transcript", "recording")]
    partners = reading.partners(rows)
    for row in rows:
        if row.kind == "recording" and row.pk not in partners:
            continue
        found = reading.summary_in(row, partners.get(row.pk))
        choices = {
            **row.choices,
            "renamed": {**row.choices.get("renamed", {})},
            "roles": {**row.choices.get("roles", {})},
        }
        for speaker in found["speakers"]:
            for label in speaker["written"]:
                said = changes.get(label)
                if said is None:
                    continue
                name = (said.get("name") or speaker["label"]).strip() or label
                if name != speaker["label"]:
                    choices["renamed"][label] = name
                choices["roles"][name] = said.get("role") or choices["roles"].get(name) or speaker["role"]
        if choices != {**row.choices, "renamed": row.choices.get("renamed", {}), "roles": row.choices.get("roles", {})}:
            row.choices = choices
            reading.keep_summary(row)
            row.save(update_fields=["choices", "content"])
            changed += 1
    return changed


def discard_staged(member: Membership, staged: QuerySet[StagedFile]) -> int:
    """Forget staged files; the project never held them."""
    _check_coder(member)
    digests = media.of_staged(staged)
    count = staged.delete()[0]
    media.forget(digests)
    return count


def _check_coder(member: Membership) -> None:
    if not member.may(MemberRole.CODER):
        raise NotAllowed(say("A viewer can’t bring in files."))
