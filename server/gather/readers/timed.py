"""Cues of .vtt and .srt: who speaks them, and when."""

import html
import re
from io import StringIO

import srt
import webvtt

from core.gather.labels import Line
from core.gather.timed import Cue, cue_lines
from core.language import say
from server.gather.readers.kinds import Unreadable, extension
from server.gather.readers.letters import Letters

_TAG = re.compile(r"</?[a-zA-Z0-9:][^<>]*>")
_VOICE = re.compile(r"<v(?:\.[^\s>]+)*\s+([^>]+)>")


def timed_lines(name: str, letters: Letters) -> tuple[list[Line], str, list[str]]:
    """Lines with times, the format, and sentences on what was odd."""
    text = letters.text.replace("\r\n", "\n").replace("\r", "\n").replace("\x00", "")
    cues = _vtt(text) if extension(name) == "vtt" else _srt(text)
    if not cues:
        raise Unreadable(say("No cue with a time and words is in this .{extension} file.", extension=extension(name)))
    lines, warnings = cue_lines(cues)
    return lines, f".{extension(name)}, {letters.words}", [*letters.warnings, *warnings]


def _vtt(text: str) -> list[Cue]:
    if not text.lstrip("\ufeff \n").startswith("WEBVTT"):
        # Written by hand, or by a program that is careless with its first line.
        text = f"WEBVTT\n\n{text}"
    try:
        captions = webvtt.from_buffer(StringIO(text.lstrip("\ufeff \n"))).captions
    except (webvtt.errors.MalformedCaptionError, webvtt.errors.MalformedFileError, ValueError) as error:
        raise Unreadable(say("The times of this .vtt file can’t be read: a cue is badly formed.")) from error
    cues = []
    for caption in captions:
        # One cue may hold what several people say.
        pieces = _VOICE.split(caption.raw_text)
        if pieces[0].strip():
            cues.append(Cue(caption.start_in_seconds, caption.end_in_seconds, _plain(pieces[0])))
        for voice, said in zip(pieces[1::2], pieces[2::2], strict=True):
            cues.append(Cue(caption.start_in_seconds, caption.end_in_seconds, _plain(said), html.unescape(voice)))
    return _exact(cues, captions)


def _exact(cues: list[Cue], captions: list[webvtt.Caption]) -> list[Cue]:
    """The library gives whole seconds; the written times have thousandths."""
    times = {(one.start_in_seconds, one.end_in_seconds): (_seconds(one.start), _seconds(one.end)) for one in captions}
    exact = []
    for cue in cues:
        begin, end = times[int(cue.begin), int(cue.end)]
        exact.append(Cue(begin, end, cue.text, cue.voice))
    return exact


def _seconds(stamp: str) -> float:
    hours, minutes, seconds = (["0", *stamp.split(":")])[-3:]
    return int(hours) * 3600 + int(minutes) * 60 + float(seconds)


def _srt(text: str) -> list[Cue]:
    try:
        found = list(srt.parse(text, ignore_errors=True))
    except (srt.SRTParseError, ValueError, OverflowError) as error:
        raise Unreadable(say("The times of this .srt file can’t be read: a cue is badly formed.")) from error
    return [Cue(one.start.total_seconds(), one.end.total_seconds(), _plain(one.content)) for one in found]


def _plain(text: str) -> str:
    return html.unescape(_TAG.sub("", text))
