"""Remove what killed processes left: run at every start. With --media also the bytes that nothing names, on this machine."""

import argparse
from typing import Any

from django.core.management.base import BaseCommand

from server.common import folders
from server.gather import media


class Command(BaseCommand):
    help = "Removes temporary folders of processes that are no more."

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        parser.add_argument("--media", action="store_true", help="also bytes that nothing has named for an hour")

    def handle(self, *args: Any, **options: Any) -> None:
        folders.sweep()
        if options["media"]:
            media.sweep()
