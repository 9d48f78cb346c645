"""Labels that stand within a line: behind a stage direction, or where several people speak in one paragraph."""

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from core.gather.labels import (
    COLONS,
    LEADING_STAMP,
    LONGEST,
    Line,
    clean,
    in_capitals,
    looks_named,
    plausible,
    take_apart,
)
from core.gather.roles import likely_role
from core.text.names import TITLES, without_note

# A sentence, a bracket or a pair of dashes has ended; then what may be a label, and a colon.
_END = r"[.!?…。！？؟)\]\"”’»*–—-]"
_WITHIN = re.compile(
    rf"(?:(?<=^)|(?<={_END}\s)|(?<={_END}))(?P<label>[^\W_][^{COLONS}\[\]\n!?;…\"“”]{{0,{LONGEST - 1}}}?)\s*[{COLONS}](?=\s|[\"“(\[]|$)"
)
_SIGN, _ENDED = re.compile(f"[{COLONS}]"), re.compile(rf"{_END}(?=\s)|\]|\)")
_ENDING = re.compile(f"{_END}$")
_DIRECTION = re.compile(r"^\s*(?:\([^()]{1,120}\)|\[[^\[\]]{1,120}\])[.\s]*(?=\S)")


@dataclass(frozen=True)
class Part:
    """A stretch of a line of the file: the line's number, and where in it the stretch begins, in code points."""

    number: int
    line: Line
    at: int = 0


@dataclass(frozen=True)
class _Candidate:
    start: int
    label: str
    bold: bool = False


def parted(parts: Sequence[Part], ignored: Iterable[str] = ()) -> list[Part]:
    """Lines cut before each label that stands within them. Which ones are labels the whole file decides: those in the
    style of its labels, or that stand at the start of lines too; ``ignored`` are none."""
    found = [_candidates(part.line) for part in parts]
    accepted = _accepted(parts, found) - {without_note(label) for label in ignored}
    if not accepted:
        return list(parts)
    return [piece for part, those in zip(parts, found, strict=True) for piece in _cut(part, those, accepted)]


def _candidates(line: Line) -> list[_Candidate]:
    """Whatever could be a label within a line, those at its very start left out."""
    if line.heading or line.voice:
        return []
    found = _behind_colons(line) if any(sign in line.text for sign in COLONS) else []
    if line.runs:
        known = {one.start for one in found}
        found = sorted([*found, *(one for one in _in_bold(line) if one.start not in known)], key=lambda one: one.start)
    return found


def _in_bold(line: Line) -> Iterator[_Candidate]:
    """Bold stretches behind the end of a sentence or a bracket, with words behind them."""
    for start, end in line.runs:
        label = clean(line.text[start:end])
        behind = line.text[:start].rstrip()
        if label and plausible(label) and behind and _ENDING.search(behind) and line.text[end:].strip():
            yield _Candidate(start, label, bold=True)


def _behind_colons(line: Line) -> list[_Candidate]:
    found = []
    stamp = LEADING_STAMP.match(line.text)
    begin = stamp.end() if stamp else 0
    # Mostly the only colon is that of the label at the start.
    first = _SIGN.search(line.text, begin)
    if first and not _SIGN.search(line.text, first.end()) and not _ENDED.search(line.text, begin, first.start()):
        return []
    for match in _WITHIN.finditer(line.text):
        start = match.start("label")
        # Behind the last end of a sentence: "Thank you. JANE ROE" is not all a label, "Dr. Roe" is.
        label, skipped = _last_of(match["label"])
        if line.text[begin : start + skipped].strip() and plausible(clean(label)) and clean(label):
            found.append(_Candidate(start + skipped, clean(label)))
    return found


def _last_of(label: str) -> tuple[str, int]:
    """The part of a stretch that is a label: what follows the last sentence's end or bracket in it, titles and initials kept."""
    ends = [
        found.end()
        for found in re.finditer(r"(\w*)(?:\)|[.!?])\s+", label)
        if found.end() < len(label) and not (found[1].casefold() in TITLES or len(found[1]) == 1)
    ]
    skipped = ends[-1] if ends else 0
    return label[skipped:], skipped


def _accepted(parts: Sequence[Part], found: Sequence[Sequence[_Candidate]]) -> set[str]:
    """Which of what stands within lines are labels, without what is said behind them."""
    within = Counter(without_note(one.label) for those in found for one in those if not one.bold)
    bold = {without_note(one.label) for those in found for one in those if one.bold}
    if not within and not bold:
        return set()
    readings = [reading for part in parts for reading in take_apart(part.line, ("colon", "bold"))]
    leading = Counter(without_note(reading.label or "") for reading in readings if reading.form == "colon")
    begun = {without_note(reading.label or "") for reading in readings}
    times = within + leading
    capitals = {label for label in times if in_capitals(label)}
    # Two stray "EU:" and "NB:" make no style; one who comes back, beside somebody else or often, does.
    most = max((times[label] for label in capitals), default=0)
    styled = most > 2 or (most > 1 and len(capitals) > 1)
    behind = {without_note(one.label) for one in _behind_directions(parts, found)}
    recurring = {label for label, count in times.items() if count > 1 and looks_named(label)}

    def is_label(label: str) -> bool:
        if label in capitals and styled:
            return True
        if likely_role(label) != "participant" and (label in behind or recurring):
            return True
        if label in recurring and (leading[label] or (len(recurring) > 1 and len(label.split()) <= 4)):
            return True
        return label in behind and looks_named(label) and (label in capitals or len(behind) > 1)

    def is_bold_label(label: str) -> bool:
        # Bold words within what somebody says are mostly stressed: a label is one only where a line begins with it, or a direction
        # stands before it.
        return label in begun or (label in behind and (likely_role(label) != "participant" or looks_named(label)))

    return {label for label in within if is_label(label)} | {label for label in bold if is_bold_label(label)}


def _behind_directions(parts: Sequence[Part], found: Sequence[Sequence[_Candidate]]) -> Iterator[_Candidate]:
    """Those that follow a stage direction with which their line begins."""
    for part, those in zip(parts, found, strict=True):
        direction = _DIRECTION.match(part.line.text)
        yield from (one for one in those if direction and direction.end() == one.start)


def _cut(part: Part, those: Sequence[_Candidate], accepted: set[str]) -> list[Part]:
    starts = [one.start for one in those if without_note(one.label) in accepted]
    if not starts:
        return [part]
    text = part.line.text
    pieces = []
    for start, end in zip([0, *starts], [*starts, len(text)], strict=True):
        if text[start:end].strip():
            pieces.append(Part(part.number, part.line.part(start, end), part.at + start))
    return pieces
