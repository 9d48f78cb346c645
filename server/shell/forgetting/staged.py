"""Whether a file that waits holds anything of what is forgotten."""

from server.gather import media
from server.gather.models import StagedFile
from server.shell.forgetting.reach import Reach


def telling(row: StagedFile, reach: Reach) -> bool:
    """By the same bytes, or any of the names in its name, its lines or its cells."""
    if row.digest and row.digest in {one.source_digest for one in (*reach.documents, *reach.shared)}:
        return True
    held = f"{row.name} {row.content} {row.choices}".casefold()
    if row.stored:
        path = media.here(row.stored)
        held += path.read_bytes().decode("utf-8", errors="ignore").casefold() if path.exists() else ""
    return any(name.casefold() in held for name in reach.names)
