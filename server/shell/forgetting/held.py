"""What is held of one person, for somebody who asks: everything known, said, coded and written, as .docx."""

import io
from collections.abc import Iterable
from datetime import UTC, datetime
from itertools import groupby

import docx
import numpy as np
from django.conf import settings
from django.db.models import F, Q
from docx.shared import Pt

from core.coding.places import Stretch
from core.language import say, worded
from core.people.derived import in_words
from core.snapshot.tables import places
from core.text.missing import IN_WORDS
from server.coding.models import Coding, Passage
from server.common.exports import printable
from server.compare.models import FrozenResult
from server.gather.models import Medium, NamePair, StagedFile, Turn
from server.people import facts
from server.people import queries as people
from server.people.models import Case
from server.projects.models import MemberRole, Membership
from server.report.models import Digest, ExhibitPiece, Memo
from server.shell.forgetting.reach import Reach, of_case
from server.shell.forgetting.staged import telling
from server.shell.nightly import retention
from server.snapshots.queries import snapshot


class _Paper:
    """A document of headings, each with paragraphs, or a word that there is none."""

    def __init__(self, title: str, beneath: str) -> None:
        self._document = docx.Document()
        self._document.styles["Normal"].font.size = Pt(11)
        self._document.add_heading(printable(title), level=1)
        self._document.add_paragraph(printable(beneath))

    def part(self, heading: str, paragraphs: Iterable[str], quoted: bool = False) -> None:
        self._document.add_heading(printable(heading), level=2)
        said = [printable(one) for one in paragraphs]
        for one in said:
            self._document.add_paragraph(one, style="Quote" if quoted else None)
        if not said:
            self._document.add_paragraph(say("Nothing."))

    def table(self, heading: str, rows: list[tuple[str, str]]) -> None:
        self._document.add_heading(printable(heading), level=2)
        table = self._document.add_table(rows=0, cols=2)
        for left, right in rows:
            cells = table.add_row().cells
            cells[0].text, cells[1].text = printable(left), printable(right)

    def made(self) -> bytes:
        out = io.BytesIO()
        self._document.save(out)
        return out.getvalue()


def held_of(member: Membership, case_id: int) -> bytes:
    """The .docx; an owner's to give."""
    member.demand(MemberRole.OWNER)
    case, reach = people.case(member, case_id), of_case(member, case_id)
    turns = Turn.objects.filter(speaker__case=case, ink_start__lt=F("ink_end")).select_related("document")
    said = list(turns.order_by("document__title", "document_id", "number"))
    passages = _passages_of(member, case)
    paper = _Paper(
        say("What is held of {identifier}", identifier=case.identifier),
        say(
            "In the project “{name}”, on {date}. Words stand as they are kept; what the researchers wrote is theirs.",
            name=member.project.name,
            date=datetime.now(UTC).date().isoformat(),
        ),
    )
    paper.table(say("What is known"), _known(member, case))
    for document, own in groupby(said, key=lambda turn: turn.document):
        paper.part(say("What they say in “{title}”", title=document.title), [_words(turn) for turn in own], quoted=True)
    paper.part(say("How it is coded"), _coded(passages, said))
    paper.part(say("What was written about them"), _written(case, reach))
    paper.part(say("Where it is used"), _used(case, reach, passages))
    paper.part(say("Pictures, recordings, and files that wait"), _files(reach))
    paper.part("Names", _names(reach))
    paper.part("Copies", [_copies()])
    return paper.made()


def _words(turn: Turn) -> str:
    return turn.document.text[turn.ink_start : turn.ink_end]


def _known(member: Membership, case: Case) -> list[tuple[str, str]]:
    rows = list(people.variables(member).prefetch_related("categories"))
    known = facts.as_far_as_known(rows, [case.pk])
    held = [(row.name, known[row.pk].held[0]) for row in rows]
    return [
        (name, worded(IN_WORDS[one.missing or "unknown"]) if one.value is None else in_words(one.value))
        for name, one in held
    ]


def _passages_of(member: Membership, case: Case) -> list[int]:
    """Every passage that the person has a part in, by ID."""
    held = snapshot(member.project_id)
    (place,) = places(held.case_ids, np.array([case.pk], np.int64))
    found: list[int] = held.passage_ids[held.attributions.passage[held.attributions.case == place]].tolist()
    return found


def _coded(passages: list[int], said: list[Turn]) -> list[str]:
    """Passages with their codes; of one in which others speak too, only what this person says."""
    codes: dict[int, list[str]] = {}
    for row in Coding.objects.filter(passage__in=passages).select_related("code").order_by("code__position", "id"):
        codes.setdefault(row.passage_id, []).append(row.code.name)
    rows = Passage.objects.filter(pk__in=codes).select_related("document").order_by("document__title", "start", "id")
    return [f"“{_own(one, said)}” ({one.document.title}): {', '.join(dict.fromkeys(codes[one.pk]))}" for one in rows]


def _own(passage: Passage, said: list[Turn]) -> str:
    if not isinstance(passage.place, Stretch):
        return passage.said
    bounds = [
        (max(turn.ink_start, passage.start), min(turn.ink_end, passage.end))
        for turn in said
        if turn.document_id == passage.document_id
    ]
    return " … ".join(passage.document.text[start:end] for start, end in bounds if start < end)


def _written(case: Case, reach: Reach) -> list[str]:
    """Memos on them, and on material that is theirs alone; what is written on others' words too may tell of those."""
    documents = [one.pk for one in reach.documents]
    memos = Memo.objects.filter(
        Q(case=case) | Q(document__in=documents) | Q(passage__document__in=documents) | Q(links__case=case)
    ).distinct()
    digests = Digest.objects.filter(case=case).select_related("code", "theme").order_by("id")
    return [
        *(
            say("Memo, {date}: {text}", date=one.made_at.date().isoformat(), text=one.text)
            for one in memos.order_by("made_at")
        ),
        *(say("Digest on {name}: {text}", name=(one.code or one.theme).name, text=one.text) for one in digests),  # type: ignore[union-attr]
    ]


def _used(case: Case, reach: Reach, passages: list[int]) -> list[str]:
    pieces = ExhibitPiece.objects.filter(passage__in=passages).select_related("exhibit")
    frozen = FrozenResult.objects.filter(project=case.project_id)
    return [
        *(
            say(
                "Exhibit “{name}”, for {n}: {n2}",
                name=one.exhibit.name,
                n=one.exhibit.audience or say("nobody named"),
                n2=one.caption or say("no caption"),
            )
            for one in pieces
        ),
        *(
            say("Frozen result “{name}”, of {date}", name=row.name, date=row.made_at.date().isoformat())
            for row in frozen
            if reach.stands_in(row)
        ),
        *(say("Picked into the cohort “{name}”", name=one.cohort.name) for one in case.picks.select_related("cohort")),
    ]


def _files(reach: Reach) -> list[str]:
    media = Medium.objects.filter(document__in=reach.heard_in).exclude(role="thumbnail").select_related("document")
    found = [
        say("{role} of “{title}”", role=worded(one.get_role_display()).capitalize(), title=one.document.title)
        for one in media
    ]
    waiting = StagedFile.objects.filter(project=reach.member.project_id)
    return [*found, *(say("A file that waits: {name}", name=row.name) for row in waiting if telling(row, reach))]


def _names(reach: Reach) -> list[str]:
    pairs = NamePair.objects.filter(project=reach.member.project_id, pseudonym__in=reach.names)
    return [
        say("Called {names} here.", names=", ".join(sorted(reach.names))),
        *(say("{pseudonym} stands for {name}.", pseudonym=one.pseudonym, name=one.name) for one in pairs),
    ]


def _copies() -> str:
    if not settings.BACKUP_FOLDER:
        return say("Backups are made by hand; who looks after the server knows which are kept.")
    until = retention().gone_by(datetime.now(UTC))
    return say(
        "Backups are made every night. What is deleted today has gone from them by {which}.",
        which=until.isoformat() if until else say("no day that is set"),
    )
