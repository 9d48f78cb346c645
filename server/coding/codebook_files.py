"""The codebook as a file, out and in: .csv and .xlsx for people, .qdc (the REFI-QDA exchange standard, codebook 1.0)
for programs."""

import io
import re
import uuid
from typing import Any

import xlsxwriter
from lxml import etree

from core.coding.exchange import FoundCode, FoundCodebook, FoundTheme, How, Plan, in_tree_order
from core.coding.words import KIND, TEXTS, WORDS
from core.language import say
from server.coding import overview, queries
from server.common.errors import Refusal
from server.common.exports import CSV, XLSX, plain
from server.gather.readers.sandbox import read_files
from server.projects.models import Membership, Project

NAMESPACE = "urn:QDA-XML:codebook:1.0"
COLUMNS = (
    "Code",
    "Beneath",
    *(words.head for words in WORDS.values()),
    "Parked",
    "Passages",
    "People",
    "Documents",
    "Themes",
)
HUES = ("#C47E32", "#A88B1B", "#88943C", "#5B9A55", "#599A82", "#4998A8", "#5A92C3", "#6B84CC",
         "#8579CC", "#A56FC0", "#B479B1", "#C76C9A", "#C96A7B", "#C46A5E", "#B5774B", "#9B8573")  # fmt: skip
_OURS = uuid.UUID("0b0e3f55-6d0c-4a39-9d0a-5f8e3d3f7c21")


def rows(member: Membership) -> list[list[str | int]]:
    """A header and a row a code, as the tree has them: each before those beneath it."""
    by_id = {code["id"]: code for code in overview.codebook(member)}
    codes = [by_id[one] for one in in_tree_order([(code["id"], code["parent"]) for code in by_id.values()])]
    names = {code["id"]: code["name"] for code in codes}
    themes: dict[int, list[str]] = {}
    for theme in overview.themes(member)["themes"]:
        for code_id in theme["codes"]:
            themes.setdefault(code_id, []).append(theme["name"])
    found: list[list[str | int]] = [list(COLUMNS)]
    for code in codes:
        words = [code[name] for name in WORDS]
        counts = [code[name] for name in ("passages", "people", "documents")]
        parked = "yes" if code["parked"] else ""
        above = names.get(code["parent"], "")
        found.append([code["name"], above, *words, parked, *counts, "; ".join(themes.get(code["id"], []))])
    return found


def as_csv(member: Membership) -> bytes:
    return plain(rows(member))


def as_xlsx(member: Membership) -> bytes:
    out = io.BytesIO()
    with xlsxwriter.Workbook(out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}) as book:
        sheet = book.add_worksheet("Codebook")
        bold, wrapped = book.add_format({"bold": True}), book.add_format({"text_wrap": True, "valign": "top"})
        for place, row in enumerate(rows(member)):
            sheet.write_row(place, 0, row, bold if place == 0 else wrapped)
        sheet.set_column(0, 1, 26)
        sheet.set_column(2, 1 + len(TEXTS), 44)
        sheet.freeze_panes(1, 1)
    return out.getvalue()


def as_qdc(member: Membership) -> bytes:
    """Codes as a tree with colour and definition, themes as sets of codes."""
    root = etree.Element(_tag("CodeBook"), nsmap={None: NAMESPACE}, origin="Cohortia")  # type: ignore[dict-item]
    codes = overview.codebook(member)
    tree = etree.SubElement(root, _tag("Codes"))
    made: dict[int | None, Any] = {None: tree}
    waiting = codes
    while waiting:
        ready = [code for code in waiting if code["parent"] in made]
        for code in ready:
            made[code["id"]] = _code(made[code["parent"]], code, _guid(member, "code", code["id"]))
        waiting = [code for code in waiting if code["id"] not in made]
    themes = overview.themes(member)["themes"]
    if themes:
        sets = etree.SubElement(root, _tag("Sets"))
        for theme in themes:
            one = etree.SubElement(sets, _tag("Set"), guid=_guid(member, "theme", theme["id"]), name=theme["name"])
            if theme["statement"]:
                etree.SubElement(one, _tag("Description")).text = theme["statement"]
            for code_id in theme["codes"]:
                etree.SubElement(one, _tag("MemberCode"), guid=_guid(member, "code", code_id))
    return bytes(etree.tostring(root, xml_declaration=True, encoding="utf-8", pretty_print=True))


def _code(above: Any, code: dict[str, Any], guid: str) -> Any:
    one = etree.SubElement(
        above, _tag("Code"), guid=guid, name=code["name"], isCodable="true", color=HUES[code["colour"]]
    )
    said = [(words.label, code[name]) for name, words in (TEXTS | KIND).items() if code[name].strip()]
    text = "\n\n".join(f"{label}: {text}" if label else text for label, text in said)
    if text:
        etree.SubElement(one, _tag("Description")).text = text
    return one


def _tag(name: str) -> str:
    return f"{{{NAMESPACE}}}{name}"


def _guid(member: Membership, kind: str, key: int) -> str:
    """The same thing has the same name in every export of a project."""
    return str(uuid.uuid5(_OURS, f"{member.project_id}/{kind}/{key}"))


LARGEST = 5 * 1024 * 1024


def found_in(name: str, data: bytes) -> FoundCodebook:
    """The codebook that a file holds; read in a process of its own. Raises ``Refusal`` with a sentence."""
    (answer,) = read_files([(name, data)], lambda path: "", codebook=True)
    if "problem" in answer:
        raise Refusal(f"{name}: {answer['problem']}")
    content = answer["content"]
    return FoundCodebook(
        tuple(FoundCode(one["name"], one["above"], one["said"], _hue(one["colour"]), one["parked"]) for one in content["codes"]),
        tuple(FoundTheme(one["name"], one["statement"], tuple(one["codes"])) for one in content["themes"]),
        tuple(content["warnings"]),
    )  # fmt: skip


def _hue(colour: str) -> int:
    """The place in the palette that comes nearest to ``#RRGGBB``; −1 where there is no colour."""
    if not re.fullmatch(r"#[0-9A-Fa-f]{6}", colour):
        return -1

    def distance(hue: str) -> int:
        return sum((int(colour[at : at + 2], 16) - int(hue[at : at + 2], 16)) ** 2 for at in (1, 3, 5))

    return min(range(len(HUES)), key=lambda place: distance(HUES[place]))


def preview(member: Membership, found: FoundCodebook, how: How) -> dict[str, Any]:
    """What bringing it in would do, with the counts of what would go."""
    outcome = queries.codebook_plan(member, found, how)
    held = {code["id"]: code for code in overview.codebook(member)}
    words = {name: one.head[0].lower() + one.head[1:] for name, one in WORDS.items()}
    return {
        "revision": Project.objects.values_list("revision", flat=True).get(pk=member.project_id),
        "codes": len(found.codes),
        "new": [
            {"name": code.name, "beneath": found.codes[code.above].name if code.above >= 0 else ""}
            for code, one in zip(found.codes, outcome.matched, strict=True)
            if one is None
        ],
        "changed": [
            {"name": held[pk]["name"], "what": words[name], "before": held[pk][name], "after": after}
            for pk, fields in outcome.changes.items()
            for name, after in fields.items()
        ]
        + [_move(held, found, outcome, place) for place in sorted(outcome.moved)],
        "same": sum(
            one is not None and one not in outcome.changes and place not in outcome.moved
            for place, one in enumerate(outcome.matched)
        ),
        "gone": [{"name": held[pk]["name"], "passages": held[pk]["passages"]} for pk in outcome.gone],
        "themes": [theme.name for theme in found.themes],
        "warnings": list(found.warnings),
    }


def _move(held: dict[int, dict[str, Any]], found: FoundCodebook, outcome: Plan, place: int) -> dict[str, str]:
    """A code that comes to lie elsewhere, as a change to what it lies beneath."""
    code = held[outcome.matched[place] or 0]
    top, above = say("the top of the codebook"), found.codes[place].above
    return {
        "name": code["name"],
        "what": say("beneath"),
        "before": held[code["parent"]]["name"] if code["parent"] else top,
        "after": found.codes[above].name if above >= 0 else top,
    }


FORMATS = {
    "csv": (as_csv, CSV),
    "xlsx": (as_xlsx, XLSX),
    "qdc": (as_qdc, "application/xml"),
}
