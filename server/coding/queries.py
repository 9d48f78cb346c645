"""Reads on the codebook, passages and codings, each filtered by membership."""

from typing import Any

from django.db.models import Count, Q, QuerySet

from server.coding.models import Code, Coding, Passage, Pin
from server.common.errors import NotFound
from server.gather.models import Document
from server.projects.models import Account, Membership, Project


def codes(member: Membership) -> QuerySet[Code]:
    return Code.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def codebook(member: Membership) -> QuerySet[Code]:
    """All codes with how many passages and documents carry each itself."""
    return codes(member).annotate(
        passages=Count("codings__passage", distinct=True), documents=Count("codings__passage__document", distinct=True)
    )


def code(member: Membership, code_id: int) -> Code:
    found = codes(member).filter(pk=code_id).first()
    if found is None:
        raise NotFound("This code isn’t in the codebook any more; somebody has deleted it.")
    return found


def codings(member: Membership) -> QuerySet[Coding]:
    return Coding.objects.filter(passage__document__project__in=Project.objects.visible_to(member.account)).filter(
        passage__document__project=member.project_id
    )


def passages_of(document: Document) -> list[dict[str, Any]]:
    """A document's passages in reading order, each with its codings."""
    rows = Passage.objects.filter(document=document).prefetch_related("codings__coder", "memos__author")
    return [
        {
            "id": row.pk,
            "start": row.start,
            "end": row.end,
            "codings": [
                {
                    "id": coding.pk,
                    "code": coding.code_id,
                    "coder": coding.coder_id,
                    "initials": coding.coder.initials,
                    "coder_name": coding.coder.display_name,
                }
                for coding in row.codings.all()
            ],
            "memos": [
                {
                    "id": memo.pk,
                    "text": memo.text,
                    "kind": memo.kind,
                    "author": memo.author.display_name,
                    "source": memo.source,
                }
                for memo in row.memos.all()
            ],
        }
        for row in rows
    ]


def pins(member: Membership) -> dict[int, int]:
    """The member's own keys: key → code."""
    return dict(Pin.objects.filter(project=member.project_id, account=member.account).values_list("key", "code_id"))


def coders(member: Membership) -> QuerySet[Account]:
    """Everybody who has coded in this project, and the member."""
    return (
        Account.objects.filter(Q(codings__passage__document__project=member.project_id) | Q(pk=member.account_id))
        .distinct()
        .order_by("display_name")
    )
