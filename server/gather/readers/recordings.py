"""Recordings: how long they are, and what their tags say taken off."""

import shutil
from pathlib import Path

import mutagen

from server.gather.readers.kinds import Unreadable, extension

MAX_SECONDS = 12 * 3600
TYPES = {
    "ogg": "audio/ogg", "oga": "audio/ogg", "mp3": "audio/mpeg", "m4a": "audio/mp4", "wav": "audio/wav",
    "mp4": "video/mp4", "webm": "video/webm",
}  # fmt: skip


def read_recording(name: str, path: Path, out: Path) -> tuple[Path, str, float | None, list[str]]:
    """A copy without tags, its type, its length in seconds (None where the file doesn't say), and sentences."""
    copy = out / "recording"
    shutil.copyfile(path, copy)
    ending = extension(name)
    if ending == "webm":
        return copy, TYPES[ending], webm_seconds(path), []
    try:
        held = mutagen.File(copy)
    except (mutagen.MutagenError, OSError, ValueError, KeyError, IndexError, OverflowError) as error:
        raise Unreadable("The recording is damaged: it can’t be opened.") from error
    if held is None or held.info is None:
        raise Unreadable(f"The name ends in .{ending}, but no recording of that kind is in it.")
    seconds = float(getattr(held.info, "length", 0) or 0)
    if seconds > MAX_SECONDS:
        raise Unreadable("The recording is longer than twelve hours; split it.")
    warnings = []
    if held.tags:
        try:
            held.delete()
            warnings.append("Taken off the recording: its tags (such as names, dates, devices).")
        except (mutagen.MutagenError, OSError, ValueError, KeyError) as error:
            raise Unreadable("The recording’s tags can’t be taken off; save it without them.") from error
    return copy, TYPES[ending], seconds or None, warnings


def webm_seconds(path: Path) -> float | None:
    """The length that a WebM file states: its Duration (float) times its TimestampScale, in nanoseconds.
    Source: the Matroska specification (RFC 9559), elements 0x4489 and 0x2AD7B1. None where absent."""
    with path.open("rb") as file:
        head = file.read(1_000_000)
    if head[:4] != b"\x1aE\xdf\xa3":
        raise Unreadable("The name ends in .webm, but no recording of that kind is in it.")
    place = head.find(b"\x44\x89")
    if place < 0 or place + 3 > len(head):
        return None
    size = head[place + 2] & 0x7F
    scale_at = head.find(b"\x2a\xd7\xb1")
    scale = 1_000_000
    if scale_at >= 0:
        length = head[scale_at + 3] & 0x7F
        scale = int.from_bytes(head[scale_at + 4 : scale_at + 4 + length], "big") or scale
    import struct

    held = head[place + 3 : place + 3 + size]
    if len(held) not in (4, 8):
        return None
    (duration,) = struct.unpack(">f" if len(held) == 4 else ">d", held)
    seconds = duration * scale / 1e9
    return seconds if 0 < seconds < MAX_SECONDS else None
