"""Reads on documents, speakers and staged files, each filtered by membership."""

from django.db.models import Count, Max, Q, QuerySet

from core.people.linking import LinkProposal, UnlinkedSpeaker, propose_links
from server.common.errors import NotFound
from server.gather.models import Document, Speaker, SpeakerRole, StagedFile
from server.people.models import Case
from server.projects.models import Membership, Project


def documents(member: Membership) -> QuerySet[Document]:
    return Document.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def shelf(member: Membership) -> QuerySet[Document]:
    """Documents for the shelf, without their text, with what has been done on each."""
    return (
        documents(member)
        .defer("text")
        .prefetch_related("speakers__case")
        .annotate(
            turn_count=Count("turns", distinct=True),
            passage_count=Count("passages", distinct=True),
            last_coded=Max("passages__codings__made_at"),
        )
    )


def document(member: Membership, document_id: int) -> Document:
    found = documents(member).filter(pk=document_id).first()
    if found is None:
        raise NotFound("This document isn’t in the project; it may have been deleted.")
    return found


def speakers(member: Membership) -> QuerySet[Speaker]:
    return (
        Speaker.objects.filter(document__in=documents(member))
        .select_related("document", "case")
        .defer("document__text")
        .order_by("document__title", "id")
    )


def unlinked(member: Membership) -> QuerySet[Speaker]:
    """Participants without a case, with the passages that are in no comparison because of it."""
    return speakers(member).filter(role=SpeakerRole.PARTICIPANT, case=None)


def passages_touched(member: Membership) -> dict[int, int]:
    """For each speaker without a case, how many passages overlap its turns."""
    from django.db.models import F

    rows = (
        unlinked(member)
        .filter(
            Q(document__passages__start__lt=F("turns__ink_end")) & Q(document__passages__end__gt=F("turns__ink_start"))
        )
        .values("id")
        .annotate(touched=Count("document__passages", distinct=True))
        .order_by()
    )
    return {row["id"]: row["touched"] for row in rows}


def link_proposals(member: Membership) -> list[LinkProposal]:
    """For every participant without a case, the sure link, or why there is none."""
    waiting = list(unlinked(member))
    participants = (
        Speaker.objects.filter(document__in=documents(member), role=SpeakerRole.PARTICIPANT)
        .values("document")
        .annotate(n=Count("id"))
    )
    alone = {row["document"] for row in participants if row["n"] == 1}
    return propose_links(
        [
            UnlinkedSpeaker(
                speaker.pk,
                speaker.label,
                speaker.document.source_name or speaker.document.title,
                speaker.document_id in alone,
            )
            for speaker in waiting
        ],
        dict(Case.objects.filter(project=member.project_id).values_list("id", "identifier")),
    )


def staged(member: Membership) -> QuerySet[StagedFile]:
    """The member's own files that wait to be brought in."""
    return StagedFile.objects.filter(project=member.project_id, account=member.account)


def one_staged(member: Membership, staged_id: int) -> StagedFile:
    found = staged(member).filter(pk=staged_id).first()
    if found is None:
        raise NotFound("This file isn’t waiting any more.")
    return found


def brought_in_before(member: Membership, digests: list[str]) -> dict[str, str]:
    """Digest → title of the document that the same file became."""
    found = documents(member).filter(source_digest__in=[digest for digest in digests if digest])
    return dict(found.values_list("source_digest", "title"))
