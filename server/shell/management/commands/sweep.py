"""Remove what killed processes left: run at every start."""

from typing import Any

from django.core.management.base import BaseCommand

from server.common import folders


class Command(BaseCommand):
    help = "Removes temporary folders of processes that are no more."

    def handle(self, *args: Any, **options: Any) -> None:
        folders.sweep()
