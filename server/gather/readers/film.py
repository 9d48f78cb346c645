"""A light copy of a film that browsers don't play: H.264 of at most 480 lines, and AAC."""

from collections.abc import Callable
from pathlib import Path

import av
from av.audio.frame import AudioFrame
from av.video.frame import VideoFrame

from server.gather.readers.kinds import extension
from server.gather.readers.recordings import READ_AS

_LINES, _MOST_A_SECOND = 480, 30


def light_film(name: str, path: Path, light: Path, tell: Callable[[float], None]) -> None:
    """Written to ``light``; what can't be decoded is left out. ``tell`` is told how far it is, 0 to 1."""
    ending = extension(name)
    with (
        av.open(str(path), format=READ_AS.get(ending, ending)) as held,
        av.open(str(light), "w", format="mp4", options={"movflags": "faststart"}) as made,
    ):
        film = held.streams.video[0]
        seconds = (held.duration or 0) / av.time_base
        rate = min(film.average_rate or _MOST_A_SECOND, _MOST_A_SECOND)
        pictures = made.add_stream("libx264", rate=rate, options={"preset": "ultrafast", "crf": "28"})
        height = min(_LINES, film.height) // 2 * 2
        pictures.width, pictures.height = max(2, round(film.width * height / film.height / 2) * 2), max(2, height)
        pictures.pix_fmt = "yuv420p"
        sound = made.add_stream("aac", rate=44_100, layout="mono") if held.streams.audio else None
        for packet in held.demux(film, *held.streams.audio[:1]):
            try:
                frames = packet.decode()
            except av.error.EOFError:
                break
            except (av.error.FFmpegError, ValueError):
                continue
            for frame in frames:
                if isinstance(frame, VideoFrame):
                    small = frame.reformat(pictures.width, pictures.height, "yuv420p")
                    made.mux(pictures.encode(small))
                    if seconds and frame.time is not None:
                        tell(min(1.0, frame.time / seconds))
                elif isinstance(frame, AudioFrame) and sound is not None:
                    made.mux(sound.encode(frame))
        made.mux(pictures.encode(None))
        if sound is not None:
            made.mux(sound.encode(None))
