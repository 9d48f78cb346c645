"""Between a staged file's stored content and the core's reading of it."""

from typing import Any

from core.gather.labels import Line
from core.gather.transcript import Corrections, Transcript, read_transcript
from core.people.participants import ColumnChoice, SheetChoices, SheetReading, read_participants
from server.gather.models import StagedFile


def transcript_of(staged: StagedFile) -> Transcript:
    """A staged transcript as read with the corrections made so far."""
    lines = [Line(text, bold) for text, bold in staged.content["lines"]]
    choices = staged.choices
    return read_transcript(
        lines,
        Corrections(
            one_turn=choices.get("one_turn", False),
            ignored=tuple(choices.get("ignored", [])),
            renamed=choices.get("renamed", {}),
            roles=choices.get("roles", {}),
        ),
    )


def title_of(staged: StagedFile) -> str:
    """The title it will have: the one typed, else the file's name without its ending."""
    typed: Any = staged.choices.get("title", "")
    return (typed or staged.name.rsplit(".", 1)[0] or staged.name)[:300]


def sheet_of(staged: StagedFile) -> SheetReading:
    """A staged sheet as read with the corrections made so far."""
    choices = staged.choices
    return read_participants(
        staged.content["rows"],
        staged.content.get("merged", []),
        SheetChoices(
            header=choices.get("header"),
            header_rows=choices.get("header_rows"),
            skip_without_id=choices.get("skip_without_id", False),
            columns={name: _column(choice) for name, choice in choices.get("columns", {}).items()},
        ),
    )


def _column(choice: dict[str, Any]) -> ColumnChoice:
    order = choice.get("categories")
    return ColumnChoice(
        choice.get("role"), choice.get("kind"), choice.get("when_empty"), tuple(order) if order else None
    )
