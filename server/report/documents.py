"""Documents as they leave the project: their words, who says them and when, and what is coded in them. Brought in again, a text is
what it was: turns, speakers, headings; in a .docx its codings too, as comments."""

import html
import io
import re
import zipfile
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from itertools import pairwise

import docx
from django.db.models import Prefetch

from core.gather.transcript import BEFORE_FIRST, HEADINGS, WHOLE
from core.language import say
from server.coding.models import TEXT, Coding, Passage
from server.common.exports import DOCX, printable
from server.gather import queries as gather
from server.gather.models import Document, Section, Turn
from server.projects.models import Membership

TXT, VTT, HTML = "text/plain; charset=utf-8", "text/vtt; charset=utf-8", "text/html; charset=utf-8"
_UNNAMED = (WHOLE, BEFORE_FIRST, HEADINGS)
"""Labels that Cohortia itself gives: no file has them."""
_LONGEST_NAME = 120


@dataclass(frozen=True)
class Said:
    """One turn: its label ("" for none), its words from ``start``, seconds where it has any, the level of a heading (0 for none)."""

    label: str
    start: int
    text: str
    begin: float | None
    finish: float | None
    heading: int


@dataclass(frozen=True)
class Marked:
    """``[start, end)`` of the text is coded with ``code`` by ``coder``."""

    start: int
    end: int
    code: str
    coder: str


@dataclass(frozen=True)
class Leaving:
    """A document as its files have it."""

    title: str
    said: list[Said]
    marked: list[Marked]


def leaving(document: Document) -> Leaving:
    """With its codings."""
    headings = {one.start: one.level for one in Section.objects.filter(document=document, kind="heading")}
    turns = Turn.objects.filter(document=document).select_related("speaker").order_by("number")
    said = [one for turn in turns for one in _said(document.text, turn, headings)]
    return Leaving(document.title, said, _marked(document))


def _said(text: str, turn: Turn, headings: dict[int, int]) -> Iterator[Said]:
    """A turn; where headings stand within it, in pieces."""
    label = "" if turn.speaker.label in _UNNAMED else turn.speaker.label
    cuts = sorted({at for at in headings if turn.ink_start <= at < turn.ink_end})
    ends = {at: text.find("\n", at, turn.ink_end) for at in cuts}
    places = {turn.ink_start, turn.ink_end, *cuts}
    places |= {end if end >= 0 else turn.ink_end for end in ends.values()}
    first = True
    for start, end in pairwise(sorted(places)):
        words = text[start:end].strip("\n")
        if not words:
            continue
        level = headings.get(start, 0) if start in cuts else 0
        begin = turn.begin if first else None
        yield Said("" if level or not first else label, text.index(words, start), words, begin, turn.finish, level)
        first = first and bool(level)


def _marked(document: Document) -> list[Marked]:
    codings = Prefetch("codings", Coding.objects.select_related("code", "coder").order_by("id"))
    passages = Passage.objects.filter(TEXT, document=document).order_by("start", "end").prefetch_related(codings)
    return [
        Marked(passage.start, passage.end, coding.code.name, coding.coder.display_name)
        for passage in passages
        for coding in passage.codings.all()
    ]


def as_txt(of: Leaving) -> bytes:
    """A paragraph a line, an empty line between turns, labels before a colon, times in brackets."""
    blocks = []
    for one in of.said:
        stamp = f"[{_clock(one.begin)}] " if one.begin is not None and one.label else ""
        blocks.append(f"{stamp}{one.label}: {one.text}" if one.label else one.text)
    return ("\n\n".join(blocks) + "\n").encode()


def as_vtt(of: Leaving) -> bytes | None:
    """A cue a turn, who says it as its voice; None where no turn has a time."""
    timed = [one for one in of.said if one.begin is not None and one.text]
    if not timed:
        return None
    cues = ["WEBVTT\n"]
    for one in timed:
        words = html.escape(" ".join(one.text.split()), quote=False)
        voice = f"<v {html.escape(one.label, quote=False)}>" if one.label else ""
        end = one.finish if one.finish is not None else one.begin
        cues.append(f"{_stamp(one.begin or 0)} --> {_stamp(end or 0)}\n{voice}{words}\n")
    return "\n".join(cues).encode()


def as_html(of: Leaving) -> bytes:
    """A page that stands alone: what is coded is marked, with its codes on it."""
    blocks = []
    for one in of.said:
        inner = "<br>\n".join(_pieces_in_html(one, of.marked))
        if one.heading:
            blocks.append(f"<h{min(one.heading, 6)}>{inner}</h{min(one.heading, 6)}>")
        else:
            stamp = f"[{_clock(one.begin)}] " if one.begin is not None and one.label else ""
            label = f"<b>{stamp}{html.escape(one.label)}:</b> " if one.label else ""
            blocks.append(f"<p>{label}{inner}</p>")
    head = f'<meta charset="utf-8"><title>{html.escape(of.title)}</title><style>{_LOOK}</style>'
    return f"<!doctype html>\n<html><head>{head}</head>\n<body>\n{chr(10).join(blocks)}\n</body></html>\n".encode()


_LOOK = (
    "body{font:17px/1.5 serif;max-width:42em;margin:2em auto}mark{background:#e3eeec;border-bottom:2px solid #14555a}"
)


def _pieces_in_html(one: Said, marked: list[Marked]) -> Iterator[str]:
    for line, at in _lines(one):
        parts = []
        for start, end, on in _cut(at, at + len(line), marked):
            words = html.escape(one.text[start - one.start : end - one.start])
            codes = "; ".join(dict.fromkeys(f"{mark.code} ({mark.coder})" for mark in on))
            parts.append(f'<mark title="{html.escape(codes)}">{words}</mark>' if on else words)
        yield "".join(parts)


def as_docx(of: Leaving) -> bytes:
    """Labels in bold, headings as such, each coding a comment on its words: the code, by its coder."""
    made = docx.Document()
    made.core_properties.title = printable(of.title)[:255]
    runs: list[tuple[int, int, docx.text.run.Run]] = []
    for one in of.said:
        for number, (line, at) in enumerate(_lines(one)):
            paragraph = made.add_heading(level=min(one.heading, 9)) if one.heading else made.add_paragraph()
            if one.label and number == 0:
                stamp = f"[{_clock(one.begin)}] " if one.begin is not None else ""
                paragraph.add_run(printable(f"{stamp}{one.label}:")).bold = True
                paragraph.add_run(" ")
            for start, end, _ in _cut(at, at + len(line), of.marked):
                run = paragraph.add_run(printable(one.text[start - one.start : end - one.start]))
                runs.append((start, end, run))
    for mark in of.marked:
        own = [run for start, end, run in runs if start >= mark.start and end <= mark.end]
        if own:
            made.add_comment([own[0], own[-1]], printable(mark.code), printable(mark.coder), _initials(mark.coder))
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def _lines(one: Said) -> Iterator[tuple[str, int]]:
    """Each paragraph with where it stands in the text."""
    at = one.start
    for line in one.text.split("\n"):
        if line.strip():
            yield line, at
        at += len(line) + 1


def _cut(start: int, end: int, marked: list[Marked]) -> Iterator[tuple[int, int, list[Marked]]]:
    """A stretch cut wherever a mark begins or ends, with the marks on each piece."""
    own = [mark for mark in marked if mark.start < end and mark.end > start]
    places = {start, end} | {min(max(at, start), end) for mark in own for at in (mark.start, mark.end)}
    for first, last in pairwise(sorted(places)):
        yield first, last, [mark for mark in own if mark.start <= first and mark.end >= last]


def _initials(name: str) -> str:
    return "".join(word[0] for word in name.split())[:4] or "?"


def _clock(seconds: float | None) -> str:
    whole = int(seconds or 0)
    return f"{whole // 3600:02}:{whole % 3600 // 60:02}:{whole % 60:02}"


def _stamp(seconds: float) -> str:
    whole, rest = divmod(round(seconds * 1000), 1000)
    return f"{_clock(whole)}.{rest:03}"


WRITERS: dict[str, tuple[Callable[[Leaving], bytes | None], str]] = {
    "docx": (as_docx, DOCX),
    "txt": (as_txt, TXT),
    "vtt": (as_vtt, VTT),
    "html": (as_html, HTML),
}


class _Stream(io.RawIOBase):
    """What is written is handed on at once: a thousand documents needn't lie in memory, nor anybody wait for the last."""

    def __init__(self) -> None:
        self._held: list[bytes] = []

    def writable(self) -> bool:
        return True

    def write(self, data: bytes) -> int:  # type: ignore[override]
        self._held.append(bytes(data))
        return len(data)

    def taken(self) -> bytes:
        found, self._held = b"".join(self._held), []
        return found


def zipped(member: Membership, documents: Iterable[int], ending: str) -> Iterator[bytes]:
    """Each document as a file of its own, by its title; those that can't be written so (a picture; no times) are named in a list.
    Its words are those of whoever asks: what streams is written when they have been answered."""
    left_out, why = say("not in here"), say("No words, or no times for this form:")
    return _zipped(member, documents, ending, left_out, why)


def _zipped(member: Membership, documents: Iterable[int], ending: str, left_out: str, why: str) -> Iterator[bytes]:
    stream, taken, without = _Stream(), set[str](), list[str]()
    writer = WRITERS[ending][0]
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as out:
        for pk in documents:
            document = gather.documents(member).filter(pk=pk).first()
            if document is None:
                continue
            found = writer(leaving(document)) if document.text.strip() else None
            if found is None:
                without.append(document.title)
                continue
            out.writestr(_name(document.title, taken, ending), found)
            yield stream.taken()
        if without:
            out.writestr(f"{left_out}.txt", "\n".join([why, *without, ""]))
    yield stream.taken()


def _name(title: str, taken: set[str], ending: str) -> str:
    """A file's name that every system takes, none twice."""
    base = re.sub(r"[^\w .()-]+", "_", title).strip(" .")[:_LONGEST_NAME] or "document"
    found, number = base, 2
    while found.casefold() in taken:
        found, number = f"{base} ({number})", number + 1
    taken.add(found.casefold())
    return f"{found}.{ending}"
