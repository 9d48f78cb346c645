"""How speaker labels look at the start of a line."""

import re
from collections.abc import Container, Iterable
from dataclasses import dataclass
from functools import lru_cache

from core.gather.roles import likely_role
from core.text.names import TITLES, without_note


@dataclass(frozen=True)
class Line:
    """One paragraph of a document, or one cue of a timed text.

    bold        code points at its start that are bold
    runs        further stretches that are bold, by their code points, in order
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
    runs: tuple[tuple[int, int], ...] = ()

    def part(self, start: int, end: int) -> "Line":
        """A stretch of it as a line of its own, with what is bold in it."""
        text = self.text[start:end].rstrip()
        if not self.bold and not self.runs:
            return self.of(text, 0, ())
        last = start + len(text)
        runs = [(max(first, start) - start, min(stop, last) - start) for first, stop in ((0, self.bold), *self.runs)]
        held = [(first, stop) for first, stop in runs if first < stop]
        bold = held[0][1] if held and not text[: held[0][0]].strip() else 0
        return self.of(text, bold, tuple(held[1:] if bold else held))

    def of(self, text: str, bold: int, runs: tuple[tuple[int, int], ...]) -> "Line":
        """It with another text, and what is bold in that. Called for every line of a file; `dataclasses.replace` takes four times as
        long."""
        return Line(text, bold, self.heading, self.page, self.begin, self.end, self.voice, runs)


def bold_lines(pieces: Iterable[tuple[str, bool]], heading: int = 0) -> list[Line]:
    """The lines of a paragraph, which may hold line breaks, of its pieces of text and whether each is bold. What is no ink between
    two bold pieces parts them not."""
    text, runs, held = "", list[list[int]](), False
    for piece, strong in pieces:
        if strong and not held and piece.strip():
            runs.append([len(text), len(text)])
        held = bool(runs) and (strong or not piece.strip()) and (held or strong)
        text += piece
        if held:
            runs[-1][1] = len(text)
    whole = Line(text, heading=heading, runs=tuple((first, last) for first, last in runs))
    lines, at = [], 0
    for line in text.split("\n"):
        part = whole.part(at, at + len(line))
        lines.append(part.of(line, part.bold, part.runs))
        at += len(line) + 1
    return lines


@dataclass(frozen=True)
class LabelledLine:
    """A line taken apart: a label (None where it has none), a time as written, what was said."""

    label: str | None
    time: str
    said: str
    form: str = ""


COLONS = ":：﹕︓"
"""Colons of several scripts; all mean the same after a label."""
_HELD = 8192
"""Labels of which it is remembered what they look like: a text has few, and thousands of lines."""
LONGEST = 60
"""Code points of the longest label."""
_TIME = r"(?:\d{1,2}:)?\d{1,2}:\d{2}(?:[.,]\d{1,3})?"
_STAMP = rf"[\[(<]?\s*{_TIME}(?:\s*(?:-|–|—|-->|to)\s*{_TIME})?\s*[\])>]?"
LEADING_STAMP = re.compile(rf"^\s*(?P<stamp>{_STAMP})\s*(?:[-–—]\s*)?")
_LABEL = rf"[^\W_][^{COLONS}\[\]\n]{{0,{LONGEST - 1}}}?"
_COLON = re.compile(
    rf"^\s*(?P<label>{_LABEL})\s*(?:(?P<stamp>[\[(<]\s*{_TIME}[^\])>]*[\])>]|{_TIME}))?\s*[{COLONS}](?!//|\d\d\b)\s*(?P<said>.*)$",
    re.S,
)
_BRACKET = re.compile(rf"^\s*\[(?P<label>{_LABEL})\]\s*[{COLONS}]?\s*(?P<stamp>{_STAMP})?\s*(?P<said>.*)$", re.S)
_ALONE = re.compile(rf"^\s*(?P<label>{_LABEL})\s*(?:[,–—-]?\s*(?P<stamp>{_STAMP}))?\s*$")
_DASH = re.compile(rf"^\s*(?P<label>{_LABEL})\s+[-–—]\s+(?P<said>.+)$", re.S)
_TAB = re.compile(rf"^\s*(?P<label>{_LABEL})\s*[{COLONS}]?\t+\s*(?P<said>.+)$", re.S)
_UPPER = re.compile(
    r"^\s*(?P<label>[A-Z][A-Z0-9.'’-]*(?: [A-Z0-9][A-Z0-9.'’-]*){0,2})(?:\t+|\s{2,}|\s+[-–—]\s+|\s*$)(?P<said>.*)$",
    re.S,
)
_PATTERNS = (
    ("bracket", _BRACKET, re.compile(r"\[")), ("colon", _COLON, re.compile(f"[{COLONS}]")), ("upper", _UPPER, None),
    ("tab", _TAB, re.compile("\t")), ("dash", _DASH, re.compile("[-–—]")), ("alone", _ALONE, None),
)  # fmt: skip
"""How each form is read, and the signs of which its beginning has one: looking for a sign is quicker than reading."""
_FORMS = frozenset(["bold", *(form for form, _, _ in _PATTERNS)])
_LONGEST_ALONE = LONGEST + 60
"""A label and a time and nothing else: longer lines needn't be tried at each of their letters."""
_SHORT_ID = re.compile(r"^[A-Za-z]{1,12}[ _.-]?\d{1,4}[a-zA-Z]?$|^[A-Z]{1,3}\d*$")
_NUMBERED = re.compile(r"^\d{1,4}(?:[.)]\s*|\s+)(?=[^\W\d_])")
_INITIAL = re.compile(r"^[^\W\d_]\.?$")
_PARTICLES = {"of", "the", "with", "and", "de", "da", "von", "van", "al", "el", "la", "le", "in", "from", "on", "&",
              "der", "den", "zu", "du", "di", "del", "ter", "bin", "y"}  # fmt: skip
_HEADING_WORDS = {
    "note", "notes", "date", "time", "location", "place", "duration", "length", "file", "transcript",
    "participants", "present", "subject", "project", "topic", "recorded", "transcribed", "setting", "title",
    "interview", "recording", "language", "version", "legend", "key", "example", "summary", "ps",
}  # fmt: skip


def take_apart(line: Line, forms: Container[str] = _FORMS) -> list[LabelledLine]:
    """Every way, of these forms, that this line could be read as carrying a label, likeliest first."""
    text, stamp, bold = line.text, "", line.bold
    leading = LEADING_STAMP.match(text)
    if leading:
        stamp = _bare_time(leading["stamp"])
        bold = max(0, bold - leading.end())
        text = text[leading.end() :]
    readings = []
    if bold and "bold" in forms:
        readings.append(_bold(text, bold, stamp))
    for form, pattern, sign in _PATTERNS:
        if form not in forms or (form == "alone" and len(text) > _LONGEST_ALONE):
            continue
        found = pattern.match(text) if not sign or sign.search(text, 0, LONGEST + 60) else None
        if found:
            parts = found.groupdict()
            label = clean(parts["label"])
            if form == "upper" and not (len(label) > 1 and label.upper() == label):
                continue
            readings.append(
                LabelledLine(label, stamp or _bare_time(parts.get("stamp") or ""), parts.get("said") or "", form)
            )
    return [reading for reading in readings if reading and plausible(reading.label or "")]


def unlabelled(line: Line) -> LabelledLine:
    """The line as plain speech, a time stamp at its start taken off."""
    leading = LEADING_STAMP.match(line.text)
    if leading and leading.end() < len(line.text) and leading["stamp"].strip()[0] in "[(<":
        return LabelledLine(None, _bare_time(leading["stamp"]), line.text[leading.end() :])
    return LabelledLine(None, "", line.text)


@lru_cache(_HELD)
def in_capitals(label: str) -> bool:
    """``THE PRESIDENT``, ``Dr. ROE``, ``JANE McROE (Chair)``: written as labels are, and words of a sentence aren't."""
    words = without_note(label).split()
    names = [word for word in words if word.casefold().strip(".") not in TITLES | _PARTICLES]
    letters = [re.sub(r"^(?:Mc|Mac|O['’]|D['’])", "", word) for word in names]
    return any(len(re.findall(r"[^\W\d_]", word)) > 1 for word in names) and all(
        word == word.upper() and word != word.lower() for word in letters if re.search(r"[^\W\d_]", word)
    )


@lru_cache(_HELD)
def plausible(label: str) -> bool:
    """Could this be somebody's name or ID, rather than the start of a sentence?"""
    words = without_note(label).split()
    capitals = in_capitals(label)
    if not words or len(words) > (7 if capitals else 5) or not re.search(r"[^\W_]", label):
        return False
    if re.search(r"[!?;\"“”…]|\.\s+[a-z]", label):
        return False
    if "," in without_note(label) and not capitals and not _surname_first(without_note(label)):
        return False
    return not (words[0].casefold().strip(".") in _HEADING_WORDS and not re.search(r"\d", label))


def _surname_first(label: str) -> bool:
    """``Roe, Jane``, ``de la Cruz, J. M.``: elsewhere a comma stands in a list of things, or in a sentence."""
    surname, _, rest = label.partition(",")
    sides = [surname.split(), rest.split()]
    return all(
        0 < len(words) <= 4
        and any(word[0].isupper() for word in words)
        and all(word[0].isupper() or word.casefold() in _PARTICLES for word in words)
        for words in sides
    )


@lru_cache(_HELD)
def looks_named(label: str) -> bool:
    """Does it look like a name or an ID on its own, even if it occurs once?"""
    if _SHORT_ID.match(label) or likely_role(label) != "participant" or in_capitals(label):
        return True
    words = without_note(label).replace(",", " ").split()
    names = [
        word
        for word in words
        if word.casefold() not in _PARTICLES and word.casefold().strip(".") not in TITLES and not _INITIAL.match(word)
    ]
    return len(names) <= 3 and all(word[0].isupper() or word[0].isdigit() or not word[0].isascii() for word in names)


def _bold(text: str, bold: int, stamp: str) -> LabelledLine | None:
    """A bold start is a label; a line that is bold throughout, only if it is short."""
    start, rest = text[:bold], text[bold:]
    colon = re.search(f"[{COLONS}]", start)
    if colon:
        start, rest = text[: colon.start()], text[colon.end() :]
    found = re.search(rf"\s*(?P<stamp>{_STAMP})\s*[{COLONS}]?\s*$", start)
    if found and found.start() > 0:
        stamp, start = stamp or _bare_time(found["stamp"]), start[: found.start()]
    label = clean(start)
    if len(label) > LONGEST:
        return None
    return LabelledLine(label, stamp, re.sub(rf"^\s*[{COLONS}]\s*", "", rest), "bold")


@lru_cache(_HELD)
def clean(label: str) -> str:
    """A label without what stands around it: brackets, dashes, the number of its line."""
    bare = " ".join(label.strip().strip("[]:–—- \t").split())
    if bare.count("(") != bare.count(")") or (bare[:1], bare[-1:]) == ("(", ")"):
        bare = bare.strip("() ")
    return _NUMBERED.sub("", bare)


def _bare_time(stamp: str) -> str:
    return stamp.strip().strip("[]()<>").strip()
