"""Recordings with speech at known times, made of the demo's own (its invented speaker, by a speech synthesiser)."""

import io
import wave
from functools import cache
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

RATE = 16_000
SPEECH = Path(__file__).resolve().parents[1] / "demo" / "material" / "P26_at_the_lift.ogg"


@cache
def speech() -> NDArray[np.int16]:
    """Some seconds of speech without a pause."""
    with av.open(str(SPEECH)) as held:
        resampler = av.AudioResampler("s16", "mono", RATE)
        pieces = [
            made.to_ndarray().ravel()
            for frame in held.decode(held.streams.audio[0])
            for made in resampler.resample(frame)
        ]
    return np.concatenate(pieces)[round(0.6 * RATE) : round(5.4 * RATE)]


def spoken(seconds: float, *times: tuple[float, float]) -> NDArray[np.int16]:
    """Silence of so many seconds, with speech from … to …"""
    sound = np.zeros(round(seconds * RATE), np.int16)
    for begin, finish in times:
        sound[round(begin * RATE) : round(finish * RATE)] = speech()[: round(finish * RATE) - round(begin * RATE)]
    return sound


def wav(*channels: NDArray[np.int16]) -> bytes:
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(len(channels))
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes(np.stack(channels, axis=1).tobytes())
    return out.getvalue()


def encoded(kind: str, codec: str, sound: NDArray[np.int16], rate: int = 48_000) -> bytes:
    """The same in another format."""
    out = io.BytesIO()
    with av.open(out, "w", format=kind) as made:
        stream = made.add_stream(codec, rate=rate, layout="mono")
        frame = av.AudioFrame.from_ndarray(sound[None, :], "s16", "mono")
        frame.sample_rate, frame.pts = RATE, 0
        for piece in av.AudioResampler(stream.format, "mono", rate).resample(frame):
            made.mux(stream.encode(piece))
        made.mux(stream.encode(None))
    return out.getvalue()
