"""Formulas of a workbook that hold no value: whoever wrote the file didn't work them out, and they would read as empty."""

import re
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from lxml import etree

from core.language import say

_SHEETS = "{http://schemas.openxmlformats.org/spreadsheetml/2006/main}"
_RELATED = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}id"
_LISTED = 6


def without_value(path: Path, sheet: str) -> str:
    """A sentence on the formulas of an .xlsx sheet that hold no value, "" where each has one."""
    with zipfile.ZipFile(path) as book:
        part = _part_of(book, sheet)
        if part is None:
            return ""
        # Most sheets have none: looking for their sign takes a hundredth of reading every cell.
        if not _mentions(book, part, b"<f"):
            return ""
        with book.open(part) as file:
            cells = list(_empty_formulas(file))
    if not cells:
        return ""
    listed = ", ".join(cells[:_LISTED]) + (" …" if len(cells) > _LISTED else "")
    return say(
        "{cells, plural, one {A formula holds} other {# formulas hold}} no value ({listed}): the program that wrote the file didn’t work {cells, plural, one {it} other {them}} out, and {cells, plural, one {it is} other {they are}} read as empty. Open the workbook in a spreadsheet program, save it, and add it again.",
        cells=len(cells),
        listed=listed,
    )


def _part_of(book: zipfile.ZipFile, sheet: str) -> str | None:
    """The part of the archive that holds the sheet of this name."""
    names = set(book.namelist())
    workbook, related = "xl/workbook.xml", "xl/_rels/workbook.xml.rels"
    if not {workbook, related} <= names:
        return None
    targets = {one.get("Id"): one.get("Target", "") for one in _parsed(book, related)}
    for one in _parsed(book, workbook).iter(f"{_SHEETS}sheet"):
        if one.get("name") == sheet:
            target = targets.get(one.get(_RELATED), "")
            part = target.lstrip("/") if target.startswith("/") else f"xl/{target}"
            return part if part in names else None
    return None


def _mentions(book: zipfile.ZipFile, part: str, sign: bytes) -> bool:
    kept = b""
    with book.open(part) as file:
        while piece := file.read(1024 * 1024):
            if sign in kept + piece:
                return True
            kept = piece[-len(sign) :]
    return False


def _parsed(book: zipfile.ZipFile, part: str) -> etree._Element:
    return etree.fromstring(book.read(part), etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False))


def _empty_formulas(file: IO[bytes]) -> Iterator[str]:
    wanted = f"{_SHEETS}c"
    for _, cell in etree.iterparse(file, tag=wanted, resolve_entities=False, no_network=True, huge_tree=True):
        value = cell.find(f"{_SHEETS}v")
        if (
            cell.find(f"{_SHEETS}f") is not None
            and (value is None or not (value.text or ""))
            and cell.get("t") != "str"
        ):
            yield re.sub(r"[^A-Z0-9]", "", cell.get("r", "?"))
        cell.clear()
        while cell.getprevious() is not None:
            del cell.getparent()[0]
