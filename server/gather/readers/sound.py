"""What is heard in a recording: how loud it is along it, where somebody speaks, and a light copy for playing.

Nothing is held whole: twelve hours of sound take no more memory than one minute."""

import multiprocessing
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import av
import numpy as np
import webrtcvad
from av.audio.frame import AudioFrame
from av.audio.stream import AudioStream
from av.container import InputContainer
from numpy.typing import NDArray

from core.gather.stretches import FRAME, PEAKS, Stretch, spoken_stretches
from core.language import say
from server.gather.readers.kinds import Unreadable, extension
from server.gather.readers.recordings import READ_AS

RATE = 16_000
"""Samples a second by which sound is judged, and of a light copy: enough for speech."""
_STRICT = 2
"""Of 0 to 3: how sure the detector has to be that somebody speaks."""
_FRAME = round(RATE * FRAME)
_PEAK = RATE // PEAKS
_IN_TWO = 600
"""Seconds from which the two halves are read at once."""
_MOST_GAP, _MOST_DAMAGED = 12 * 3600 * RATE, 10_000
HEAVY = 200_000
"""Bits a second from which sound of some length gets a light copy …"""
LONG = 600
"""… and seconds from which it does."""
LIGHT_RATE = 32_000
"""Bits a second of a light copy’s sound."""
_FILMS, _SOUNDS = {"h264", "vp8", "vp9", "av1", "libdav1d"}, {"aac", "mp3", "mp3float", "opus", "vorbis", "flac"}
"""How films and sound are stored that browsers play."""
Tell = Callable[[float], None]


@dataclass
class _Heard:
    """Of one part of a recording."""

    peaks: list[NDArray[np.uint8]] = field(default_factory=list)
    speech: list[NDArray[np.bool_]] = field(default_factory=list)
    damaged: list[float] = field(default_factory=list)
    """Seconds at which something couldn’t be read."""


def hear(name: str, path: Path, out: Path, tell: Tell) -> dict[str, Any]:
    """Writes ``peaks`` (bytes, PEAKS a second) and perhaps ``light`` into ``out``; returns seconds, stretches, what is odd
    (:func:`_odd`) and the light copy's type ("" for none). ``tell`` is told how far it is, 0 to 1."""
    with _opened(name, path) as held:
        seconds = held.duration / av.time_base if held.duration else 0.0
        film = next(
            (one for one in held.streams.video if not one.disposition & av.stream.Disposition.attached_pic), None
        )
        sound = next(iter(held.streams.audio), None)
        heard = sound is None or extension(name) == "wav" or sound.codec_context.name in _SOUNDS
        if film is not None:
            kind = "" if heard and film.codec_context.name in _FILMS else "video/mp4"
        else:
            heavy = seconds > LONG and path.stat().st_size * 8 / seconds > HEAVY
            kind = "" if heard and not heavy else "audio/webm"
    if kind == "video/mp4":
        from server.gather.readers.film import light_film

        light_film(name, path, out / "light", lambda share: tell(share * 0.8))
    if sound is None:
        return {"seconds": seconds, "stretches": [], "odd": [["no sound", 0.0]], "light": kind}
    begun = 0.8 if kind == "video/mp4" else 0.0
    light = out / "light" if kind == "audio/webm" else None
    parts = _parts(name, path, seconds, light, lambda share: tell(begun + share * (1 - begun)))
    peaks = np.concatenate([peak for part in parts for peak in part.peaks] or [np.zeros(0, np.uint8)])
    speech = np.concatenate([one for part in parts for one in part.speech] or [np.zeros((0, 1), bool)])
    (out / "peaks").write_bytes(peaks.tobytes())
    stretches = spoken_stretches(speech)
    length = len(peaks) / PEAKS
    return {
        "seconds": length,
        "stretches": [[one.begin, one.finish, one.channel] for one in stretches],
        "odd": list(_odd(parts, peaks, stretches, length)),
        "light": kind,
    }


def _odd(
    parts: list[_Heard], peaks: NDArray[np.uint8], stretches: list[Stretch], seconds: float
) -> Iterator[tuple[str, float]]:
    """What is odd about it, by kind, with seconds: words are for whoever reads of it, in their language."""
    damaged = [at for part in parts for at in part.damaged]
    if damaged:
        yield "damaged", min(damaged)
    if not len(peaks) or peaks.max() < 2:
        yield "silent", seconds
    elif not stretches:
        yield "nobody", seconds


def _opened(name: str, path: Path) -> InputContainer:
    ending = extension(name)
    # In large pieces, where the format lets one choose: a call each.
    options = {"max_size": "65536"} if ending == "wav" else {}
    try:
        return av.open(str(path), format=READ_AS.get(ending, ending), options=options)
    except av.error.FFmpegError as error:
        raise Unreadable(say("The recording is damaged: it can’t be read.")) from error


def _parts(name: str, path: Path, seconds: float, light: Path | None, tell: Tell) -> list[_Heard]:
    """All of it from its beginning; beside it a light copy, or the second half where that is all there is to do.

    Each piece of sound is a call of Python's: two processes, since threads would wait for one another."""
    if light is None and seconds < _IN_TWO:
        return [_heard(name, path, 0.0, None, lambda at: tell(at / seconds if seconds else 1.0))]
    half = float(int(seconds / 2)) if light is None else None
    with ProcessPoolExecutor(1, multiprocessing.get_context("fork")) as pool:
        if half is None:
            assert light is not None
            copied = pool.submit(_write_light, name, path, light)
            parts = [_heard(name, path, 0.0, None, lambda at: tell(at / seconds))]
            copied.result()
            return parts
        second = pool.submit(_heard, name, path, half, None)
        return [_heard(name, path, 0.0, half, lambda at: tell(at / half)), second.result()]


def _heard(name: str, path: Path, start: float, end: float | None, tell: Tell = lambda at: None) -> _Heard:
    """What is heard from ``start`` to ``end``, in whole seconds; ``None`` is the end of the recording."""
    heard = _Heard()
    detector = webrtcvad.Vad(_STRICT)
    with _opened(name, path) as held:
        for at, block in _blocks(held, start, end, heard.damaged):
            heard.peaks.append(_peaks(block))
            heard.speech.append(_speech(block, detector))
            tell(at)
    return heard


def _write_light(name: str, path: Path, light: Path) -> None:
    """A copy for playing: small, and played by any browser."""
    # The least effort of the encoder: at 32 kbit/s speech stays as clear, in a third of the time.
    options = {"compression_level": "0", "frame_duration": "60"}
    with _opened(name, path) as held, av.open(str(light), "w", format="webm") as made:
        stream = made.add_stream("libopus", rate=RATE, layout="mono", options=options)
        stream.bit_rate = LIGHT_RATE
        done = 0
        for _, block in _blocks(held, 0.0, None, []):
            mono = block.mean(axis=1).astype(np.int16) if block.shape[1] > 1 else block[:, 0]
            frame = AudioFrame.from_ndarray(np.ascontiguousarray(mono[None, :]), "s16", "mono")
            frame.sample_rate, frame.pts = RATE, done
            done += len(mono)
            made.mux(stream.encode(frame))
        made.mux(stream.encode(None))


def _blocks(
    held: InputContainer, start: float, end: float | None, damaged: list[float]
) -> Iterator[tuple[float, NDArray[np.int16]]]:
    """Seconds, and the samples of as many: each (samples, channels), RATE a second; the last may be shorter. Where the
    recording has a gap there is silence, so that whatever comes later is at its time."""
    stream = held.streams.audio[0]
    channels = 2 if stream.layout.nb_channels == 2 else 1
    resampler = av.AudioResampler("s16", "stereo" if channels == 2 else "mono", RATE)
    if start:
        held.seek(int(max(0.0, start - 1) / (stream.time_base or 1)), stream=stream)
    done, last = round(start * RATE), None if end is None else round(end * RATE)
    waiting: list[NDArray[np.int16]] = []
    length = 0
    # What an encoder puts before the beginning moves all of it by some hundredths.
    lead = round(float((stream.start_time or 0) * (stream.time_base or 0)) * RATE)
    lead = lead if abs(lead) < RATE // 5 else 0
    for at, samples in _placed(_resampled(resampler, held, stream, damaged), channels, done, lead):
        # What lies before the place that was looked for, or was heard already.
        samples = samples[max(0, done + length - at) :]
        waiting.append(samples)
        length += len(samples)
        while length >= RATE and (last is None or done < last):
            whole = np.concatenate(waiting)
            done += RATE
            yield done / RATE, whole[:RATE]
            waiting, length = [whole[RATE:]], length - RATE
        if last is not None and done >= last:
            return
    if length:
        yield (done + length) / RATE, np.concatenate(waiting)


def _placed(
    frames: Iterator[AudioFrame], channels: int, start: int, lead: int
) -> Iterator[tuple[int, NDArray[np.int16]]]:
    """Samples with where they begin, in samples after ``lead``; a gap of a fifth of a second or more is filled."""
    at: int | None = None
    for frame in frames:
        samples: NDArray[np.int16] = frame.to_ndarray().reshape(-1, channels).astype(np.int16, copy=False)
        stands = round(frame.time * RATE) - lead if frame.time is not None else at or 0
        if at is None:
            at = 0 if start == 0 and stands < RATE // 5 else min(stands, start)
        gap = stands - at
        if gap > RATE // 5 and gap < _MOST_GAP:
            yield at, np.zeros((gap, channels), np.int16)
            at = stands
        yield at, samples
        at += len(samples)


def _resampled(
    resampler: av.AudioResampler, held: InputContainer, stream: AudioStream, damaged: list[float]
) -> Iterator[AudioFrame]:
    for frame in _decoded(held, stream, damaged):
        yield from resampler.resample(frame)
    yield from resampler.resample(None)


def _decoded(held: InputContainer, stream: AudioStream, damaged: list[float]) -> Iterator[AudioFrame]:
    """All that can be read; where something can't, its time is noted and the next is read."""
    packets, time = held.demux(stream), 0.0
    while len(damaged) < _MOST_DAMAGED:
        try:
            packet = next(packets, None)
            if packet is None:
                return
            for frame in packet.decode():
                if isinstance(frame, AudioFrame):
                    time = frame.time if frame.time is not None else time
                    yield frame
        except av.error.EOFError:
            return
        except (av.error.FFmpegError, ValueError):
            damaged.append(time)


def _peaks(block: NDArray[np.int16]) -> NDArray[np.uint8]:
    loud = np.abs(block.astype(np.int32)).max(axis=1)
    padded = np.pad(loud, (0, -len(loud) % _PEAK))
    return (padded.reshape(-1, _PEAK).max(axis=1) // 129).astype(np.uint8)


def _speech(block: NDArray[np.int16], detector: webrtcvad.Vad) -> NDArray[np.bool_]:
    """Of each frame and channel whether somebody speaks."""
    said = []
    for channel in range(block.shape[1]):
        data = np.pad(block[:, channel], (0, -len(block) % _FRAME)).tobytes()
        said.append([detector.is_speech(data[at : at + _FRAME * 2], RATE) for at in range(0, len(data), _FRAME * 2)])
    return np.array(said, bool).T
