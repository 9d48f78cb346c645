"""What the web is made with of the server's own: the API's schema, and how questions are said in addresses."""

import json
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from server.compare.asked import QUESTION, SHOWN
from server.gather.readers.codebooks import CODEBOOKS
from server.gather.readers.kinds import IMAGES, RECORDINGS, SHEETS, TRANSCRIPTS
from server.scope.grammar import Said
from server.scope.parts import PARTS

HEAD = "// Written by bin/types from the server's own: don't change it here.\n\n"


def _said(part: Said) -> dict[str, Any]:
    return {name: getattr(part, name) for name in ("name", "way", "address", "usual", "kind", "words")}


def grammar() -> str:
    """As a TypeScript module."""
    lists: dict[str, Any] = {
        "QUESTION": [_said(part) for part in QUESTION],
        "SCOPE": [_said(part.said) for part in PARTS],
        "SHOWN": [_said(part) for part in SHOWN],
        "ENDINGS": {"texts": TRANSCRIPTS, "sheets": SHEETS, "pictures": IMAGES, "recordings": RECORDINGS, "codebooks": CODEBOOKS},
    }  # fmt: skip
    return HEAD + "\n".join(f"export const {name} = {json.dumps(one)} as const;" for name, one in lists.items()) + "\n"


class Command(BaseCommand):
    help = "Write schema.yaml and grammar.gen.ts into a folder."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder")

    def handle(self, *args: Any, folder: str, **options: Any) -> None:
        call_command("spectacular", fail_on_warn=True, file=str(Path(folder) / "schema.yaml"))
        (Path(folder) / "grammar.gen.ts").write_text(grammar())
