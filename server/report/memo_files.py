"""Memos as they leave the project: what each says, with what it is on and what it speaks of beside it."""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import docx
from docx.shared import Pt

from core.language import message, say, worded
from server.coding.context import passages_in_context
from server.coding.models import Coding
from server.common.database import of_one_state
from server.common.exports import DOCX, XLSX, Cell, Workbook, printable
from server.common.kinds import MemoKind
from server.people.queries import facts_of
from server.projects.models import Membership
from server.report import queries
from server.report.actions.memo_links import BRACKETS
from server.snapshots.queries import snapshot

Json = dict[str, Any]
MD = "text/markdown; charset=utf-8"
ON: dict[str, str] = {
    "passage": message("a passage"),
    "code": message("a code"),
    "theme": message("a theme"),
    "document": message("a document"),
    "comparison": message("a comparison"),
    "project": message("the project"),
}


@dataclass(frozen=True)
class Leaving:
    """A memo as its files have it; ``quoted`` is the passage it is on, ``who``, ``where`` and ``codes`` are of that."""

    day: str
    author: str
    kinds: str
    on: str
    name: str
    quoted: str
    who: str
    where: str
    codes: str
    text: str
    speaks_of: str

    @property
    def head(self) -> str:
        return " · ".join(one for one in (self.kinds, self.author, self.day) if one)

    @property
    def source(self) -> str:
        """Who said the passage, where, and what it is coded with."""
        said = f"— {self.who or say('nobody linked')} ({self.where})"
        return f"{said}; {self.codes}" if self.codes else said


@of_one_state
def leaving(member: Membership, memo_ids: Sequence[int]) -> list[Leaving]:
    """These memos in this order; those that aren't there are left out."""
    rows = {row["id"]: row for row in queries.memos(member)}
    own = {row.pk: row.name for row in queries.memo_kinds(member)}
    shown = [rows[pk] for pk in dict.fromkeys(memo_ids) if pk in rows]
    passages = [row["on_id"] for row in shown if row["on"] == "passage"]
    words = passages_in_context(member, passages)
    said = queries.speakers_of(member, passages)
    people = facts_of(member, snapshot(member.project_id), list({case for cases in said.values() for case in cases}))
    codes: dict[int, list[str]] = {}
    coded = Coding.objects.filter(passage__in=passages).order_by("code__name").values_list("passage_id", "code__name")
    for passage, name in coded.distinct():
        codes.setdefault(passage, []).append(name)

    def one(row: Json) -> Leaving:
        quoted = words.get(row["on_id"]) if row["on"] == "passage" else None
        cases = said.get(row["on_id"], []) if quoted else []
        return Leaving(
            day=row["made_at"].date().isoformat(),
            author=row["source"] or row["author"],
            kinds=", ".join(
                worded(MemoKind(kind).label) if isinstance(kind, str) else own[kind] for kind in row["kinds"]
            ),
            on=say("a {one}", one=member.project.case_one) if row["on"] == "case" else worded(ON[row["on"]]),
            name=quoted["title"] if quoted else row["name"],
            quoted=quoted["text"] if quoted else "",
            who="; ".join(people[case]["identifier"] for case in cases) or (quoted["speaker"] if quoted else ""),
            where=quoted["title"] if quoted else "",
            codes=", ".join(codes.get(row["on_id"], [])) if quoted else "",
            text=_plain(row["text"], row["links"]),
            speaks_of="; ".join(dict.fromkeys(link["name"] for link in row["links"])),
        )

    return [one(row) for row in shown]


def _plain(text: str, links: Sequence[Json]) -> str:
    """Without brackets, which lead nowhere in a file: what they mean by its present name, else the words alone."""
    named: dict[str, str] = {link["said"]: link["name"] for link in links}
    return BRACKETS.sub(lambda found: str(named.get(" ".join(found[1].split()), found[1])), text)


def as_xlsx(memos: Sequence[Leaving]) -> bytes:
    heads = [say("Written"), say("By"), say("Kinds"), say("On"), say("Name"), say("The memo"), say("Passage"), say("Who says it"), say("Codes"), say("Speaks of")]  # fmt: skip
    rows: list[list[Cell]] = [list(heads)]
    for one in memos:
        rows.append([one.day, one.author, one.kinds, one.on, one.name, one.text, one.quoted, one.who, one.codes, one.speaks_of])  # fmt: skip
    book = Workbook()
    book.table(say("Memos"), say("{n, plural, one {# memo} other {# memos}}", n=len(memos)), rows, widths={4: 24, 5: 60, 6: 44, 8: 24, 9: 24})  # fmt: skip
    return book.made()


def as_docx(memos: Sequence[Leaving]) -> bytes:
    document = docx.Document()
    document.styles["Normal"].font.size = Pt(11)
    document.add_heading(say("Memos"), level=1)
    for one in memos:
        document.add_heading(printable(_title(one)), level=2)
        document.add_paragraph(printable(one.head)).runs[0].italic = True
        if one.quoted:
            document.add_paragraph(printable(f"“{one.quoted}”"), style="Quote")
            document.add_paragraph(printable(one.source))
        for line in one.text.split("\n"):
            document.add_paragraph(printable(line))
        if one.speaks_of:
            document.add_paragraph(printable(say("Speaks of: {names}", names=one.speaks_of)))
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def as_md(memos: Sequence[Leaving]) -> bytes:
    lines = [f"# {say('Memos')}", ""]
    for one in memos:
        lines += [f"## {_title(one)}", "", f"*{one.head}*", ""]
        if one.quoted:
            lines += [*(f"> {line}" for line in one.quoted.split("\n")), "", one.source, ""]
        lines += [one.text, ""]
        if one.speaks_of:
            lines += [say("Speaks of: {names}", names=one.speaks_of), ""]
    return "\n".join(lines).encode()


def _title(one: Leaving) -> str:
    return say("On {what}: {name}", what=one.on, name=one.name) if one.name != one.on else say("On {what}", what=one.on)


_MADE = {"docx": (as_docx, DOCX), "xlsx": (as_xlsx, XLSX), "md": (as_md, MD)}


def written(member: Membership, memo_ids: Sequence[int], ending: str) -> tuple[bytes, str] | None:
    """These memos as a file with its content type; None where there is no such ending."""
    if ending not in _MADE:
        return None
    make, kind = _MADE[ending]
    return make(leaving(member, memo_ids)), kind
