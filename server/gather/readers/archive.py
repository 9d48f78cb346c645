"""Looking into office files without letting them unpack to gigabytes or reach outside."""

import io
import zipfile
import zlib

from core.language import say
from server.gather.readers.kinds import Unreadable

MAX_UNPACKED = 150 * 1024 * 1024
MAX_PART = 80 * 1024 * 1024
MAX_PARTS = 5_000
_CHUNK = 1024 * 1024


def check_archive(data: bytes, wanted: str) -> None:
    """Unpack every XML part once, bounded, before any library sees it: what the directory
    claims about sizes isn't believed. Refuses document type declarations (the door to entities)."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = archive.namelist()
            if len(names) > MAX_PARTS:
                raise Unreadable(say("The file holds thousands of parts, more than any text needs; it isn’t opened."))
            if wanted not in names:
                raise Unreadable(
                    say("The file is named .{ending} but doesn’t hold what such a file holds.", ending=_ending(wanted))
                )
            if any(info.flag_bits & 0x1 for info in archive.infolist()):
                raise Unreadable(say("The file is protected by a password. Save it without one, then add it again."))
            total = 0
            for name in names:
                total = _check_part(archive, name, total)
    except zipfile.BadZipFile as error:
        raise Unreadable(
            say("The file is damaged or cut off: it can’t be opened. Copy it again from where it came from.")
        ) from error
    except (EOFError, NotImplementedError, OSError, ValueError, RuntimeError, zlib.error) as error:
        raise Unreadable(say("The file is damaged: a part of it can’t be unpacked.")) from error


def _check_part(archive: zipfile.ZipFile, name: str, total: int) -> int:
    is_xml = name.endswith((".xml", ".rels"))
    size, first = 0, b""
    with archive.open(name) as part:
        while chunk := part.read(_CHUNK):
            size += len(chunk)
            first = first or chunk[:4096]
            if size > MAX_PART or total + size > MAX_UNPACKED:
                raise Unreadable(say("The file unpacks to far more than a text or a sheet can be; it isn’t opened."))
            if is_xml and (b"<!DOCTYPE" in chunk or b"<!ENTITY" in chunk):
                raise Unreadable(
                    say("The file refers to content outside itself, which Cohortia doesn’t follow; it isn’t opened.")
                )
    if is_xml and first[:2] in (b"\xff\xfe", b"\xfe\xff"):
        raise Unreadable(
            say("A part of the file is written in an encoding that office files don’t use; it isn’t opened.")
        )
    return total + size


def _ending(wanted: str) -> str:
    return {"word": "docx", "xl/w": "xlsx"}.get(wanted[:4], say("odt or .ods"))
