"""From the lines of a document to turns, speakers and sections, and the text they cover."""

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from core.gather.forms import find_form, joined
from core.gather.labels import LabelledLine, Line, take_apart, unlabelled
from core.gather.roles import Guess, Role, Talk, by_meaning, by_talk
from core.gather.timed import PAUSE, seconds_written, written_time
from core.gather.within import Part, parted
from core.language import say
from core.text.normalise import ink_bounds, normalise
from core.text.words import count_words

BEFORE_FIRST = "Before the first speaker"
"""Label of what stands above the first labelled turn: kept, and nobody's."""
WHOLE = "Whole document"
"""Label of the one speaker of a document in which nobody is labelled."""
HEADINGS = "Headings"
"""Label under which the headings of a labelled document stand: kept, and nobody's."""
_ALSO = ("colon", "bracket")
"""Forms of labels that mean a speaker in a file of any other form, where it is somebody’s who speaks in it."""
LONG_TURN = 900
"""Code points after which a timed turn goes over into another, so that a click finds its place."""


@dataclass(frozen=True)
class Corrections:
    """What the researcher changed about the reading.

    one_turn  read the whole document as one turn, labels and all
    ignored   labels that aren't speakers: their lines are plain speech
    renamed   label → label; two with one name become one speaker
    roles     (new) label → role
    """

    one_turn: bool = False
    ignored: tuple[str, ...] = ()
    renamed: dict[str, str] = field(default_factory=dict)
    roles: dict[str, Role] = field(default_factory=dict)


@dataclass(frozen=True)
class FoundSpeaker:
    label: str
    role: Role
    turns: int
    words: int
    first_words: str
    written: tuple[str, ...] = ()
    """The labels as they stand in the file, before renaming."""
    reason: str = ""
    """Why this role was guessed; "" where nothing says otherwise, or it was chosen."""


@dataclass(frozen=True)
class FoundTurn:
    """``[start, end)`` in code points; the turns cover the text whole, in order. ``ink_*`` are
    drawn in to non-space characters. ``begin`` and ``finish`` are seconds into a recording."""

    speaker: int
    start: int
    end: int
    ink_start: int
    ink_end: int
    words: int
    time: str
    begin: float | None = None
    finish: float | None = None


SectionKind = Literal["heading", "page", "question"]


@dataclass(frozen=True)
class FoundSection:
    """A stretch ``[start, end)`` under a heading, on a page, or that answers a question."""

    kind: SectionKind
    title: str
    level: int
    start: int
    end: int


@dataclass(frozen=True)
class FoundMark:
    """A stretch that a comment in the file stands on, with what it says."""

    start: int
    end: int
    text: str
    author: str


@dataclass(frozen=True)
class Transcript:
    text: str
    turns: tuple[FoundTurn, ...]
    speakers: tuple[FoundSpeaker, ...]
    form: str
    """How labels were written: ``colon``, ``bracket``, ``bold``, ``upper``, ``alone``, ``voice`` or ``none``."""
    sections: tuple[FoundSection, ...] = ()
    marks: tuple[FoundMark, ...] = ()

    @property
    def words(self) -> int:
        return sum(turn.words for turn in self.turns)


@dataclass(frozen=True)
class Remark:
    """A comment in a file: from ``(line, offset)`` to ``(line, offset)``, before labels are taken off."""

    first: tuple[int, int]
    last: tuple[int, int]
    text: str
    author: str


@dataclass
class _Piece:
    """What was said on one line: where it stood there, and (once assembled) stands in the text."""

    line: int
    offset: int
    text: str
    at: int = -1


@dataclass
class _Draft:
    """A turn as it grows."""

    label: str
    time: str
    pieces: list[_Piece]
    begin: float | None = None
    finish: float | None = None


def read_transcript(
    lines: Sequence[Line], corrections: Corrections | None = None, remarks: Sequence[Remark] = ()
) -> Transcript:
    """Take lines apart into turns. The labels and time stamps become facts about the turns;
    the text holds what was said, a line break between paragraphs and between turns."""
    corrections = corrections or Corrections()
    parts = list(_normalised(lines))
    form, accepted = ("none", set[str]())
    taken: list[list[LabelledLine]] = [[]] * len(parts)
    if not corrections.one_turn:
        cut = parted(parts, corrections.ignored)
        taken = [take_apart(part.line) for part in cut]
        form, accepted = find_form([part.line for part in cut], taken)
        if form not in ("colon", "bold") and len(cut) > len(parts):
            cut, taken = parts, [take_apart(part.line) for part in parts]
        parts = cut
    accepted -= set(corrections.ignored)
    if not accepted:
        form = "none"
    drafts = list(_drafts(parts, taken, form, accepted))
    alike = joined(dict.fromkeys(draft.label for draft in drafts))
    written = {draft.label: corrections.renamed.get(draft.label, "").strip() or alike[draft.label] for draft in drafts}
    headed = {part.number: part.line for part in reversed(parts)}
    return _assemble(drafts, written, corrections, form, headed, remarks)


def _normalised(lines: Sequence[Line]) -> Iterator[Part]:
    """Each line that holds anything, with its number in the file."""
    for number, line in enumerate(lines):
        at = 0
        whole = normalise(line.text)
        alone = len(whole) == len(line.text) and "\n" not in whole
        for place, text in enumerate(whole.split("\n")):
            if text.strip():
                # What is bold stands where it did unless letters were put together.
                bold, runs = (line.bold, line.runs) if place == 0 else (0, ())
                yield Part(number, line.of(text.rstrip(), bold, runs if alone else ()), at)
            at += len(text) + 1


def _drafts(parts: list[Part], taken: list[list[LabelledLine]], form: str, accepted: set[str]) -> Iterator[_Draft]:
    draft: _Draft | None = None
    for part, readings in zip(parts, taken, strict=True):
        line = part.line
        label, time, piece = _said_on(part, readings, form, accepted)
        if label is None and line.heading and form != "none":
            label = HEADINGS
        if draft is not None and _goes_on(draft, label, line):
            draft.pieces.append(piece)
            draft.finish = line.end
            continue
        if draft is not None:
            yield draft
        after_heading = draft is not None and draft.label == HEADINGS
        carried = draft.label if draft is not None and not after_heading else WHOLE if form == "none" else BEFORE_FIRST
        draft = _Draft(label or carried, time or written_time(line.begin), [piece], line.begin, line.end)
    if draft is not None:
        yield draft


def _said_on(part: Part, readings: list[LabelledLine], form: str, accepted: set[str]) -> tuple[str | None, str, _Piece]:
    """The label on a line (None for none), its time, and what is said there."""
    line = part.line
    if form == "voice":
        label = line.voice if line.voice in accepted else None
        plain = unlabelled(line) if line.begin is None else LabelledLine(None, "", line.text)
        lead = len(line.text) - len(plain.said.lstrip())
        return label, plain.time, _Piece(part.number, part.at + lead, plain.said.strip())
    found = next((r for r in readings if r.form == form and r.label in accepted), None) or next(
        # Whoever goes on in another style means the same people.
        (r for r in readings if form != "none" and r.form in _ALSO and r.label in accepted),
        None,
    )
    plain = found or (unlabelled(line) if form != "none" else LabelledLine(None, "", line.text))
    # What is said is always the end of its line.
    offset = part.at + len(line.text) - len(plain.said.lstrip())
    piece = _Piece(part.number, offset, plain.said.strip() if found else plain.said)
    return (found.label, found.time, piece) if found else (None, "", piece)


def _goes_on(draft: _Draft, label: str | None, line: Line) -> bool:
    """Whether a line belongs to the turn before it."""
    if line.begin is None:
        return label is None and (draft.label != HEADINGS)
    pause = line.begin - draft.finish if draft.finish is not None else 0.0
    long = sum(len(piece.text) for piece in draft.pieces) > LONG_TURN
    return (label is None or label == draft.label) and pause < PAUSE and not long


def _assemble(
    drafts: list[_Draft],
    written: dict[str, str],
    corrections: Corrections,
    form: str,
    lines: dict[int, Line],
    remarks: Sequence[Remark],
) -> Transcript:
    kept = [draft for draft in drafts if any(piece.text.strip() for piece in draft.pieces)]
    order = list(dict.fromkeys(written[draft.label] for draft in kept))
    place_of = {label: place for place, label in enumerate(order)}
    parts: list[str] = []
    length, turns = 0, []
    for draft in kept:
        said = [piece for piece in draft.pieces if piece.text.strip()]
        start = length
        for piece in said:
            piece.at = length
            length += len(piece.text) + 1
        # A turn of a recording is one paragraph; elsewhere paragraphs stay as they were.
        spoken = (" " if draft.begin is not None else "\n").join(piece.text for piece in said)
        parts.append(spoken)
        ink_start, ink_end = ink_bounds(spoken, 0, len(spoken))
        turns.append(
            FoundTurn(
                place_of[written[draft.label]],
                start,
                length,
                start + ink_start,
                start + ink_end,
                count_words(spoken),
                draft.time,
                draft.begin,
                draft.finish,
            )
        )
    text = "\n".join(parts)
    if turns:
        # Between turns stands a line break, after the last nothing.
        turns[-1] = replace(turns[-1], end=len(text))
    pieces = [piece for draft in kept for piece in draft.pieces if piece.at >= 0]
    return Transcript(
        text,
        tuple(turns),
        tuple(_speakers(kept, written, order, turns, text, corrections)),
        form,
        tuple(_sections(pieces, lines, len(text))),
        tuple(_marks(pieces, remarks)),
    )


def _speakers(
    drafts: list[_Draft],
    written: dict[str, str],
    order: list[str],
    turns: list[FoundTurn],
    text: str,
    corrections: Corrections,
) -> Iterator[FoundSpeaker]:
    own: list[list[FoundTurn]] = [[] for _ in order]
    for turn in turns:
        own[turn.speaker].append(turn)
    originals: dict[str, dict[str, None]] = {}
    for draft in drafts:
        originals.setdefault(written[draft.label], {})[draft.label] = None
    guesses = _guessed(order, own, text)
    for label, theirs, guess in zip(order, own, guesses, strict=True):
        chosen = corrections.roles.get(label)
        yield FoundSpeaker(
            label,
            chosen or guess.role,
            len(theirs),
            sum(turn.words for turn in theirs),
            text[theirs[0].ink_start : theirs[0].ink_end].replace("\n", " ")[:90],
            tuple(originals[label]),
            "" if chosen else guess.reason,
        )


def _guessed(order: list[str], own: list[list[FoundTurn]], text: str) -> list[Guess]:
    """A role for each label: by what it means, else by how its turns end and how much it says."""
    guesses = [Guess("other") if label in (BEFORE_FIRST, HEADINGS) else by_meaning(label) for label in order]
    talks = [
        Talk(
            len(theirs),
            sum(text[turn.ink_start : turn.ink_end].rstrip('"”’») ').endswith(("?", "？", "؟")) for turn in theirs),
            sum(turn.words for turn in theirs),
        )
        for theirs in own
    ]
    asking = by_talk(talks, [guess.role for guess in guesses])
    return [asking.get(place, guess) for place, guess in enumerate(guesses)]


def _sections(pieces: list[_Piece], lines: dict[int, Line], length: int) -> Iterator[FoundSection]:
    """Headings reach to the next of their level or above, pages to the next page."""
    headings = [
        (piece.at, piece.text.strip(), lines[piece.line].heading) for piece in pieces if lines[piece.line].heading
    ]
    for place, (at, title, level) in enumerate(headings):
        following = (start for start, _, other in headings[place + 1 :] if other <= level)
        yield FoundSection("heading", title[:300], level, at, next(following, length))
    pages: dict[int, int] = {}
    for piece in pieces:
        if lines[piece.line].page:
            pages.setdefault(lines[piece.line].page, piece.at)
    starts = list(pages.items())
    for place, (page, at) in enumerate(starts):
        end = starts[place + 1][1] if place + 1 < len(starts) else length
        yield FoundSection("page", say("Page {page}", page=page), page, at, end)


def _marks(pieces: list[_Piece], remarks: Sequence[Remark]) -> Iterator[FoundMark]:
    """Comments, moved from the file's lines to the text; one on a label alone moves to what follows it."""
    pieces = sorted(pieces, key=lambda piece: piece.line)
    lines = [piece.line for piece in pieces]
    for remark in remarks:
        start = _moved(pieces, lines, remark.first, 0)
        end = _moved(pieces, lines, remark.last, -1)
        if start is not None and end is not None and start < end:
            yield FoundMark(start, end, remark.text, remark.author)


def _moved(pieces: list[_Piece], lines: list[int], position: tuple[int, int], otherwise: int) -> int | None:
    """Where a position in the file stands in the text; ``lines`` are those of the pieces, in order. One on a line that isn't in
    the text moves to what follows it (``otherwise`` 0), or to what comes before."""
    line, offset = position
    at = bisect_left(lines, line)
    if at == len(lines) or lines[at] != line:
        if otherwise == 0:
            return pieces[at].at if at < len(pieces) else None
        return pieces[at - 1].at + len(pieces[at - 1].text) if at else None
    piece = pieces[at]
    return piece.at + min(max(offset - piece.offset, 0), len(piece.text))


def timed_by_labels(transcript: Transcript) -> Transcript:
    """Times written beside labels (``00:04:11``) as seconds into the recording, where no cue gave them.
    A turn lasts to the beginning of the next; one that runs backward has no time."""
    if any(turn.begin is not None for turn in transcript.turns):
        return transcript
    begins: list[float | None] = []
    latest = 0.0
    for turn in transcript.turns:
        begin = seconds_written(turn.time)
        if begin is not None and begin < latest:
            begin = None
        latest = latest if begin is None else begin
        begins.append(begin)
    turns: list[FoundTurn] = []
    following: float | None = None
    for turn, begin in zip(reversed(transcript.turns), reversed(begins), strict=True):
        finish = begin if following is None else following
        turns.append(replace(turn, begin=begin, finish=None if begin is None else finish))
        following = following if begin is None else begin
    return replace(transcript, turns=tuple(reversed(turns)))
