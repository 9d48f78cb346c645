"""Where codes are put: checked against the document, and the passage that is there or is made."""

import math
from typing import Any

from core.coding.places import SHORTEST, SMALLEST, Place, Region, Span, Stretch
from core.language import say
from core.text.normalise import ink_bounds
from server.coding.models import Passage
from server.common.errors import Conflict, Refusal
from server.gather.models import Document
from server.projects.change import Change


def located(document: Document, place: Place) -> dict[str, Any]:
    """The columns of a passage at this place; refused with a sentence where it isn't in the document."""
    if isinstance(place, Region):
        return _region(document, place)
    if isinstance(place, Span):
        return _span(document, place)
    start, end = drawn_in(document, place.start, place.end)
    return {"start": start, "end": end}


def as_read(document: Document, place: Place, begins: str, ends: str) -> Place:
    """Where the words of a stretch stand by now; refused where the text doesn't hold them any more, or not once."""
    if not isinstance(place, Stretch):
        return place
    found = place.found_again(document.text, begins, ends)
    if found is None:
        raise Conflict(
            say(
                "Somebody changed the text of “{title}” after you read it, and “{words}” isn’t there once: nothing was coded. Mark the words again.",
                title=document.title,
                words=short(begins),
            )
        )
    return found


def drawn_in(document: Document, start: int, end: int) -> tuple[int, int]:
    """The stretch drawn in to non-space characters; refused where it isn't in the text."""
    if not 0 <= start < end <= document.length:
        raise Refusal(say("This stretch isn’t in the document; reload it and select again."))
    start, end = ink_bounds(document.text, start, end)
    if start == end:
        raise Refusal(say("Only spaces are selected; select the words."))
    return start, end


def _region(document: Document, place: Region) -> dict[str, Any]:
    pages = document.media.filter(role="pages", number__gte=place.page).exists()
    if place.page < 1 or not (pages or document.media.filter(role="picture", number=place.page).exists()):
        raise Refusal(say("This document has no such page or picture; reload it."))
    region = place.drawn_in()
    if not region.large_enough:
        raise Refusal(
            say(
                "The region is smaller than {smallest} % of the picture; draw it a little larger.",
                smallest=f"{SMALLEST / 100:g}",
            )
        )
    return vars(region) | {"start": 0, "end": 0}


def _span(document: Document, place: Span) -> dict[str, Any]:
    if not document.media.filter(role="recording").exists():
        raise Refusal(say("This document has no recording."))
    begin, finish = sorted((place.begin, place.finish))
    if not (math.isfinite(begin) and math.isfinite(finish)):
        raise Refusal(say("A span has a beginning and an end in seconds."))
    begin, finish = max(0.0, begin), min(finish, document.seconds or finish)
    # To the hundredth: what the ear tells apart, and equal spans are one.
    begin, finish = round(begin, 2), round(finish, 2)
    if finish - begin < SHORTEST:
        raise Refusal(say("The span has no length; mark where it begins, listen on, then mark where it ends."))
    return {"start": 0, "end": 0, "begin": begin, "finish": finish}


def passage_at(change: Change, document: Document, place: Place) -> tuple[Passage, bool]:
    """The passage at this place, and whether it was made, as it is where there is none."""
    columns = located(document, place)
    there = Passage.objects.filter(document=document, **columns).first()
    return there or change.create(Passage(document=document, **columns), if_unused=True), there is None


def said(passage: Passage) -> str:
    """A passage in a few words, for the trail; needs its document."""
    if isinstance(passage.place, Stretch):
        return f"“{short(passage.said)}”"
    return (
        say("{said} of {title}", said=passage.said, title=passage.document.title)
        if passage.page is None
        else passage.said
    )


def short(text: str) -> str:
    text = " ".join(text.split())
    return text if len(text) <= 40 else f"{text[:38].rstrip()}…"
