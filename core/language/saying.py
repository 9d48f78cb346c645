"""A message, said in the language that is spoken now."""

from core.language.messages import BadMessage, Choice, Counted, Parts, Put, parts_of
from core.language.speaking import Catalogue, spoken

APART = "\u0004"
"""Between what a message means and its words, where two are the same in English, as gettext has it."""


def say(text: str, /, meaning: str = "", **values: object) -> str:
    """The message in the language that is spoken, with its values put in. ``meaning`` tells two apart whose English is the same.

    >>> say("{n, plural, one {# code} other {# codes}} under {name}", n=1214, name="Getting across")
    '1,214 codes under Getting across'
    """
    now = spoken()
    words = now.messages.get(f"{meaning}{APART}{text}" if meaning else text, text)
    return words if "{" not in words else _put(parts_of(words), values, now, 0)


def message(text: str) -> str:
    """A message that is said later, by :func:`say`: for tables of words, which are made before anybody listens."""
    return text


def worded(text: str) -> str:
    """A message's words as they are, values not yet put in: for one that has none, or is filled where it is shown."""
    return spoken().messages.get(text, text)


def number(count: float) -> str:
    """``1,214``, as the language has it."""
    now = spoken()
    whole, point, rest = f"{count:,}".partition(".")
    return whole.replace(",", now.thousands) + (now.decimal + rest if point else "")


def decimal(value: float, digits: int) -> str:
    """``1.60``, with the decimal sign of the language."""
    return f"{value:.{digits}f}".replace(".", spoken().decimal)


def under_one(figure: str) -> str:
    """``.041``, written with a point, with the decimal sign of the language."""
    return figure.replace(".", spoken().decimal)


def _put(parts: Parts, values: dict[str, object], now: Catalogue, counted: float) -> str:
    said = []
    for part in parts:
        match part:
            case str():
                said.append(part)
            case Counted():
                said.append(number(counted))
            case Put(name, "number"):
                said.append(number(_count(values, name)))
            case Put(name):
                said.append(str(_value(values, name)))
            case Choice(name, "plural", ways):
                count = _count(values, name)
                chosen = ways.get(f"={count}") or ways.get(now.plural(count)) or ways["other"]
                said.append(_put(chosen, values, now, count))
            case Choice(name, _, ways):
                said.append(_put(ways.get(str(_value(values, name)), ways["other"]), values, now, counted))
    return "".join(said)


def _value(values: dict[str, object], name: str) -> object:
    if name not in values:
        raise BadMessage(f"{name} isn't among the values: {sorted(values)}")
    return values[name]


def _count(values: dict[str, object], name: str) -> float:
    value = _value(values, name)
    if hasattr(value, "item"):
        value = value.item()
    if not isinstance(value, int | float):
        raise BadMessage(f"{name} has to be a number: {value!r}")
    return value
