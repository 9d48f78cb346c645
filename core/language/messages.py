"""Messages in ICU's form, as far as ours use it: ``{name}``, ``{n, number}``, ``{n, plural, one {# code} other {# codes}}``,
``{which, select, …}``. The web reads the same form; one test holds both to what the whole form's reader makes of them."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal


@dataclass(frozen=True)
class Put:
    """A value by its name, as it is or as a number."""

    name: str
    kind: Literal["plain", "number"] = "plain"


@dataclass(frozen=True)
class Choice:
    """One of several ways to say it, by a value's plural form or by the value."""

    name: str
    kind: Literal["plural", "select"]
    ways: dict[str, "Parts"]


@dataclass(frozen=True)
class Counted:
    """``#``: the number that the plural around it goes by."""


Part = str | Put | Choice | Counted
Parts = tuple[Part, ...]


class BadMessage(ValueError):
    """A message that isn't in the form, with what is wrong with it."""


@lru_cache(maxsize=4096)
def parts_of(text: str) -> Parts:
    """A message in its parts. Raises :class:`BadMessage`."""
    reader = _Reader(text)
    parts = reader.parts(counting=False)
    if reader.at < len(text):
        raise BadMessage(f"a brace closes what isn't open: {text}")
    return parts


class _Reader:
    def __init__(self, text: str) -> None:
        self.text, self.at = text, 0

    def parts(self, *, counting: bool) -> Parts:
        """Up to the brace that closes what they are in, or the end."""
        found: list[Part] = []
        plain = ""
        while self.at < len(self.text) and self.text[self.at] != "}":
            sign = self.text[self.at]
            if sign != "{" and not (sign == "#" and counting):
                plain += sign
                self.at += 1
                continue
            if plain:
                found.append(plain)
                plain = ""
            if sign == "#":
                self.at += 1
                found.append(Counted())
            else:
                found.append(self.value(counting=counting))
        return (*found, plain) if plain else tuple(found)

    def value(self, *, counting: bool) -> Part:
        self.at += 1
        name = self.up_to(",}")
        if self.taken() == "}":
            return Put(name)
        kind = self.up_to(",}")
        closed = self.taken() == "}"
        if kind == "number" and closed:
            return Put(name, "number")
        if kind == "plural" and not closed:
            return Choice(name, "plural", self.ways(counting=True))
        if kind == "select" and not closed:
            return Choice(name, "select", self.ways(counting=counting))
        raise BadMessage(f"{kind} isn't known here: {self.text}")

    def ways(self, *, counting: bool) -> dict[str, Parts]:
        ways: dict[str, Parts] = {}
        while True:
            way = self.up_to("{}")
            if self.taken() == "}":
                if "other" not in ways:
                    raise BadMessage(f"a choice needs an “other”: {self.text}")
                return ways
            ways[way] = self.parts(counting=counting)
            if self.at >= len(self.text):
                raise BadMessage(f"a brace isn't closed: {self.text}")
            self.at += 1

    def up_to(self, signs: str) -> str:
        start = self.at
        while self.at < len(self.text) and self.text[self.at] not in signs:
            self.at += 1
        if self.at >= len(self.text):
            raise BadMessage(f"a brace isn't closed: {self.text}")
        return self.text[start : self.at].strip()

    def taken(self) -> str:
        self.at += 1
        return self.text[self.at - 1]
