"""An hour of sound made ready to play and to type: its waveform, where somebody speaks, a light copy where one is needed; beside decoding it alone.

The sound is the demo's recording, again and again with pauses between."""

import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import av
import numpy as np

from server.gather.readers.sound import RATE, hear

SECONDS = 3600
_DEMO = Path(__file__).resolve().parent.parent / "demo" / "material" / "P26_at_the_lift.ogg"
FORMATS = {
    "hour.wav": ("wav", "pcm_s16le", 44_100),
    "hour.flac": ("flac", "flac", 44_100),
    "hour.mp3": ("mp3", "libmp3lame", 44_100),
    "hour.m4a": ("ipod", "aac", 44_100),
    "hour.ogg": ("ogg", "libopus", 48_000),
}


def _hour() -> Any:
    with av.open(str(_DEMO)) as held:
        resampler = av.AudioResampler("s16", "mono", RATE)
        pieces = [made.to_ndarray().ravel() for frame in held.decode(audio=0) for made in resampler.resample(frame)]
    one = np.concatenate([*pieces, np.zeros(RATE * 3, np.int16)])
    return np.tile(one, SECONDS * RATE // len(one) + 1)[: SECONDS * RATE]


def _write(path: Path, sound: Any, kind: str, codec: str, rate: int) -> None:
    with av.open(str(path), "w", format=kind) as made:
        stream = made.add_stream(codec, rate=rate, layout="mono")
        resampler = av.AudioResampler(stream.format, "mono", rate)
        for start in range(0, len(sound), RATE * 10):
            frame = av.AudioFrame.from_ndarray(
                np.ascontiguousarray(sound[None, start : start + RATE * 10]), "s16", "mono"
            )
            frame.sample_rate, frame.pts = RATE, start
            for piece in resampler.resample(frame):
                made.mux(stream.encode(piece))
        made.mux(stream.encode(None))


def _decode(path: Path) -> None:
    with av.open(str(path)) as held:
        for _ in held.decode(audio=0):
            pass


def run(report: Callable[..., None]) -> None:
    hour = _hour()
    with tempfile.TemporaryDirectory() as folder:
        for name, how in FORMATS.items():
            path, out = Path(folder) / name, Path(folder) / "out"
            out.mkdir(exist_ok=True)
            _write(path, hour, *how)
            begun = time.perf_counter()
            _decode(path)
            alone = time.perf_counter() - begun
            begun, told = time.perf_counter(), list[float]()
            found = hear(name, path, out, lambda far: told.append(time.perf_counter()))  # noqa: B023
            ready = time.perf_counter() - begun
            light = ", with a light copy" if found["light"] else ""
            report(f"an hour of .{path.suffix[1:]} ready to play and type{light}", ready, decoding_alone=alone)
            gaps = np.diff([begun, *told, begun + ready])
            print(
                f"    {len(found['stretches'])} stretches; longest without word of progress {gaps.max():.1f} s",
                flush=True,
            )
            path.unlink()
