"""Bring the server's catalogues up to the code, or say that they aren't."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.shell import words


class Command(BaseCommand):
    help = "Write languages/*/server.po anew; --check: are they current?"

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true")

    def handle(self, *_: Any, check: bool, **__: Any) -> None:
        for language in words.languages():
            path, now = words.FOLDER / language / "server.po", words.renewed(language)
            if not check:
                path.write_bytes(now)
            elif path.read_bytes() != now:
                raise CommandError(f"The messages have changed: run bin/words and commit what it writes ({path.name}).")
