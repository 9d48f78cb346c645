"""Reads on exhibits and digests, each filtered by membership."""

from typing import Any

import numpy as np
from django.db.models import Count, Prefetch, QuerySet

from core.language import say
from core.snapshot.tables import places
from core.statistics.ranges import expand
from server.coding.actions.places import short
from server.coding.context import passages_in_context
from server.coding.models import Passage
from server.common.database import of_one_state
from server.common.errors import NotFound
from server.gather.models import Document
from server.people.models import Case
from server.people.queries import facts_of
from server.projects.models import Membership, Project
from server.report.models import ATTACHED, Digest, Exhibit, Memo, MemoLink, OwnMemoKind
from server.snapshots.queries import snapshot

Json = dict[str, Any]


def exhibits(member: Membership) -> QuerySet[Exhibit]:
    visible = Project.objects.visible_to(member.account)
    found = Exhibit.objects.filter(project__in=visible, project=member.project_id).select_related("author")
    return found.annotate(size=Count("pieces"))


def exhibit(member: Membership, exhibit_id: int) -> Exhibit:
    found = exhibits(member).filter(pk=exhibit_id).first()
    if found is None:
        raise NotFound(say("This exhibit isn’t here any more; somebody has deleted it."))
    return found


def digests(member: Membership) -> QuerySet[Digest]:
    visible = Project.objects.visible_to(member.account)
    return Digest.objects.filter(project__in=visible, project=member.project_id).select_related("author", "case")


@of_one_state
def pieces_of(member: Membership, row: Exhibit) -> list[Json]:
    """Its passages in order, each trimmed and captioned, in its context and with who said it."""
    rows = list(row.pieces.select_related("passage__document"))
    said = speakers_of(member, [piece.passage_id for piece in rows])
    about = facts_of(member, snapshot(member.project_id), list({case for cases in said.values() for case in cases}))
    words = passages_in_context(member, [piece.passage_id for piece in rows])
    return [
        {
            "id": piece.pk,
            "caption": piece.caption,
            "cut_start": piece.cut_start,
            "cut_end": piece.cut_end,
            "shown": trimmed(piece.passage.said, piece.cut_start, piece.cut_end),
            "passage": words[piece.passage_id],
            "people": [{"case": case, **about[case]} for case in said.get(piece.passage_id, [])],
        }
        for piece in rows
    ]


def trimmed(words: str, cut_start: int, cut_end: int) -> str:
    """A passage without what is left off; dots stand where something is. What was cut in other words than these (the
    text was changed since) never leaves nothing."""
    if cut_start + cut_end >= len(words):
        return words
    kept = words[cut_start : len(words) - cut_end].strip()
    return f"{'… ' if cut_start else ''}{kept}{' …' if cut_end else ''}"


def speakers_of(member: Membership, passages: list[int]) -> dict[int, list[int]]:
    """Whose each passage is, by ID."""
    held = snapshot(member.project_id)
    at = [int(place) for place in places(held.passage_ids, np.asarray(passages, np.int64)) if place >= 0]
    said = held.attributions
    found: dict[int, list[int]] = {}
    pair, rows = expand(said.first[at], said.first[[place + 1 for place in at]])
    for which, case in zip(pair.tolist(), said.case[rows].tolist(), strict=True):
        found.setdefault(int(held.passage_ids[at[which]]), []).append(int(held.case_ids[case]))
    return found


def memos(member: Membership) -> list[dict[str, Any]]:
    """All memos, newest first, each with what it is on."""
    rows = Memo.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)
    related = ("author", "passage__document", "code", "theme", "document", "case", "comparison")
    links = Prefetch(
        "links", MemoLink.objects.select_related("code", "theme", "document", "case", "comparison", "other")
    )
    found = []
    for memo in rows.select_related(*related).prefetch_related("of_kinds", links).order_by("-made_at", "-id"):
        on = next((name for name in ATTACHED if getattr(memo, f"{name}_id")), "project")
        found.append(
            {
                **{name: getattr(memo, name) for name in ("id", "text", "kinds", "source", "made_at", "author_id")},
                "author": memo.author.display_name,
                "on": on,
                "on_id": getattr(memo, f"{on}_id", None),
                "name": say("the project") if on == "project" else _called(getattr(memo, on)),
                "document": memo.passage.document_id if memo.passage else memo.document_id,
                "links": [_link(one) for one in memo.links.all()],
            }
        )
    return found


def memo_kinds(member: Membership) -> QuerySet[OwnMemoKind]:
    """The project's own kinds of memos, each with how many are of it."""
    visible = Project.objects.visible_to(member.account)
    found = OwnMemoKind.objects.filter(project__in=visible, project=member.project_id)
    return found.annotate(size=Count("memos"))


def _link(link: MemoLink) -> Json:
    on, pk = link.target
    return {"said": link.said, "thing": "memo" if on == "other" else on, "id": pk, "name": _called(getattr(link, on))}


def _called(thing: Any) -> str:
    """What something is called that memos are on or speak of: a memo by its first words, a passage by its own."""
    if isinstance(thing, Passage):
        text = " ".join(thing.said.split())
        return text if len(text) <= 120 else f"{text[:118]}…"
    if isinstance(thing, Memo):
        return short(thing.text)
    named: str = (
        thing.title if isinstance(thing, Document) else thing.identifier if isinstance(thing, Case) else thing.name
    )
    return named
