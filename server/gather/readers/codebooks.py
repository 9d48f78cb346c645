"""A codebook in a file: a sheet with a row a code, or the open exchange standard for codebooks (.qdc)."""

import re
from pathlib import Path
from typing import Any

from lxml import etree

from core.coding.words import KIND, TEXTS, WORDS
from core.language import say
from core.people.grid import Grid
from server.gather.readers.delimited import read_delimited
from server.gather.readers.kinds import WORKBOOKS, Unreadable, extension
from server.gather.readers.sheets import workbook_rows

MOST_CODES = 5_000
_LINES = ("csv", "tsv", "txt")
CODEBOOKS = (*WORKBOOKS, *_LINES, "qdc")
LONGEST = {"name": 160, "statement": 5_000} | {what: words.most for what, words in WORDS.items()}
HEADS = {
    "name": ("code", "name", "code name", "label"),
    "above": ("beneath", "parent", "parent code", "belongs to"),
    **{what: (words.head.lower().replace("’", "'"), *words.also) for what, words in WORDS.items()},
    "parked": ("parked",),
    "themes": ("themes", "theme"),
}
"""Heads under which a sheet may say what a code is, our own first."""
LABELLED = {words.label: what for what, words in (TEXTS | KIND).items() if words.label}
"""How a description in the exchange standard, which has one field, tells the parts of a definition."""


def read_codebook(name: str, path: Path) -> dict[str, Any]:
    """``{"codes": […], "themes": […], "warnings": […]}`` as plain values, see ``core.coding.exchange``."""
    ending = extension(name)
    if ending == "qdc":
        found = _exchanged(path)
    elif ending in WORKBOOKS:
        found = _sheet(workbook_rows(path, ending, "")[0])
    elif ending in _LINES:
        rows, _ = read_delimited(path)
        found = _sheet(rows if isinstance(rows, list) else _rows_of(rows))
    else:
        raise Unreadable(say("A codebook comes as .xlsx, .ods, .csv or .qdc."))
    _once(found)
    if not found["codes"]:
        raise Unreadable(say("No code was found in this file."))
    if len(found["codes"]) > MOST_CODES:
        raise Unreadable(
            say(
                "The file has {found, number} codes; Cohortia takes up to {most_codes, number}.",
                found=len(found["codes"]),
                most_codes=MOST_CODES,
            )
        )
    return found


def _once(found: dict[str, Any]) -> None:
    """A code that stands twice beneath the same one is one, as first said; half a scale is none."""
    kept: list[dict[str, Any]] = []
    first: dict[tuple[int, str], int] = {}
    above_of = {place: code["above"] for place, code in enumerate(found["codes"])}
    order = sorted(above_of, key=lambda place: _depth(above_of, place))
    moved: dict[int, int] = {-1: -1}
    for place in order:
        code = found["codes"][place]
        code["above"] = moved[code["above"]]
        key = (code["above"], code["name"].casefold())
        if key in first:
            found["warnings"].append(
                say("“{code}” stands twice at the same place; it is taken once.", code=code["name"])
            )
        else:
            first[key] = len(kept)
            kept.append(code)
        moved[place] = first[key]
        if bool(code["said"].get("scale_low")) != bool(code["said"].get("scale_high")):
            found["warnings"].append(say("“{code}” names one end of its scale only; it gets none.", code=code["name"]))
            code["said"] = {what: text for what, text in code["said"].items() if not what.startswith("scale")}
    for theme in found["themes"]:
        theme["codes"] = list(dict.fromkeys(moved[place] for place in theme["codes"]))
    found["codes"] = kept


def _depth(above: dict[int, int], place: int) -> int:
    depth = 0
    while above[place] >= 0:
        place, depth = above[place], depth + 1
    return depth


def _rows_of(grid: Grid) -> list[list[str]]:
    return [list(row) for row in zip(*(column.cells() for column in grid.columns), strict=True)]


def _sheet(rows: list[list[str]]) -> dict[str, Any]:
    heads = [" ".join(cell.replace("’", "'").casefold().split()) for cell in (rows[0] if rows else [])]
    at = {what: heads.index(word) for what, words in HEADS.items() for word in words[::-1] if word in heads}
    if "name" not in at:
        raise Unreadable(say("The first row needs a column called “Code”, and best one called “Beneath”."))

    def cell(row: list[str], what: str) -> str:
        return _unguarded(row[at[what]].strip()) if what in at and at[what] < len(row) else ""

    kept = [(number, row) for number, row in enumerate(rows[1:], 2) if cell(row, "name")]
    codes: list[dict[str, Any]] = []
    warnings = [say("Row {number} names no code; it is left out.", number=number) for number, row in enumerate(rows[1:], 2)
                if any(row) and not cell(row, "name")]  # fmt: skip
    names = [_name(cell(row, "name"), warnings) for _, row in kept]
    last: dict[str, int] = {}
    first = {name.casefold(): place for place, name in reversed(list(enumerate(names)))}
    themes: dict[str, list[int]] = {}
    for place, (number, row) in enumerate(kept):
        above = " ".join(cell(row, "above").split()).casefold()
        # A name that occurs twice means the one that stands nearest above.
        parent = last.get(above, first.get(above, -1)) if above else -1
        if above and parent < 0:
            warnings.append(
                say(
                    "Row {number}: “{cell}” isn’t a code in this file; “{names}” is put at the top.",
                    number=number,
                    cell=cell(row, "above"),
                    names=names[place],
                )
            )
        last[names[place].casefold()] = place
        said = {what: cell(row, what)[: LONGEST[what]] for what in WORDS if cell(row, what)}
        _checked(said, names[place], warnings)
        parked = cell(row, "parked").casefold() in ("yes", "true", "1", "x") if "parked" in at else None
        codes.append({"name": names[place], "above": parent, "said": said, "colour": "", "parked": parked})
        for theme in filter(None, (part.strip() for part in cell(row, "themes").split(";"))):
            themes.setdefault(theme[:160], []).append(place)
    _untangled(codes, warnings)
    listed = [{"name": name, "statement": "", "codes": held} for name, held in themes.items()]
    return {"codes": codes, "themes": listed, "warnings": warnings}


def _checked(said: dict[str, str], name: str, warnings: list[str]) -> None:
    """Where a word is one of a few, it is written as these are; another is told and left out."""
    for what, words in WORDS.items():
        if not words.choices or what not in said:
            continue
        if said[what].casefold() in words.choices:
            said[what] = said[what].casefold()
            continue
        warnings.append(
            say(
                "“{name}”: “{word}” is neither describing nor interpreting; it is left out.",
                name=name,
                word=said.pop(what),
            )
        )


def _unguarded(cell: str) -> str:
    """Without the apostrophe that keeps a spreadsheet from taking words for a formula."""
    return cell[1:] if re.match(r"'[=+\-@]", cell) else cell


def _untangled(codes: list[dict[str, Any]], warnings: list[str]) -> None:
    """Codes that lie beneath themselves are put at the top."""
    for place, code in enumerate(codes):
        seen, at = {place}, code["above"]
        while at >= 0 and at not in seen:
            seen.add(at)
            at = codes[at]["above"]
        if at == place:
            warnings.append(say("“{code}” would lie beneath itself; it is put at the top.", code=code["name"]))
            code["above"] = -1


def _name(text: str, warnings: list[str]) -> str:
    name = " ".join(text.split())
    if len(name) > LONGEST["name"]:
        warnings.append(
            say("The name “{name}…” is cut to {longest} characters.", name=name[:40], longest=LONGEST["name"])
        )
    return name[: LONGEST["name"]]


def _exchanged(path: Path) -> dict[str, Any]:
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
    try:
        tree = etree.parse(str(path), parser)
    except etree.XMLSyntaxError as error:
        raise Unreadable(say("This isn’t a codebook in the exchange standard: {msg}", msg=error.msg)) from error
    if tree.docinfo.internalDTD is not None:
        raise Unreadable(say("The file declares a document type; a codebook in the exchange standard has none."))
    root = tree.getroot()
    if etree.QName(root).localname != "CodeBook":
        raise Unreadable(say("This isn’t a codebook in the exchange standard: it doesn’t begin with <CodeBook>."))
    codes: list[dict[str, Any]] = []
    warnings: list[str] = []
    places: dict[str, int] = {}

    def take(element: Any, above: int) -> None:
        name = _name(element.get("name") or "", warnings)
        if not name:
            warnings.append(say("A code without a name is left out; those beneath it move up."))
        else:
            if element.get("guid"):
                places[element.get("guid").casefold()] = len(codes)
            codes.append({"name": name, "above": above, "said": _described(element), "colour": element.get("color") or "", "parked": None})  # fmt: skip
            above = len(codes) - 1
        for inner in _children(element, "Code"):
            take(inner, above)

    for held in _children(root, "Codes"):
        for element in _children(held, "Code"):
            take(element, -1)
    themes = [
        {
            "name": _name(one.get("name") or "", warnings),
            "statement": "".join(_text(part) for part in _children(one, "Description"))[: LONGEST["statement"]],
            "codes": [
                places[part.get("guid").casefold()]
                for part in _children(one, "MemberCode")
                if (part.get("guid") or "").casefold() in places
            ],
        }
        for sets in _children(root, "Sets")
        for one in _children(sets, "Set")
        if (one.get("name") or "").strip()
    ]
    return {"codes": codes, "themes": themes, "warnings": warnings}


def _children(element: Any, name: str) -> list[Any]:
    return [one for one in element if isinstance(one.tag, str) and etree.QName(one).localname == name]


def _text(element: Any) -> str:
    return "".join(element.itertext()).strip()


def _described(element: Any) -> dict[str, str]:
    """A description taken apart again where its paragraphs say what they are."""
    found: dict[str, list[str]] = {}
    what = "definition"
    for paragraph in "\n".join(_text(one) for one in _children(element, "Description")).split("\n\n"):
        label, colon, rest = paragraph.partition(": ")
        known = LABELLED.get(label) if colon else None
        if known in KIND:
            # A paragraph that only begins so is part of the text.
            kind = rest.strip().casefold()
            if kind in KIND[known].choices:
                found[known] = [kind]
                continue
        elif known:
            what, paragraph = known, rest
        if paragraph.strip():
            found.setdefault(what, []).append(paragraph.strip())
    return {what: "\n\n".join(parts)[: LONGEST[what]] for what, parts in found.items()}
