"""Writes on topics that words proposed: put down, renamed, merged, dropped, weeded, and kept as codes."""

from collections.abc import Iterator, Sequence

import numpy as np

from core.coding.topics import Phrase, Proposal
from core.language import say
from core.text.editing import Edited, one_after_another
from server.coding import queries
from server.coding.actions.codes import new_code
from server.coding.actions.codings import passages_on, put_on
from server.coding.actions.places import drawn_in
from server.coding.models import Code, Topic, TopicHits, TopicPhrase, TopicUnticked
from server.common.errors import Conflict, NotFound, Refusal
from server.gather import queries as gather
from server.gather.models import Document
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.revisions import moved_since
from server.projects.trail import act

Hit = tuple[int, int, int]
"""Document, start and end of a sentence, or of several that follow one another."""


def put_topics(member: Membership, proposal: Proposal, documents: Sequence[int], language: str, begun: int) -> int:
    """Put a proposal down in place of the one before; topics that were kept stay. ``documents``: those of the proposal's talks, in
    their order; ``begun``: the project's revision that they were read from. How many topics there are."""
    with act(member, "topic.propose") as change:
        if moved_since(member.project_id, begun, ["gather."]):
            raise Refusal(say("Somebody changed the texts meanwhile. Propose the topics again."))
        change.delete(queries.topics(member).filter(code=None))
        kept = queries.topics(member).count()
        rows = change.create_many(
            [
                Topic(project_id=member.project_id, name=one.name[:160], language=language, position=kept + place)
                for place, one in enumerate(proposal.topics)
            ]
        )
        phrases = [
            (row, place, one)
            for row, topic in zip(rows, proposal.topics, strict=True)
            for place, one in enumerate(topic.phrases)
        ]
        made = change.create_many(
            [TopicPhrase(topic=row, said=one.said[:200], position=place) for row, place, one in phrases]
        )
        hits = [
            hit
            for phrase, (_, _, one) in zip(made, phrases, strict=True)
            for hit in _hits(phrase.pk, one, proposal, documents)
        ]
        change.copy(TopicHits, ("phrase_id", "document_id", "starts", "ends"), hits)
        change.summary = say("Proposed {n, plural, one {# topic} other {# topics}} by words", n=len(rows))
    return len(rows)


def _hits(
    phrase: int, one: Phrase, proposal: Proposal, documents: Sequence[int]
) -> Iterator[tuple[int, int, str, str]]:
    """Rows to copy: the phrase, a document, and where its sentences there start and end."""
    spoken, at = proposal.spoken, one.sentences
    first = np.flatnonzero(np.diff(spoken.document[at], prepend=-1)).tolist()
    document, start, end = (column[at].tolist() for column in (spoken.document, spoken.start, spoken.end))
    for begin, stop in zip(first, [*first[1:], len(at)], strict=True):
        yield phrase, documents[document[begin]], _array(start[begin:stop]), _array(end[begin:stop])


def _array(numbers: Sequence[int]) -> str:
    """As the database writes an array."""
    return f"{{{','.join(map(str, numbers))}}}"


def rename_topic(member: Membership, topic_id: int, name: str) -> None:
    with act(member, "topic.rename") as change:
        topic = queries.topic(member, topic_id)
        name = " ".join(name.split())
        if not name:
            raise Refusal(say("Give the topic a name."))
        if len(name) > 160:
            raise Refusal(say("A topic’s name may have up to 160 characters."))
        before = topic.name
        change.update(topic, name=name)
        change.summary = say("Called the topic “{before}” “{name}”", before=before, name=name)


def merge_topics(member: Membership, topic_ids: Sequence[int]) -> int:
    """All of these become the first of them, with all their phrases and all that was unticked in them. Its number."""
    with act(member, "topic.merge") as change:
        rows = _open(member, topic_ids)
        if len(rows) < 2:
            raise Refusal(say("Tick at least two topics to merge them."))
        first, others = rows[0], rows[1:]
        last = first.phrases.count()
        for place, phrase in enumerate(
            TopicPhrase.objects.filter(topic__in=others).order_by("topic__position", "position")
        ):
            change.update(phrase, topic_id=first.pk, position=last + place)
        held = set(first.unticked.values_list("document_id", "start", "end"))
        for one in TopicUnticked.objects.filter(topic__in=others):
            if (one.document_id, one.start, one.end) not in held:
                held.add((one.document_id, one.start, one.end))
                change.update(one, topic_id=first.pk)
        change.delete(Topic.objects.filter(pk__in=[row.pk for row in others]))
        change.summary = say(
            "Merged {others} into the topic “{name}”",
            others=", ".join(f"“{row.name}”" for row in others[:5]),
            name=first.name,
        )
    return first.pk


def drop_topics(member: Membership, topic_ids: Sequence[int], dropped: bool) -> None:
    """Drop topics, or take them back."""
    with act(member, "topic.drop") as change:
        rows = _open(member, topic_ids)
        for row in rows:
            change.update(row, dropped=dropped)
        names = ", ".join(f"“{row.name}”" for row in rows[:5])
        change.summary = (
            say("Dropped the {n, plural, one {topic} other {topics}} {names}", names=names, n=len(rows))
            if dropped
            else say("Took back the {n, plural, one {topic} other {topics}} {names}", names=names, n=len(rows))
        )


def _open(member: Membership, topic_ids: Sequence[int]) -> list[Topic]:
    """These topics in the order asked for; none of them is a code yet."""
    rows = {row.pk: row for row in queries.topics(member).filter(pk__in=topic_ids).select_related("code")}
    if len(rows) < len(set(topic_ids)):
        raise NotFound(say("A topic of these isn’t in the project any more; nothing was changed."))
    for row in rows.values():
        if row.code:
            raise Conflict(
                say("“{name}” is the code “{code}” already: change the code.", name=row.name, code=row.code.name)
            )
    return [rows[pk] for pk in dict.fromkeys(topic_ids)]


def leave_out_phrase(member: Membership, phrase_id: int, left_out: bool) -> None:
    """Take a phrase out of its topic with the hits that only it has, or put it back."""
    with act(member, "topic.phrase") as change:
        phrase = TopicPhrase.objects.filter(pk=phrase_id, topic__in=queries.topics(member)).first()
        if phrase is None:
            raise NotFound(say("This phrase isn’t in a topic any more."))
        (topic,) = _open(member, [phrase.topic_id])
        change.update(phrase, left_out=left_out)
        change.summary = (
            say("Took “{phrase}” out of the topic “{name}”", phrase=phrase.said, name=topic.name)
            if left_out
            else say("Put “{phrase}” back into the topic “{name}”", phrase=phrase.said, name=topic.name)
        )


def tick_hits(member: Membership, topic_id: int, hits: Sequence[Hit], ticked: bool) -> int:
    """Tick or untick hits: every sentence of the topic that lies in one of these stretches. How many sentences."""
    with act(member, "topic.tick") as change:
        (topic,) = _open(member, [topic_id])
        wanted: dict[int, list[tuple[int, int]]] = {}
        for document, start, end in hits:
            wanted.setdefault(document, []).append((start, end))
        rows = TopicHits.objects.filter(phrase__topic=topic, document__in=wanted)
        found = {
            (row.document_id, start, end)
            for row in rows
            for start, end in zip(row.starts, row.ends, strict=True)
            if any(first <= start and end <= last for first, last in wanted[row.document_id])
        }
        if not found:
            raise NotFound(say("These hits aren’t in the topic any more; look at it again."))
        held = {(row.document_id, row.start, row.end): row.pk for row in topic.unticked.all()}
        if ticked:
            change.delete(TopicUnticked.objects.filter(pk__in=[held[one] for one in found if one in held]))
        else:
            fresh = sorted(found - held.keys())
            change.create_many(
                [TopicUnticked(topic=topic, document_id=pk, start=start, end=end) for pk, start, end in fresh]
            )
        change.summary = (
            say(
                "Ticked {hits, plural, one {# hit} other {# hits}} of the topic “{name}”",
                hits=len(hits),
                name=topic.name,
            )
            if ticked
            else say(
                "Unticked {hits, plural, one {# hit} other {# hits}} of the topic “{name}”",
                hits=len(hits),
                name=topic.name,
            )
        )
    return len(found)


def keep_topic(
    member: Membership, topic_id: int, hits: Sequence[Hit], name: str, parent_id: int | None, into: int | None
) -> Code:
    """Make a code of a topic, or put it ``into`` one that there is: what is ticked becomes passages with the code, marked as
    proposed by words and accepted by the member."""
    with act(member, "topic.keep") as change:
        (topic,) = _open(member, [topic_id])
        if not hits:
            raise Refusal(say("Nothing of this topic is ticked: there is nothing to code."))
        documents = {row.pk: row for row in gather.documents(member).filter(pk__in={hit[0] for hit in hits})}
        drawn = {(pk, *drawn_in(documents[pk], start, end)) for pk, start, end in hits if pk in documents}
        code = queries.code(member, into) if into is not None else _code_of(change, topic, name, parent_id)
        put_on(change, passages_on(change, sorted(drawn)), [code], by_words=True)
        change.update(topic, code_id=code.pk, dropped=False)
        change.summary = say(
            "Kept the topic “{name}” as the code “{code}”, on {n, plural, one {# passage} other {# passages}}",
            name=topic.name,
            code=code.name,
            n=len(drawn),
        )
    return code


def _code_of(change: Change, topic: Topic, name: str, parent_id: int | None) -> Code:
    said = ", ".join(one.said for one in topic.phrases.all() if not one.left_out)
    return new_code(change, name, parent_id, definition=say("Proposed by the words: {said}.", said=said))


def move_hits(change: Change, document: Document, edited: Edited) -> None:
    """Hits of topics stay with their words where a text changes; one that has lost all of them is none."""
    for row in TopicHits.objects.filter(document=document):
        pairs = [edited.moved(start, end) for start, end in zip(row.starts, row.ends, strict=True)]
        left = [pair for pair in pairs if pair]
        if left:
            change.update(row, starts=[start for start, _ in left], ends=[end for _, end in left])
        else:
            change.delete(TopicHits.objects.filter(pk=row.pk))
    unticked = list(TopicUnticked.objects.filter(document=document).order_by("start", "end"))
    targets = [edited.moved(one.start, one.end) for one in unticked]
    lost = [one.pk for one, target in zip(unticked, targets, strict=True) if target is None]
    change.delete(TopicUnticked.objects.filter(pk__in=lost))
    moving = [(one, target) for one, target in zip(unticked, targets, strict=True) if target]
    for place in one_after_another([((one.start, one.end), target) for one, target in moving]):
        one, (start, end) = moving[place]
        change.update(one, start=start, end=end)
