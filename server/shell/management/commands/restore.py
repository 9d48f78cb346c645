"""Put a backup back, beside what is there: ``restore FILE``; ``restore --forget-before`` drops what restoring left."""

import argparse
from pathlib import Path
from typing import Any

from server.common.commands import Saying
from server.common.errors import Refusal
from server.shell import restoring
from server.shell.passphrase import add_arguments, passphrase_of


class Command(Saying):
    help = "Checks a backup wholly and puts it in the place of what is there, which is kept under another name."

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        what = parser.add_mutually_exclusive_group(required=True)
        what.add_argument("file", nargs="?", help="the backup")
        what.add_argument(
            "--forget-before", action="store_true", help="drop what was there before earlier restores, for good"
        )
        add_arguments(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            if options["forget_before"]:
                gone = restoring.drop_from_before()
                self.stdout.write(f"Dropped for good: {', '.join(gone)}." if gone else "There was nothing from before.")
                return
            self._restore(Path(options["file"]).absolute(), passphrase_of(options))
        except Refusal as refusal:
            self.fail(refusal.sentence)

    def _restore(self, source: Path, passphrase: str) -> None:
        found = restoring.restore(source, passphrase)
        projects = "1 project" if found.projects == 1 else f"{found.projects:,} projects"
        self.stdout.write(
            f"Restored as it was on {found.made_at}: {projects}, {found.media:,} files of media. Everybody signs in anew."
        )
        self.stdout.write(
            f"What was here before is kept as the database {found.before}; restore --forget-before drops it."
        )
        for problem in found.problems:
            self.stdout.write(f"The backup didn’t have it whole: {problem}.")
