"""Recordings: how long they are, and what their tags say taken off."""

import shutil
from collections.abc import Mapping
from pathlib import Path

import av
from av.container import InputContainer

from core.language import say
from server.gather.readers.kinds import Unreadable, extension

MAX_SECONDS = 12 * 3600
TYPES = {
    "ogg": "audio/ogg", "oga": "audio/ogg", "mp3": "audio/mpeg", "m4a": "audio/mp4", "wav": "audio/wav",
    "flac": "audio/flac", "mp4": "video/mp4", "mov": "video/mp4", "webm": "video/webm",
}  # fmt: skip
ENDINGS = {kind: ending for ending, kind in reversed(TYPES.items())}
"""How a file of each type may end; the first where several do."""
READ_AS = {"oga": "ogg", "mov": "mp4", "m4a": "mp4", "webm": "matroska"}
"""How each is read, where that isn’t called as it ends. Naming it keeps a file from being read as a list of other files."""
WRITTEN_AS = {"oga": "ogg", "m4a": "ipod"}
_SAYS_NOTHING = {
    "major_brand", "minor_version", "compatible_brands", "encoder", "handler_name", "vendor_id", "language", "duration",
}  # fmt: skip
"""What a program writes of its own accord, lower case."""


def read_recording(name: str, path: Path, out: Path) -> tuple[Path, str, float | None, list[str]]:
    """A copy without tags, its type, its length in seconds (None where the file doesn't say), and sentences."""
    copy, ending = out / "recording", extension(name)
    try:
        with av.open(str(path), format=READ_AS.get(ending, ending)) as held:
            if not held.streams.audio and not held.streams.video:
                raise Unreadable(
                    say("The name ends in .{ending}, but no recording of that kind can be read in it.", ending=ending)
                )
            seconds = held.duration / av.time_base if held.duration else None
            if seconds is None:
                if not any(packet.size for packet in held.demux()):
                    raise Unreadable(say("There is nothing in the recording: it has no length."))
                held.seek(0)
            if seconds and seconds > MAX_SECONDS:
                raise Unreadable(say("The recording is longer than twelve hours; split it."))
            if not _tagged(held):
                shutil.copyfile(path, copy)
                return copy, TYPES[ending], seconds, []
            _without_tags(held, copy, WRITTEN_AS.get(ending, ending))
    except (av.error.InvalidDataError, av.error.EOFError) as error:
        raise Unreadable(
            say("The name ends in .{ending}, but no recording of that kind can be read in it.", ending=ending)
        ) from error
    except (av.error.FFmpegError, ValueError) as error:
        raise Unreadable(say("The recording is damaged: it can’t be read to its end.")) from error
    return copy, TYPES[ending], seconds, [say("Taken off the recording: its tags (such as names, dates, devices).")]


def _tagged(held: InputContainer) -> bool:
    """Whether it says anything beyond what is heard and seen: words, or a picture of its cover."""
    said: list[Mapping[str, str]] = [held.metadata, *(stream.metadata for stream in held.streams)]
    return any(key.lower() not in _SAYS_NOTHING for one in said for key in one) or len(_heard(held)) < len(held.streams)


def _heard(held: InputContainer) -> list[int]:
    """Which streams are sound or moving pictures."""
    cover = av.stream.Disposition.attached_pic
    return [
        stream.index for stream in held.streams if stream.type in ("audio", "video") and not stream.disposition & cover
    ]


def _without_tags(held: InputContainer, copy: Path, kind: str) -> None:
    """The same sound and pictures, packet by packet, with nothing else; nothing is encoded anew."""
    with av.open(str(copy), "w", format=kind, options={"fflags": "+bitexact"}) as made:
        to = {index: made.add_stream_from_template(held.streams[index]) for index in _heard(held)}
        for packet in held.demux([held.streams[index] for index in to]):
            # The last of each stream is empty: it says that nothing follows.
            if packet.dts is not None:
                packet.stream = to[packet.stream.index]
                made.mux(packet)
