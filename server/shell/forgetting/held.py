"""What is held of one person, for somebody who asks: everything known, said, coded and written, as .docx."""

import io
from collections.abc import Iterable
from datetime import UTC, date, datetime

import docx
import numpy as np
from django.conf import settings
from django.db.models import F
from docx.shared import Pt

from core.people.derived import in_words
from core.text.missing import IN_WORDS
from server.coding.models import Coding, Passage
from server.common.exports import printable
from server.compare.frozen import unpacked
from server.compare.models import FrozenResult
from server.compare.snapshots import snapshot
from server.gather.models import Document, Medium, NamePair, StagedFile, Turn
from server.people import facts
from server.people import queries as people
from server.projects.models import Membership
from server.report.models import Digest, ExhibitPiece, Memo
from server.shell.forgetting.reach import Reach, of_case
from server.shell.forgetting.staged import telling
from server.shell.nightly import retention


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
            self._document.add_paragraph("Nothing.")

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
    member.demand("owner")
    reach = of_case(member, case_id)
    case = people.case(member, case_id)
    today = datetime.now(UTC).date()
    paper = _Paper(
        f"What is held of {case.identifier}",
        f"In the project “{member.project.name}”, on {today.isoformat()}. Words stand as they are kept; what the researchers wrote is theirs.",
    )
    paper.table("What is known", _known(member, case.pk))
    for document in Document.objects.filter(speakers__case=case).distinct().order_by("title"):
        turns = Turn.objects.filter(document=document, speaker__case=case, ink_start__lt=F("ink_end")).order_by(
            "number"
        )
        said = [document.text[turn.ink_start : turn.ink_end] for turn in turns]
        paper.part(f"What they say in “{document.title}”", said, quoted=True)
    paper.part("How it is coded", _coded(member, case.pk))
    paper.part("What was written about them", _written(reach))
    paper.part("Where it is used", _used(reach))
    paper.part("Pictures, recordings, and files that wait", _files(reach))
    paper.part("Names", _names(reach))
    paper.part("Copies", [_copies(today)])
    return paper.made()


def _known(member: Membership, case_id: int) -> list[tuple[str, str]]:
    rows = list(people.variables(member).prefetch_related("categories"))
    known = facts.as_far_as_known(rows, [case_id])
    held = [(row.name, known[row.pk].held[0]) for row in rows]
    return [
        (name, IN_WORDS[one.missing or "unknown"] if one.value is None else in_words(one.value)) for name, one in held
    ]


def passages_of(member: Membership, case_id: int) -> list[int]:
    """Every passage that the person has a part in, by ID."""
    held = snapshot(member.project_id)
    said = held.attributions
    place = np.flatnonzero(held.case_ids == case_id)
    if not len(place):
        return []
    found: list[int] = held.passage_ids[said.passage[said.case == place[0]]].tolist()
    return found


def _coded(member: Membership, case_id: int) -> list[str]:
    codes: dict[int, list[str]] = {}
    rows = Coding.objects.filter(passage__in=passages_of(member, case_id)).select_related("code")
    for row in rows.order_by("code__position", "id"):
        codes.setdefault(row.passage_id, []).append(row.code.name)
    passages = (
        Passage.objects.filter(pk__in=codes).select_related("document").order_by("document__title", "start", "id")
    )
    return [f"“{one.said}” ({one.document.title}): {', '.join(dict.fromkeys(codes[one.pk]))}" for one in passages]


def _written(reach: Reach) -> list[str]:
    case, member = reach.case, reach.member
    documents = [one.pk for one in reach.documents]
    memos = Memo.objects.filter(case=case) | Memo.objects.filter(document__in=documents)
    memos = memos | Memo.objects.filter(passage__in=passages_of(member, case.pk if case else 0))
    digests = Digest.objects.filter(case=case).select_related("code", "theme").order_by("id")
    return [
        *(f"Memo, {one.made_at.date().isoformat()}: {one.text}" for one in memos.distinct().order_by("made_at")),
        *(f"Digest on {(one.code or one.theme).name}: {one.text}" for one in digests),  # type: ignore[union-attr]
    ]


def _used(reach: Reach) -> list[str]:
    case, member = reach.case, reach.member
    pieces = ExhibitPiece.objects.filter(passage__in=passages_of(member, case.pk if case else 0)).select_related(
        "exhibit"
    )
    found = [
        f"Exhibit “{one.exhibit.name}”, for {one.exhibit.audience or 'nobody named'}: {one.caption or 'no caption'}"
        for one in pieces
    ]
    for row in FrozenResult.objects.filter(project=member.project_id):
        if case and any(who == case.pk for pairs in unpacked(row).cells.values() for _, who in pairs):
            found.append(f"Frozen result “{row.name}”, of {row.made_at.date().isoformat()}")
    if case:
        found += [f"Picked into the cohort “{one.cohort.name}”" for one in case.picks.select_related("cohort")]
    return found


def _files(reach: Reach) -> list[str]:
    documents = [*(one.pk for one in reach.documents), *(one.pk for one in reach.shared)]
    media = Medium.objects.filter(document__in=documents).exclude(role="thumbnail").select_related("document")
    found = [f"{one.get_role_display().capitalize()} of “{one.document.title}”" for one in media]
    waiting = StagedFile.objects.filter(project=reach.member.project_id)
    return [*found, *(f"A file that waits: {row.name}" for row in waiting if telling(row, reach))]


def _names(reach: Reach) -> list[str]:
    pairs = NamePair.objects.filter(project=reach.member.project_id, pseudonym__in=reach.names)
    return [
        f"Called {', '.join(sorted(reach.names))} here.",
        *(f"{one.pseudonym} stands for {one.name}." for one in pairs),
    ]


def _copies(today: date) -> str:
    if not settings.BACKUP_FOLDER:
        return "Backups are made by hand; who looks after the server knows which are kept."
    until = retention().gone_by(datetime.now(UTC))
    return f"Backups are made every night. What is deleted today has gone from them by {until.isoformat() if until else 'no day that is set'}."
