"""An account for whoever begins: asks for what isn't in the environment."""

import getpass
import os
from typing import Any

from server.common.commands import Saying
from server.common.errors import Refusal
from server.projects.actions import create_account


class Command(Saying):
    help = (
        "Makes an account that may begin projects. Name, shown name and password are asked for, or taken from COHORTIA_OWNER, "
        "COHORTIA_OWNER_SHOWN and COHORTIA_OWNER_PASSWORD."
    )

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            account = create_account(*_asked())
        except Refusal as refusal:
            self.fail(refusal.sentence)
        except (EOFError, KeyboardInterrupt):
            self.fail("Nothing was made.")
        self.stdout.write(f"{account.display_name} signs in as {account.username}, and may begin a project.")


def _asked() -> tuple[str, str, str]:
    """Never on the command line: others on the machine could read it there."""
    username = os.environ.get("COHORTIA_OWNER") or input("Signs in as: ")
    shown = os.environ.get("COHORTIA_OWNER_SHOWN") or input(f"Name shown [{username}]: ")
    password = os.environ.get("COHORTIA_OWNER_PASSWORD")
    if not password:
        password = getpass.getpass("Password, ten characters or more: ")
        if getpass.getpass("Once more: ") != password:
            raise Refusal("The two passwords aren’t the same; nothing was made.")
    return username, shown, password
