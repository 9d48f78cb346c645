"""Lines of a .rtf: its text, headings and bold beginnings.

Read here and not by the converter of the other kinds: that one loses letters after characters
which a word processor writes in two ways, and halves of those beyond the basic plane.
Source: Rich Text Format Specification 1.9.1, sections on destinations, ``\\uN``, ``\\ucN`` and ``\\'hh``.
"""

import codecs
import re
from dataclasses import dataclass, field, replace

from core.gather.labels import Line, bold_lines
from core.language import say
from server.gather.readers.kinds import Unreadable

_TOKEN = re.compile(
    rb"\\([a-z]{1,32})(-?\d{1,10})? ?|\\'([0-9a-fA-F]{2})|\\([^a-z])|([{}])|[\r\n]+|([^\\{}\r\n]+)", re.I
)
_SKIPPED = {
    "fonttbl", "colortbl", "info", "pict", "object", "header", "headerl", "headerr", "headerf", "footer", "footerl",
    "footerr", "footerf", "footnote", "annotation", "themedata", "generator", "xmlnstbl", "listtable",
    "listtext", "pntext", "listoverridetable", "rsidtbl", "pgptbl", "datastore", "latentstyles", "fldinst", "filetbl", "revtbl", "upr",
}  # fmt: skip
_SIGNS = {
    "tab": "\t", "line": "\n", "emdash": "—", "endash": "–", "lquote": "‘", "rquote": "’", "ldblquote": "“",
    "rdblquote": "”", "bullet": "•", "emspace": " ", "enspace": " ", "cell": "\t",
}  # fmt: skip
MAX_DEPTH = 200


@dataclass
class _State:
    """What a group inherits."""

    bold: bool = False
    skip: bool = False
    hidden: bool = False
    style: bool = False
    after_unicode: int = 1
    encoding: str = ""


@dataclass
class _Reading:
    lines: list[Line] = field(default_factory=list)
    pieces: list[tuple[str, bool]] = field(default_factory=list)
    heading: int = 0
    styles: dict[int, int] = field(default_factory=dict)
    style_number: int = 0
    style_name: str = ""
    high: int = 0
    hidden: str = ""
    notes: int = 0

    def add(self, text: str, state: _State) -> None:
        if state.style:
            self.style_name += text
        elif state.hidden and not state.skip:
            self.hidden += text
        elif not state.skip:
            self.pieces.append((text, state.bold))

    def paragraph(self) -> None:
        """The pieces gathered so far as a paragraph; it may hold line breaks."""
        self.lines += bold_lines(self.pieces, self.heading)
        self.pieces = []


def rtf_lines(data: bytes) -> tuple[list[Line], list[str]]:
    """Paragraphs in order, and sentences on what isn't read; raises ``Unreadable`` where the groups nest too deep."""
    found = _Reading()
    state = _State(encoding=_codepage(data))
    stack: list[_State] = []
    ignore = 0  # characters that stand in for a \\uN in programs that don't know it
    for token in _TOKEN.finditer(data):
        word, number, hexadecimal, symbol, brace, text = token.groups()
        if brace == b"{":
            stack.append(replace(state))
            if len(stack) > MAX_DEPTH:
                raise Unreadable(say("The file is damaged: its groups are nested far too deep."))
        elif brace == b"}":
            if not stack:
                break
            if state.style:
                _name_style(found)
            state = stack.pop()
            ignore = 0
        elif word is not None:
            name = word.decode().lower()
            value = int(number) if number else None
            if name == "u" and value is not None:
                _unicode(found, value, state)
                ignore = state.after_unicode
            else:
                _control(found, state, name, value)
        elif symbol is not None:
            _symbol(found, state, symbol)
        else:
            raw = bytes([int(hexadecimal, 16)]) if hexadecimal is not None else text or b""
            said = raw.decode(state.encoding, "replace")
            found.add(said[ignore:], state)
            ignore = max(0, ignore - len(said))
    if found.pieces:
        found.paragraph()
    return found.lines, _left_out(found, bool(stack))


def _left_out(found: _Reading, broken: bool) -> list[str]:
    said = []
    words = len(found.hidden.split())
    if words:
        said.append(
            say(
                "{words, number} {words, plural, one {word is} other {words are}} hidden in the file and left out.",
                words=words,
            )
        )
    if found.notes:
        said.append(
            say("{notes, number} {notes, plural, one {footnote is} other {footnotes are}} not read.", notes=found.notes)
        )
    if broken:
        said.append(say("The file breaks off before its end: what would have come after is missing."))
    return said


def _codepage(data: bytes) -> str:
    said = re.search(rb"\\ansicpg(\d{1,5})", data[:4000])
    name = f"cp{said[1].decode()}" if said else "cp1252"
    try:
        return codecs.lookup(name).name  # an empty text is decoded without the name being looked at
    except LookupError:
        return "cp1252"


def _unicode(found: _Reading, value: int, state: _State) -> None:
    """A character by number, written as 16 bits with a sign; two make one beyond the basic plane."""
    code = value % 0x10000
    if 0xD800 <= code < 0xDC00:
        found.high = code
    elif 0xDC00 <= code < 0xE000:
        if found.high:
            found.add(chr(0x10000 + ((found.high - 0xD800) << 10) + code - 0xDC00), state)
        found.high = 0
    else:
        found.add(chr(code), state)


def _control(found: _Reading, state: _State, name: str, value: int | None) -> None:
    if name in _SKIPPED:
        found.notes += name == "footnote" and not state.skip
        state.skip = True
    elif name == "stylesheet":
        state.skip, state.style = True, True
    elif name in _SIGNS:
        found.add(_SIGNS[name], state)
    elif name == "s" and value is not None and state.style:
        found.style_number = value
    elif name == "v":
        state.hidden = value != 0
        found.hidden += " "
    elif name == "uc":
        state.after_unicode = max(0, 1 if value is None else value)
    elif name in ("b", "plain"):
        state.bold = name == "b" and value != 0
        state.hidden = state.hidden and name != "plain"
    elif not state.skip:
        _paragraph_control(found, name, value)


def _paragraph_control(found: _Reading, name: str, value: int | None) -> None:
    if name in ("par", "sect", "page", "row"):
        found.paragraph()
    elif name == "pard":
        found.heading = 0
    elif name == "s" and value is not None:
        found.heading = found.styles.get(value, found.heading)
    elif name == "outlinelevel" and value is not None and value < 9:
        found.heading = value + 1


def _symbol(found: _Reading, state: _State, symbol: bytes) -> None:
    if symbol == b"*":
        state.skip = True
    elif symbol in (b"\\", b"{", b"}"):
        found.add(symbol.decode(), state)
    elif symbol == b"~":
        found.add(" ", state)
    elif symbol == b"_":
        found.add("‑", state)
    elif symbol in (b"\n", b"\r") and not state.skip:
        found.paragraph()


def _name_style(found: _Reading) -> None:
    """At the end of a style's group: whether it is one of headings."""
    level = re.fullmatch(r"\s*heading\s*(\d)\s*;?", found.style_name, re.IGNORECASE)
    if level:
        found.styles[found.style_number] = int(level[1])
    found.style_name = ""
