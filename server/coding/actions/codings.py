"""Writes on passages and their codings."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import models

from core.coding.places import Place, Stretch
from core.gather.transcript import FoundMark
from core.language import say
from core.text.normalise import ink_bounds
from core.text.sentences import sentences_around
from server.coding import queries
from server.coding.actions.codes import new_code
from server.coding.actions.places import as_read, drawn_in, located, passage_at, said
from server.coding.models import HIGHEST, TEXT, Code, Coding, Passage, ProposedCode
from server.common.errors import NotFound, Refusal
from server.gather import queries as gather
from server.gather.models import Document, Turn
from server.projects.becoming import tell
from server.projects.change import Change
from server.projects.models import MemberRole, Membership
from server.projects.trail import act

LONGEST_CODE_COMMENT = 80
"""Characters up to which a comment can be taken for a code's name."""


@dataclass(frozen=True)
class Put:
    """What putting codes left: the passage; what the trail says was done, None where all was there already; and all
    codings on the passage where it was made just now."""

    passage: Passage
    done: str | None
    codings: list[Coding] | None


@dataclass(frozen=True)
class NewCode:
    """A code to be made on the spot, at the top or beneath ``parent_id``."""

    name: str
    parent_id: int | None = None


def apply_codes(
    member: Membership,
    document_id: int,
    start: int,
    end: int,
    code_ids: list[int],
    new_codes: list[NewCode] | None = None,
) -> Passage:
    """Put codes on the words ``[start, end)`` (code points)."""
    return put_codes(member, document_id, Stretch(start, end), code_ids, new_codes).passage


def put_codes(
    member: Membership,
    document_id: int,
    place: Place,
    code_ids: list[int],
    new_codes: list[NewCode] | None = None,
    words: tuple[str, str] | None = None,
) -> Put:
    """Put codes on a place in a document, making codes that don't exist yet.

    A stretch is drawn in to non-space characters. A code already there by this coder stays once. ``words``: how the stretch begins
    and ends in the text that whoever codes has read, which others may have changed before the coding arrives.
    """
    with act(member, "coding.put") as change:
        document = gather.document(member, document_id)
        if words is not None:
            place = as_read(document, place, *words)
        wanted = [queries.code(member, code_id) for code_id in dict.fromkeys(code_ids)]
        wanted += _made(change, new_codes or [])
        if not wanted:
            raise Refusal(say("Choose a code first."))
        passage, made = passage_at(change, document, place)
        put = put_on(change, [passage], wanted, made)
        names = ", ".join(code.name for code in wanted)
        change.summary = say("Put {names} on {said}", names=names, said=said(passage))
    return Put(passage, change.summary if change.inverse else None, put if made else None)


def remove_coding(member: Membership, coding_id: int) -> None:
    """Take one code off a passage; a passage without codes goes too."""
    with act(member, "coding.remove") as change:
        coding = (
            queries.codings(member).filter(pk=coding_id).select_related("code", "passage__document", "coder").first()
        )
        if coding is None:
            raise NotFound(say("This coding is gone already."))
        if coding.coder_id != member.account_id and not member.may(MemberRole.OWNER):
            raise Refusal(
                say(
                    "This coding is {display_name}’s; only they or an owner can take it off.",
                    display_name=coding.coder.display_name,
                )
            )
        passage = coding.passage
        change.summary = say("Took {name} off {said}", name=coding.code.name, said=said(passage))
        change.delete(Coding.objects.filter(pk=coding_id))
        change.delete(Passage.objects.filter(pk=passage.pk).idle())


def move_passage(member: Membership, passage_id: int, place: Place) -> Passage:
    """Lengthen, shorten or move a passage: the member's own codings and memos go to ``place``, those of
    others stay where they put them. Where such a passage is already, the two become one."""
    with act(member, "passage.move") as change:
        passage = queries.passage(member, passage_id)
        document = passage.document
        if type(place) is not type(passage.place):
            raise Refusal(say("Words stay words, and a picture a picture: mark the other place anew."))
        columns = located(document, place)
        if all(getattr(passage, name) == value for name, value in columns.items()):
            return passage
        own = Coding.objects.filter(passage=passage, coder=member.account)
        memos = passage.memos.filter(author=member.account)
        if not own.exists() and not memos.exists():
            raise Refusal(say("Nothing of yours is on this passage; put a code of your own on the words you mean."))
        there = Passage.objects.filter(document=document, **columns).first()
        shared = (
            passage.codings.exclude(coder=member.account).exists()
            or passage.memos.exclude(author=member.account).exists()
        )
        change.summary = say("Changed the ends of {said}", said=said(Passage(document=document, **columns)))
        if there is None and not shared:
            change.update(passage, **columns)
            return passage
        if there is None:
            there = change.create(Passage(document=document, **columns), if_unused=True)
        held = Coding.objects.filter(passage=there, coder=member.account).values("code_id")
        change.delete(own.filter(code_id__in=held))
        change.update_all(own, passage_id=there.pk)
        change.update_all(memos, passage_id=there.pk)
        if not shared:
            tell(change, "passage", passage.pk, there.pk)
            change.delete(Passage.objects.filter(pk=passage.pk))
    return there


def rate_coding(member: Membership, coding_id: int, rating: int | None) -> Coding:
    """Rate a coding on its code's scale, 1 to 5; None takes the rating off."""
    with act(member, "coding.rate") as change:
        coding = queries.codings(member).filter(pk=coding_id).select_related("code", "coder").first()
        if coding is None:
            raise NotFound(say("This coding is gone already."))
        if coding.coder_id != member.account_id:
            raise Refusal(
                say("This coding is {display_name}’s; each rates their own.", display_name=coding.coder.display_name)
            )
        if rating is not None and not coding.code.scale_low:
            raise Refusal(
                say("“{name}” has no scale; name its low and high end on its card first.", name=coding.code.name)
            )
        if rating is not None and not 1 <= rating <= HIGHEST:
            raise Refusal(say("Ratings go from 1 to {highest}.", highest=HIGHEST))
        change.update(coding, rating=rating)
        change.summary = (
            say("Rated {name} {rating}", name=coding.code.name, rating=rating)
            if rating
            else say("Took the rating off {name}", name=coding.code.name)
        )
    return coding


def code_hits(
    member: Membership,
    hits: Sequence[tuple[int, int, int]],
    extent: str,
    code_ids: Sequence[int],
    new_codes: Sequence[NewCode] = (),
) -> int:
    """Put codes on many stretches (document, start, end) at once: on the words themselves, or widened to their
    ``sentence`` or ``turn``. Returns how many passages carry them now."""
    with act(member, "coding.put_on_hits") as change:
        wanted = [queries.code(member, code_id) for code_id in dict.fromkeys(code_ids)]
        wanted += _made(change, new_codes)
        if not wanted or not hits:
            raise Refusal(say("Choose a code, and tick at least one hit."))
        documents = {row.pk: row for row in gather.documents(member).filter(pk__in={hit[0] for hit in hits})}
        turns = Turn.objects.filter(document__in=documents).order_by("number")
        bounds: dict[int, list[tuple[int, int]]] = {}
        for document_id, start, end in turns.values_list("document_id", "start", "end"):
            bounds.setdefault(document_id, []).append((start, end))
        stretches = set()
        for pk, start, end in hits:
            if pk not in documents:
                raise NotFound(say("One of the documents isn’t in the project any more; find again."))
            document, drawn = documents[pk], drawn_in(documents[pk], start, end)
            stretches.add((pk, *drawn_in(document, *_widened(document, bounds.get(pk, []), *drawn, extent))))
        passages = passages_on(change, sorted(stretches))
        put_on(change, passages, wanted)
        names = ", ".join(code.name for code in wanted)
        change.summary = say(
            "Put {names} on {passages} {passages, plural, one {passage} other {passages}} found",
            names=names,
            passages=len(passages),
        )
    return len(passages)


def passages_on(change: Change, stretches: Sequence[tuple[int, int, int]]) -> list[Passage]:
    """The passages on these stretches (document, start, end), made where there are none."""
    there = {
        (row.document_id, row.start, row.end): row
        for row in Passage.objects.filter(TEXT, document__in={stretch[0] for stretch in stretches})
    }
    fresh = [
        Passage(document_id=pk, start=start, end=end) for pk, start, end in stretches if (pk, start, end) not in there
    ]
    for row in change.create_many(fresh, if_unused=True):
        there[row.document_id, row.start, row.end] = row
    return [there[stretch] for stretch in stretches]


def _made(change: Change, new_codes: Sequence[NewCode]) -> list[Code]:
    """Codes made on the spot. One that somebody has made meanwhile, or that was sent before, is that one."""
    found = []
    for new in new_codes:
        name = " ".join(new.name.split())
        there = queries.codes(change.member).filter(parent=new.parent_id, name__iexact=name).first()
        found.append(there or new_code(change, name, new.parent_id))
    return found


def put_on(
    change: Change, passages: Sequence[Passage], codes: Sequence[Code], made: bool = False, by_words: bool = False
) -> list[Coding]:
    """Put codes on passages; those that the member has put there already stay once. ``made``: nothing is on them yet;
    ``by_words``: words proposed it."""
    own = Coding.objects.filter(passage__in=passages, coder=change.member.account)
    held = set() if made else set(own.values_list("passage_id", "code_id"))
    return change.create_many(
        [
            Coding(passage=passage, code=code, coder=change.member.account, by_words=by_words)
            for passage in passages
            for code in codes
            if (passage.pk, code.pk) not in held
        ]
    )


def _widened(document: Document, turns: list[tuple[int, int]], start: int, end: int, extent: str) -> tuple[int, int]:
    if extent == "hit":
        return start, end
    low = next((first for first, last in turns if first <= start < last), 0)
    high = next((last for first, last in turns if first < end <= last), document.length)
    return (low, high) if extent == "turn" else sentences_around(document.text, start, end, low, high)


def propose_codes(member: Membership, document_id: int, speaker_id: int | None, code_ids: Sequence[int]) -> None:
    """Say which codes are proposed for each new passage of a document, or of one of its speakers."""
    with act(member, "coding.propose") as change:
        document = gather.document(member, document_id)
        if speaker_id is not None and not document.speakers.filter(pk=speaker_id).exists():
            raise NotFound(say("This speaker isn’t in the document any more."))
        wanted = [queries.code(member, code_id) for code_id in dict.fromkeys(code_ids)]
        rows = ProposedCode.objects.filter(document=document, speaker=speaker_id)
        change.delete(rows.exclude(code__in=wanted))
        held = set(rows.values_list("code_id", flat=True))
        for code in wanted:
            if code.pk not in held:
                change.create(ProposedCode(document=document, speaker_id=speaker_id, code=code))
        names = ", ".join(code.name for code in wanted) or say("no code")
        change.summary = say("Proposed {names} for new passages of {title}", names=names, title=document.title)


def mark_comments(change: Change, document: Document, marks: Sequence[FoundMark], what: str) -> int:
    """Comments of a file, on their passages: as memos, or (``what`` is ``codes``) short ones as codes.
    Inside the import's action; returns how many."""
    drawn = [(mark, ink_bounds(document.text, mark.start, mark.end)) for mark in marks]
    drawn = [(mark, place) for mark, place in drawn if place[0] < place[1]]
    places = list(dict.fromkeys(place for _, place in drawn))
    made = change.create_many([Passage(document=document, start=start, end=end) for start, end in places])
    passages = dict(zip(places, made, strict=True))
    codes: dict[str, Code] = {row.name.casefold(): row for row in queries.codes(change.member)}
    codings: dict[tuple[int, int], Coding] = {}
    memos = []
    for mark, place in drawn:
        passage, name = passages[place], " ".join(mark.text.split())
        if what == "codes" and len(name) <= LONGEST_CODE_COMMENT:
            code = codes.get(name.casefold())
            if code is None:
                code = codes[name.casefold()] = new_code(change, name, None)
            codings[passage.pk, code.pk] = Coding(passage=passage, code=code, coder=change.member.account)
        else:
            memos.append(_from_comment(change, mark, passage))
    change.create_many(list(codings.values()))
    change.create_many(memos)
    return len(drawn)


def _from_comment(change: Change, mark: FoundMark, passage: Passage) -> models.Model:
    return passage.memos.model(
        project_id=change.project_id,
        author=change.member.account,
        text=mark.text,
        source=mark.author,
        passage=passage,
    )
