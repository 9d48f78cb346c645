"""Make a backup: ``backup FILE``, or ``backup --into FOLDER`` under the day's name, dropping what needn't be kept."""

import argparse
from pathlib import Path
from typing import Any

from server.common.commands import Saying
from server.common.errors import Refusal
from server.shell import backups, nightly
from server.shell.passphrase import add_arguments, passphrase_of


class Command(Saying):
    help = "Writes the database and the media of one moment into one file, while people work."

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        where = parser.add_mutually_exclusive_group(required=True)
        where.add_argument("file", nargs="?", help="the file to write")
        where.add_argument("--into", metavar="FOLDER", help="a folder that keeps the last days, weeks and months")
        add_arguments(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            if options["into"]:
                self._into(options["into"])
            else:
                self._one(Path(options["file"]).absolute(), passphrase_of(options, twice=True))
        except Refusal as refusal:
            self.fail(refusal.sentence)

    def _into(self, folder: str) -> None:
        made = nightly.back_up(str(Path(folder).absolute()))
        if not made.whole:
            self.fail(made.problem)
        self.stdout.write(
            f"{made.name}: {_size(made.size)}{', encrypted' if made.locked else ''}. Kept: {nightly.retention().said()}."
        )

    def _one(self, target: Path, passphrase: str) -> None:
        made = backups.make(target, passphrase)
        projects = "1 project" if made.projects == 1 else f"{made.projects:,} projects"
        files = "1 file" if made.media == 1 else f"{made.media:,} files"
        self.stdout.write(
            f"{target}: {_size(made.size)}, {projects}, {files} of media{', encrypted' if passphrase else ''}."
        )
        if made.problems:
            listed = "; ".join(made.problems[:5])
            self.fail(f"It isn’t whole: {len(made.problems):,} files aren’t in it as they were. {listed}.")


def _size(size: int) -> str:
    return f"{size / 1024**2:,.1f} MB"
