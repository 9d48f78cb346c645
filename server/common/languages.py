"""The languages that Cohortia speaks: their catalogues, and which one is spoken to whom. Needs nothing of Django to be read."""

from functools import lru_cache
from pathlib import Path

from babel import Locale
from babel.messages.pofile import read_po
from babel.plural import PluralRule

from core.language import ENGLISH, Catalogue, spoken

FOLDER = Path(__file__).resolve().parents[2] / "languages"
"""One folder a language, with its words of the web and of the server."""
_APART = "\u0004"


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
        f"{item.context}{_APART}{item.id}" if item.context else str(item.id): str(item.string)
        for item in items
        if item.id and item.string
    }
    symbols = locale.number_symbols
    latin = symbols.get("latn", symbols)
    plural = locale.plural_form
    assert isinstance(plural, PluralRule)
    return Catalogue(language, words, plural, latin.get("decimal", "."), latin.get("group", ","))


def chosen(wanted: str) -> str:
    """The first language of an ``Accept-Language`` that is spoken here, by how much it is wanted."""
    weighed: list[tuple[float, str]] = []
    for one in wanted.split(",")[:20]:
        tag, _, weight = one.strip().partition(";")
        try:
            much = float(weight.strip().removeprefix("q=")) if weight else 1.0
        except ValueError:
            continue
        weighed.append((-much, tag.strip().lower().split("-")[0]))
    for much, tag in sorted(weighed, key=lambda pair: pair[0]):
        if much and tag in offered():
            return tag
    return "en"


def now() -> str:
    return spoken().language
