"""Writes on turns: split, joined, given to another speaker. Passages stay where they are."""

from core.language import say
from core.text.normalise import ink_bounds
from core.text.words import count_words
from server.common.errors import NotFound, Refusal
from server.gather import queries
from server.gather.models import Document, Speaker, SpeakerRole, Turn
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act


def split_turn(member: Membership, document_id: int, number: int, at: int) -> None:
    """Cut a turn in two at ``at`` (code points); both stay with its speaker."""
    with act(member, "turn.split") as change:
        document = queries.document(member, document_id)
        turn = turn_of(document, number)
        if not turn.ink_start < at < turn.ink_end:
            raise Refusal(say("Choose a place between two words of the turn."))
        if document.text[at - 1].isalnum() and document.text[at].isalnum():
            raise Refusal(say("That is in the middle of a word; choose a place between two."))
        change.shift(Turn.objects.filter(document=document, number__gt=number), 1, "number")
        second = measured(document, at, turn.end)
        share = _share(turn, at)
        change.create(
            Turn(
                document=document,
                speaker_id=turn.speaker_id,
                number=number + 1,
                begin=share,
                finish=turn.finish,
                **second,
            )
        )
        change.update(turn, **measured(document, turn.start, at), finish=share)
        change.summary = say("Split turn {number} of “{title}”", number=number, title=document.title)


def _share(turn: Turn, at: int) -> float | None:
    """When the cut comes in a recording: as far into the turn's time as into its text."""
    if turn.begin is None or turn.finish is None:
        return None
    return round(turn.begin + (turn.finish - turn.begin) * (at - turn.start) / max(1, turn.end - turn.start), 3)


def join_turn(member: Membership, document_id: int, number: int) -> None:
    """Make a turn and the one after it one, by the first one's speaker."""
    with act(member, "turn.join") as change:
        document = queries.document(member, document_id)
        turn = turn_of(document, number)
        following = Turn.objects.filter(document=document, number=number + 1).first()
        if following is None:
            raise Refusal(say("This is the last turn; there is none to join it with."))
        change.delete(Turn.objects.filter(pk=following.pk))
        change.update(turn, **measured(document, turn.start, following.end), finish=following.finish or turn.finish)
        change.shift(Turn.objects.filter(document=document, number__gt=number + 1), -1, "number")
        _drop_silent(change, document)
        change.summary = say(
            "Joined turns {number} and {number2} of “{title}”", number=number, number2=number + 1, title=document.title
        )


def give_turn(
    member: Membership, document_id: int, number: int, speaker_id: int | None, label: str = "", role: str = ""
) -> None:
    """Give a turn to another speaker of the document, or to a new one called ``label``."""
    with act(member, "turn.give") as change:
        document = queries.document(member, document_id)
        turn = turn_of(document, number)
        if speaker_id is not None:
            speaker = Speaker.objects.filter(document=document, pk=speaker_id).first()
            if speaker is None:
                raise NotFound(say("This speaker isn’t in the document any more."))
        else:
            label = label.strip()[:120]
            if not label:
                raise Refusal(say("Say who speaks the turn."))
            speaker = Speaker.objects.filter(document=document, label=label).first() or change.create(
                Speaker(document=document, label=label, role=role or SpeakerRole.PARTICIPANT)
            )
        change.update(turn, speaker_id=speaker.pk)
        _drop_silent(change, document)
        change.summary = say(
            "Gave turn {number} of “{title}” to “{label}”", number=number, title=document.title, label=speaker.label
        )


def _drop_silent(change: Change, document: Document) -> None:
    """A speaker who is nobody's any more, and never says a word, goes."""
    change.delete(Speaker.objects.filter(document=document, turns=None, case=None))


def turn_of(document: Document, number: int) -> Turn:
    found = Turn.objects.filter(document=document, number=number).first()
    if found is None:
        raise NotFound(say("This turn isn’t in the document any more; reload it."))
    return found


def measured(document: Document, start: int, end: int) -> dict[str, int]:
    ink_start, ink_end = ink_bounds(document.text, start, end)
    return {
        "start": start,
        "end": end,
        "ink_start": ink_start,
        "ink_end": ink_end,
        "words": count_words(document.text[start:end]),
    }
