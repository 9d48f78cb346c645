"""Words used most, by group; turns like a passage."""

from collections import Counter
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db import connection
from django.db.models import QuerySet

from core.coding.find import LANGUAGES
from core.coding.idle import is_idle, parts
from core.coding.likeness import likest, vectors
from core.coding.vocabulary import by_chance, counted, marked, most, vocabulary
from core.language import say
from server.coding import finding, queries
from server.coding.grouping import groups_by
from server.coding.models import TEXT, Passage
from server.common.errors import Refusal
from server.gather import queries as gather
from server.gather.models import Document, SpeakerRole, Turn
from server.projects.models import Membership

SHOWN = 120
IDLE_LANGUAGES = (
    "danish", "dutch", "english", "finnish", "french", "german", "hungarian", "italian", "norwegian", "portuguese", "russian",
    "spanish", "swedish", "turkish",
)  # fmt: skip
"""Languages of which PostgreSQL ships a list of words that say nothing."""
LIKE = 25
FEWEST_WORDS = 4
"""A turn of fewer words is like everything."""


@dataclass(frozen=True)
class Asked:
    """``by``: the group whose own words come first. ``everybodys``: words that nearly all use, too. ``idle``: the language
    whose words that say nothing are left out, "" for none."""

    variable: int | None = None
    by: str = ""
    everybodys: bool = False
    idle: str = ""
    documents: tuple[int, ...] | None = None
    cases: tuple[int, ...] | None = None


def words(member: Membership, asked: Asked) -> dict[str, Any]:
    """The words that participants use most, counted by person and by group."""
    spoken = _spoken(member, asked)
    names, group_of = _groups(member, asked, list(spoken))
    dropped = list(queries.dropped_words(member).values_list("word", flat=True))
    idle = idle_words({word for counts in spoken.values() for word in counts}, asked.idle)
    held = vocabulary(spoken, group_of, len(names), not asked.everybodys, idle | set(dropped))
    chosen = most(held, names.index(asked.by) if asked.by in names else None, SHOWN)
    marks = marked(held, chosen, spoken, group_of)
    rates, apart = held.rates.round(2), held.apart.round(2)
    return {
        "groups": [{"name": name, "words": int(held.totals[at])} for at, name in enumerate(names)],
        "people": sum(case in group_of for case in spoken),
        "different": len(held.words),
        "left_out": held.left_out,
        "unsaid": held.unsaid,
        "by_chance": by_chance(marks),
        "dropped": dropped,
        "words": [
            {
                "word": held.words[at],
                "count": int(held.count[at]),
                "people": int(held.people[at]),
                "by_group": held.by_group[at].tolist(),
                "rates": rates[at].tolist(),
                "apart": apart[at].tolist(),
                "stands_out": marks[place].tolist(),
            }
            for place, at in enumerate(chosen)
        ],
    }


def idle_words(said: set[str], language: str) -> set[str]:
    """Those of these folded words that say nothing, as the database’s list of the language has them; none where it has no list."""
    if language not in IDLE_LANGUAGES:
        return set()
    pieces = sorted({piece for word in said for piece in parts(word)})
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT piece FROM unnest(%s::text[]) AS piece WHERE ts_lexize(%s::regdictionary, piece) = '{}'",
            [pieces, f"{language}_stem"],
        )
        idle = {piece for (piece,) in cursor.fetchall()}
    return {word for word in said if is_idle(word, idle, language)}


def _spoken(member: Membership, asked: Asked) -> dict[int, Counter[str]]:
    """What each case says, in scope."""
    rows = _documents(member, asked.documents)
    turns = _turns(rows).filter(speaker__case__isnull=False)
    if asked.cases is not None:
        turns = turns.filter(speaker__case__in=asked.cases)
    texts = dict(rows.values_list("id", "text"))
    found: dict[int, Counter[str]] = {}
    for document, case, start, end in turns.values_list("document_id", "speaker__case_id", "ink_start", "ink_end"):
        found.setdefault(case, Counter()).update(counted(texts[document][start:end]))
    return found


def _documents(member: Membership, among: tuple[int, ...] | None) -> QuerySet[Document]:
    rows = gather.documents(member)
    return rows if among is None else rows.filter(pk__in=among)


def _turns(documents: QuerySet[Document]) -> QuerySet[Turn]:
    own = Turn.objects.filter(document__in=documents, speaker__role=SpeakerRole.PARTICIPANT)
    return own.order_by("document", "number")


def _groups(member: Membership, asked: Asked, cases: list[int]) -> tuple[list[str], dict[int, int]]:
    if asked.variable is None:
        return [say("all {many}", many=member.project.case_many)], dict.fromkeys(cases, 0)
    return groups_by(member, asked.variable)


def like(member: Membership, passage_id: int, language: str = "english") -> list[dict[str, Any]]:
    """Participants' turns whose words are most like a passage's, those that it stands in aside: a suggestion to
    read, no more."""
    passage = queries.passage(member, passage_id)
    if passage.start == passage.end:
        raise Refusal(say("What has no words can’t be likened to others."))
    if language not in LANGUAGES:
        raise Refusal(say("Likeness is known for: {languages}.", languages=", ".join(LANGUAGES)))
    # Each document once: joined to its turns its text would come as often as somebody speaks.
    documents = {row.pk: row for row in gather.documents(member).only("id", "title", "text")}
    turns = [
        turn
        for turn in _turns(gather.documents(member)).filter(words__gte=FEWEST_WORDS).select_related("speaker")
        if turn.document_id != passage.document_id or turn.end <= passage.start or turn.start >= passage.end
    ]
    texts = [documents[turn.document_id].text[turn.ink_start : turn.ink_end] for turn in turns]
    found = likest(vectors([passage.said, *texts], language), np.array([0]), LIKE)
    codes = _codes_on(member, [turns[row - 1] for row, _ in found])
    return [
        {
            **_shown(documents, turns[row - 1]),
            "likeness": round(cosine, 3),
            "codes": codes[turns[row - 1].pk],
        }
        for row, cosine in found
    ]  # fmt: skip


def _shown(documents: dict[int, Document], turn: Turn) -> dict[str, Any]:
    return finding.shown(
        documents[turn.document_id], turn, turn.speaker.label, turn.speaker.case_id, turn.ink_start, turn.ink_end
    )


def _codes_on(member: Membership, turns: list[Turn]) -> dict[int, list[int]]:
    """The codes on passages that touch each turn."""
    rows = Passage.objects.filter(TEXT, document__in={turn.document_id for turn in turns}).prefetch_related("codings")
    return {
        turn.pk: sorted(
            {
                coding.code_id
                for row in rows
                if row.document_id == turn.document_id and row.start < turn.ink_end and row.end > turn.ink_start
                for coding in row.codings.all()
            }
        )
        for turn in turns
    }
