"""What a project's file says of itself to whoever opens it, and its tables for a spreadsheet."""

from collections.abc import Iterable, Iterator, Sequence

from core.people.conditions import Held
from core.people.derived import in_words
from core.text.missing import IN_WORDS
from server.coding import codebook_files
from server.coding.models import Coding
from server.common.exports import Cell
from server.gather.models import Document
from server.people import queries as people
from server.projects.models import Membership, Project
from server.shell.project_file.parts import LEFT_OUT, Part
from server.snapshots.queries import snapshot

_TEXT = """{name}
A whole project of Cohortia, in open formats. Handle it as you would the interviews themselves: it holds all of them.

To go on working with it: in Cohortia, “Your projects”, “Bring in a project”, and choose this file as it is.
To read it without Cohortia:

tables/    for a spreadsheet (CSV, UTF-8): people.csv (what is known of each), codebook.csv, codings.csv (every coding
           with its words). For reading only: bringing in doesn't look at them.
data/      everything, as JSON lines: one row a line, UTF-8. “id” is the row's number in this file; other fields that
           name a row (document, speaker, case …) hold its “id”.
{parts}
schemas/   a JSON Schema (draft 7) of each of these.
media/     pictures, pages of PDFs and recordings, each named by the SHA-256 of its bytes.
project.json   what this file is, when it was made, and the SHA-256 of each part of data/.

Positions in texts count Unicode code points from 0; the end isn't included. Regions are in 1/10,000 of a page's width and
height, spans in seconds. Days and times are in UTC.

Not in this file: {left_out}{trail}.
"""


def text(project: Project, parts: Sequence[Part], trail: bool) -> str:
    told = "\n".join(f"           {part.name}: {part.about[0].lower()}{part.about[1:]}" for part in parts)
    return _TEXT.format(
        name=project.name,
        parts=f"{told}\n           people: whoever is a member, or wrote or coded something",
        left_out=", ".join(LEFT_OUT.values()),
        trail="" if trail else ", and the trail of who did what when",
    )


def tables(member: Membership) -> Iterator[tuple[str, Iterable[Sequence[Cell]]]]:
    """Name and lines of each table."""
    yield "people", _people(member)
    yield "codebook", codebook_files.rows(member)
    yield "codings", _codings(member)


def _people(member: Membership) -> Iterator[list[Cell]]:
    found = people.roster(member)
    yield [member.project.case_one, *(one.name for one in found.variables)]
    columns = [found.known[one.pk].held for one in found.variables]
    for place, row in enumerate(found.cases):
        yield [row.identifier, *(_cell(column[place]) for column in columns)]


def _cell(held: Held) -> Cell:
    if held.value is None:
        return IN_WORDS[held.missing or "unknown"]
    return held.value if isinstance(held.value, float) else in_words(held.value)


def _codings(member: Membership) -> Iterator[list[Cell]]:
    yield ["Code", "Document", "From", "To", "People", "Words", "Coder", "Rating", "Day", "Proposed by words"]
    held, names = snapshot(member.project_id), dict(people.cases(member).values_list("id", "identifier"))
    first, case = held.attributions.first, held.attributions.case
    spoken = {
        pk: "; ".join(names[held.case_ids[at]] for at in case[first[place] : first[place + 1]])
        for place, pk in enumerate(held.passage_ids.tolist())
    }
    # A document at a time: its text is held once.
    for document in Document.objects.filter(project=member.project_id).order_by("title", "id").iterator(chunk_size=20):
        rows = Coding.objects.filter(passage__document=document).select_related("code", "coder", "passage")
        for row in rows.order_by("passage__start", "id"):
            one = row.passage
            one.document = document
            yield [row.code.name, document.title, one.start, one.end, spoken[one.pk], one.said, row.coder.display_name,
                   row.rating, row.made_at.date().isoformat(), "yes" if row.by_words else ""]  # fmt: skip
