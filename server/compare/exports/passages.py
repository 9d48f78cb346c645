"""Passages as .xlsx and .docx: those of a comparison by row, group and person, or those of a query by person."""

import io
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import docx
import numpy as np
import numpy.typing as npt
from docx.shared import Inches, Pt

from core.compare.asked import accords, never_asked
from core.compare.evidence import every_cell
from core.compare.told.sentence import accord_words
from core.language import say
from core.snapshot.masks import attribution_mask
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.statistics.ranges import expand
from server.coding import queries as coding
from server.coding.cut_out import cut_out
from server.coding.models import Passage
from server.common.errors import Refusal
from server.common.exports import Cell, Link, Picture, Workbook, linked, printable
from server.compare.asking import Asked
from server.people.queries import case_names
from server.projects.models import Membership

MOST = 20_000
"""Lines of a file at most."""
_WIDE = Inches(4)
Positions = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Lines:
    """Passages to be written under ``sentence``: each with what it stands beneath (``above``, named by ``heads``),
    who said it, where, its words and its codes."""

    sentence: str
    heads: tuple[str, ...]
    person: str
    above: list[tuple[str, ...]]
    who: list[str]
    where: list[tuple[str, int]]
    words: list[str]
    codes: list[str]
    links: list[str]
    """Addresses that open each at its words."""
    pictures: list[bytes | None]
    """Of each region the part of the picture that it is."""
    accord: list[str] = field(default_factory=list)
    """When asked or of their own accord, "" where no question asks about it; empty where no guide says."""


def lines_of_comparison(asked: Asked, sentence: str, origin: str, hidden: npt.NDArray[np.bool_] | None = None) -> Lines:
    """Every passage once for each row, group and person that it counts for, in that order; none of a ``hidden`` cell,
    (rows, groups + 1), and none of anybody who would be left alone in one."""
    held = every_cell(asked.snapshot, asked.comparison)
    order = np.lexsort((held.passage, held.case, held.group, held.row))
    if hidden is not None:
        order = order[~hidden[held.row[order], held.group[order]]]
        if len(order) < len(held.row):
            sentence += say(" {row, number} lines of hidden cells are left out.", row=len(held.row) - len(order))
    _refuse_too_many(len(order))
    groups = asked.comparison.groups.names
    above: list[tuple[str, ...]] = [
        (asked.rows[row].name, groups[group])
        for row, group in zip(held.row[order].tolist(), held.group[order].tolist(), strict=True)
    ]
    lines = _lines(
        asked.member,
        asked.snapshot,
        sentence,
        origin,
        (say("Row"), say("Group")),
        above,
        held.passage[order],
        held.case[order],
    )
    return replace(lines, accord=_accord(asked, held.row[order], held.passage[order]))


def _accord(asked: Asked, row: Positions, passage: Positions) -> list[str]:
    comparison = asked.comparison
    if comparison.guide is None:
        return []
    told = np.zeros(len(row), object)
    told[:] = ""
    for place in np.setdiff1d(np.unique(row), never_asked(asked.snapshot, comparison)).tolist():
        own = np.flatnonzero(row == place)
        found = accords(asked.snapshot, comparison, comparison.rows[place], passage[own])
        told[own] = ["" if one == "either" else accord_words(one) for one in found]
    return list(told)


def lines_of_query(
    member: Membership, held: Snapshot, passages: Positions, scope: Scope, sentence: str, origin: str
) -> Lines:
    """Every passage once for each person in scope who said it, person by person; those of nobody at the end."""
    said = held.attributions
    pair, at = expand(said.first[passages], said.first[passages + 1])
    kept = attribution_mask(held, scope)[at]
    passage, case = passages[pair[kept]], said.case[at[kept]].astype(np.int64)
    nobody = np.setdiff1d(passages, passage)
    passage, case = np.concatenate([passage, nobody]), np.concatenate([case, np.full(len(nobody), -1)])
    _refuse_too_many(len(passage))
    order = np.lexsort((passage, case, case < 0))
    return _lines(member, held, sentence, origin, (), [()] * len(order), passage[order], case[order])


def _refuse_too_many(lines: int) -> None:
    if lines > MOST:
        raise Refusal(
            say(
                "These are {lines, number} lines, more than a file takes ({most, number}). Narrow the scope, or ask for less.",
                lines=lines,
                most=MOST,
            )
        )


def _lines(
    member: Membership,
    held: Snapshot,
    sentence: str,
    origin: str,
    heads: tuple[str, ...],
    above: list[tuple[str, ...]],
    passage: npt.NDArray[Any],
    case: npt.NDArray[Any],
) -> Lines:
    names, turns, codes = case_names(member, held), _turns(held), _codes(member, held)
    ids = held.passage_ids[passage].tolist()
    rows = {row.pk: row for row in Passage.objects.filter(pk__in=set(ids)).select_related("document")}
    found = [rows[pk] for pk in ids]
    pictures = cut_out(member, rows.values())
    return Lines(
        sentence,
        heads,
        member.project.case_one.capitalize(),
        above,
        [names.get(int(held.case_ids[one]), "?") if one >= 0 else say("Nobody linked") for one in case.tolist()],
        [(row.document.title, int(turns[place])) for row, place in zip(found, passage.tolist(), strict=True)],
        [row.said for row in found],
        [codes.get(place, "") for place in passage.tolist()],
        [f"{origin}/projects/{member.project_id}/code/{row.document_id}?passage={row.pk}" for row in found],
        [pictures.get(pk) for pk in ids],
    )


def _turns(held: Snapshot) -> Any:
    """The number of the turn that each passage begins in, within its document."""
    stride = int(max(held.turn_end.max(initial=0), held.passage_end.max(initial=0))) + 1
    line = held.turn_document.astype(np.int64) * stride + held.turn_end
    at = held.passage_document.astype(np.int64) * stride + held.passage_start
    first = np.searchsorted(held.turn_document, held.passage_document)
    return np.searchsorted(line, at, side="right") - first + 1


def _codes(member: Membership, held: Snapshot) -> dict[int, str]:
    """The codes on each passage, by position."""
    names = dict(coding.codes(member).values_list("id", "name"))
    found: dict[int, list[str]] = {}
    pairs = np.unique(np.stack([held.coding_passage, held.coding_code]), axis=1)
    for passage, code in pairs.T.tolist():
        found.setdefault(passage, []).append(names.get(int(held.code_ids[code]), "?"))
    return {passage: "; ".join(codes) for passage, codes in found.items()}


def passages_xlsx(lines: Lines) -> bytes:
    heads = [
        *lines.heads,
        lines.person,
        say("Document"),
        say("Turn"),
        *([say("Asked")] if lines.accord else []),
        say("Passage"),
        say("Codes"),
        say("Where it stands"),
    ]
    rows: list[Sequence[Cell]] = [heads]
    for place, above in enumerate(lines.above):
        title, turn = lines.where[place]
        link = Link(say("Open it"), lines.links[place])
        accord = lines.accord[place : place + 1]
        image = lines.pictures[place]
        words = lines.words[place] if image is None else Picture(lines.words[place], image)
        rows.append([*above, lines.who[place], title, turn, *accord, words, lines.codes[place], link])
    width, book = len(heads), Workbook()
    narrow = {column: 20 for column in range(width - 3) if column != width - 4}
    book.table(say("Passages"), lines.sentence, rows, widths={**narrow, width - 3: 90, width - 2: 40})
    return book.made()


def _shown(document: Any, image: bytes, words: str) -> None:
    """A picture on a line of its own, with its words for who can't see it."""
    shape = document.add_paragraph().add_run().add_picture(io.BytesIO(image))
    if shape.width > _WIDE:
        shape.height, shape.width = int(shape.height * _WIDE / shape.width), _WIDE
    shape._inline.docPr.set("descr", printable(words))


def passages_docx(lines: Lines) -> bytes:
    document = docx.Document()
    document.styles["Normal"].font.size = Pt(10.5)
    document.add_heading(say("Passages"), level=1)
    document.add_paragraph(lines.sentence)
    before: tuple[str, ...] = ()
    for place, above in enumerate(lines.above):
        for level, name in enumerate(above):
            if above[: level + 1] != before[: level + 1]:
                document.add_heading(printable(name), level=level + 2)
        before = above
        title, turn = lines.where[place]
        paragraph = document.add_paragraph()
        paragraph.add_run(f"{printable(lines.who[place])}: ").bold = True
        paragraph.add_run(printable(lines.words[place]))
        paragraph.add_run("  (")
        linked(paragraph, say("{title}, turn {turn}", title=title, turn=turn), lines.links[place])
        accord = "".join(lines.accord[place : place + 1])
        paragraph.add_run(f", {accord})" if accord else ")")
        image = lines.pictures[place]
        if image is not None:
            _shown(document, image, lines.words[place])
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()
