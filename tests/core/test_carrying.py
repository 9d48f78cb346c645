"""A snapshot that is carried on holds, in every array and every derived part, what a whole reading holds."""

import numpy as np
import pytest

from core.snapshot.carried import carried
from core.snapshot.carrying import News, NotCarried, Touched
from core.snapshot.columns import INTERVIEWER, OTHER, PARTICIPANT, REGION, SPAN, TEXT
from core.snapshot.tables import COLUMNS, assembled, places

DERIVED = ("attributions", "talks", "own_rows", "branch_rows")


class Project:
    """An invented project as lists of rows, changed at random; ``touched`` holds what changed since it was last emptied."""

    def __init__(self, seed: int, beyond_text: bool = False):
        self.random = np.random.default_rng(seed)
        self.beyond_text = beyond_text
        self.next = 100
        self.revision = 1
        self.rows = {name: [] for name in COLUMNS}
        self.touched = {name: set() for name in COLUMNS}
        for _ in range(4):
            self.add_case()
        for _ in range(3):
            self.add_code()
        for _ in range(4):
            self.add_document()
        for _ in range(12):
            self.add_passage()
        for _ in range(25):
            self.add_coding()

    def number(self) -> int:
        self.next += int(self.random.integers(1, 4))
        return self.next

    def one(self, name):
        rows = self.rows[name]
        return rows[int(self.random.integers(len(rows)))] if rows else None

    def put(self, name, row, at=None):
        self.rows[name].insert(len(self.rows[name]) if at is None else at, row)
        self.touched[name].add(row.get("id", 0))

    def drop(self, name, test):
        for row in [row for row in self.rows[name] if test(row)]:
            self.rows[name].remove(row)
            self.touched[name].add(row.get("id", 0))

    def add_case(self):
        self.put("cases", {"id": self.number()}, int(self.random.integers(len(self.rows["cases"]) + 1)))

    def add_code(self):
        above = self.one("codes")
        parent = above["id"] if above and self.random.random() < 0.6 else -1
        self.put(
            "codes", {"id": self.number(), "parent": parent}, int(self.random.integers(len(self.rows["codes"]) + 1))
        )

    def add_document(self):
        document = self.number()
        self.put("documents", {"id": document})
        speakers = [self.number() for _ in range(int(self.random.integers(1, 4)))]
        for speaker in speakers:
            role = int(self.random.choice([PARTICIPANT, PARTICIPANT, INTERVIEWER, OTHER]))
            self.put("speakers", {"id": speaker, "role": role, "case": self.some_case(role), "document": document})
        self.speak(document, speakers)

    def speak(self, document, speakers):
        at = 0
        for _ in range(int(self.random.integers(1, 6))):
            length = int(self.random.integers(2, 12))
            self.put("turns", {
                "document": document, "first": at, "last": at + int(self.random.integers(0, length)),
                "speaker": int(self.random.choice(speakers)), "words": int(self.random.integers(0, 5)),
                "begin": at * 1000 if self.beyond_text else -1, "finish": (at + length) * 1000 if self.beyond_text else -1,
            })  # fmt: skip
            at += length

    def some_case(self, role):
        case = self.one("cases")
        return case["id"] if case and role == PARTICIPANT and self.random.random() < 0.8 else -1

    def add_passage(self):
        document = self.one("documents")
        if document is None:
            return
        start = int(self.random.integers(0, 30))
        end = start + int(self.random.integers(1, 20))
        kind = int(self.random.choice([TEXT, REGION, SPAN])) if self.beyond_text else TEXT
        row = {"id": self.number(), "document": document["id"], "kind": kind, "begin": -1, "finish": -1}
        row |= {"first": start, "last": end} if kind == TEXT else {"first": 0, "last": 0}
        if kind == SPAN:
            row |= {"begin": start * 1000, "finish": end * 1000}
        self.put("passages", row)

    def move_passage(self):
        if row := self.one("passages"):
            self.drop("passages", lambda other: other is row)
            start = int(self.random.integers(0, 30))
            moved = {"first": start, "last": start + 3} if row["kind"] == TEXT else {}
            self.put("passages", row | moved)

    def drop_passage(self):
        if row := self.one("passages"):
            self.drop("codings", lambda coding: coding["passage"] == row["id"])
            self.drop("passages", lambda other: other is row)

    def add_coding(self):
        passage, code = self.one("passages"), self.one("codes")
        if passage and code:
            self.put("codings", {
                "id": self.number(), "passage": passage["id"], "code": code["id"], "coder": int(self.random.integers(1, 5)),
                "rating": int(self.random.integers(0, 3)), "day": int(self.random.integers(100)),
            })  # fmt: skip

    def drop_coding(self):
        if row := self.one("codings"):
            self.drop("codings", lambda other: other is row)

    def recode(self):
        if row := self.one("codings"):
            row["code"], row["rating"] = self.one("codes")["id"], 2
            self.touched["codings"].add(row["id"])

    def link(self):
        if row := self.one("speakers"):
            row["role"] = int(self.random.choice([PARTICIPANT, PARTICIPANT, INTERVIEWER]))
            row["case"] = self.some_case(row["role"])
            self.touched["speakers"].add(row["id"])

    def drop_case(self):
        if row := self.one("cases"):
            for speaker in self.rows["speakers"]:
                if speaker["case"] == row["id"]:
                    speaker["case"] = -1
                    self.touched["speakers"].add(speaker["id"])
            self.drop("cases", lambda other: other is row)

    def reorder(self):
        name = str(self.random.choice(["cases", "codes"]))
        if row := self.one(name):
            self.drop(name, lambda other: other is row)
            self.put(name, row, 0)

    def drop_code(self):
        row = self.one("codes")
        if row and len(self.rows["codes"]) > 1 and not any(code["parent"] == row["id"] for code in self.rows["codes"]):
            self.drop("codings", lambda coding: coding["code"] == row["id"])
            self.drop("codes", lambda other: other is row)

    def reparent(self):
        row, above = self.one("codes"), self.one("codes")
        climbing = above
        while climbing is not None and climbing is not row:
            climbing = next((code for code in self.rows["codes"] if code["id"] == climbing["parent"]), None)
        if climbing is None:
            row["parent"] = above["id"]
            self.touched["codes"].add(row["id"])

    def edit_text(self):
        if row := self.one("documents"):
            speakers = [one["id"] for one in self.rows["speakers"] if one["document"] == row["id"]]
            self.drop("turns", lambda turn: turn["document"] == row["id"])
            self.speak(row["id"], speakers)

    def drop_document(self):
        if row := self.one("documents"):
            own = {one["id"] for one in self.rows["passages"] if one["document"] == row["id"]}
            self.drop("codings", lambda coding: coding["passage"] in own)
            for name in ("passages", "turns", "speakers"):
                self.drop(name, lambda other: other["document"] == row["id"])
            self.drop("documents", lambda other: other is row)

    def table(self, name, rows):
        rows = sorted(rows, key=lambda row: row.get("id", 0)) if name in ("documents", "speakers", "codings") else rows
        if name == "turns":
            rows = sorted(rows, key=lambda row: (row["document"], row["first"]))
        if name == "passages":
            rows = sorted(rows, key=lambda row: (row["document"], row["first"], row["last"], row["id"]))
        return {column: np.array([row[column] for row in rows], np.int64) for column in COLUMNS[name]}

    def whole(self):
        return assembled(self.revision, {name: self.table(name, rows) for name, rows in self.rows.items()})

    def news(self):
        self.revision += 1
        touched, self.touched = self.touched, {name: set() for name in COLUMNS}
        whole = {
            name: self.table(name, self.rows[name])
            for name in ("documents", "cases", "codes", "speakers", "turns")
            if touched[name]
        }
        rows = {
            name: Touched(
                np.array(sorted(touched[name]), np.int64),
                self.table(name, [row for row in self.rows[name] if row["id"] in touched[name]]),
            )
            if touched[name]
            else None
            for name in ("passages", "codings")
        }
        return News(self.revision, whole, rows["passages"], rows["codings"])


OFTEN = ["add_passage", "add_coding", "drop_coding", "recode", "move_passage", "drop_passage", "link"]
SELDOM = [
    "add_case",
    "add_code",
    "drop_case",
    "drop_code",
    "reorder",
    "reparent",
    "add_document",
    "edit_text",
    "drop_document",
]


def everything(snapshot):
    found = {
        name: array for name, array in vars(snapshot).items() if isinstance(array, np.ndarray) and name != "turn_case"
    }
    for name in DERIVED:
        found |= {f"{name}.{part}": array for part, array in vars(getattr(snapshot, name)).items() if part != "shared"}
    return found


def assert_same(carried_on, whole, after):
    left, right = everything(carried_on), everything(whole)
    assert left.keys() == right.keys(), after
    for name, array in right.items():
        assert left[name].dtype == array.dtype, (after, name, left[name].dtype)
        assert np.array_equal(left[name], array, equal_nan=array.dtype.kind == "f"), (after, name, left[name], array)
    assert carried_on.revision == whole.revision


@pytest.mark.parametrize("beyond_text", [False, True], ids=["texts", "pictures and recordings too"])
@pytest.mark.parametrize("seed", range(12))
def test_what_is_carried_on_is_what_a_whole_reading_holds(seed, beyond_text):
    project = Project(seed, beyond_text)
    project.news()
    held = project.whole()
    everything(held)
    carried_often = 0
    for _ in range(60):
        steps = [
            str(project.random.choice(OFTEN if project.random.random() < 0.7 else SELDOM))
            for _ in range(int(project.random.integers(1, 4)))
        ]
        for step in steps:
            getattr(project, step)()
        news = project.news()
        whole = project.whole()
        try:
            new = carried(held, news)
        except NotCarried:
            new = whole
        carried_often += new.has("own_rows") and new is not whole
        assert_same(new, whole, steps)
        held = new
    assert carried_often > 15


def test_a_coding_carries_all_derived_parts_on():
    project = Project(3)
    project.news()
    held = project.whole()
    everything(held)
    project.add_coding()
    new = carried(held, project.news())
    assert all(new.has(name) for name in DERIVED)
    # Whoever needs the rows first makes them; then the earlier revision is let go of.
    assert "own_rows" not in vars(new)
    new.settle()
    assert all(name in vars(new) for name in DERIVED)
    assert all(coming._make is None for coming in new._coming.values())
    assert_same(new, project.whole(), "a coding")


def test_thousands_of_passages_come_in_at_once():
    project = Project(4)
    project.news()
    held = project.whole()
    everything(held)
    for _ in range(3200):
        project.add_passage()
    for _ in range(100):
        project.add_coding()
    assert_same(carried(held, project.news()), project.whole(), "many")


def test_what_went_unseen_is_noticed():
    project = Project(5)
    project.news()
    held = project.whole()
    project.drop_passage()
    project.touched["codings"].clear()
    with pytest.raises(NotCarried, match="unseen"):
        carried(held, project.news())


def test_places_of_few_and_of_many_agree():
    ids = np.array([7, 3, 9, 1, 5])
    wanted = np.array([5, 7, 2, 9])
    assert places(ids, wanted).tolist() == [4, 0, -1, 2]
    assert places(ids, np.tile(wanted, 10)).tolist() == [4, 0, -1, 2] * 10
    assert places(np.sort(ids), wanted).tolist() == [2, 3, -1, 4]
