"""What is told where one thing becomes another: rooms above hold something of it, and follow."""

from typing import Literal

from django.dispatch import Signal

from server.projects.change import Change

Kind = Literal["case", "code", "passage", "category"]
became = Signal()
"""Sent with ``change``, ``what``, ``gone``, ``now`` and ``within``, inside the action, before what is gone goes."""


def tell(change: Change, what: Kind, gone: int | str, now: int | str, within: int = 0) -> None:
    """Say what became of a row, by its number; of a category, by its label, ``within`` its variable."""
    became.send(sender=Change, change=change, what=what, gone=gone, now=now, within=within)
