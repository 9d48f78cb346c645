"""Lines of .odt and .html, by way of a converter that may read nothing but what it is given."""

import json
import re
import subprocess
from pathlib import Path
from typing import Any

import pypandoc

from core.gather.labels import Line, bold_lines
from core.language import message, say, worded
from core.text.encodings import NotText, decode
from server.gather.readers.archive import check_archive
from server.gather.readers.kinds import Unreadable, extension

SECONDS = 40
_FORMATS = {"odt": "odt", "html": "html", "htm": "html"}
_NAMES = {
    "odt": message("an OpenDocument text"),
    "html": message("a web page"),
    "htm": message("a web page"),
}


def office_lines(name: str, path: Path) -> tuple[list[Line], str]:
    """Paragraphs with their headings and bold beginnings, and the format in words."""
    ending = extension(name)
    data = path.read_bytes()
    if ending == "odt":
        check_archive(data, "content.xml")
    if ending in ("html", "htm"):
        data = _as_utf8(data)
    tree = _converted(_FORMATS[ending], data, worded(_NAMES[ending]))
    lines = [line for block in tree["blocks"] for line in _block(block)]
    return [line for line in lines if line.text.strip()], ending


def _as_utf8(data: bytes) -> bytes:
    """A web page says its encoding itself, else it is guessed as for any text."""
    said = re.search(rb"charset=[\"']?([\w-]+)", data[:4096], re.IGNORECASE)
    try:
        if said and not data.startswith((b"\xef\xbb\xbf", b"\xff\xfe", b"\xfe\xff")):
            return data.decode(said[1].decode("ascii")).encode()
    except (LookupError, UnicodeDecodeError):
        pass
    try:
        return decode(data).text.encode("utf-8", "replace")
    except NotText as error:
        raise Unreadable(say("The page isn’t text in any encoding Cohortia knows. Save it as UTF-8.")) from error


def _converted(kind: str, data: bytes, name: str) -> dict[str, Any]:
    command = [pypandoc.get_pandoc_path(), "--from", kind, "--to", "json", "--sandbox", "+RTS", "-M700M", "-RTS"]
    try:
        done = subprocess.run(command, input=data, capture_output=True, timeout=SECONDS, check=True)
        return dict(json.loads(done.stdout))
    except subprocess.TimeoutExpired as error:
        raise Unreadable(
            say("The file takes longer to read than a text should; save it anew as .docx or .txt.")
        ) from error
    except (subprocess.CalledProcessError, json.JSONDecodeError, RecursionError) as error:
        raise Unreadable(
            say("The file is damaged, or isn’t {name}: no text can be read from it.", name=name)
        ) from error


def _block(block: dict[str, Any], heading: int = 0) -> list[Line]:
    kind: str = block["t"]
    held: Any = block.get("c")
    if kind in ("Para", "Plain"):
        return _paragraph(held, heading)
    if kind == "Header":
        return _paragraph(held[2], held[0])
    if kind == "LineBlock":
        return [line for inlines in held for line in _paragraph(inlines, 0)]
    if kind == "CodeBlock":
        return [Line(text) for text in held[1].split("\n")]
    if kind in ("BulletList",):
        return [line for item in held for block in item for line in _block(block)]
    if kind == "OrderedList":
        return [line for item in held[1] for block in item for line in _block(block)]
    if kind == "DefinitionList":
        return [
            line
            for term, items in held
            for line in [*_paragraph(term, 0), *[one for item in items for block in item for one in _block(block)]]
        ]
    if kind == "Div" and any(pair[0] == "title" and pair[1] in ("header", "footer") for pair in held[0][2]):
        # What stands at the edge of each printed page is nobody's words.
        return []
    if kind in ("BlockQuote", "Div", "Figure"):
        inner = held if kind == "BlockQuote" else held[-1]
        return [line for block in inner for line in _block(block)]
    if kind == "Table":
        return _table(held)
    return []


def _table(held: list[Any]) -> list[Line]:
    """Cells in reading order: transcripts are often typed into a table of two columns."""
    _, _, _, head, bodies, foot = held
    rows = [*head[1], *[row for body in bodies for row in [*body[2], *body[3]]], *foot[1]]
    lines = []
    for row in rows:
        cells = [[line for block in cell[4] for line in _block(block)] for cell in row[1]]
        filled = [cell for cell in cells if cell]
        label = filled[0][0].text.strip() if filled else ""
        if len(filled) == 2 and len(filled[0]) == 1 and len(label) <= 40 and not label.endswith((".", "?", "!")):
            # A name beside what was said.
            first = filled[1][0]
            lines += [Line(f"{label.rstrip(':')}: {first.text}"), *filled[1][1:]]
        else:
            lines += [line for cell in filled for line in cell]
    return lines


def _paragraph(inlines: list[dict[str, Any]], heading: int) -> list[Line]:
    """A paragraph may hold line breaks: each is a line. What is bold is noted."""
    return bold_lines(_pieces(inlines, False), heading)


def _pieces(inlines: list[dict[str, Any]], strong: bool) -> list[tuple[str, bool]]:
    found: list[tuple[str, bool]] = []
    for inline in inlines:
        kind: str = inline["t"]
        held: Any = inline.get("c")
        if kind == "Str":
            found.append((held, strong))
        elif kind in ("Space", "SoftBreak"):
            found.append((" ", strong))
        elif kind == "LineBreak":
            found.append(("\n", strong))
        elif kind in ("Code", "Math"):
            found.append((held[1], strong))
        elif kind == "Quoted":
            left, right = ("‘", "’") if held[0]["t"] == "SingleQuote" else ("“", "”")
            found += [(left, strong), *_pieces(held[1], strong), (right, strong)]
        elif kind in ("Link", "Span", "Cite"):
            found += _pieces(held[1], strong)
        elif kind in ("Strong", "Emph", "Underline", "SmallCaps", "Superscript", "Subscript", "Strikeout"):
            found += _pieces(held, strong or kind == "Strong")
    return found
