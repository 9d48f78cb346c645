"""What memos mean by words in double brackets."""

import re
from collections.abc import Sequence
from typing import Any, TypedDict

from django.db import models

from core.language import say
from server.coding.models import Code, Theme
from server.common.errors import NotFound
from server.compare.models import KeptComparison
from server.gather.models import Document
from server.people.models import Case
from server.projects.change import Change
from server.report.models import Memo, MemoLink

BRACKETS = re.compile(r"\[\[([^\[\]\n]{1,200})\]\]")
_MODELS: dict[str, tuple[type[models.Model], str]] = {
    "code": (Code, "name"),
    "theme": (Theme, "name"),
    "document": (Document, "title"),
    "case": (Case, "identifier"),
    "comparison": (KeptComparison, "name"),
    "other": (Memo, ""),
}
"""What can be linked, and the field that names it."""


class Link(TypedDict):
    said: str
    on: str
    id: int


def set_links(change: Change, memo: Memo, links: Sequence[Link]) -> None:
    """Have the words in brackets mean these things; what is in brackets and not among them, what is called so, if one thing is.
    What a link says that the text doesn't hold any more goes."""
    said = dict.fromkeys(" ".join(found.split()) for found in BRACKETS.findall(memo.text))
    wanted = {" ".join(link["said"].split()): (link["on"], link["id"]) for link in links}
    held = {link.said: (link.pk, link.target) for link in memo.links.all()}
    kept, fresh = set[int](), []
    for name in said:
        pk, before = held.get(name, (0, None))
        target = _there(change, *wanted[name]) if name in wanted else before or _called(change, name)
        if target == before:
            kept.add(pk)
        elif target is not None:
            fresh.append(MemoLink(memo=memo, said=name, **{f"{target[0]}_id": target[1]}))
    change.delete(MemoLink.objects.filter(memo=memo).exclude(pk__in=kept))
    change.create_many(fresh)


def _there(change: Change, on: str, pk: int) -> tuple[str, int]:
    model, _ = _MODELS[on]
    if not model._default_manager.filter(project=change.project_id, pk=pk).exists():
        raise NotFound(say("What the memo links to isn’t in the project any more."))
    return on, pk


def _called(change: Change, name: str) -> tuple[str, int] | None:
    """The one thing that is called so."""
    found: list[tuple[str, int]] = []
    for on, (model, field) in _MODELS.items():
        if field:
            rows: Any = model._default_manager.filter(**{"project": change.project_id, f"{field}__iexact": name})
            found += [(on, pk) for pk in rows.values_list("pk", flat=True)[:2]]
    return found[0] if len(found) == 1 else None
