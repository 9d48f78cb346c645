"""What is erased with a person or a document: which documents go whole, in which only turns, and by which names."""

import re
from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import JSONField
from django.db.models.functions import Cast

from core.gather.transcript import BEFORE_FIRST, HEADINGS, WHOLE
from core.language import say
from core.text.editing import Edit
from core.text.names import ANYBODY
from server.common.errors import NotFound
from server.compare.frozen import Then, unpacked
from server.compare.models import FrozenResult
from server.gather import queries as gather
from server.gather.models import Document, Speaker, SpeakerRole, Turn
from server.people import queries as people
from server.people.models import Case
from server.projects.models import Membership, TrailEntry

INSTEAD = "[forgotten]"
"""What stands where somebody's words stood, among those of others."""
SHORTEST_NAME = 2
"""Letters from which a name is looked for in what people wrote: one letter stands in every other word."""


@dataclass(frozen=True)
class Reach:
    """``case`` and its ``documents`` that go; ``turns`` of theirs in documents in which others speak too."""

    member: Membership
    called: str
    case: Case | None
    documents: tuple[Document, ...]
    speakers: tuple[Speaker, ...]
    """Theirs, in documents that stay."""
    turns: tuple[Turn, ...]
    names: frozenset[str]

    @property
    def shared(self) -> list[Document]:
        """Documents that stay, without what this person says in them."""
        return sorted({one.document for one in self.speakers}, key=lambda row: row.title)

    @property
    def heard_in(self) -> set[int]:
        """Documents that hold any of it, by ID."""
        return {one.pk for one in (*self.documents, *self.shared)}

    def stands_in(self, row: FrozenResult) -> bool:
        """Whether a result as it was on a day holds any of it."""
        then = unpacked(row)
        return bool(self.said_in(then)) or any(document in self.heard_in for document, _, _ in then.passages.values())

    def said_in(self, then: Then) -> set[int]:
        """Of what was kept of a day, the passages that are this person's."""
        own = None if self.case is None else self.case.pk
        return {passage for pairs in then.cells.values() for passage, who in pairs if who == own}

    def edits(self, document: Document) -> list[Edit]:
        """What takes their words out of a document in which others speak too."""
        own = [turn for turn in self.turns if turn.document_id == document.pk and turn.ink_start < turn.ink_end]
        return [Edit(turn.ink_start, turn.ink_end, INSTEAD) for turn in own]

    @property
    def words(self) -> Iterable[str]:
        """Every text that goes."""
        for document in self.documents:
            yield document.text
        for turn in self.turns:
            yield turn.document.text[turn.ink_start : turn.ink_end]


def of_document(member: Membership, document_id: int) -> Reach:
    document = gather.document(member, document_id)
    names = {document.title, document.source_name} | _former(member, "gather.document", document.pk, "title")
    return Reach(member, document.title, None, (document,), (), (), _telling(names))


def of_case(member: Membership, case_id: int) -> Reach:
    case = people.case(member, case_id)
    own = list(Speaker.objects.filter(case=case).select_related("document"))
    whole: list[Speaker] = []
    shared: list[Speaker] = []
    for speaker in own:
        others = speaker.document.speakers.filter(role=SpeakerRole.PARTICIPANT).exclude(case=case).exists()
        (shared if others else whole).append(speaker)
    documents = tuple({speaker.document_id: speaker.document for speaker in whole}.values())
    turns = tuple(Turn.objects.filter(speaker__in=shared).select_related("document").order_by("document_id", "number"))
    names = {case.identifier} | _former(member, "people.case", case.pk, "identifier") | _labels(own, case)
    for document in documents:
        names |= {document.title, document.source_name}
    return Reach(member, case.identifier, case, documents, tuple(shared), turns, _telling(names))


_ANYBODY = {WHOLE, HEADINGS, BEFORE_FIRST, *ANYBODY}
"""What a label may say of anybody: looked for in what was written it would take out what isn't about them."""


def _labels(own: list[Speaker], case: Case) -> set[str]:
    """What they are called in the texts, but for what somebody else is called too, or anybody is."""
    found = {one.label for one in own if not {one.label, re.sub(r"[\s\d]+$", "", one.label.casefold())} & _ANYBODY}
    others = Speaker.objects.filter(document__project=case.project_id, label__in=found).exclude(case=case)
    named = Case.objects.filter(project=case.project_id, identifier__in=found).exclude(pk=case.pk)
    return found - set(others.values_list("label", flat=True)) - set(named.values_list("identifier", flat=True))


def _former(member: Membership, model: str, key: int, field: str) -> set[str]:
    """Names from before a renaming, as the trail has them."""
    found: set[str] = set()
    entries = TrailEntry.objects.filter(project=member.project_id).annotate(steps=Cast("inverse", JSONField()))
    named = [{"model": model, "id": key}]
    for steps in entries.filter(steps__contains=named).values_list("inverse", flat=True):  # type: ignore[misc]
        for step in steps:
            if step.get("model") == model and step.get("id") == key:
                found |= {step[side][field] for side in ("now", "then") if field in step.get(side, {})}
    return found


def _telling(names: set[str]) -> frozenset[str]:
    return frozenset(name for name in names if name and len(name) >= SHORTEST_NAME)


def found(member: Membership, case: int | None = None, document: int | None = None) -> Reach:
    if case is not None:
        return of_case(member, case)
    if document is not None:
        return of_document(member, document)
    raise NotFound(say("Say who, or which document, is to be forgotten."))
