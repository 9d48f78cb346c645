"""Reads on the codebook, passages and codings, each filtered by membership."""

from collections.abc import Sequence
from typing import Any

from django.db.models import QuerySet

from core.coding.exchange import FoundCodebook, HeldCode, How, Plan, plan
from core.coding.words import FIELDS
from core.language import say
from server.coding.models import (
    AskedTurn,
    Code,
    Coding,
    DroppedWord,
    GuideQuestion,
    Passage,
    Pin,
    ProposedCode,
    ResearchQuestion,
    Theme,
    Topic,
)
from server.common.database import one_state
from server.common.errors import NotFound
from server.gather.models import Document, SpeakerRole, Turn
from server.projects.models import Account, Membership, Project, initials_of
from server.snapshots.queries import snapshot

Scale = tuple[str, str]
REGION, SPAN = ("page", "left", "top", "right", "bottom"), ("begin", "finish")


def codes(member: Membership) -> QuerySet[Code]:
    return Code.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def code(member: Membership, code_id: int) -> Code:
    found = codes(member).filter(pk=code_id).first()
    if found is None:
        raise NotFound(say("This code isn’t in the codebook any more; somebody has deleted it."))
    return found


def codings(member: Membership) -> QuerySet[Coding]:
    return Coding.objects.filter(passage__document__project__in=Project.objects.visible_to(member.account)).filter(
        passage__document__project=member.project_id
    )


def passage(member: Membership, passage_id: int) -> Passage:
    visible = Passage.objects.filter(document__project__in=Project.objects.visible_to(member.account))
    found = visible.filter(document__project=member.project_id, pk=passage_id).select_related("document").first()
    if found is None:
        raise NotFound(say("This passage is gone already."))
    return found


def themes(member: Membership) -> QuerySet[Theme]:
    return Theme.objects.filter(project__in=Project.objects.visible_to(member.account), project=member.project_id)


def theme(member: Membership, theme_id: int) -> Theme:
    found = themes(member).filter(pk=theme_id).first()
    if found is None:
        raise NotFound(say("This theme isn’t in the project any more; somebody has deleted it."))
    return found


def questions(member: Membership) -> QuerySet[ResearchQuestion]:
    visible = Project.objects.visible_to(member.account)
    return ResearchQuestion.objects.filter(project__in=visible, project=member.project_id)


def question(member: Membership, question_id: int) -> ResearchQuestion:
    found = questions(member).filter(pk=question_id).first()
    if found is None:
        raise NotFound(say("This question isn’t in the project any more; somebody has deleted it."))
    return found


def guide(member: Membership) -> QuerySet[GuideQuestion]:
    visible = Project.objects.visible_to(member.account)
    return GuideQuestion.objects.filter(project__in=visible, project=member.project_id)


def guide_question(member: Membership, question_id: int) -> GuideQuestion:
    found = guide(member).filter(pk=question_id).first()
    if found is None:
        raise NotFound(say("This question isn’t in the guide any more; somebody has deleted it."))
    return found


def interviewers_turns(member: Membership) -> QuerySet[Turn]:
    """Turns with words of whoever asks."""
    visible = Project.objects.visible_to(member.account)
    turns = Turn.objects.filter(document__project__in=visible, document__project=member.project_id, words__gt=0)
    return turns.filter(speaker__role=SpeakerRole.INTERVIEWER).order_by("document__title", "document_id", "number")


def asked_turns(member: Membership) -> QuerySet[AskedTurn]:
    """What was said of interviewers' turns: which question each asks, or that it asks none."""
    return AskedTurn.objects.filter(turn__in=interviewers_turns(member).order_by())


def topics(member: Membership) -> QuerySet[Topic]:
    """Topics that words proposed, those kept and dropped too."""
    visible = Project.objects.visible_to(member.account)
    return Topic.objects.filter(project__in=visible, project=member.project_id)


def topic(member: Membership, topic_id: int) -> Topic:
    found = topics(member).filter(pk=topic_id).first()
    if found is None:
        raise NotFound(say("This topic isn’t in the project any more: topics were proposed anew, or it was merged."))
    return found


def dropped_words(member: Membership) -> QuerySet[DroppedWord]:
    """Words that the project's lists of words leave out."""
    visible = Project.objects.visible_to(member.account)
    return DroppedWord.objects.filter(project__in=visible, project=member.project_id)


def passages_of(document: Document) -> list[dict[str, Any]]:
    """A document's passages in reading order, each with its codings and memos; plain rows, since there may be
    hundreds, and all of one moment, since others are coding."""
    with one_state():
        return _with_codings(Passage.objects.filter(document=document))


def passage_shown(passage: Passage) -> dict[str, Any]:
    """One passage, as :func:`passages_of` gives it."""
    shown = _with_codings(Passage.objects.filter(pk=passage.pk))
    if not shown:
        raise NotFound(say("Somebody else has just taken this passage away."))
    return shown[0]


def passage_made(passage: Passage, codings: Sequence[Coding]) -> dict[str, Any]:
    """The same of one that was made just now, with the codings made on it: nothing is to be asked."""
    shown = _place_shown(vars(passage))
    for one in codings:
        coder = one.coder
        columns = (one.pk, one.code_id, one.coder_id, one.rating, one.by_words, coder.display_name, coder.username)
        shown["codings"].append(_coding_shown(*columns))
    return shown


def _place_shown(row: dict[str, Any]) -> dict[str, Any]:
    return {
        "id": row["id"],
        "start": row["start"],
        "end": row["end"],
        "region": {name: row[name] for name in REGION} if row["page"] else None,
        "span": {name: row[name] for name in SPAN} if row["begin"] is not None else None,
        "codings": [],
        "memos": [],
    }


def _coding_shown(
    pk: int, code: int, coder: int, rating: int | None, by_words: bool, name: str, username: str
) -> dict[str, Any]:
    return {
        "id": pk,
        "code": code,
        "coder": coder,
        "initials": initials_of(name, username),
        "coder_name": name,
        "rating": rating,
        "by_words": by_words,
    }


def _with_codings(passages: QuerySet[Passage]) -> list[dict[str, Any]]:
    rows = {row["id"]: _place_shown(row) for row in passages.values("id", "start", "end", *REGION, *SPAN)}
    codings = Coding.objects.filter(passage__in=passages)
    own = ("passage_id", "id", "code_id", "coder_id", "rating", "by_words", "coder__display_name", "coder__username")
    for passage, *said in codings.values_list(*own):
        rows[passage]["codings"].append(_coding_shown(*said))
    columns = ("id", "passage_id", "text", "kind", "source", "author_id", "author__display_name")
    for pk, passage, text, kind, source, author, name in _memos_on(passages).values_list(*columns):
        rows[passage]["memos"].append(
            {"id": pk, "text": text, "kind": kind, "source": source, "author_id": author, "author": name}
        )
    return list(rows.values())


def _memos_on(passages: QuerySet[Passage]) -> QuerySet[Any]:
    # Memos are of a room above this one: reached by what they are on.
    memos: QuerySet[Any] = Passage._meta.get_field("memos").related_model._default_manager.all()
    return memos.filter(passage__in=passages)


def merged_scale(into: Code, others: Sequence[Code]) -> Scale:
    """The low and high end that the merged code has: its own, or else the first that comes with another."""
    return next(((code.scale_low, code.scale_high) for code in [into, *others] if code.scale_low), ("", ""))


def otherwise_rated(code: Code, scale: Scale) -> QuerySet[Coding]:
    """A code's codings whose ratings were given on another scale than this."""
    if [end.casefold() for end in (code.scale_low, code.scale_high)] == [end.casefold() for end in scale]:
        return Coding.objects.none()
    return Coding.objects.filter(code=code, rating__isnull=False)


def codebook_plan(member: Membership, found: FoundCodebook, how: How) -> Plan:
    """What bringing in a codebook that a file holds would do."""
    held = [
        HeldCode(row.pk, row.name, row.parent_id, {name: getattr(row, name) for name in FIELDS})
        for row in codes(member)
    ]
    return plan(held, found.codes, how)


def proposed_in(document: Document) -> list[dict[str, int | None]]:
    """Codes that are proposed for new passages of the document and of its speakers."""
    rows = ProposedCode.objects.filter(document=document).values_list("code_id", "speaker_id")
    return [{"code": code, "speaker": speaker} for code, speaker in rows]


def pins(member: Membership) -> dict[int, int]:
    """The member's own keys: key → code."""
    return dict(Pin.objects.filter(project=member.project_id, account=member.account).values_list("key", "code_id"))


def coders(member: Membership) -> QuerySet[Account]:
    """Everybody who has coded in this project, and the member."""
    coded = snapshot(member.project_id).coder_ids.tolist()
    return Account.objects.filter(pk__in=[*coded, member.account_id]).order_by("display_name")
