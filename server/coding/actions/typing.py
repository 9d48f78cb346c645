"""Writes of the typing desk, and of texts that come later: turns with times, and all that is marked moved along."""

from collections.abc import Mapping
from dataclasses import dataclass

from core.gather.stretches import to_be_typed
from core.gather.timed import written_time
from core.gather.transcript import WHOLE, Transcript
from core.language import say
from core.text.editing import Edit, apply_edits, difference
from server.coding.actions.texts import Decision, Lost, lost_by, move_passages, retext_turn
from server.coding.models import TEXT, Passage
from server.common.errors import Conflict, Refusal
from server.gather import queries
from server.gather.actions import add_turns, link_sure_speakers
from server.gather.actions.turns import measured, turn_of
from server.gather.models import Document, DocumentKind, Section, Speaker, SpeakerRole, Turn
from server.gather.sound import heard, recording_of
from server.gather.word_index import index_words
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act

LEAST = 0.1
"""Seconds that a turn has at least."""


def lay_turns(member: Membership, document_id: int) -> int:
    """Empty turns where somebody is heard to speak, in a recording without a word; how many."""
    with act(member, "turn.lay") as change:
        document, medium = recording_of(member, document_id)
        sound = heard(medium.digest)
        if sound is None:
            raise Refusal(say("Nobody has listened to this recording yet; wait until that is done."))
        check_wordless(document)
        found = to_be_typed(sound.stretches, document.seconds or sound.seconds)
        _take_text(change, document, found, {})
        change.summary = say("Laid empty turns along “{title}”", title=document.title)
    return len(found.turns)


def split_at(member: Membership, document_id: int, number: int, at: int, time: float) -> None:
    """Cut a turn with times in two: its words ``at`` code points into them, its sound at ``time`` (seconds).

    Into its words, not into the text: turns before it may have been typed since whoever cuts has read the text."""
    with act(member, "turn.split") as change:
        document, turn = _timed(member, document_id, number)
        begin, finish = turn.begin or 0.0, turn.finish or 0.0
        if not begin + LEAST <= time <= finish - LEAST:
            raise Refusal(
                say(
                    "The recording stands at {time}, outside this turn ({begin}–{finish}); play to where it is to be cut.",
                    time=written_time(time),
                    begin=written_time(begin),
                    finish=written_time(finish),
                )
            )
        at = min(turn.ink_start + at, turn.ink_end)
        inside = turn.ink_start < at < turn.ink_end
        if inside and document.text[at - 1].isalnum() and document.text[at].isalnum():
            raise Refusal(say("That is in the middle of a word; choose a place between two."))
        # A line break between the two, as between any two turns.
        retext_turn(change, document, number, [Edit(at, at, "\n")], {})
        turn.refresh_from_db()
        _put_in(change, document, turn, at + 1, time, finish)
        change.update(turn, **measured(document, turn.start, at + 1), finish=time)
        change.summary = say("Split turn {number} of “{title}”", number=number, title=document.title)


def add_turn(member: Membership, document_id: int, begin: float, finish: float) -> int:
    """An empty turn from ``begin`` to ``finish`` (seconds), by whoever speaks before it; its number."""
    with act(member, "turn.add") as change:
        document = queries.document(member, document_id)
        _check_times(document, begin, finish)
        before = Turn.objects.filter(document=document, begin__lte=begin).order_by("-number").first()
        first = before is None
        turn = before or turn_of(document, 1)
        at = turn.start if first else turn.end
        behind = Turn.objects.filter(document=document, number__gte=1 if first else turn.number + 1)
        last = not behind.exists()
        change.splice(document, "text", at, at, "\n")
        change.update(document, length=len(document.text))
        # A line break more and a turn more: all of it moves by one.
        change.shift(behind, 1, "start", "end", "ink_start", "ink_end", "number")
        _shift_marks(change, document, at)
        if last:
            # The last turn had no line break behind it: it has one now, and the new one is the last.
            change.update(turn, end=turn.end + 1)
        start = at + 1 if last else at
        number = 1 if first else turn.number + 1
        change.create(
            Turn(
                document=document,
                speaker_id=turn.speaker_id,
                number=number,
                time=written_time(begin),
                begin=begin,
                finish=finish,
                **measured(document, start, start if last else start + 1),
            )
        )
        change.summary = say("Added a turn at {time} in “{title}”", time=written_time(begin), title=document.title)
    return number


def retime_turn(member: Membership, document_id: int, number: int, begin: float, finish: float) -> None:
    """When a turn begins and ends in the recording, between the beginnings of those before and after it."""
    with act(member, "turn.retime") as change:
        document, turn = _timed(member, document_id, number)
        _check_times(document, begin, finish)
        others = Turn.objects.filter(document=document, begin__isnull=False)
        earlier = others.filter(number__lt=number).order_by("-number").first()
        later = others.filter(number__gt=number).order_by("number").first()
        if (earlier and begin < (earlier.begin or 0.0)) or (later and begin > (later.begin or 0.0)):
            raise Refusal(
                say("Turns stand in the order in which they begin; move its beginning between its neighbours’.")
            )
        if change.update(turn, begin=begin, finish=finish, time=written_time(begin)):
            change.summary = say("Moved turn {number} of “{title}” in time", number=number, title=document.title)


def remove_turn(member: Membership, document_id: int, number: int) -> None:
    """Take away a turn in which nothing is said."""
    with act(member, "turn.remove") as change:
        document = queries.document(member, document_id)
        turn = turn_of(document, number)
        if turn.ink_start < turn.ink_end:
            raise Refusal(say("This turn has words; join it with another, or take its words out first."))
        if not Turn.objects.filter(document=document).exclude(pk=turn.pk).exists():
            raise Refusal(say("A document keeps one turn at least."))
        length = turn.end - turn.start
        change.splice(document, "text", turn.start, turn.end, "")
        change.update(document, length=len(document.text))
        later = Turn.objects.filter(document=document, number__gt=number)
        change.delete(Turn.objects.filter(pk=turn.pk))
        change.shift(later, -length, "start", "end", "ink_start", "ink_end")
        change.shift(later, -1, "number")
        _shift_marks(change, document, turn.end, -length)
        change.delete(Speaker.objects.filter(document=document, turns=None, case=None))
        change.summary = say("Took away an empty turn of “{title}”", title=document.title)


@dataclass(frozen=True)
class Taken:
    """What a text would do to a document that has another: words before and after, passages that move with theirs."""

    words_before: int
    words: int
    turns: int
    passages: int
    lost: list[Lost]


def would_take(member: Membership, document_id: int, transcript: Transcript) -> Taken:
    document = queries.document(member, document_id)
    edits = difference(document.text, transcript.text)
    passages = Passage.objects.filter(TEXT, document=document).count()
    return Taken(document.words, transcript.words, len(transcript.turns), passages, lost_by(document, edits))


def take_text(
    member: Membership,
    document_id: int,
    transcript: Transcript,
    decisions: Mapping[int, Decision],
    only_wordless: bool = False,
) -> None:
    """Give a recording this text in place of the one it has; passages go with their words, spans in time stay.
    ``only_wordless``: refused where it has a word by now."""
    with act(member, "text.take") as change:
        document = queries.document(member, document_id)
        if document.kind != DocumentKind.RECORDING:
            raise Refusal(say("Only a recording is given a text of its own."))
        if not transcript.text.strip():
            raise Refusal(say("There is no word in this text; nothing was changed."))
        if only_wordless:
            check_wordless(document)
        _take_text(change, document, transcript, decisions)
        new = set(Speaker.objects.filter(document=document, case=None).values_list("pk", flat=True))
        link_sure_speakers(member, change, among=new)
        change.summary = say("Gave “{title}” a text", title=document.title)


def _take_text(change: Change, document: Document, found: Transcript, decisions: Mapping[int, Decision]) -> None:
    edits = difference(document.text, found.text)
    move_passages(change, document, apply_edits(document.text, edits), decisions)
    change.update(document, text=found.text, length=len(found.text), words=found.words)
    index_words(change, document, found.text)
    change.delete(Turn.objects.filter(document=document))
    change.delete(Section.objects.filter(document=document))
    before = list(Speaker.objects.filter(document=document))
    _hand_on(change, before, found)
    speakers = [
        next((one for one in before if one.label == speaker.label), None)
        or change.create(Speaker(document=document, label=speaker.label[:120], role=speaker.role))
        for speaker in found.speakers
    ]
    add_turns(change, document, found, [speaker.pk for speaker in speakers])
    change.delete(Speaker.objects.filter(document=document, turns=None))


def _hand_on(change: Change, before: list[Speaker], found: Transcript) -> None:
    """Who was linked to all of a recording is its one participant, whatever the text calls them."""
    participants = [speaker for speaker in found.speakers if speaker.role == "participant"]
    if len(before) == 1 and before[0].label == WHOLE and len(participants) == 1:
        change.update(before[0], label=participants[0].label[:120], role=SpeakerRole.PARTICIPANT)


def check_wordless(document: Document) -> None:
    if document.text.strip():
        raise Conflict(say("This recording has words already. Bring a text to put another in their place."))


def _timed(member: Membership, document_id: int, number: int) -> tuple[Document, Turn]:
    document = queries.document(member, document_id)
    turn = turn_of(document, number)
    if turn.begin is None or turn.finish is None:
        raise Refusal(say("This turn has no time in the recording."))
    return document, turn


def _check_times(document: Document, begin: float, finish: float) -> None:
    if document.kind != DocumentKind.RECORDING:
        raise Refusal(say("Only turns of a recording have times."))
    if not 0 <= begin <= finish - LEAST:
        raise Refusal(say("A turn lasts a tenth of a second at least; its end comes after its beginning."))
    if document.seconds is not None and finish > document.seconds + 1:
        raise Refusal(say("The recording ends at {time}.", time=written_time(document.seconds)))


def _put_in(change: Change, document: Document, turn: Turn, start: int, begin: float, finish: float) -> None:
    """A turn behind ``turn``, of the words from ``start`` to its end."""
    change.shift(Turn.objects.filter(document=document, number__gt=turn.number), 1, "number")
    change.create(
        Turn(
            document=document,
            speaker_id=turn.speaker_id,
            number=turn.number + 1,
            time=written_time(begin),
            begin=begin,
            finish=finish,
            **measured(document, start, turn.end),
        )
    )


def _shift_marks(change: Change, document: Document, at: int, by: int = 1) -> None:
    """Passages and sections that stand behind a line break that was put in or taken out."""
    passages = Passage.objects.filter(TEXT, document=document, start__gte=at)
    change.shift(passages, by, "start", "end")
    change.shift(Section.objects.filter(document=document, start__gte=at), by, "start", "end")
    change.shift(Section.objects.filter(document=document, start__lt=at, end__gte=at), by, "end")
