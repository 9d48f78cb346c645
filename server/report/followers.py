"""What the researcher wrote, and what is shown, follow what it is on."""

from typing import Any

from django.dispatch import receiver

from server.projects.becoming import Kind, became
from server.projects.change import Change
from server.report.actions.digests import carry_digests
from server.report.models import LINKED, ExhibitPiece, Memo, MemoLink


@receiver(became)
def follow(*, change: Change, what: Kind, gone: Any, now: Any, **_: object) -> None:
    """Memos go to what a thing has become, digests of a person or a code too, and exhibits show it."""
    if what == "category":
        return
    change.update_all(Memo.objects.filter(**{f"{what}_id": gone}), **{f"{what}_id": now})
    if what in LINKED:
        change.update_all(MemoLink.objects.filter(**{f"{what}_id": gone}), **{f"{what}_id": now})
    if what == "passage":
        # Unless they show it already.
        held = ExhibitPiece.objects.filter(passage=now).values("exhibit_id")
        change.update_all(ExhibitPiece.objects.filter(passage=gone).exclude(exhibit__in=held), passage_id=now)
    else:
        carry_digests(change, what, gone, now)
