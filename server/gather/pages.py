"""Pages of a PDF: how many there are, and their pictures, drawn when they are first looked at."""

import os
from pathlib import Path

from core.language import say
from server.common.errors import NotFound, Refusal
from server.gather import media, queries
from server.gather.models import Document
from server.gather.readers.sandbox import read_files
from server.projects.models import Membership


def count(document: Document) -> int:
    """The pages of a PDF; 0 for other documents."""
    if document.kind != "pdf":
        return 0
    original = document.media.filter(role="pages").first()
    return original.number if original else 0


def picture(member: Membership, document_id: int, number: int) -> Path:
    """Where the picture of a page lies; drawn in the readers' own process, and kept."""
    document = queries.document(member, document_id)
    original = document.media.filter(role="pages").first()
    if original is None or not 1 <= number <= original.number:
        raise NotFound(say("There is no such page."))
    source = media.here(original.digest)
    kept = media.pages_of(source) / f"{number}.webp"
    if kept.exists():
        return kept

    def keep(drawn: Path) -> str:
        kept.parent.mkdir(exist_ok=True)
        waiting = kept.with_suffix(f".{os.getpid()}")
        waiting.write_bytes(drawn.read_bytes())
        os.replace(waiting, kept)
        return ""

    (answer,) = read_files([(document.source_name or "pages.pdf", source)], keep, page=number)
    if "problem" in answer:
        raise Refusal(answer["problem"])
    return kept
