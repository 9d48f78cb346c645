"""Topics that words propose, as their page shows them: their phrases, their hits, and who says them."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from django.db.models import Prefetch

from core.coding.everyday import EVERYDAY
from core.coding.find import stem
from core.coding.talk import Talk
from core.coding.tally import by_group
from core.coding.topic_hits import Sentences, counts_of, of_phrases, stretches, taken
from core.language import say
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.tables import places
from core.snapshot.word_places import by_participants, turns_at
from core.text.words import word_bounds
from server.coding import finding, queries
from server.coding.grouping import groups_by
from server.coding.models import Topic, TopicPhrase, TopicUnticked
from server.coding.vocabulary import idle_words
from server.common.columns import integer_columns
from server.common.database import of_one_state
from server.common.errors import Refusal
from server.gather import queries as gather
from server.gather.models import Document, Section
from server.projects.models import Membership
from server.scope.parts import scope_of
from server.snapshots.queries import snapshot

Json = dict[str, Any]
Ints = npt.NDArray[np.int64]
MANY = (2, 40)
"""Topics that can be asked for."""
PAGE = 60
"""Hits that are listed at once."""
_FOUND = """SELECT phrase.topic_id::bigint AS topic, hits.phrase_id::bigint AS phrase, hits.document_id::bigint AS document,
    place.start::bigint AS start, place.stop::bigint AS "end"
    FROM coding_topichits hits JOIN coding_topicphrase phrase ON phrase.id = hits.phrase_id
    CROSS JOIN LATERAL unnest(hits.starts, hits.ends) AS place(start, stop) WHERE phrase.topic_id = ANY(%s)"""


@dataclass(frozen=True)
class _Placed:
    """Sentences of topics where participants in play say them, by places in the snapshot, and the phrase that each holds."""

    sentences: Sentences
    phrase: Ints


def says_nothing(member: Membership, language: str) -> "_Idle":
    """Which words say nothing: the language’s, where a list of it is known, and those that the project leaves out."""
    return _Idle(language, frozenset(queries.dropped_words(member).values_list("word", flat=True)))


@dataclass(frozen=True)
class _Idle:
    language: str
    dropped: frozenset[str]

    def __call__(self, said: set[str]) -> set[str]:
        return idle_words(said, self.language) | (said & self.dropped)


def talks(member: Membership, held: Snapshot, scope: Scope, question: str | None) -> Iterator[Talk]:
    """What participants say of what is in play; of the answers to one open ``question`` alone where it is given."""
    turn = np.flatnonzero(by_participants(held, np.arange(len(held.turn_start))))
    turn = turn[_in_play(held, scope, held.turn_document[turn].astype(np.int64), held.turn_case[turn].astype(np.int64))]
    within = _answers(member, question) if question is not None else None
    bounds = np.searchsorted(held.turn_document[turn], np.arange(len(held.document_ids) + 1))
    ids = held.document_ids[np.unique(held.turn_document[turn])].tolist()
    place = {pk: at for at, pk in enumerate(held.document_ids.tolist())}
    rows = gather.documents(member).filter(pk__in=ids).order_by("pk")
    for pk, text in rows.values_list("id", "text").iterator(50):
        own = turn[bounds[place[pk]] : bounds[place[pk] + 1]]
        said = zip(held.turn_start[own].tolist(), held.turn_end[own].tolist(), _people(held, own), strict=True)
        kept = [
            (start, end, who)
            for start, end, who in said
            if within is None or any(start < last and end > first for first, last in within.get(pk, []))
        ]
        if kept:
            yield Talk(pk, text, tuple((start, end) for start, end, _ in kept), tuple(who for *_, who in kept))


def _people(held: Snapshot, turn: Ints) -> list[int]:
    """Who speaks: the case, or a number below 0 of a speaker who isn't linked."""
    case, speaker = held.turn_case[turn], held.turn_speaker[turn].astype(np.int64)
    linked = np.where(case >= 0, held.case_ids[np.maximum(case, 0)] if len(held.case_ids) else 0, -1 - speaker)
    found: list[int] = linked.tolist()
    return found


def _in_play(held: Snapshot, scope: Scope, document: Ints, case: Ints) -> npt.NDArray[np.bool_]:
    kept = np.ones(len(document), bool)
    if scope.documents is not None:
        kept &= scope.documents[document]
    if scope.cases is not None:
        kept &= (case >= 0) & scope.cases[case]
    return kept


def _answers(member: Membership, question: str) -> dict[int, list[tuple[int, int]]]:
    """Where each document answers the question."""
    sections = Section.objects.filter(document__in=gather.documents(member), kind="question", title=question)
    found: dict[int, list[tuple[int, int]]] = {}
    for pk, start, end in sections.values_list("document_id", "start", "end"):
        found.setdefault(pk, []).append((start, end))
    if not found:
        raise Refusal(say("No document answers this question any more."))
    return found


@of_one_state
def whole(member: Membership, said: Json) -> Json:
    """All topics with their phrases, hits and people; ``said``: ``scope``, ``variable`` to count people by."""
    held = snapshot(member.project_id)
    scope = scope_of(member, held, said.get("scope") or {})
    names, group_of = ([], {}) if said.get("variable") is None else groups_by(member, said["variable"])
    rows = list(
        queries.topics(member).prefetch_related(Prefetch("phrases", TopicPhrase.objects.order_by("position", "id")))
    )
    speaking = {int(held.case_ids[case]) for case in _speaking(held, scope).tolist()}
    # Of a group, too, only those who say anything in play could have said it.
    group_of = {case: group for case, group in group_of.items() if case in speaking}
    placed = _placed(member, held, scope, [row.pk for row in rows])
    by_phrase = of_phrases(placed.phrase, placed.sentences)
    found = stretches(_left_in(rows, placed))
    return {
        "topics": [
            {
                **_about(row, by_phrase),
                **asdict(counts_of(found, row.pk)),
                **_groups(held, found, row.pk, group_of, names),
            }
            for row in rows
        ],
        "groups": names,
        "people": len(speaking),
    }


def _about(row: Topic, by_phrase: dict[int, tuple[int, int]]) -> Json:
    phrases = [
        {
            "id": one.pk,
            "said": one.said,
            "left_out": one.left_out,
            "hits": by_phrase.get(one.pk, (0, 0))[0],
            "people": by_phrase.get(one.pk, (0, 0))[1],
        }
        for one in row.phrases.all()
    ]
    return {
        "id": row.pk,
        "name": row.name,
        "code": row.code_id,
        "dropped": row.dropped,
        "phrases": phrases,
    }


def _groups(held: Snapshot, found: Sentences, topic: int, group_of: dict[int, int], names: Sequence[str]) -> Json:
    case = found.case[(found.topic == topic) & found.ticked & (found.case >= 0)]
    counts = Counter(held.case_ids[case].tolist())
    return {"groups": [{"people": one.people, "size": one.size} for one in by_group(dict(counts), group_of, names)]}


def _speaking(held: Snapshot, scope: Scope) -> Ints:
    """Cases that say anything in play."""
    case = held.turn_case.astype(np.int64)
    kept = (case >= 0) & _in_play(held, scope, held.turn_document.astype(np.int64), case)
    return np.unique(case[kept])


def _left_in(rows: Sequence[Topic], placed: _Placed) -> Sentences:
    """Without the sentences that only phrases hold that were left out."""
    out = [one.pk for row in rows for one in row.phrases.all() if one.left_out]
    return taken(placed.sentences, ~np.isin(placed.phrase, out))


def _placed(member: Membership, held: Snapshot, scope: Scope, topics: Sequence[int]) -> _Placed:
    """Whoever is no participant any more says no hit, and what a text has lost is none."""
    found = integer_columns(_FOUND, [list(topics)], ["topic", "phrase", "document", "start", "end"])
    document = places(held.document_ids, found["document"]).astype(np.int64)
    turn = turns_at(held, document, found["start"])
    there = (document >= 0) & (turn >= 0)
    there[there] &= by_participants(held, turn[there]) & (found["start"][there] < found["end"][there])
    there[there] &= found["end"][there] <= held.turn_end[turn[there]]
    case = np.full(len(turn), -1, np.int64)
    case[there] = held.turn_case[turn[there]]
    there[there] &= _in_play(held, scope, document[there], case[there])
    unticked = set(TopicUnticked.objects.filter(topic__in=topics).values_list("topic_id", "document_id", "start"))
    ticked = np.array(
        [one not in unticked for one in zip(*(found[name].tolist() for name in ("topic", "document", "start")), strict=True)], bool
    )  # fmt: skip
    sentences = Sentences(found["topic"], document, turn, found["start"], found["end"], case, ticked)
    return _Placed(taken(sentences, there), found["phrase"][there])


def stretches_of(member: Membership, topic: Topic, said: Json) -> list[tuple[int, int, int, bool]]:
    """All hits of a topic in play as (document, start, end, ticked), in order."""
    held = snapshot(member.project_id)
    placed = _placed(member, held, scope_of(member, held, said), [topic.pk])
    found = stretches(_left_in([topic], placed))
    ids = held.document_ids[found.document].tolist()
    return list(zip(ids, found.start.tolist(), found.end.tolist(), found.ticked.tolist(), strict=True))


@of_one_state
def hits(member: Membership, topic_id: int, said: Json) -> Json:
    """A page of a topic's hits, by title and place in the text, each with what stands around it and where its phrases' words are.
    ``said``: ``scope``, ``skip``."""
    topic = queries.topic(member, topic_id)
    every = stretches_of(member, topic, said.get("scope") or {})
    titles = dict(gather.documents(member).filter(pk__in={one[0] for one in every}).values_list("id", "title"))
    every = sorted(every, key=lambda one: (titles.get(one[0], ""), one[0], one[1]))
    skip = said.get("skip") or 0
    page = every[skip : skip + PAGE]
    documents = {
        row.pk: row
        for row in gather.documents(member).filter(pk__in={one[0] for one in page}).only("id", "title", "text")
    }
    turns = finding.Turns(list(documents.values()))
    stems = _stems(topic)
    listed = [_hit(documents[pk], turns, stems, topic.language, start, end, ticked) for pk, start, end, ticked in page]
    return {"hits": [one for one in listed if one], "total": len(every), "more": max(0, len(every) - skip - len(page))}


def _stems(topic: Topic) -> set[str]:
    """What all forms of its phrases' words share; words that say nothing, or nothing alone, aside."""
    said = {
        word.casefold().replace("’", "'")
        for one in topic.phrases.all()
        if not one.left_out
        for word in one.said.split()
    }
    return {
        stem(word, topic.language)
        for word in said - idle_words(said, topic.language) - EVERYDAY.get(topic.language, frozenset())
    }


def _hit(
    document: Document, turns: finding.Turns, stems: set[str], language: str, start: int, end: int, ticked: bool
) -> Json | None:
    turn = turns.at(document.pk, start)
    if turn is None:
        return None
    shown = finding.shown(document, turn, turn.label, turn.case, start, end)
    marks = [
        [first, last]
        for first, last in word_bounds(shown["text"])
        if stem(shown["text"][first:last].casefold().replace("’", "'"), language) in stems
    ]
    return {**shown, "marks": marks, "ticked": ticked}
