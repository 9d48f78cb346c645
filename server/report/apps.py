"""What this room hears of those below it."""

from django.apps import AppConfig


class Report(AppConfig):
    name = "server.report"

    def ready(self) -> None:
        from server.report import followers  # noqa: F401
