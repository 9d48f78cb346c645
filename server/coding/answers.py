"""The answers sheet: every answer to one open question, in an order that helps reading, with what was put on it."""

from collections import Counter
from dataclasses import dataclass
from typing import Any

from django.db.models import Prefetch, QuerySet

from core.coding.find import LANGUAGES
from core.coding.likeness import folded, together
from core.language import say
from core.people.derived import in_words
from server.coding.models import Coding
from server.common.errors import NotFound, Refusal
from server.gather import queries as gather
from server.gather.models import Document, Section, SpeakerRole, Turn
from server.people import facts
from server.people import queries as people
from server.projects.models import Membership

ORDERS = ("asked", "longest", "shortest", "likeness", "variable")


@dataclass(frozen=True)
class Asked:
    """``question``: the title of the sections that answer it. ``variable``: of cases, for its order and to show."""

    question: str
    order: str = "asked"
    variable: int | None = None
    language: str = "english"
    documents: tuple[int, ...] | None = None
    cases: tuple[int, ...] | None = None


def questions(member: Membership) -> list[dict[str, Any]]:
    """Open questions in the order in which they were asked, with how many answered and how many answers are coded."""
    rows = _sections(gather.documents(member)).values_list("document_id", "title", "start", "end")
    marked: dict[int, list[tuple[int, int]]] = {}
    passages = Coding.objects.filter(passage__document__in={row[0] for row in rows})
    for document, start, end in passages.values_list("passage__document", "passage__start", "passage__end").distinct():
        marked.setdefault(document, []).append((start, end))
    answers: Counter[str] = Counter()
    coded: Counter[str] = Counter()
    for document, title, start, end in rows:
        answers[title] += 1
        coded[title] += any(first < end and last > start for first, last in marked.get(document, []))
    return [{"question": title, "answers": count, "coded": coded[title]} for title, count in answers.items()]


def _sections(documents: QuerySet[Document]) -> QuerySet[Section]:
    return Section.objects.filter(document__in=documents, kind="question").order_by("document__title", "start", "id")


def sheet(member: Membership, asked: Asked) -> dict[str, Any]:
    """The answers, each with its person, the codes on it, how many gave the same, and the codes those have."""
    if asked.language not in LANGUAGES:
        raise Refusal(say("Likeness is known for: {languages}.", languages=", ".join(LANGUAGES)))
    rows = _answers(member, asked)
    if not rows and not _sections(gather.documents(member)).filter(title=asked.question).exists():
        raise NotFound(say("No document answers this question any more."))
    _describe(member, rows, asked.variable)
    _offer(rows)
    return {"question": asked.question, "answers": _ordered(rows, asked)}


def _answers(member: Membership, asked: Asked) -> list[dict[str, Any]]:
    documents = gather.documents(member)
    if asked.documents is not None:
        documents = documents.filter(pk__in=asked.documents)
    own = Turn.objects.filter(speaker__role=SpeakerRole.PARTICIPANT).select_related("speaker").order_by("number")
    sections = _sections(documents).filter(title=asked.question).select_related("document")
    found = []
    for section in sections.prefetch_related(Prefetch("document__turns", queryset=own)):
        turns = [
            turn for turn in section.document.turns.all()
            if turn.start < section.end and turn.end > section.start and turn.ink_start < turn.ink_end
        ]  # fmt: skip
        if not turns or (asked.cases is not None and turns[0].speaker.case_id not in asked.cases):
            continue
        start, end = max(section.start, turns[0].ink_start), min(section.end, turns[-1].ink_end)
        found.append(
            {
                "document": section.document_id,
                "title": section.document.title,
                "start": start,
                "end": end,
                "text": section.document.text[start:end],
                "words": sum(turn.words for turn in turns),
                "case": turns[0].speaker.case_id,
                "speaker": turns[0].speaker.label,
            }
        )
    return found


def _describe(member: Membership, rows: list[dict[str, Any]], variable_id: int | None) -> None:
    """What was put on each answer, who gave it, and their value of the variable."""
    marked: dict[int, list[Coding]] = {}
    codings = Coding.objects.filter(passage__document__in={row["document"] for row in rows})
    for coding in codings.select_related("passage", "coder").order_by("passage__start", "id"):
        marked.setdefault(coding.passage.document_id, []).append(coding)
    cases = list(dict.fromkeys(row["case"] for row in rows if row["case"]))
    names = dict(people.cases(member).filter(pk__in=cases).values_list("id", "identifier"))
    variable = None if variable_id is None else people.variable(member, variable_id)
    known = facts.known([variable], cases)[variable.pk] if variable else None
    places = {label: place for place, label in enumerate(known.categories)} if known else {}
    for row in rows:
        row["identifier"] = names.get(row["case"], "")
        held = known.held[cases.index(row["case"])] if known and row["case"] else None
        value = None if held is None else held.value
        row["value"] = in_words(value) if value is not None else ""
        row["missing"] = held.missing if held is not None and value is None else None
        row["rank"] = (value is None, places.get(str(value), 0), str(value) if isinstance(value, str) else value or 0)
        row["codings"] = [
            {
                "id": one.pk,
                "code": one.code_id,
                "coder": one.coder_id,
                "initials": one.coder.initials,
                "start": one.passage.start,
                "end": one.passage.end,
            }
            for one in marked.get(row["document"], [])
            if one.passage.start < row["end"] and one.passage.end > row["start"]
        ]


def _offer(rows: list[dict[str, Any]]) -> None:
    """Who gave the same answer, but for case and signs, and the codes on the whole of theirs."""
    same: dict[str, list[dict[str, Any]]] = {}
    for row in rows:
        same.setdefault(folded(row["text"]), []).append(row)
    for number, alike in enumerate(same.values()):
        codes = {
            row["document"]: list(dict.fromkeys(
                one["code"] for one in row["codings"] if (one["start"], one["end"]) == (row["start"], row["end"])
            ))
            for row in alike
        }  # fmt: skip
        every = list(dict.fromkeys(code for held in codes.values() for code in held))
        for row in alike:
            row["same"], row["alike"] = len(alike) - 1, number
            row["offered"] = [code for code in every if code not in codes[row["document"]]]


def _ordered(rows: list[dict[str, Any]], asked: Asked) -> list[dict[str, Any]]:
    if asked.order == "likeness":
        rows = [rows[place] for place in together([row["text"] for row in rows], asked.language)]
    elif asked.order in ("longest", "shortest"):
        rows = sorted(rows, key=lambda row: -row["words"] if asked.order == "longest" else row["words"])
    elif asked.order == "variable" and asked.variable is not None:
        rows = sorted(rows, key=lambda row: row["rank"])
    for row in rows:
        del row["rank"]
    return rows
