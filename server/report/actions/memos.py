"""Writes on memos: the researcher's own words, attached to anything."""

from collections.abc import Sequence
from typing import Any

from core.coding.places import Stretch
from core.gather.labels import Line
from core.gather.transcript import WHOLE, Corrections, read_transcript
from core.language import say
from server.coding import queries as coding
from server.coding.actions.places import passage_at, short
from server.coding.models import Passage
from server.common.errors import NotFound, Refusal
from server.common.kinds import MemoKind
from server.compare import queries as compare
from server.gather import queries as gather
from server.gather.actions import add_document
from server.gather.models import Document
from server.people import queries as people
from server.projects.change import Change
from server.projects.models import MemberRole, Membership
from server.projects.trail import act
from server.report.actions.memo_kinds import first_kind, known_kinds, set_kinds
from server.report.actions.memo_links import Link, set_links
from server.report.models import Kind, Memo

ON_MANY = ("code", "theme", "document", "case", "comparison")
"""What many memos can be put on at once: a passage is marked where it stands."""


def write_memo(
    member: Membership,
    text: str,
    kinds: Sequence[Kind] = (MemoKind.ANALYTIC,),
    *,
    passage: int | None = None,
    stretch: tuple[int, int, int] | None = None,
    code: int | None = None,
    theme: int | None = None,
    document: int | None = None,
    case: int | None = None,
    comparison: int | None = None,
    links: Sequence[Link] = (),
) -> Memo:
    """Write a memo on one thing, or on the project as a whole. ``stretch``: (document, start, end) of words that
    aren't a passage yet; ``links``: what its words in double brackets mean."""
    with act(member, "memo.write") as change:
        if not text.strip():
            raise Refusal(say("Write something first."))
        on = {
            "passage": coding.passage(member, passage) if passage else _passage(change, stretch),
            **_on(member, code=code, theme=theme, document=document, case=case, comparison=comparison),
        }
        if sum(one is not None for one in on.values()) > 1:
            raise Refusal(say("A memo is on one thing; write another for the second."))
        known = known_kinds(member, kinds)
        change.summary = say("Wrote the memo “{short}”", short=short(text))
        memo = change.create(
            Memo(project_id=member.project_id, author=member.account, kind=first_kind(known), text=text.strip(), **on)
        )
        set_kinds(change, memo, known)
        set_links(change, memo, links)
    return memo


def _on(
    member: Membership,
    code: int | None,
    theme: int | None,
    document: int | None,
    case: int | None,
    comparison: int | None,
) -> dict[str, Any]:
    """What a memo can be on besides a passage; each is looked up among what the member sees."""
    return {
        "code": coding.code(member, code) if code else None,
        "theme": coding.theme(member, theme) if theme else None,
        "document": gather.document(member, document) if document else None,
        "case": people.case(member, case) if case else None,
        "comparison": compare.kept_comparison(member, comparison) if comparison else None,
    }


def _passage(change: Change, stretch: tuple[int, int, int] | None) -> Passage | None:
    if stretch is None:
        return None
    document_id, start, end = stretch
    return passage_at(change, gather.document(change.member, document_id), Stretch(start, end))[0]


def change_memo(
    member: Membership,
    memo_id: int,
    text: str | None = None,
    kinds: Sequence[Kind] | None = None,
    links: Sequence[Link] = (),
) -> Memo:
    """Change what a memo says, or which kinds it is of."""
    with act(member, "memo.change") as change:
        memo = _own(member, memo_id, "change")
        words = memo.text if text is None else text.strip()
        if not words:
            raise Refusal(say("A memo says something; delete it if it isn’t wanted any more."))
        change.update(memo, text=words)
        if kinds is not None:
            set_kinds(change, memo, known_kinds(member, kinds))
        if text is not None:
            set_links(change, memo, links)
        change.summary = say("Changed the memo “{short}”", short=short(memo.text))
    return memo


def change_memos(
    member: Membership,
    memo_ids: Sequence[int],
    give: Sequence[Kind] = (),
    take: Sequence[Kind] = (),
    on: tuple[str, int] | None = None,
) -> int:
    """Give many memos kinds, take kinds from them, or put them ``on`` one thing (``("project", 0)``: on the project as a whole), in
    one step. How many there are."""
    with act(member, "memo.change") as change:
        rows = _all_own(member, memo_ids)
        given, taken = known_kinds(member, give), set(take)
        to: dict[str, Any] = {}
        if on is not None:
            held = dict.fromkeys(ON_MANY, None) | ({} if on[0] == "project" else {on[0]: on[1]})
            to = {f"{name}_id": one.pk if one else None for name, one in _on(member, **held).items()} | {
                "passage_id": None
            }
        left = [memo.passage_id for memo in rows if memo.passage_id and to]
        for memo in rows:
            set_kinds(change, memo, [one for one in dict.fromkeys([*memo.kinds, *given]) if one not in taken])
            change.update(memo, **to)
        # A passage that carried nothing but what went elsewhere goes too.
        change.delete(Passage.objects.filter(pk__in=left).idle())
        change.summary = say("Changed {n, plural, one {# memo} other {# memos}}", n=len(rows))
    return len(rows)


def _all_own(member: Membership, memo_ids: Sequence[int]) -> list[Memo]:
    """These memos, all of which the member may change."""
    rows = list(
        Memo.objects.filter(project=member.project_id, pk__in=memo_ids)
        .select_related("author")
        .prefetch_related("of_kinds")
    )
    if len(rows) < len(set(memo_ids)):
        raise NotFound(say("A memo of these is gone already; nothing was changed."))
    others = [memo for memo in rows if memo.author_id != member.account_id]
    if others and not member.may(MemberRole.OWNER):
        raise Refusal(
            say(
                "{n, plural, one {# memo of these is} other {# memos of these are}} somebody else’s; only they or an owner can change {n, plural, one {it} other {them}}. Nothing was changed.",
                n=len(others),
            )
        )
    return rows


def delete_memo(member: Membership, memo_id: int) -> None:
    """Delete a memo; a passage that carries nothing else goes too."""
    with act(member, "memo.delete") as change:
        memo = _own(member, memo_id, "delete")
        change.summary = say("Deleted the memo “{short}”", short=short(memo.text))
        change.delete(Memo.objects.filter(pk=memo_id))
        if memo.passage_id:
            change.delete(Passage.objects.filter(pk=memo.passage_id).idle())


def memo_into_document(member: Membership, memo_id: int) -> Document:
    """Make a document of a memo, to be coded like any other: its author speaks it, as a researcher, so that it
    counts for no case. The memo stays."""
    with act(member, "memo.into_document") as change:
        memo = Memo.objects.filter(project=member.project_id, pk=memo_id).select_related("author").first()
        if memo is None:
            raise NotFound(say("This memo is gone already."))
        speaker = memo.author.display_name
        whole = Corrections(one_turn=True, renamed={WHOLE: speaker}, roles={speaker: "other"})
        transcript = read_transcript([Line(line) for line in memo.text.splitlines()], whole)
        if not transcript.words:
            raise Refusal(say("There are no words in this memo."))
        title = say("Memo, {made_at}: {short}", made_at=f"{memo.made_at:%Y-%m-%d}", short=short(memo.text))
        number, free = 1, title
        while gather.documents(member).filter(title=free).exists():
            number += 1
            free = f"{title} ({number})"
        change.summary = say("Made a document of the memo “{short}”", short=short(memo.text))
        return add_document(change, free, transcript)


def _own(member: Membership, memo_id: int, verb: str) -> Memo:
    memo = Memo.objects.filter(project=member.project_id, pk=memo_id).select_related("author", "passage").first()
    if memo is None:
        raise NotFound(say("This memo is gone already."))
    if memo.author_id != member.account_id and not member.may(MemberRole.OWNER):
        raise Refusal(
            say(
                "This memo is {display_name}’s; only they or an owner can {verb} it.",
                display_name=memo.author.display_name,
                verb=verb,
            )
        )
    return memo
