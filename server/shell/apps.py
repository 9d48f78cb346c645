"""What the roof says to the rooms below it."""

from collections.abc import Iterable

from django.apps import AppConfig


class Shell(AppConfig):
    name = "server.shell"

    def ready(self) -> None:
        from server.gather import media

        media.NAMED_ELSEWHERE.append(_arrived)


def _arrived() -> Iterable[str]:
    from server.shell.models import ArrivedProject

    return ArrivedProject.objects.values_list("digest", flat=True)
