"""From the lines of a document to turns and speakers, and the text they cover."""

from collections import Counter
from dataclasses import dataclass, field

from core.gather.labels import LabelledLine, Line, looks_named, plausible, take_apart, unlabelled
from core.gather.roles import Role, likely_role
from core.text.normalise import ink_bounds, normalise
from core.text.words import count_words

BEFORE_FIRST = "Before the first speaker"
"""Label of what stands above the first labelled turn: kept, and nobody's."""
WHOLE = "Whole document"
"""Label of the one speaker of a document in which nobody is labelled."""


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


@dataclass(frozen=True)
class FoundTurn:
    """``[start, end)`` in code points; the turns cover the text whole, in order. ``ink_*`` are
    drawn in to non-space characters."""

    speaker: int
    start: int
    end: int
    ink_start: int
    ink_end: int
    words: int
    time: str


@dataclass(frozen=True)
class Transcript:
    text: str
    turns: tuple[FoundTurn, ...]
    speakers: tuple[FoundSpeaker, ...]
    form: str
    """How labels were written: ``colon``, ``bracket``, ``bold``, ``upper``, ``alone`` or ``none``."""

    @property
    def words(self) -> int:
        return sum(turn.words for turn in self.turns)


def read_transcript(lines: list[Line], corrections: Corrections | None = None) -> Transcript:
    """Take lines apart into turns. The labels and time stamps become facts about the turns;
    the text holds what was said, a line break between paragraphs and between turns."""
    corrections = corrections or Corrections()
    lines = _normalised(lines)
    form, accepted = ("none", set[str]()) if corrections.one_turn else _find_form(lines)
    accepted -= set(corrections.ignored)
    if not accepted:
        return _assemble([(WHOLE, "", [line.text for line in lines])], {}, corrections, "none")
    turns: list[tuple[str, str, list[str]]] = []
    for line in lines:
        reading = next((r for r in take_apart(line) if r.form == form and r.label in accepted), None)
        if reading is not None:
            assert reading.label is not None
            turns.append((reading.label, reading.time, [reading.said.strip()] if reading.said.strip() else []))
        else:
            plain = unlabelled(line)
            if not turns:
                turns.append((BEFORE_FIRST, "", []))
            turns[-1][2].append(plain.said)
    written = {label: corrections.renamed.get(label, label).strip() or label for label, _, _ in turns}
    return _assemble(turns, written, corrections, form)


def _normalised(lines: list[Line]) -> list[Line]:
    result = []
    for line in lines:
        for place, text in enumerate(normalise(line.text).split("\n")):
            if text.strip():
                result.append(Line(text.rstrip(), line.bold if place == 0 else 0))
    return result


def _find_form(lines: list[Line]) -> tuple[str, set[str]]:
    """The one way of labelling that explains most lines, and the labels it finds."""
    best: tuple[float, str, set[str]] = (0, "none", set())
    readings: dict[str, list[tuple[int, LabelledLine]]] = {}
    for place, line in enumerate(lines):
        for reading in take_apart(line):
            readings.setdefault(reading.form, []).append((place, reading))
    for form, found in readings.items():
        accepted = _accept(form, found, len(lines))
        explained = [place for place, reading in found if reading.label in accepted]
        if not explained:
            continue
        # Labels that begin early and recur beat a stray one, bold ones beat what only looks alike.
        weight = len(explained) * (1.2 if form in ("bold", "bracket") else 0.9 if form == "alone" else 1.0)
        if weight > best[0]:
            best = (weight, form, accepted)
    return best[1], best[2]


def _accept(form: str, found: list[tuple[int, LabelledLine]], total: int) -> set[str]:
    times = Counter(reading.label or "" for _, reading in found)
    stamped = {reading.label for _, reading in found if reading.time}
    accepted = set()
    for label, count in times.items():
        named = looks_named(label)
        short = len(label.split()) <= 4
        if form == "alone":
            # A line on its own is a label only if it recurs, or is plainly an ID or a role.
            certain = named and (likely_role(label) != "participant" or any(c.isdigit() for c in label))
            recurs = count >= 2 and named and not label.endswith(".") and len(label) <= 30
            good = certain or recurs or (label in stamped and named)
        elif form == "bold":
            good = named or count >= 2
        else:
            good = (named and count >= 1) or (count >= 2 and short and plausible(label) and label[0].isupper())
        if good:
            accepted.add(label)
    recurring = [label for label in accepted if times[label] >= 2]
    known = [label for label in accepted if likely_role(label) != "participant" or any(c.isdigit() for c in label)]
    if not recurring and not known and not (form == "bold" and len(accepted) > 1):
        return set()
    if recurring and form in ("bold", "bracket"):
        # Where labels are marked as such, whoever speaks once is marked too.
        accepted |= {label for label in times if len(label.split()) <= 4 and label[0].isupper()}
    return accepted


def _assemble(
    turns: list[tuple[str, str, list[str]]], written: dict[str, str], corrections: Corrections, form: str
) -> Transcript:
    kept = [(written.get(label, label), label, time, "\n".join(said)) for label, time, said in turns]
    kept = [turn for turn in kept if turn[3].strip()]
    order: list[str] = list(dict.fromkeys(label for label, *_ in kept))
    text, found = "", []
    for place, (label, _, time, said) in enumerate(kept):
        start = len(text)
        text += said + ("\n" if place < len(kept) - 1 else "")
        ink_start, ink_end = ink_bounds(text, start, len(text))
        found.append(FoundTurn(order.index(label), start, len(text), ink_start, ink_end, count_words(said), time))
    speakers = []
    for position, label in enumerate(order):
        own = [turn for turn in found if turn.speaker == position]
        first = text[own[0].ink_start : own[0].ink_end].replace("\n", " ")
        role: Role = "other" if label == BEFORE_FIRST else likely_role(label)
        speakers.append(
            FoundSpeaker(
                label,
                corrections.roles.get(label, role),
                len(own),
                sum(turn.words for turn in own),
                first[:90],
                tuple(dict.fromkeys(original for name, original, *_ in kept if name == label)),
            )
        )
    return Transcript(text, tuple(found), tuple(speakers), form)
