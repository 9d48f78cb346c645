"""Reads on documents, speakers and staged files, each filtered by membership."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Count, F, Q, QuerySet, Sum
from django.db.models.functions import Left

from core.language import say
from core.people.called import Calling, is_a_name
from core.people.linking import LinkProposal, UnlinkedSpeaker, propose_links
from server.common.errors import NotFound
from server.gather.models import Document, Medium, Speaker, SpeakerRole, StagedFile
from server.people.models import Case, Value, Variable
from server.projects.models import Membership, Project


def documents(member: Membership) -> QuerySet[Document]:
    return Document.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def document(member: Membership, document_id: int) -> Document:
    found = documents(member).filter(pk=document_id).first()
    if found is None:
        raise NotFound(say("This document isn’t in the project; it may have been deleted."))
    return found


def medium(member: Membership, document_id: int, role: str, number: int) -> Medium:
    """A picture or recording of a document; the original of a PDF is only drawn from, never handed out."""
    found = Medium.objects.filter(document=document(member, document_id), role=role, number=number)
    one = found.exclude(role="pages").first()
    if one is None:
        raise NotFound(say("The document has no such picture or recording."))
    return one


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
    """For each speaker without a case, how many passages overlap its turns, in words or in time, or are regions of its
    picture or page."""
    in_words = Q(document__passages__start__lt=F("turns__ink_end")) & Q(
        document__passages__end__gt=F("turns__ink_start")
    )
    in_time = Q(document__passages__begin__lt=F("turns__finish")) & Q(document__passages__finish__gt=F("turns__begin"))
    rows = (
        unlinked(member)
        .filter(in_words | in_time | Q(document__passages__page__isnull=False))
        .values("id")
        .annotate(touched=Count("document__passages", distinct=True))
        .order_by()
    )
    return {row["id"]: row["touched"] for row in rows}


BEGINNING = 400
"""Code points of a document's beginning in which an ID or name is looked for."""
_MOST_LETTERS = 80
"""Of a value that could be a name, an address or a room."""


def link_proposals(member: Membership) -> list[LinkProposal]:
    """For every participant without a case, whom it seems to be, or why nobody."""
    waiting = list(unlinked(member).annotate(beginning=Left("document__text", BEGINNING)))
    if not waiting:
        return []
    participants = Speaker.objects.filter(document__in=documents(member), role=SpeakerRole.PARTICIPANT)
    said = (
        participants.values("document", "id").annotate(said=Sum("turns__words")).values_list("document", "id", "said")
    )
    by_document: dict[int, dict[int, int]] = {}
    for document_id, speaker_id, words in said:
        by_document.setdefault(document_id, {})[speaker_id] = words or 0
    alone = {document_id for document_id, those in by_document.items() if len(those) == 1}
    share = {
        speaker_id: words / max(1, sum(those.values()))
        for those in by_document.values()
        for speaker_id, words in those.items()
    }
    rows = Case.objects.filter(project=member.project_id)
    return propose_links(
        [
            UnlinkedSpeaker(
                speaker.pk,
                speaker.label,
                speaker.document.source_name or speaker.document.title,
                speaker.document_id in alone,
                speaker.beginning,
                share[speaker.pk],
            )
            for speaker in waiting
        ],
        dict(rows.values_list("id", "identifier")),
        _callings(member),
        list(rows.filter(speakers=None).order_by("id").values_list("id", flat=True)),
    )


def _callings(member: Membership) -> list[Calling]:
    """What variables in words hold of each case: among it are names. A category is one only where it is called so."""
    variables = Variable.objects.filter(project=member.project_id, of="case", kind__in=["text", "category"])
    wanted = [pk for pk, name, kind in variables.values_list("id", "name", "kind") if kind == "text" or is_a_name(name)]
    rows = Value.objects.filter(variable__in=wanted, case__isnull=False, missing=None)
    found = rows.values_list("case_id", "words", "category__label", "variable__name")
    return [
        Calling(case, words or label, variable)
        for case, words, label, variable in found
        if 0 < len(words or label or "") <= _MOST_LETTERS
    ]


def documents_called(member: Membership, names: Iterable[str]) -> dict[str, int]:
    """Documents by the title or the file name that a sheet calls them by; a name that fits two is none."""
    rows = list(documents(member).values_list("id", "title", "source_name"))
    by_title = {title.casefold(): pk for pk, title, _ in rows}
    sources = Counter(source.casefold() for _, _, source in rows)
    by_source = {source.casefold(): pk for pk, _, source in rows if source and sources[source.casefold()] == 1}
    found = {}
    for name in dict.fromkeys(names):
        plain = name.strip().casefold()
        pk = by_title.get(plain) or by_source.get(plain) or by_title.get(plain.rsplit(".", 1)[0])
        if plain and pk:
            found[name] = pk
    return found


@dataclass(frozen=True)
class Check:
    """What is worth a look before comparing: each list empty where all is well."""

    documents_without_case: list[Document]
    cases_without_material: list[Case]
    cases_in_several: list[tuple[Case, list[str]]]
    silent_speakers: list[Speaker]


def check(member: Membership) -> Check:
    """Documents nobody is linked in, cases without material, those in several documents (of which
    waves), and participants who never say a word."""
    rows = documents(member).defer("text")
    with_case = Speaker.objects.filter(document__in=rows, case__isnull=False).values("document")
    without = rows.exclude(pk__in=with_case)
    cases = Case.objects.filter(project=member.project_id)
    linked: dict[int, list[str]] = {}
    names = _waves(member)
    pairs = Speaker.objects.filter(case__in=cases).values_list("case_id", "document_id", "document__title").distinct()
    for case_id, document_id, title in pairs.order_by("document__title"):
        linked.setdefault(case_id, []).append(f"{title} ({names[document_id]})" if document_id in names else title)
    several = cases.filter(pk__in=[pk for pk, titles in linked.items() if len(titles) > 1])
    silent = speakers(member).filter(role=SpeakerRole.PARTICIPANT).annotate(said=Sum("turns__words"))
    return Check(
        list(without),
        list(cases.filter(speakers=None)),
        [(row, linked[row.pk]) for row in several],
        list(silent.filter(Q(said=0) | Q(said=None), document__words__gt=0)),
    )


def _waves(member: Membership) -> dict[int, str]:
    """Of each document the value of the first category variable about documents, such as its wave."""
    first = (
        Variable.objects.filter(project=member.project_id, of="document", kind__in=["category", "ordered"])
        .order_by("position", "id")
        .first()
    )
    if first is None:
        return {}
    rows = Value.objects.filter(variable=first, category__isnull=False)
    return dict(rows.values_list("document_id", "category__label"))


def staged(member: Membership) -> QuerySet[StagedFile]:
    """The member's own files that wait to be brought in."""
    return StagedFile.objects.filter(project=member.project_id, account=member.account)


def one_staged(member: Membership, staged_id: int) -> StagedFile:
    found = staged(member).filter(pk=staged_id).first()
    if found is None:
        raise NotFound(say("This file isn’t waiting any more."))
    return found


def brought_in_before(member: Membership, digests: list[str]) -> dict[str, str]:
    """Digest → title of the document that the same file became."""
    found = documents(member).filter(source_digest__in=[digest for digest in digests if digest])
    return dict(found.values_list("source_digest", "title"))
