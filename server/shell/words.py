"""Every message of the server and the core, gathered from their code, and the catalogues brought up to them."""

import ast
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.pofile import read_po, write_po

ROOT = Path(__file__).resolve().parents[2]
SOURCES = ("core", "server")
FOLDER = ROOT / "languages"
_SAY = {"say", "message"}
_OWN = {"core/language/saying.py"}
"""What only passes messages on."""

Key = tuple[str, str]
"""A message's words, and which meaning of them, "" where there is one only."""


def gathered() -> dict[Key, list[str]]:
    """Each message with the files that say it, in the order of the files."""
    found: dict[Key, list[str]] = {}
    for file in files():
        for key in _messages_in(ROOT / file):
            said_in = found.setdefault(key, [])
            if file not in said_in:
                said_in.append(file)
    return found


def files() -> Iterator[str]:
    for source in SOURCES:
        for path in sorted((ROOT / source).rglob("*.py")):
            file = path.relative_to(ROOT).as_posix()
            if file not in _OWN and "/migrations/" not in file:
                yield file


def _messages_in(path: Path) -> Iterator[Key]:
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _SAY and node.args):
            continue
        words = node.args[0]
        if isinstance(words, ast.Constant) and isinstance(words.value, str):
            meanings = [one.value for one in node.keywords if one.arg == "meaning"]
            meaning = meanings[0].value if meanings and isinstance(meanings[0], ast.Constant) else ""
            yield words.value, str(meaning)


def languages() -> list[str]:
    """Those with a catalogue of the server's words, by their tags."""
    return sorted(path.parent.name for path in FOLDER.glob("*/server.po"))


def catalogue_of(language: str) -> Catalog:
    with (FOLDER / language / "server.po").open("rb") as file:
        return read_po(file, locale=language)


def renewed(language: str) -> bytes:
    """The catalogue with just the messages of the code: new ones without words yet, gone ones left out."""
    before, now = catalogue_of(language), Catalog(locale=language, fuzzy=False, header_comment="")
    now.creation_date = now.revision_date = before.creation_date
    for (words, meaning), files in gathered().items():
        known = before.get(words, meaning or None)
        said_in = [(file, None) for file in files]
        now.add(words, known.string if known else "", locations=said_in, context=meaning or None)  # type: ignore[arg-type]
    out = BytesIO()
    write_po(out, now, width=0, omit_header=True)
    head = f'msgid ""\nmsgstr ""\n"Content-Type: text/plain; charset=utf-8\\n"\n"Language: {language}\\n"\n\n'
    return head.encode() + out.getvalue()
