"""Changing a text while what was marked in it stays where it belongs."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from rapidfuzz.distance import Indel

from core.text.normalise import ink_bounds


@dataclass(frozen=True)
class Edit:
    """``[start, end)`` of the old text becomes ``text``."""

    start: int
    end: int
    text: str


@dataclass(frozen=True)
class Edited:
    """The new text, and where positions of the old one went."""

    text: str
    edits: tuple[Edit, ...]

    def moved(self, start: int, end: int) -> tuple[int, int] | None:
        """Where a stretch of the old text stands now, drawn in to its words; None where none of its
        words are left. A word changed inside a stretch, or at its edge, stays in it."""
        if not self._anything_left(start, end):
            return None
        first, last = self._position(start, "start"), self._position(end, "end")
        first, last = ink_bounds(self.text, first, max(first, last))
        return (first, last) if first < last else None

    def boundary(self, position: int) -> int:
        """Where a boundary between turns stands now; what is put in there belongs to the turn before it."""
        return self._position(position, "boundary")

    def _position(self, position: int, role: Literal["start", "end", "boundary"]) -> int:
        """Where a position stands now. An edit across a passage's edge is left outside the passage;
        one that begins or ends at the edge, on the passage's side of it, is inside."""
        shift = 0
        for edit in self.edits:
            if edit.start > position:
                break
            grown = len(edit.text) - (edit.end - edit.start)
            if edit.start == edit.end == position:
                if role == "end":
                    break
            elif edit.end > position:
                if edit.start < position and role != "end":
                    return edit.start + shift + len(edit.text)
                return edit.start + shift
            shift += grown
        return position + shift

    def _anything_left(self, start: int, end: int) -> bool:
        """Whether any of ``[start, end)`` stays, or an edit wholly inside puts something in its place."""
        covered = 0
        for edit in self.edits:
            inside = min(edit.end, end) - max(edit.start, start)
            if inside > 0:
                if edit.text.strip() and edit.start >= start and edit.end <= end:
                    return True
                covered += inside
        return covered < end - start


def one_after_another(moves: Sequence[tuple[tuple[int, int], tuple[int, int]]]) -> list[int]:
    """In which order stretches (each from where to where, in the order of where they are) move so that none lands on another on its
    way: those that move right from the right, those that move left from the left; which stay aren't among them."""
    right = [place for place, (was, now) in reversed(list(enumerate(moves))) if now > was]
    return [*right, *(place for place, (was, now) in enumerate(moves) if now < was)]


def apply_edits(text: str, edits: Sequence[Edit]) -> Edited:
    """Carry out edits, in any order; raises ``ValueError`` where two overlap or reach beyond the text."""
    ordered = sorted(edits, key=lambda edit: (edit.start, edit.end))
    if any(left.end > right.start for left, right in pairwise(ordered)):
        raise ValueError("edits overlap")
    if ordered and (ordered[0].start < 0 or ordered[-1].end > len(text)):
        raise ValueError("an edit reaches beyond the text")
    parts, at = [], 0
    for edit in ordered:
        parts += [text[at : edit.start], edit.text]
        at = edit.end
    return Edited("".join([*parts, text[at:]]), tuple(ordered))


def difference(old: str, new: str, offset: int = 0) -> list[Edit]:
    """The edits, word by word, that make ``new`` of ``old``; positions are moved on by ``offset``."""
    left, right = re.findall(r"\w+|\s+|[^\w\s]", old), re.findall(r"\w+|\s+|[^\w\s]", new)
    starts = [0]
    for word in left:
        starts.append(starts[-1] + len(word))
    edits: list[Edit] = []
    for step in Indel.opcodes(left, right):
        if step.tag == "equal":
            continue
        said = "".join(right[step.dest_start : step.dest_end])
        edit = Edit(offset + starts[step.src_start], offset + starts[step.src_end], said)
        if edits and edits[-1].end == edit.start:
            # Words taken out and others put in at one place are one change.
            edits[-1] = Edit(edits[-1].start, edit.end, edits[-1].text + edit.text)
        else:
            edits.append(edit)
    return edits


@dataclass(frozen=True)
class Search:
    """What to find. ``words``: whole words only; ``case``: capitals matter."""

    find: str
    words: bool = True
    case: bool = False

    def pattern(self) -> re.Pattern[str]:
        """Spaces in ``find`` match any run of spaces, within a paragraph or across."""
        inner = r"\s+".join(re.escape(part) for part in self.find.split())
        bounded = rf"(?<!\w){inner}(?!\w)" if self.words else inner
        return re.compile(bounded, 0 if self.case else re.IGNORECASE)


def replacements(text: str, search: Search, replacement: str) -> list[Edit]:
    """An edit for every place where ``search`` is found."""
    if not search.find.strip():
        return []
    return [Edit(found.start(), found.end(), replacement) for found in search.pattern().finditer(text)]


def pseudonyms(text: str, pairs: Sequence[tuple[str, str]]) -> list[Edit]:
    """Edits that put pseudonyms in place of names: the longest name first, so that *Anna Berg* goes
    before *Anna*; the genitive goes along; a name in capitals
    gets a pseudonym in capitals; one between underscores, as in file names, is found too."""
    named = {" ".join(name.split()).casefold(): pseudonym for name, pseudonym in pairs if name.strip()}
    if not named:
        return []
    alternatives = "|".join(
        r"[\s_]+".join(re.escape(part) for part in name.split()) for name in sorted(named, key=len, reverse=True)
    )
    pattern = re.compile(rf"(?<![^\W_])(?:{alternatives})(?![^\W_])", re.IGNORECASE)
    return [
        Edit(
            found.start(),
            found.end(),
            _in_the_case_of(found[0], named[" ".join(found[0].replace("_", " ").split()).casefold()]),
        )
        for found in pattern.finditer(text)
    ]


def _in_the_case_of(name: str, pseudonym: str) -> str:
    return pseudonym.upper() if len(name) > 1 and name.isupper() else pseudonym


def shown_in_context(text: str, edit: Edit, width: int = 60) -> tuple[str, str, str]:
    """What stands before, in, and after the place of an edit, for a preview."""
    flat: Callable[[str], str] = lambda part: part.replace("\n", " ")  # noqa: E731
    return (
        flat(text[max(0, edit.start - width) : edit.start]),
        flat(text[edit.start : edit.end]),
        flat(text[edit.end : edit.end + width]),
    )
