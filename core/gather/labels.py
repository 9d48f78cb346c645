"""Finding speaker labels at the start of lines."""

import re
from dataclasses import dataclass

from core.gather.roles import likely_role


@dataclass(frozen=True)
class Line:
    """One paragraph of a document, or one cue of a timed text.

    bold        code points at its start that are bold
    heading     0, or the level of the heading that it is
    page        0, or the page that it stands on
    begin, end  seconds into the recording, where it is timed
    voice       who speaks it, where the format says so
    """

    text: str
    bold: int = 0
    heading: int = 0
    page: int = 0
    begin: float | None = None
    end: float | None = None
    voice: str = ""


@dataclass(frozen=True)
class LabelledLine:
    """A line taken apart: a label (None where it has none), a time as written, what was said."""

    label: str | None
    time: str
    said: str
    form: str = ""


_TIME = r"(?:\d{1,2}:)?\d{1,2}:\d{2}(?:[.,]\d{1,3})?"
_STAMP = rf"[\[(<]?\s*{_TIME}(?:\s*(?:-|–|—|-->|to)\s*{_TIME})?\s*[\])>]?"
_LEADING_STAMP = re.compile(rf"^\s*(?P<stamp>{_STAMP})\s*(?:[-–—]\s*)?")
_LABEL = r"[^\W_][^:\[\]\n]{0,39}?"
_COLON = re.compile(
    rf"^\s*(?P<label>{_LABEL})\s*(?:(?P<stamp>[\[(<]\s*{_TIME}[^\])>]*[\])>]|{_TIME}))?\s*:(?!//|\d\d\b)\s*(?P<said>.*)$",
    re.S,
)
_BRACKET = re.compile(rf"^\s*\[(?P<label>{_LABEL})\]\s*:?\s*(?P<stamp>{_STAMP})?\s*(?P<said>.*)$", re.S)
_ALONE = re.compile(rf"^\s*(?P<label>{_LABEL})\s*(?:[,–—-]?\s*(?P<stamp>{_STAMP}))?\s*$")
_UPPER = re.compile(
    r"^\s*(?P<label>[A-Z][A-Z0-9.'’-]*(?: [A-Z0-9][A-Z0-9.'’-]*){0,2})(?:\t+|\s{2,}|\s+[-–—]\s+|\s*$)(?P<said>.*)$",
    re.S,
)
_SHORT_ID = re.compile(r"^[A-Za-z]{1,12}[ _.-]?\d{1,4}[a-zA-Z]?$|^[A-Z]{1,3}\d*$")
_PARTICLES = {"of", "the", "with", "and", "de", "da", "von", "van", "al", "el", "la", "le", "in", "from", "on", "&"}
_HEADING_WORDS = {
    "note", "notes", "date", "time", "location", "place", "duration", "length", "file", "transcript",
    "participants", "present", "subject", "project", "topic", "recorded", "transcribed", "setting", "title",
    "interview", "recording", "language", "version", "legend", "key", "example", "summary", "ps",
}  # fmt: skip


def take_apart(line: Line) -> list[LabelledLine]:
    """Every way this line could be read as carrying a label, likeliest first."""
    text, stamp, bold = line.text, "", line.bold
    leading = _LEADING_STAMP.match(text)
    if leading:
        stamp = _bare_time(leading["stamp"])
        bold = max(0, bold - leading.end())
        text = text[leading.end() :]
    readings = []
    if bold:
        readings.append(_bold(text, bold, stamp))
    for form, pattern in (("bracket", _BRACKET), ("colon", _COLON), ("upper", _UPPER), ("alone", _ALONE)):
        found = pattern.match(text)
        if found:
            parts = found.groupdict()
            label = _clean(parts["label"])
            if form == "upper" and not (len(label) > 1 and label.upper() == label):
                continue
            readings.append(
                LabelledLine(label, stamp or _bare_time(parts.get("stamp") or ""), parts.get("said") or "", form)
            )
    return [reading for reading in readings if reading and plausible(reading.label or "")]


def unlabelled(line: Line) -> LabelledLine:
    """The line as plain speech, a time stamp at its start taken off."""
    leading = _LEADING_STAMP.match(line.text)
    if leading and leading.end() < len(line.text) and leading["stamp"].strip()[0] in "[(<":
        return LabelledLine(None, _bare_time(leading["stamp"]), line.text[leading.end() :])
    return LabelledLine(None, "", line.text)


def plausible(label: str) -> bool:
    """Could this be somebody's name or ID, rather than the start of a sentence?"""
    words = label.split()
    if not words or len(words) > 5 or not re.search(r"[^\W_]", label):
        return False
    if re.search(r"[!?;,\"“”…]|\.\s+[a-z]", label):
        return False
    return not (words[0].casefold().strip(".") in _HEADING_WORDS and not re.search(r"\d", label))


def looks_named(label: str) -> bool:
    """Does it look like a name or an ID on its own, even if it occurs once?"""
    if _SHORT_ID.match(label) or likely_role(label) != "participant":
        return True
    words = label.split()
    capitals = [word for word in words if word.casefold() not in _PARTICLES]
    return len(words) <= 3 and all(word[0].isupper() or word[0].isdigit() or not word[0].isascii() for word in capitals)


def _bold(text: str, bold: int, stamp: str) -> LabelledLine | None:
    """A bold start is a label; a line that is bold throughout, only if it is short."""
    start, rest = text[:bold], text[bold:]
    colon = start.find(":")
    if colon >= 0:
        start, rest = text[:colon], text[colon + 1 :]
    found = re.search(rf"\s*(?P<stamp>{_STAMP})\s*:?\s*$", start)
    if found and found.start() > 0:
        stamp, start = stamp or _bare_time(found["stamp"]), start[: found.start()]
    label = _clean(start)
    if len(label) > 40:
        return None
    return LabelledLine(label, stamp, re.sub(r"^\s*:\s*", "", rest), "bold")


def _clean(label: str) -> str:
    return " ".join(label.strip().strip("[]():–—- \t").split())


def _bare_time(stamp: str) -> str:
    return stamp.strip().strip("[]()<>").strip()
