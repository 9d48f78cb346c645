"""An exhibit as .docx and as plain text with marks (.md)."""

import io
from typing import Any

import docx
from docx.shared import Pt

from core.language import say
from server.common.exports import printable
from server.report.models import Exhibit

Json = dict[str, Any]


def exhibit_docx(row: Exhibit, pieces: list[Json]) -> bytes:
    document = docx.Document()
    document.styles["Normal"].font.size = Pt(11)
    document.add_heading(printable(row.name), level=1)
    if row.audience:
        document.add_paragraph(printable(say("For {audience}", audience=row.audience)))
    for piece in pieces:
        if piece["caption"]:
            document.add_paragraph(printable(piece["caption"])).runs[0].bold = True
        document.add_paragraph(printable(f"“{piece['shown']}”"), style="Quote")
        document.add_paragraph(printable(_source(piece)))
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def exhibit_md(row: Exhibit, pieces: list[Json]) -> bytes:
    lines = [f"# {row.name}", ""]
    if row.audience:
        lines += [say("For {audience}", audience=row.audience), ""]
    for piece in pieces:
        if piece["caption"]:
            lines += [f"**{piece['caption']}**", ""]
        lines += [*(f"> {line}" for line in piece["shown"].split("\n")), "", _source(piece), ""]
    return "\n".join(lines).encode()


def _source(piece: Json) -> str:
    """Who said it, with what is known of them, and where."""
    people = [
        ", ".join([one["identifier"], *(fact["text"] for fact in one["facts"] if fact["text"])])
        for one in piece["people"]
    ]
    return f"— {'; '.join(people) or piece['passage']['speaker'] or say('nobody linked')} ({piece['passage']['title']})"
