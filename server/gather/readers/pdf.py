"""Text of a .pdf by page, and pictures of its pages."""

from pathlib import Path

import pypdfium2 as pdfium

from core.gather.labels import Line
from core.gather.pages import page_lines
from core.language import message, say, worded
from server.gather.readers.kinds import Unreadable

MAX_PAGES = 3_000
MAX_CHARACTERS = 5_000_000
WIDTH = 1_100
"""Pixels across a page picture."""
THUMBNAIL = 240
MAX_RATIO = 6
"""Height to width beyond which a page is no page."""
SCAN = message(
    "No text is in this PDF: its pages are pictures (a scan). It comes in as pages to look at; words can’t be coded in it."
)


def pdf_lines(path: Path) -> tuple[list[Line], int, list[str]]:
    """Paragraphs with their page, the number of pages, and sentences to be read."""
    document = _opened(path)
    try:
        count = len(document)
        if count > MAX_PAGES:
            raise Unreadable(
                say(
                    "The PDF has {count, number} pages; Cohortia takes up to {max_pages, number}. Split it.",
                    count=count,
                    max_pages=MAX_PAGES,
                )
            )
        pages, length = [], 0
        for number in range(count):
            page = document[number]
            words = page.get_textpage()
            # Codes for characters that a font doesn't name, and the marks of hyphens at line ends.
            text = words.get_text_bounded().replace("\ufffe", "-").replace("\x02", "-").replace("\x00", "")
            words.close()
            page.close()
            length += len(text)
            if length > MAX_CHARACTERS:
                raise Unreadable(
                    say("The text is longer than five million characters. Split it into several documents.")
                )
            pages.append(text)
    except pdfium.PdfiumError as error:
        raise Unreadable(say("The PDF is damaged: a page can’t be read.")) from error
    finally:
        document.close()
    empty = sum(not page.strip() for page in pages)
    warnings = []
    if empty == count:
        warnings.append(worded(SCAN))
    elif empty:
        said = say("One page holds") if empty == 1 else say("{empty} pages hold", empty=empty)
        warnings.append(say("{said} no text: pictures only, or scanned.", said=said))
    return page_lines(pages), count, warnings


def render(path: Path, number: int, out: Path, width: int = WIDTH) -> tuple[int, int]:
    """Draw page ``number`` (from 1) as a picture of ``width`` pixels; returns its size."""
    document = _opened(path)
    try:
        if not 1 <= number <= len(document):
            raise Unreadable(say("There is no such page."))
        page = document[number - 1]
        across, down = page.get_size()
        if across <= 0 or down / across > MAX_RATIO:
            raise Unreadable(say("The page has no size that can be drawn."))
        picture = page.render(scale=width / across).to_pil().convert("RGB")
        picture.save(out, "WEBP", quality=82)
        return picture.size
    except pdfium.PdfiumError as error:
        raise Unreadable(say("The page can’t be drawn.")) from error
    finally:
        document.close()


def _opened(path: Path) -> pdfium.PdfDocument:
    try:
        return pdfium.PdfDocument(path)
    except pdfium.PdfiumError as error:
        if "password" in str(error).casefold():
            raise Unreadable(
                say("The PDF is protected by a password. Save it without one, then add it again.")
            ) from error
        raise Unreadable(say("The PDF is damaged or cut off: it can’t be opened.")) from error
