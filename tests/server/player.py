"""A project in which people do what comes into their heads: any action, in any order, taken back and done again."""

import random
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from django.db import IntegrityError, transaction
from rest_framework.exceptions import ValidationError

from core.coding.places import Region, Span, Stretch
from server.coding import actions as coding
from server.coding.models import Code, Coding, Passage
from server.common.errors import Refusal
from server.compare import actions as compare
from server.compare.answers import answer
from server.compare.asked import ComparisonIn
from server.compare.models import FrozenResult, KeptComparison, SavedQuery
from server.compare.publishing import leaving
from server.gather import actions as gather
from server.gather.models import Document, Speaker
from server.people import actions as people
from server.people.models import Case, Category, Cohort, Variable
from server.projects import trail
from server.projects.models import Membership
from server.report import actions as report
from server.report.models import Exhibit

WORDS = [
    "the",
    "boat",
    "was",
    "late",
    "again",
    "🚢",
    "and",
    "we",
    "waited",
    "on",
    "the",
    "quay",
    "in",
    "the",
    "wind",
    "so",
    "I",
    "walked",
    "home",
    "nobody",
    "asked",
    "us",
    "不",
    "naïve",
    "בוקר",
]
Played = Callable[["Player"], Any]


class Player:
    """Draws what to do from a seed; what is refused is as if it hadn't been asked."""

    def __init__(self, members: list[Membership], seed: int) -> None:
        self.members, self.chance = members, random.Random(seed)
        self.project = members[0].project
        self.done: list[str] = []

    def play(self, times: int) -> None:
        for _ in range(times):
            move = self.chance.choice(MOVES)
            with suppress(Refusal, IntegrityError, ValidationError), transaction.atomic():
                move(self)
                self.done.append(move.__name__)

    @property
    def who(self) -> Membership:
        return self.chance.choice(self.members)

    def one(self, model: Any, **of: Any) -> Any:
        """Any row of the project; a refusal where there is none."""
        ways = {
            "Coding": "code__project",
            "Passage": "document__project",
            "Speaker": "document__project",
            "Category": "variable__project",
        }
        rows = model.objects.filter(**{ways.get(model.__name__, "project"): self.project, **of}).order_by("pk")
        if not (count := rows.count()):
            raise Refusal("There is none.")
        return rows[self.chance.randrange(count)]

    def some(self, model: Any, most: int = 3) -> list[int]:
        keys = list(model.objects.filter(project=self.project).order_by("pk").values_list("pk", flat=True))
        if not keys:
            raise Refusal("There are none.")
        return self.chance.sample(keys, min(len(keys), self.chance.randint(1, most)))

    def words(self, most: int = 6) -> str:
        return " ".join(self.chance.choice(WORDS) for _ in range(self.chance.randint(1, most)))

    def name(self) -> str:
        return f"{self.words(3)} {self.chance.randrange(1000)}"

    def place(self, document: Document) -> Stretch | Region | Span:
        if document.kind == "image":
            left, top = self.chance.randrange(5000), self.chance.randrange(5000)
            return Region(1, left, top, left + self.chance.randint(100, 4000), top + self.chance.randint(100, 4000))
        if document.kind == "recording":
            begin = self.chance.randrange(20)
            return Span(begin, begin + self.chance.randint(1, 9))
        start = self.chance.randrange(max(document.length - 1, 1))
        return Stretch(start, self.chance.randint(start + 1, max(document.length, start + 1)))

    def condition(self) -> dict[str, Any]:
        if self.chance.random() < 0.3:
            return {"join": "any", "parts": [{"codes": self.some(Code), "how": self.chance.choice(["any", "silent"])}]}
        variable = self.one(Variable, kind__in=["category", "ordered"], of="case", definition=None)
        return {"join": "all", "parts": [{"variable": variable.pk, "operator": "is", "values": [self.one(Category, variable=variable).label]}]}  # fmt: skip

    def question(self) -> dict[str, Any]:
        said: dict[str, Any] = {"codes": self.some(Code, 5)}
        if self.chance.random() < 0.6:
            said["variable"] = self.one(Variable, kind__in=["category", "ordered", "yes_no"]).pk
        else:
            said["columns"] = self.chance.choice(["cases", "documents", "cohorts"])
        said["measure"] = self.chance.choice(["people", "passages", "words", "per_person", "rate"])
        if self.chance.random() < 0.3:
            said["queries"] = [self.one(SavedQuery).pk]
        if self.chance.random() < 0.4:
            said["scope"] = self.scope()
        read = ComparisonIn(data=said)
        read.is_valid(raise_exception=True)
        return dict(read.validated_data)

    def scope(self) -> dict[str, Any]:
        return self.chance.choice(
            [
                lambda: {"documents": self.some(Document, 5)},
                lambda: {"cases": self.some(Case, 5)},
                lambda: {"coders": [self.who.account_id]},
                lambda: {"who": self.condition()},
                lambda: {"codes": self.some(Code, 4), "since": "2020-01-01"},
            ]
        )()

    def blocks(self) -> dict[str, Any]:
        part = self.chance.choice(
            [
                lambda: {"what": "coded", "codes": self.some(Code), "how": "any"},
                lambda: {"what": "placed", "codes": self.some(Code), "relation": "near", "unit": "turns", "within": 2},
                lambda: {"what": "made", "coders": [self.who.account_id]},
                lambda: {"what": "said", "condition": self.condition()},
                lambda: {"what": "said", "cases": self.some(Case)},
                lambda: {"what": "said", "cohort": self.one(Cohort).pk},
                lambda: {"what": "within", "documents": self.some(Document)},
                lambda: {"what": "text", "text": self.chance.choice(WORDS)},
            ]
        )()
        return {"join": "all", "parts": [part, {"join": "any", "parts": [part]}]}


def _make_code(one: Player) -> None:
    above = (
        one.one(Code).pk if one.chance.random() < 0.5 and Code.objects.filter(project=one.project).exists() else None
    )
    coding.create_code(one.who, one.name(), above, definition=one.words())


def _rate_scale(one: Player) -> None:
    coding.change_code(one.who, one.one(Code).pk, scale_low="little", scale_high="much")


def _merge(one: Player) -> None:
    coding.merge_codes(one.who, one.one(Code).pk, [one.one(Code).pk])


def _delete_code(one: Player) -> None:
    coding.delete_code(one.who, one.one(Code).pk)


def _code(one: Player) -> None:
    document = one.one(Document)
    coding.put_codes(one.who, document.pk, one.place(document), one.some(Code))


def _move(one: Player) -> None:
    passage = one.one(Passage)
    coding.move_passage(one.who, passage.pk, one.place(passage.document))


def _uncode(one: Player) -> None:
    coding.remove_coding(one.who, one.one(Coding).pk)


def _rate(one: Player) -> None:
    coding.rate_coding(one.who, one.one(Coding).pk, one.chance.randint(1, 5))


def _pin(one: Player) -> None:
    coding.pin_code(one.who, one.chance.randint(1, 9), one.one(Code).pk)


def _propose(one: Player) -> None:
    speaker = one.one(Speaker)
    coding.propose_codes(one.who, speaker.document_id, one.chance.choice([None, speaker.pk]), one.some(Code))


def _theme(one: Player) -> None:
    question = coding.create_question(one.who, f"{one.words()}?").pk if one.chance.random() < 0.5 else None
    coding.create_theme(one.who, one.name(), one.words(), question, one.some(Code))


def _memo(one: Player) -> None:
    on = one.chance.choice(
        [
            lambda: {},
            lambda: {"code": one.one(Code).pk},
            lambda: {"document": one.one(Document).pk},
            lambda: {"case": one.one(Case).pk},
            lambda: {"passage": one.one(Passage).pk},
            lambda: {"comparison": one.one(KeptComparison).pk},
        ]
    )
    report.write_memo(one.who, one.words(20), [one.chance.choice(["analytic", "team"])], **on())


def _digest(one: Player) -> None:
    report.write_digest(one.who, one.one(Case).pk, one.words(12), code=one.one(Code).pk)


def _exhibit(one: Player) -> None:
    report.make_exhibit(one.who, one.name(), passages=[one.one(Passage).pk, one.one(Passage).pk])


def _caption(one: Player) -> None:
    exhibit = one.one(Exhibit, pieces__isnull=False)
    report.change_piece(one.who, exhibit.pk, exhibit.pieces.all()[0].pk, caption=one.words())


def _case(one: Player) -> None:
    people.add_case(one.who, f"{one.words(1)} {one.chance.randrange(50)}")


def _rename_case(one: Player) -> None:
    people.rename_case(one.who, one.one(Case).pk, one.name())


def _merge_cases(one: Player) -> None:
    people.merge_cases(one.who, one.one(Case).pk, one.one(Case).pk)


def _delete_case(one: Player) -> None:
    people.delete_case(one.who, one.one(Case).pk)


def _variable(one: Player) -> None:
    made = one.chance.choice(
        [
            lambda: {"kind": one.chance.choice(["category", "number", "date", "yes_no", "text"])},
            lambda: {"kind": "category", "of": "document"},
            lambda: {"definition": {"kind": "bands", "of": one.one(Variable, kind="number").pk, "cuts": [40.0]}},
            lambda: {"definition": {"kind": "count", "what": "passages", "code": one.one(Code).pk}},
            lambda: {"definition": {"kind": "cohort", "cohort": one.one(Cohort).pk}},
        ]
    )
    people.make_variable(one.who, one.name(), **made())


def _value(one: Player) -> None:
    variable = one.one(Variable, definition=None, of="case")
    said = {"number": "41.5", "date": "2026-02-01", "yes_no": "yes"}.get(variable.kind, one.words(2))
    people.set_value(one.who, one.one(Case).pk, variable.pk, *one.chance.choice([(said,), ("", "not_asked")]))


def _merge_categories(one: Player) -> None:
    row = one.one(Category)
    people.merge_categories(one.who, row.variable_id, [row.label], one.one(Category, variable=row.variable).label)


def _cohort(one: Player) -> None:
    picked = one.chance.random() < 0.5
    people.make_cohort(one.who, one.name(), None if picked else one.condition(), one.some(Case) if picked else [])


def _link(one: Player) -> None:
    gather.change_speaker(one.who, one.one(Speaker).pk, role="participant", case_id=one.one(Case).pk)


def _role(one: Player) -> None:
    gather.change_speaker(one.who, one.one(Speaker).pk, role=one.chance.choice(["interviewer", "other", "participant"]))


def _retype(one: Player) -> None:
    turn = one.chance.choice(list(one.one(Document, kind="transcript").turns.all()))
    coding.edit_turn(one.who, turn.document_id, turn.number, one.words(9), {})


def _split_turn(one: Player) -> None:
    turn = one.chance.choice(list(one.one(Document, kind="transcript").turns.all()))
    gather.split_turn(one.who, turn.document_id, turn.number, (turn.start + turn.end) // 2)


def _delete_document(one: Player) -> None:
    if Document.objects.filter(project=one.project).count() > 3:
        gather.delete_documents(one.who, [one.one(Document).pk])


def _keep(one: Player) -> None:
    compare.keep_comparison(one.who, one.name(), one.question(), {"form": "table"})


def _note(one: Player) -> None:
    compare.note_cell(one.who, one.one(KeptComparison).pk, "code", one.one(Code).pk, "Holm", one.words())


def _freeze(one: Player) -> None:
    compare.freeze(one.who, one.name(), one.question(), {"form": "table"})


def _freeze_passages(one: Player) -> None:
    compare.freeze_passages(one.who, one.name(), {"blocks": one.blocks(), "scope": one.scope()})


def _unfreeze(one: Player) -> None:
    compare.delete_frozen(one.who, one.one(FrozenResult).pk)


def _query(one: Player) -> None:
    compare.save_query(one.who, one.name(), one.blocks())


def _scope(one: Player) -> None:
    compare.save_scope(one.who, one.name(), one.scope())


def _leave(one: Player) -> None:
    who = one.who
    leaving(who, answer(who, one.question()), 3, "a table")


def _undo(one: Player) -> None:
    trail.undo(one.who)


def _redo(one: Player) -> None:
    trail.redo(one.who)


MOVES: tuple[Played, ...] = (
    _make_code, _make_code, _code, _code, _code, _code, _code, _move, _uncode, _rate_scale, _rate, _rate, _merge, _delete_code,
    _pin, _propose, _theme, _memo, _memo, _digest, _digest, _exhibit, _caption, _case, _rename_case, _merge_cases, _delete_case,
    _variable, _variable, _value, _value, _merge_categories, _cohort, _cohort, _link, _link, _role, _retype, _split_turn,
    _delete_document, _keep, _keep, _note, _freeze, _freeze_passages, _unfreeze, _query, _query, _scope, _leave, _undo, _undo, _redo,
)  # fmt: skip
