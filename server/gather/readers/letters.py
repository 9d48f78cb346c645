"""Bytes of a text or sheet as text, with what is to be said of how they were read, and what else they could be."""

from dataclasses import dataclass
from typing import Any

from core.language import say
from core.text.encodings import Decoded, NotText, decode, in_words
from server.gather.readers.kinds import Unreadable

MOST_OFFERED = 8
_SAMPLE = 90


@dataclass(frozen=True)
class Letters:
    """``said`` is what a staged file keeps of it: empty where there is nothing to choose."""

    text: str
    words: str
    warnings: tuple[str, ...]
    said: dict[str, Any]


def read_letters(data: bytes, encoding: str | None) -> Letters:
    """``encoding``: as somebody chose; None: as it seems. Raises ``Unreadable``."""
    try:
        found = decode(data)
    except NotText as error:
        raise Unreadable(
            say("The file isn’t text in any encoding Cohortia knows. Save it as UTF-8, then add it again.")
        ) from error
    chosen = decode(data, encoding) if encoding and encoding != found.encoding else found
    plain = found.sure and not found.bad and (found.encoding.startswith("utf") or data.isascii())
    if plain and encoding is None:
        return Letters(found.text, found.words, (), {})
    said = {"read_as": chosen.encoding, "sure": chosen.sure, "choices": _choices(data, chosen, found)}
    return Letters(chosen.text, chosen.words, _warnings(chosen, chosen is found), said)


def _choices(data: bytes, chosen: Decoded, found: Decoded) -> list[dict[str, str]]:
    """What may be chosen, with a line in each; of those in which it reads alike the likeliest."""
    offered: dict[str, dict[str, str]] = {}
    for one in dict.fromkeys([chosen.encoding, found.encoding, *found.others]):
        sample = _sample(data, one)
        offered.setdefault(sample, {"id": one, "words": in_words(one), "sample": sample})
    return list(offered.values())[:MOST_OFFERED]


def _warnings(read: Decoded, guessed: bool) -> tuple[str, ...]:
    said = []
    if read.bad:
        first = read.where[0]
        them = say("One byte doesn’t") if read.bad == 1 else say("{bad, number} bytes don’t", bad=read.bad)
        said.append(
            say(
                "{them} fit {words} and {bad, plural, one {stands} other {stand}} as � in the text: {bad, plural, one {it is} other {the first is}} in line {line, number}, column {column, number} (byte {byte}).",
                them=them,
                words=read.words,
                bad=read.bad,
                line=first.line,
                column=first.column,
                byte=f"{first.byte:#04x}",
            )
        )
    if guessed and not read.encoding.startswith("utf"):
        doubt = "" if read.sure else say(", which isn’t certain")
        said.append(
            say(
                "The file doesn’t say how its letters are stored. It is read as {words}{doubt}: look at the words, and choose another way where they look wrong.",
                words=read.words,
                doubt=doubt,
            )
        )
    return tuple(said)


def _sample(data: bytes, encoding: str) -> str:
    """The beginning of the first line with letters beyond ASCII, as it would read."""
    for line in data[:2_000_000].splitlines():
        if not line.isascii():
            first = next(place for place, byte in enumerate(line) if byte > 127)
            # Of a long line the part that tells, from a character that is one byte in any of them.
            start = max(0, line.rfind(b" ", 0, max(0, first - 30)) + 1) if first > _SAMPLE // 2 else 0
            return line[start:].decode(encoding, errors="replace")[:_SAMPLE].strip()
    return data[:200].decode(encoding, errors="replace")[:_SAMPLE].strip()
