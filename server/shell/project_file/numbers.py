"""What rows are called: numbers in a file, from 1 in each part, and keys in the database."""

import secrets
from collections.abc import Mapping, Sequence
from typing import Any

from django.db import connection

from server.projects.models import Membership
from server.projects.steps import reserve
from server.shell.project_file.parts import BY_NAME, PARTS
from server.shell.project_file.steps import TRAIL

MOST = 20_000_000
"""Rows of one part, those that are gone and still named among them."""


class Numbers:
    """From keys to numbers. A key that no row has any more (in the trail, in a frozen result) gets the next number."""

    def __init__(self, project_id: int) -> None:
        self.project_id = project_id
        self.media: set[str] = set()
        self._of: dict[str, dict[int, int]] = {"project": {project_id: 1}}

    def __call__(self, part: str, one: Any) -> int:
        if type(one) is not int:
            raise TypeError(f"{one!r} is no key")
        part = "documents" if part == "words" else part
        known = self._of.get(part)
        if known is None:
            known = self._of[part] = {key: number for number, key in enumerate(self._there(part), start=1)}
        return known.setdefault(one, len(known) + 1)

    def digest(self, said: str) -> str:
        self.media.add(said)
        return said

    def _there(self, part: str) -> list[int]:
        if part == "people":
            members = Membership.objects.filter(project=self.project_id).order_by("id")
            return list(members.values_list("account", flat=True))
        own = TRAIL if part == TRAIL.name else BY_NAME[part]
        rows = own.model._default_manager.filter(**{own.project: self.project_id})
        return list(rows.order_by("pk").values_list("pk", flat=True))

    def highest(self, part: str) -> int:
        """The last number that is used, 0 where nothing of the part is named."""
        return len(self._of.get(part, ()))

    def called(self, part: str) -> Mapping[int, int]:
        """Numbers by key, as far as they were asked for."""
        return self._of.get(part, {})


class Keys:
    """From numbers to keys: new ones, taken before the first row comes in, in the same order."""

    def __init__(self, project_id: int, people: Mapping[int, int], highest: Mapping[str, int], media: set[str]) -> None:
        self._people = people
        self._media = media
        self._lost: dict[str, str] = {}
        self._of: dict[str, Sequence[int]] = {"project": [project_id]}
        with connection.cursor() as cursor:
            for part in (*PARTS, TRAIL):
                if count := highest.get(part.name, 0):
                    table, key = part.model._meta.db_table, str(part.model._meta.pk.column)
                    self._of[part.name] = sorted(reserve(cursor, table, key, count))

    def __call__(self, part: str, one: Any) -> int:
        if type(one) is not int or one < 1:
            raise ValueError(f"{one!r} is no number of a row")
        if part == "people":
            # Somebody of whom nothing but a number is left: nobody here has it.
            return self._people.get(one, 0)
        taken = self._of.get("documents" if part == "words" else part, ())
        if one > len(taken):
            raise ValueError(f"{part} has no row {one}")
        return taken[one - 1]

    def digest(self, said: str) -> str:
        """Bytes are only ever those that came with the file: what is lost gets a name that nothing has."""
        return said if said in self._media else self._lost.setdefault(said, secrets.token_hex(32))
