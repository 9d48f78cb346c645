"""From where somebody speaks in a recording to the turns that are to be typed there."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from auditok import StreamTokenizer
from auditok.util import DataSource
from numpy.typing import NDArray

from core.gather.timed import written_time
from core.gather.transcript import WHOLE, FoundSpeaker, FoundTurn, Transcript
from core.language import say

PEAKS = 50
"""A second: how loud a recording is, each one byte."""
FRAME = 0.02
"""Seconds of sound that are judged at once, a whole number of them in a second: somebody speaks in them, or nobody does."""
SHORTEST, PAUSE, LONGEST = 0.3, 0.7, 30.0
"""Seconds. A cough is no turn; a breath ends none; what goes on longer is cut, since nobody keeps more in mind while typing."""
_APART = 0.8
"""Share of the frames with speech in which only one of two channels has any, from which each channel is a speaker’s own."""
_BOTH = 0.1
"""Share of them that the quieter channel has at least."""


@dataclass(frozen=True)
class Stretch:
    """Somebody speaks from ``begin`` to ``finish``, in seconds; ``channel`` where each has one of their own, else 0."""

    begin: float
    finish: float
    channel: int = 0


def spoken_stretches(speech: NDArray[np.bool_]) -> list[Stretch]:
    """Where somebody speaks: ``speech`` says it of each frame (rows, FRAME seconds) and channel (columns). In order of time.
    Frames become stretches by auditok's tokeniser: a silence shorter than PAUSE doesn't end one."""
    channels = range(speech.shape[1]) if channel_a_speaker(speech) else [-1]
    found = [
        Stretch(round(first * FRAME, 2), round((last + 1) * FRAME, 2), max(channel, 0))
        for channel in channels
        for first, last in _tokens(np.asarray(speech.any(axis=1)) if channel < 0 else speech[:, channel])
    ]
    return sorted(found, key=lambda stretch: (stretch.begin, stretch.finish))


def channel_a_speaker(speech: NDArray[np.bool_]) -> bool:
    """Whether two channels hold two people: mostly one of them speaks, and both do."""
    if speech.shape[1] != 2 or not speech.any():
        return False
    one, both, any_ = speech.any(axis=0).all(), speech.all(axis=1).sum(), speech.any(axis=1).sum()
    return bool(one and 1 - both / any_ >= _APART and speech.sum(axis=0).min() / any_ >= _BOTH)


class _Frames(DataSource):
    def __init__(self, frames: NDArray[np.bool_]) -> None:
        self._frames = iter(frames.tolist())

    def read(self) -> list[bool] | None:
        one = next(self._frames, None)
        return None if one is None else [one]


def _tokens(frames: NDArray[np.bool_]) -> Iterator[tuple[int, int]]:
    """First and last frame of each stretch, without the silence at its end."""
    tokenizer = StreamTokenizer(
        lambda frame: frame[0],
        min_length=round(SHORTEST / FRAME),
        max_length=round(LONGEST / FRAME),
        max_continuous_silence=round(PAUSE / FRAME),
        mode=StreamTokenizer.DROP_TRAILING_SILENCE,
    )
    for _, first, last in tokenizer.tokenize(_Frames(frames)) or []:
        yield first, last


def to_be_typed(stretches: Sequence[Stretch], seconds: float | None) -> Transcript:
    """Turns without a word, one a stretch: whoever listens types what is said. Where nobody was heard, one over all of it."""
    stretches = stretches or [Stretch(0.0, seconds or 0.0)]
    channels = sorted({stretch.channel for stretch in stretches})
    labels = [WHOLE] if len(channels) == 1 else [say("Channel {number}", number=one + 1) for one in channels]
    last = len(stretches) - 1
    turns = tuple(
        FoundTurn(
            channels.index(one.channel),
            at,
            min(at + 1, last),
            at,
            at,
            0,
            written_time(one.begin),
            one.begin,
            one.finish,
        )
        for at, one in enumerate(stretches)
    )
    speakers = tuple(
        FoundSpeaker(label, "participant", sum(turn.speaker == place for turn in turns), 0, "")
        for place, label in enumerate(labels)
    )
    return Transcript("\n" * last, turns, speakers, "none")
