"""Changing texts that are coded already: every passage moves with its words, or is asked about."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from core.gather.timed import written_time
from core.language import message, say, worded
from core.text.editing import (
    Edit,
    Edited,
    Search,
    apply_edits,
    difference,
    one_after_another,
    pseudonyms,
    replacements,
)
from core.text.normalise import ink_bounds, normalise
from core.text.words import count_words, word_at
from server.coding.actions.topics import move_hits
from server.coding.models import TEXT, Coding, Passage
from server.common.errors import Conflict, NotAllowed, Refusal
from server.gather import queries
from server.gather.models import Document, DocumentKind, NamePair, Section, Turn
from server.gather.word_index import index_again, index_words
from server.projects.becoming import tell
from server.projects.change import Change
from server.projects.models import MemberRole, Membership
from server.projects.trail import act

Decision = Literal["remove", "keep"]
MOST_PAIRS = 2_000
_NOTHING_LEFT = message("Nothing would be left of the text. Delete the document instead.")


@dataclass(frozen=True)
class Lost:
    """A passage that would lose all its words."""

    passage: int
    document: int
    title: str
    text: str
    codes: list[str]


def lost_by(document: Document, edits: Sequence[Edit]) -> list[Lost]:
    """Passages of the document that these edits leave without a word."""
    edited = apply_edits(document.text, edits)
    rows = Passage.objects.filter(TEXT, document=document).prefetch_related("codings__code")
    return [
        Lost(
            row.pk,
            document.pk,
            document.title,
            document.text[row.start : row.end],
            sorted({coding.code.name for coding in row.codings.all()}),
        )
        for row in rows
        if edited.moved(row.start, row.end) is None
    ]


def turn_edits(document: Document, number: int, text: str) -> list[Edit]:
    """The edits that make ``text`` of what a turn says."""
    turn = Turn.objects.filter(document=document, number=number).first()
    if turn is None:
        raise Refusal(say("This turn isn’t in the document any more; reload it."))
    said = normalise(text).strip()
    return difference(document.text[turn.ink_start : turn.ink_end], said, turn.ink_start)


def edit_turn(
    member: Membership,
    document_id: int,
    number: int,
    text: str,
    decisions: Mapping[int, Decision],
    begin: float | None = None,
) -> None:
    """What a turn says, typed anew. ``begin``: when it begins in the recording (seconds), by which it is known where turns before
    it were cut or joined since whoever types has read them."""
    with act(member, "text.edit") as change:
        document = queries.document(member, document_id)
        if begin is not None:
            number = _beginning(document, number, begin)
        edits = turn_edits(document, number, text)
        if edits:
            retext_turn(change, document, number, edits, decisions)
            typed = document.kind == DocumentKind.RECORDING and edits[0].start == edits[-1].end
            change.summary = (
                say("Typed turn {number} of “{title}”", number=number, title=document.title)
                if typed
                else say("Changed the text of turn {number} in “{title}”", number=number, title=document.title)
            )


def _beginning(document: Document, number: int, begin: float) -> int:
    """The number of the turn that begins then: this one, or the only other."""
    found = list(Turn.objects.filter(document=document, begin=begin).values_list("number", flat=True))
    if number in found:
        return number
    if len(found) == 1:
        return found[0]
    raise Refusal(
        say(
            "No one turn begins at {time} any more; nothing was changed. Your words stay here.",
            time=written_time(begin),
        )
    )


def retext_turn(
    change: Change, document: Document, number: int, edits: Sequence[Edit], decisions: Mapping[int, Decision]
) -> None:
    """One turn's new words: what stands behind it moves along at once, and what is put in at its edge is the turn's own."""
    edited = apply_edits(document.text, edits)
    if not edited.text.strip() and document.kind != DocumentKind.RECORDING:
        raise Refusal(worded(_NOTHING_LEFT))
    move_passages(change, document, edited, decisions)
    turn = Turn.objects.get(document=document, number=number)
    grown = len(edited.text) - len(document.text)
    ink_start, ink_end = ink_bounds(edited.text, turn.start, turn.end + grown)
    words = count_words(edited.text[turn.start : turn.end + grown])
    more = words - turn.words
    sections = Section.objects.filter(document=document)
    change.shift(sections.filter(start__gte=turn.end), grown, "start", "end")
    change.shift(sections.filter(start__lt=turn.end, end__gte=turn.end), grown, "end")
    later = Turn.objects.filter(document=document, number__gt=number)
    change.shift(later, grown, "start", "end", "ink_start", "ink_end")
    change.update(turn, end=turn.end + grown, ink_start=ink_start, ink_end=ink_end, words=words)
    first, last = edits[0].start, edits[-1].end
    change.splice(document, "text", first, last, edited.text[first : last + grown])
    change.update(document, length=len(edited.text), words=document.words + more)
    index_again(document)


def found_in(
    member: Membership, search: Search, replacement: str, document_ids: list[int] | None
) -> dict[int, tuple[Document, list[Edit]]]:
    """For each document in which it is found, the edits that would replace it."""
    documents = queries.documents(member)
    if document_ids is not None:
        documents = documents.filter(pk__in=document_ids)
    found = {row.pk: (row, replacements(row.text, search, normalise(replacement))) for row in documents.iterator(50)}
    return {pk: pair for pk, pair in found.items() if pair[1]}


def replace_all(
    member: Membership,
    search: Search,
    replacement: str,
    places: Mapping[int, Sequence[int]] | None,
    decisions: Mapping[int, Decision],
) -> int:
    """Replace what is found; ``places`` (document → starts) says which of the places, None all of them."""
    if not search.find.strip():
        raise Refusal(say("Say what to find."))
    with act(member, "text.replace") as change:
        count = 0
        for pk, (document, edits) in found_in(
            member, search, replacement, list(places) if places is not None else None
        ).items():
            if places is not None:
                wanted = set(places[pk])
                edits = [edit for edit in edits if edit.start in wanted]
            if edits:
                retext(change, document, edits, decisions)
                count += len(edits)
        if not count:
            raise Refusal(say("It isn’t found any more; look again."))
        change.summary = say(
            "Replaced “{find}” by “{replacement}” in {count} {count, plural, one {place} other {places}}",
            find=search.find,
            replacement=replacement,
            count=count,
        )
    return count


def pairs(member: Membership) -> list[NamePair]:
    """Names and their pseudonyms; a viewer doesn't see who is meant."""
    if not member.may(MemberRole.CODER):
        raise NotAllowed(say("The list of real names is open to owners and coders only."))
    return list(NamePair.objects.filter(project=member.project_id))


def set_pairs(member: Membership, said: Sequence[tuple[str, str]]) -> list[NamePair]:
    """The whole list of names and pseudonyms, as it should be. It stays out of the trail: undo data
    would keep the names for good."""
    if not member.may(MemberRole.CODER):
        raise NotAllowed(say("The list of real names is open to owners and coders only."))
    wanted = {
        " ".join(name.split())[:120]: " ".join(pseudonym.split())[:120] for name, pseudonym in said if name.strip()
    }
    if len(wanted) > MOST_PAIRS:
        raise Refusal(say("At most {most_pairs, number} names can be listed.", most_pairs=MOST_PAIRS))
    bare = [name for name, pseudonym in wanted.items() if not pseudonym]
    if bare:
        raise Refusal(say("“{bare}” has no pseudonym yet.", bare=bare[0]))
    NamePair.objects.filter(project=member.project_id).delete()
    NamePair.objects.bulk_create(
        [NamePair(project_id=member.project_id, name=name, pseudonym=other) for name, other in wanted.items()]
    )
    return pairs(member)


def named_in(member: Membership) -> dict[int, tuple[Document, list[Edit]]]:
    """For each document in which a listed name stands, the edits that would replace it."""
    known = [(pair.name, pair.pseudonym) for pair in pairs(member)]
    found = {row.pk: (row, pseudonyms(row.text, known)) for row in queries.documents(member).iterator(50)}
    return {pk: pair for pk, pair in found.items() if pair[1]}


def anonymise(member: Membership, decisions: Mapping[int, Decision]) -> int:
    """Put pseudonyms in place of all listed names, in every document, its title and its speakers' labels."""
    known = [(pair.name, pair.pseudonym) for pair in pairs(member)]
    if not known:
        raise Refusal(say("List a name and its pseudonym first."))
    with act(member, "text.anonymise") as change:
        count = 0
        for document, edits in named_in(member).values():
            retext(change, document, edits, decisions)
            count += len(edits)
        for document in queries.documents(member).defer("text"):
            title = apply_edits(document.title, pseudonyms(document.title, known)).text
            source = apply_edits(document.source_name, pseudonyms(document.source_name, known)).text
            if queries.documents(member).filter(title=title).exclude(pk=document.pk).exists():
                title = f"{title} ({document.pk})"[-300:]
            count += change.update(document, title=title, source_name=source)
        for speaker in queries.speakers(member):
            label = apply_edits(speaker.label, pseudonyms(speaker.label, known)).text
            if speaker.document.speakers.filter(label=label).exclude(pk=speaker.pk).exists():
                label = f"{label} ({speaker.pk})"
            count += change.update(speaker, label=label[:120])
        if not count:
            raise Refusal(say("None of the listed names stands anywhere in the material."))
        # The summary mustn't tell the names.
        change.summary = say("Put pseudonyms in {count} {count, plural, one {place} other {places}}", count=count)
    return count


def retext(change: Change, document: Document, edits: Sequence[Edit], decisions: Mapping[int, Decision]) -> None:
    """The document's new text, and everything that has positions in it moved along."""
    if not edits:
        return
    edited = apply_edits(document.text, edits)
    if not edited.text.strip() and document.text.strip():
        raise Refusal(worded(_NOTHING_LEFT))
    move_passages(change, document, edited, decisions)
    for turn in Turn.objects.filter(document=document):
        start = 0 if turn.start == 0 else edited.boundary(turn.start)
        end = edited.boundary(turn.end)
        ink_start, ink_end = ink_bounds(edited.text, start, end)
        words = count_words(edited.text[start:end])
        change.update(turn, start=start, end=end, ink_start=ink_start, ink_end=ink_end, words=words)
    for section in Section.objects.filter(document=document):
        start = 0 if section.start == 0 else edited.boundary(section.start)
        change.update(section, start=start, end=max(start, edited.boundary(section.end)))
    words = sum(Turn.objects.filter(document=document).values_list("words", flat=True))
    change.update(document, text=edited.text, length=len(edited.text), words=words)
    index_words(change, document, edited.text)


def move_passages(change: Change, document: Document, edited: Edited, decisions: Mapping[int, Decision]) -> None:
    """Passages, and hits of topics, stay with their words; the former are asked about where they would lose all of them."""
    rows = list(Passage.objects.filter(TEXT, document=document).order_by("start", "end"))
    targets: dict[int, tuple[int, int]] = {}
    going: list[int] = []
    for row in rows:
        target = edited.moved(row.start, row.end)
        if target is None and decisions.get(row.pk) == "keep":
            target = word_at(edited.text, edited.boundary(row.start))
        if target is not None:
            targets[row.pk] = target
        elif decisions.get(row.pk) == "remove":
            going.append(row.pk)
        else:
            said = document.text[row.start : row.end][:60]
            raise Conflict(
                say("“{said}” is coded and would lose all its words: decide what becomes of the passage.", said=said)
            )
    change.delete(Passage.objects.filter(pk__in=going))
    moving = [row for row in rows if row.pk in targets]
    for place in one_after_another([((row.start, row.end), targets[row.pk]) for row in moving]):
        row = moving[place]
        start, end = targets[row.pk]
        there = Passage.objects.filter(document=document, start=start, end=end).exclude(pk=row.pk).first()
        if there is None:
            change.update(row, start=start, end=end)
        else:
            _unite(change, row, there)
    move_hits(change, document, edited)


def _unite(change: Change, row: Passage, there: Passage) -> None:
    """Two passages that have become one stretch: one keeps the codings and memos of both."""
    held = set(Coding.objects.filter(passage=there).values_list("code_id", "coder_id"))
    for coding in Coding.objects.filter(passage=row):
        if (coding.code_id, coding.coder_id) not in held:
            change.update(coding, passage_id=there.pk)
    tell(change, "passage", row.pk, there.pk)
    change.delete(Passage.objects.filter(pk=row.pk))
