"""Where a passphrase comes from: never from the command line, which others on the machine can read."""

import argparse
import getpass
from pathlib import Path
from typing import Any

from django.conf import settings

from server.common.errors import Refusal

SHORTEST = 12


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--passphrase-file", metavar="FILE", help="its first line is the passphrase")
    parser.add_argument("--ask", action="store_true", help="ask for the passphrase")


def passphrase_of(options: dict[str, Any], twice: bool = False) -> str:
    """From the file, asked for, or from the settings; "" for none."""
    if options["passphrase_file"]:
        try:
            found = Path(options["passphrase_file"]).read_text(encoding="utf-8").split("\n")[0]
        except OSError as problem:
            raise Refusal(f"The passphrase couldn’t be read: {problem.strerror}.") from problem
    elif options["ask"]:
        found = getpass.getpass("Passphrase: ")
        if twice and getpass.getpass("Once more: ") != found:
            raise Refusal("The two aren’t the same; nothing was written.")
    else:
        return settings.BACKUP_PASSPHRASE
    if twice and len(found) < SHORTEST:
        raise Refusal(f"A passphrase has {SHORTEST} characters at least; nothing was written.")
    return found
