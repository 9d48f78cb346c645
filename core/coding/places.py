"""Where a passage is: a stretch of text, a region of a picture or page, a span of a recording."""

from dataclasses import dataclass

from core.language import say

FULL = 10_000
"""A picture’s width and its height, in the unit of regions: they hold at any zoom and rotation."""
SMALLEST = 40
"""A region’s least width and height: less is a slip of the pointer."""
SHORTEST = 0.1
"""Seconds of the shortest span."""


@dataclass(frozen=True)
class Stretch:
    """``[start, end)`` of a document’s text, in code points."""

    start: int
    end: int

    def found_again(self, text: str, begins: str, ends: str) -> "Stretch | None":
        """Where the words stand that somebody marked here in what may have been an earlier ``text``, beginning and ending so: here, or
        where they stand once, as far apart; None where they don’t, or more than once."""
        length = self.end - self.start

        def stand(at: int) -> bool:
            return text.startswith(begins, at) and at + length <= len(text) and text.endswith(ends, at, at + length)

        if stand(self.start):
            return self
        found: list[int] = []
        at = text.find(begins)
        while at >= 0 and len(found) < 2:
            found += [at] if stand(at) else []
            at = text.find(begins, at + 1)
        return Stretch(found[0], found[0] + length) if len(found) == 1 else None


@dataclass(frozen=True)
class Region:
    """A part of a picture (or a PDF’s page) ``page``, counted from 1; edges in ten-thousandths of the upright
    picture’s width and height, from its left and top."""

    page: int
    left: int
    top: int
    right: int
    bottom: int

    def drawn_in(self) -> "Region":
        """Within the picture, edges in order."""
        left, right = sorted(min(FULL, max(0, edge)) for edge in (self.left, self.right))
        top, bottom = sorted(min(FULL, max(0, edge)) for edge in (self.top, self.bottom))
        return Region(self.page, left, top, right, bottom)

    @property
    def large_enough(self) -> bool:
        return self.right - self.left >= SMALLEST and self.bottom - self.top >= SMALLEST


@dataclass(frozen=True)
class Span:
    """Seconds into a recording, from its beginning."""

    begin: float
    finish: float


Place = Stretch | Region | Span


def in_words(place: Region | Span, paged: bool) -> str:
    """``a region of page 2`` · ``0:12–0:31``"""
    if isinstance(place, Span):
        return f"{clock(place.begin)}–{clock(place.finish)}"
    return (
        say("a region of page {page}", page=place.page) if paged or place.page > 1 else say("a region of the picture")
    )


def clock(seconds: float) -> str:
    """``0:07`` · ``1:02:03``"""
    whole = int(seconds)
    hours, minutes, rest = whole // 3600, whole % 3600 // 60, whole % 60
    return f"{hours}:{minutes:02}:{rest:02}" if hours else f"{minutes}:{rest:02}"
