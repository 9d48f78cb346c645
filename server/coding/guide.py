"""The interview guide as its page shows it: its questions, the turns that ask them, and who was asked what by group."""

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np

from core.coding import guide as core
from core.compare.groups import Groups
from core.language import say
from core.snapshot.lineage import lineage
from core.snapshot.snapshot import Snapshot
from core.snapshot.tables import places
from server.coding import queries
from server.coding.models import GuideQuestion
from server.common.errors import Refusal
from server.gather.models import Turn
from server.projects.models import Membership
from server.scope.axes import columns_of
from server.scope.parts import scope_of
from server.snapshots.queries import snapshot

Json = dict[str, Any]
MOST_FOUND, MOST_PERHAPS = 400, 60
_NUMBERED = re.compile(r"^\s*(?:[-–•*○▪]|(?:Q|F|Question|Frage)?\s*\d+(?:\.\d+)*[.):]?|[a-z][.)])\s+", re.IGNORECASE)
SHOWN = 2_000
"""Turns that are listed at once."""


def asking_texts(member: Membership) -> list[tuple[int, str]]:
    """What each interviewer's turn says, by its ID."""
    return [(turn.pk, _words(turn)) for turn in queries.interviewers_turns(member).select_related("document")]


def _words(turn: Turn) -> str:
    return turn.document.text[turn.ink_start : turn.ink_end]


def whole(member: Membership) -> Json:
    """The guide with what its turns come to."""
    asked = list(queries.asked_turns(member).values_list("question_id", "turn__document_id"))
    turns = Counter(question for question, _ in asked)
    documents = Counter(question for question, _ in set(asked))
    questions = queries.guide(member).prefetch_related("tied")
    all_turns = queries.interviewers_turns(member).count()
    return {
        "questions": [
            {
                "id": one.pk,
                "text": one.text,
                "codes": [tie.code_id for tie in one.tied.all()],
                "turns": turns[one.pk],
                "documents": documents[one.pk],
            }
            for one in questions
        ],
        "turns": all_turns,
        "unmatched": all_turns - len(asked),
    }


def turns(member: Membership, question_id: int | None) -> list[Json]:
    """Turns that ask a question of the guide, or (None) interviewers' turns that ask none."""
    if question_id is None:
        free = queries.interviewers_turns(member).filter(asked=None).select_related("document")
        return [_turn(turn, by_hand=False) for turn in free[:SHOWN]]
    question = queries.guide_question(member, question_id)
    asked = queries.asked_turns(member).filter(question=question)
    rows = asked.select_related("turn__document").order_by("turn__document__title", "turn__number")
    return [_turn(row.turn, row.by_hand) for row in rows[:SHOWN]]


def perhaps(member: Membership, question_id: int, language: str) -> list[Json]:
    """Interviewers' turns that ask nothing of the guide yet, and are somewhat like this question, most like first."""
    question = queries.guide_question(member, question_id)
    questions = [one.text for one in queries.guide(member)]
    free = list(queries.interviewers_turns(member).filter(asked=None).select_related("document"))
    alike = core.likenesses([_words(turn) for turn in free], questions, language)
    own = alike[:, questions.index(question.text)] if free else np.zeros(0)
    order = np.argsort(-own, kind="stable")[:MOST_PERHAPS]
    return [_turn(free[place], by_hand=False) for place in order.tolist() if own[place] >= core.PERHAPS]


def _turn(turn: Turn, by_hand: bool) -> Json:
    return {
        "id": turn.pk,
        "number": turn.number,
        "document": turn.document_id,
        "title": turn.document.title,
        "start": turn.ink_start,
        "text": _words(turn)[:600],
        "by_hand": by_hand,
    }


def questions_in(lines: list[str]) -> list[str]:
    """The questions of a guide in a file: lines that end in a question mark, without their numbers or signs; where there is none,
    nothing is guessed."""
    found = [_NUMBERED.sub("", " ".join(line.split())) for line in lines]
    asked = [line[:500] for line in found if line.endswith(("?", "？", "؟"))]
    return list(dict.fromkeys(asked))[:MOST_FOUND]


def who_was_asked(member: Membership, said: Json) -> Json:
    """For each question and group: people who talk with an interviewer, people asked, of these who mention what it asks about, and who does
    of their own accord. ``said``: ``variable``, ``scope``, ``within`` (turns)."""
    held = snapshot(member.project_id)
    columns = columns_of(member, held, said)
    groups = columns.groups
    if not isinstance(groups, Groups):
        raise Refusal(say("Choose a fact about people: documents aren’t asked."))
    within = said.get("within") or core.WITHIN
    scope = scope_of(member, held, said.get("scope") or {})
    everybody = int(core.present(held, scope).any(axis=0).sum())
    scope = core.interviewed(held, scope)
    speaking = core.present(held, scope)
    people = np.asarray(speaking.any(axis=0))
    questions = list(queries.guide(member).prefetch_related("tied"))
    put = _put(member, held, questions)
    asked = core.asked(held, put, len(questions), speaking)
    rows = []
    for number, question in enumerate(questions):
        codes = _with_branches(held, [tie.code_id for tie in question.tied.all()])
        found = core.mentions(held, put, number, codes, within, scope)
        rows.append(_row(question, found, asked[number], people, groups))
    of = groups.indicator(people).sum(axis=0).astype(int).tolist()
    return {
        "groups": [{**columns.about(place), "people": of[place]} for place in range(groups.count)],
        "rows": rows,
        "people": int(people.sum()),
        "not_interviewed": everybody - int(people.sum()),
        "left_out": int(people.sum() - sum(of)),
        "within": within,
    }


def _put(member: Membership, held: Snapshot, questions: list[GuideQuestion]) -> core.Put:
    """What was put, by places in the snapshot: its turns lie in the order of documents and places in the text."""
    at = {question.pk: number for number, question in enumerate(questions)}
    rows = queries.asked_turns(member).values_list("question_id", "turn__document_id", "turn__ink_start")
    found = sorted((pair for pair in _placed(held, rows)), key=lambda pair: pair[0])
    return core.Put(
        np.array([turn for turn, _ in found], np.int64), np.array([at[question] for _, question in found], np.int64)
    )


def _placed(held: Snapshot, rows: Iterable[tuple[int, int, int]]) -> Iterator[tuple[int, int]]:
    known = list(rows)
    documents = places(held.document_ids, np.array([document for _, document, _ in known], np.int64))
    for (question, _, start), document in zip(known, documents.tolist(), strict=True):
        first, last = np.searchsorted(held.turn_document, [document, document + 1])
        turn = first + int(np.searchsorted(held.turn_start[first:last], start))
        if turn < last and held.turn_start[turn] == start:
            yield turn, question


def _row(question: GuideQuestion, found: core.Mentions, asked: core.Bools, people: core.Bools, groups: Groups) -> Json:
    cells = []
    for place in range(groups.count):
        own = (groups.labels == place) & people
        cells.append(
            {
                "asked": int((own & asked).sum()),
                "asked_mention": int((own & asked & (found.when_asked | found.own_accord)).sum()),
                "when_asked": int((own & found.when_asked).sum()),
                "own_accord": int((own & found.own_accord).sum()),
            }
        )
    return {
        "question": question.pk,
        "text": question.text,
        "codes": [tie.code_id for tie in question.tied.all()],
        "cells": cells,
        "passages": len(found.passages),
        "prompted": int(found.prompted.sum()),
    }


def _with_branches(held: Snapshot, codes: list[int]) -> list[int]:
    """Places of codes and of all beneath them."""
    if not codes:
        return []
    wanted = set(places(held.code_ids, np.array(codes, np.int64)).tolist())
    below, above = lineage(held.code_parent)
    return sorted(wanted | {int(low) for low, high in zip(below, above, strict=True) if int(high) in wanted})
