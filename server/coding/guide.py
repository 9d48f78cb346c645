"""The interview guide as its page shows it: its questions, the turns that ask them, and who was asked what by group."""

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import asdict
from typing import Any

import numpy as np

from core.coding import guide as core
from core.coding.find import LANGUAGES
from core.compare.groups import Groups
from core.language import say
from core.snapshot.incidence import incidence
from core.snapshot.snapshot import Snapshot
from core.snapshot.tables import places
from server.coding import queries
from server.coding.models import GuideQuestion
from server.common.errors import Refusal
from server.gather.models import Document, Turn
from server.projects.models import Membership
from server.scope.axes import columns_of
from server.scope.parts import scope_of
from server.snapshots.memory import Made
from server.snapshots.queries import snapshot

Json = dict[str, Any]
MOST = 400
"""Questions of a guide."""
MOST_PERHAPS = 60
SHOWN = 2_000
"""Turns that are listed at once."""
_NUMBERED = re.compile(r"^\s*(?:[-–•*○▪]|(?:Q|F|Question|Frage)?\s*\d+(?:\.\d+)*[.):]?|[a-z][.)])\s+", re.IGNORECASE)


def said_in(turns: Sequence[Turn]) -> list[str]:
    """What each of these turns says; each text is read once."""
    texts = dict(Document.objects.filter(pk__in={turn.document_id for turn in turns}).values_list("id", "text"))
    return [texts[turn.document_id][turn.ink_start : turn.ink_end] for turn in turns]


def check_language(language: str) -> None:
    if language not in LANGUAGES:
        raise Refusal(say("Likeness is known for: {languages}.", languages=", ".join(LANGUAGES)))


def whole(member: Membership) -> Json:
    """The guide with what its turns come to."""
    rows = queries.asked_turns(member).filter(question__isnull=False)
    asked = list(rows.values_list("question_id", "turn__document_id"))
    turns = Counter(question for question, _ in asked)
    documents = Counter(question for question, _ in set(asked))
    all_turns = queries.interviewers_turns(member).count()
    return {
        "questions": [
            {
                "id": one.pk,
                "text": one.text,
                "codes": _tied(one),
                "turns": turns[one.pk],
                "documents": documents[one.pk],
            }
            for one in queries.guide(member).prefetch_related("tied")
        ],
        "turns": all_turns,
        "unmatched": all_turns - len(asked),
    }


def _tied(question: GuideQuestion) -> list[int]:
    return [tie.code_id for tie in question.tied.all()]


def turns(member: Membership, question_id: int | None) -> list[Json]:
    """Turns that ask a question of the guide, or (None) interviewers' turns that ask none; the first of them."""
    rows = queries.interviewers_turns(member).select_related("asked")
    if question_id is None:
        rows = rows.filter(asked__question=None)
    else:
        rows = rows.filter(asked__question=queries.guide_question(member, question_id))
    return _listed(rows[:SHOWN])


def perhaps(member: Membership, question_id: int, language: str) -> list[Json]:
    """Interviewers' turns of which nothing is said yet, and that are somewhat like this question, most like first."""
    check_language(language)
    question = queries.guide_question(member, question_id)
    questions = list(queries.guide(member))
    free = list(queries.interviewers_turns(member).filter(asked=None))
    alike = core.likenesses(said_in(free), [one.text for one in questions], language)[:, questions.index(question)]
    order = np.argsort(-alike, kind="stable")[:MOST_PERHAPS]
    return _listed([free[place] for place in order.tolist() if alike[place] >= core.PERHAPS])


def _listed(rows: Iterable[Turn]) -> list[Json]:
    turns = list(rows)
    titles = dict(Document.objects.filter(pk__in={turn.document_id for turn in turns}).values_list("id", "title"))
    return [
        {
            "id": turn.pk,
            "number": turn.number,
            "document": turn.document_id,
            "title": titles[turn.document_id],
            "start": turn.ink_start,
            "text": words[:600],
            "by_hand": hasattr(turn, "asked") and turn.asked.by_hand,
        }
        for turn, words in zip(turns, said_in(turns), strict=True)
    ]


def questions_in(lines: list[str]) -> list[str]:
    """The questions of a guide in a file: lines that end in a question mark, without their numbers or signs; where there is none,
    nothing is guessed."""
    found = [_NUMBERED.sub("", " ".join(line.split())) for line in lines]
    asked = [line[:500] for line in found if line.endswith(("?", "？", "؟"))]
    return list(dict.fromkeys(asked))[:MOST]


def who_was_asked(member: Membership, said: Json) -> Json:
    """For each question and group: people asked, those of them who mention what it asks about, and people who do of their own accord,
    among all who talk with an interviewer. ``said``: ``variable``, ``scope``, ``within`` (turns)."""
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
    kept = scope.coding_mask(held)
    coded = held.branch_rows if kept is None else incidence(held, roll_up=True, codings=kept)
    questions = list(queries.guide(member).prefetch_related("tied"))
    put = _put(member, held, questions)
    asked = core.asked(held, put, len(questions), speaking)
    rows = []
    for number, question in enumerate(questions):
        codes = places(held.code_ids, np.array(_tied(question), np.int64)).astype(np.int64)
        found = core.mentions(held, put, number, coded, codes, within, scope)
        told = asdict(core.told(groups.labels, groups.count, people, asked[number], found))
        cells = [{name: int(counts[place]) for name, counts in told.items()} for place in range(groups.count)]
        rows.append({"question": question.pk, "text": question.text, "codes": _tied(question), "cells": cells})
    of = core.in_groups(groups.labels, groups.count, people).tolist()
    return {
        "groups": [{**columns.about(place), "people": of[place]} for place in range(groups.count)],
        "rows": rows,
        "people": int(people.sum()),
        "not_interviewed": everybody - int(people.sum()),
        "left_out": int(people.sum() - sum(of)),
        "within": within,
    }


_guides: Made[core.Guide | None] = Made("coding.guide", "coding.asked", "coding.code", "gather.")


def guide_of(member: Membership, held: Snapshot) -> core.Guide | None:
    """What was put, by places in the snapshot; None while no question that is asked names a code."""
    return _guides.of(member.project_id, held, lambda: _read_guide(member, held))


def _read_guide(member: Membership, held: Snapshot) -> core.Guide | None:
    questions = list(queries.guide(member).prefetch_related("tied"))
    tied = [places(held.code_ids, np.array(_tied(one), np.int64)) for one in questions]
    about = tuple(tuple(codes[codes >= 0].tolist()) for codes in tied)
    put = _put(member, held, questions)
    asks = any(about[question] for question in np.unique(put.question).tolist())
    return core.Guide(put, about) if asks else None


def _put(member: Membership, held: Snapshot, questions: list[GuideQuestion]) -> core.Put:
    """What was put, by places in the snapshot: its turns lie in the order of documents and places in the text."""
    at = {question.pk: number for number, question in enumerate(questions)}
    known = queries.asked_turns(member).filter(question__isnull=False)
    rows = list(known.values_list("question_id", "turn__document_id", "turn__ink_start"))
    documents = places(held.document_ids, np.array([document for _, document, _ in rows], np.int64))
    found = sorted(_placed(held, rows, documents.tolist()))
    return core.Put(
        np.array([turn for turn, _ in found], np.int64), np.array([at[question] for _, question in found], np.int64)
    )


def _placed(held: Snapshot, rows: list[tuple[int, int, int]], documents: list[int]) -> Iterator[tuple[int, int]]:
    """(position of the turn, ID of the question)."""
    for (question, _, start), document in zip(rows, documents, strict=True):
        first, last = np.searchsorted(held.turn_document, [document, document + 1])
        turn = int(first + np.searchsorted(held.turn_start[first:last], start))
        if turn < last and held.turn_start[turn] == start:
            yield turn, question
