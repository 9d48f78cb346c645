"""The languages that Cohortia speaks, and their catalogues. Needs nothing of Django to be read."""

from datetime import date
from functools import lru_cache
from pathlib import Path

from babel import Locale
from babel.dates import format_date
from babel.messages.pofile import read_po
from babel.plural import PluralRule

from core.language import APART, ENGLISH, Catalogue, spoken

FOLDER = Path(__file__).resolve().parents[2] / "languages"
"""One folder a language, with its words of the web and of the server."""


@lru_cache(maxsize=1)
def offered() -> tuple[str, ...]:
    """English, and all whose words of both sides are there, by their tags."""
    both = (path.parent.name for path in FOLDER.glob("*/server.po") if path.with_name("web.po").exists())
    return ("en", *sorted(both))


@lru_cache(maxsize=16)
def catalogue_of(language: str) -> Catalogue:
    """English for a language that isn't spoken here."""
    if language == "en" or language not in offered():
        return ENGLISH
    locale = Locale.parse(language)
    with (FOLDER / language / "server.po").open("rb") as file:
        items = read_po(file, locale=locale)
    words = {
        f"{item.context}{APART}{item.id}" if item.context else str(item.id): str(item.string)
        for item in items
        if item.id and item.string
    }
    symbols = locale.number_symbols
    latin = symbols.get("latn", symbols)
    plural = locale.plural_form
    assert isinstance(plural, PluralRule)
    return Catalogue(language, words, plural, latin.get("decimal", "."), latin.get("group", ","))


def day(of: date) -> str:
    """``3 April 2026``, as the language that is spoken has it."""
    language = spoken().language
    return str(format_date(of, "long", locale="en_GB" if language == "en" else language))
