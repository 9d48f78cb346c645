"""What this room hears of those below it."""

from django.apps import AppConfig


class Compare(AppConfig):
    name = "server.compare"

    def ready(self) -> None:
        from server.compare import followers  # noqa: F401
