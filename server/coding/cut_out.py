"""Regions as pictures of their own: the part of a picture, or of a PDF's page, that somebody marked."""

from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

from core.coding.places import Region
from server.coding.models import Passage
from server.common.errors import NotFound, Refusal
from server.gather import media, pages
from server.gather.models import DocumentKind, Medium
from server.gather.readers.sandbox import read_files
from server.projects.models import Membership

MOST = 500
"""Pictures cut out for one file."""


def cut_out(member: Membership, passages: Iterable[Passage]) -> dict[int, bytes]:
    """By passage, a PNG of each of these that is a region; the first of them, and none whose picture is lost."""
    of_picture: dict[tuple[int, int], list[Passage]] = {}
    regions = [row for row in passages if isinstance(row.place, Region)][:MOST]
    for row in regions:
        assert row.page is not None
        of_picture.setdefault((row.document_id, row.page), []).append(row)
    found: dict[int, bytes] = {}
    for (document, page), rows in of_picture.items():
        # A picture that is lost or can't be drawn leaves its words.
        with suppress(NotFound, Refusal):
            found |= _cut(_picture(member, rows[0], document, page), rows)
    return found


def _picture(member: Membership, row: Passage, document: int, page: int) -> Path:
    if row.document.kind == DocumentKind.PDF:
        return pages.picture(member, document, page)
    return media.here(Medium.objects.get(document=document, role="picture", number=page).digest)


def _cut(source: Path, rows: list[Passage]) -> dict[int, bytes]:
    """In the readers' own process: a picture may have come with anybody's project."""
    made: list[bytes] = []

    def keep(drawn: Path) -> str:
        made.append(drawn.read_bytes())
        return ""

    edges = [[row.left, row.top, row.right, row.bottom] for row in rows]
    (answer,) = read_files([("picture.webp", source)], keep, regions=edges)
    if "problem" in answer:
        raise Refusal(answer["problem"])
    return {row.pk: one for row, one in zip(rows, made, strict=True)}
