"""Between a staged file's stored content and the core's reading of it."""

import hashlib
from typing import Any

from core.gather.labels import Line
from core.gather.summary import summary_of
from core.gather.timed import beyond
from core.gather.transcript import Corrections, Remark, Transcript, read_transcript
from core.language import spoken
from core.people.participants import ColumnChoice, SheetChoices, SheetReading, read_participants
from server.common.collecting import no_rings
from server.gather import media
from server.gather.models import StagedFile
from server.gather.readers.sheets import read_grid
from server.gather.readers.transcripts import lines_of, remarks_of


def transcript_of(staged: StagedFile, text: StagedFile | None = None) -> Transcript:
    """A staged text as read with the corrections made so far; for a recording that of its timed ``text``."""
    return read_transcript(*what_to_read(staged, text))


def what_to_read(staged: StagedFile, text: StagedFile | None = None) -> tuple[list[Line], Corrections, list[Remark]]:
    """What the core needs to read a staged text."""
    content, made = (text or staged).content, _corrected(staged)
    corrections = Corrections(**{**made, "ignored": tuple(made.get("ignored", ()))})
    return lines_of(content), corrections, remarks_of(content)


def _corrected(staged: StagedFile) -> dict[str, Any]:
    """What was corrected about the reading of a text, and nothing else."""
    made = {name: staged.choices.get(name) for name in ("one_turn", "ignored", "renamed", "roles")}
    return {name: one for name, one in made.items() if one}


def summary_in(staged: StagedFile, text: StagedFile | None = None) -> dict[str, Any]:
    """What is told of a staged text: kept with it, unless it was corrected otherwise or is asked for in another language."""
    if text is None and _is_kept(staged):
        return dict(staged.content["found"])
    return summary_of(transcript_of(staged, text))


def keep_summary(staged: StagedFile) -> None:
    """As it reads with the corrections made to it by now."""
    if "lines" in staged.content and not _is_kept(staged):
        found = summary_of(transcript_of(staged))
        staged.content["found"] = {"of": _corrected(staged), "language": spoken().language, **found}


def _is_kept(staged: StagedFile) -> bool:
    found = staged.content.get("found", {})
    return found.get("of") == _corrected(staged) and found.get("language") == spoken().language


def warnings_of(staged: StagedFile, text: StagedFile | None = None) -> list[str]:
    """What is to be read about a staged file before it is brought in."""
    said = list(staged.content.get("warnings", []))
    if text is not None:
        said += text.content.get("warnings", [])
        longer = beyond(lines_of(text.content), staged.content.get("seconds"))
        said += [longer] if longer else []
    return said


def title_of(staged: StagedFile) -> str:
    """The title it will have: the one typed, else the file's name without its ending."""
    typed: Any = staged.choices.get("title", "")
    return (typed or staged.name.rsplit(".", 1)[0] or staged.name)[:300]


def stem(name: str) -> str:
    """What a recording and its timed text have in common: ``Talk 3.ogg``, ``talk 3.en.vtt``."""
    return name.split(".", 1)[0].casefold().strip()


def partners(rows: list[StagedFile]) -> dict[int, StagedFile]:
    """For each recording that waits, the text that is its own: chosen, or of the same name."""
    texts = [row for row in rows if row.kind == "transcript" and not row.problem]
    found = {}
    for row in rows:
        if row.kind != "recording" or row.problem:
            continue
        chosen = row.choices.get("text")
        if chosen == 0:
            continue
        match = next((text for text in texts if text.pk == chosen), None)
        if match is None:
            alike = [text for text in texts if stem(text.name) == stem(row.name)]
            timed = [
                text for text in alike if any(len(line) > 2 and line[4] is not None for line in text.content["lines"])
            ]
            match = next(iter(timed or alike), None)
        if match is not None:
            found[row.pk] = match
    return found


def sheet_of(staged: StagedFile) -> SheetReading:
    """A staged sheet as read with the corrections made so far."""
    choices = staged.choices
    asked = SheetChoices(
        header=choices.get("header"),
        header_rows=choices.get("header_rows"),
        skip_without_id=choices.get("skip_without_id", False),
        without_text=choices.get("without_text", "keep"),
        columns={name: _column(choice) for name, choice in choices.get("columns", {}).items()},
    )
    # Its cells are many.
    with no_rings():
        return read_participants(read_grid(media.here(staged.stored)), staged.content.get("merged", []), asked)


def _column(choice: dict[str, Any]) -> ColumnChoice:
    order = choice.get("categories")
    kept = {name: choice[name] for name in ("role", "kind", "when_empty", "name", "of", "days_first") if name in choice}
    return ColumnChoice(**kept, categories=tuple(order) if order else None, codes_count=bool(choice.get("codes_count")))


def signature_of(sheet: SheetReading) -> str:
    """What makes two sheets alike: their columns' names, in whatever order."""
    names = sorted(column.proposal.name.casefold() for column in sheet.columns)
    return hashlib.sha256("\n".join(names).encode()).hexdigest()
