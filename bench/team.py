"""Twenty people in one project for three minutes: coding, comparing, reading evidence, finding, undoing, each with pauses.

What a person does is drawn from a seed; a pause of one to four seconds lies between two steps, as between two thoughts,
and every open page asks for the pulse beside it, as it does in the browser.
"""

import json
import random
import re
import statistics
import threading
import time
import urllib.error
from collections import defaultdict
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
from django.core.management import call_command

from server.gather.models import Document
from server.people.models import Variable
from server.projects.models import Account, Membership, Project
from server.shell.management.commands.prepare_demo import NAME

Report = Callable[..., None]
Call = Callable[..., bytes]
USERS, SECONDS = 20, 180
PULSE = 5.0


def prepare(project: int, password: str) -> list[str]:
    """Twenty members who may code; their names."""
    names = [f"member{number:02}" for number in range(USERS)]
    for name in names:
        account, made = Account.objects.get_or_create(username=name, defaults={"display_name": name.title()})
        if made or not account.check_password(password):
            account.set_password(password)
            account.save()
        Membership.objects.get_or_create(project_id=project, account=account, defaults={"role": "coder"})
    return names


def demo() -> int:
    """The demo project, made as a user's."""
    call_command("prepare_demo", verbosity=0)
    return Project.objects.get(name=NAME).pk


class Person:
    """One of them: asks as a page would, and keeps how long each answer took."""

    def __init__(
        self,
        call: Call,
        project: int,
        codes: list[int],
        documents: list[tuple[int, int]],
        variable: int,
        words: list[str],
        seed: int,
    ) -> None:
        self.call, self.base = call, f"/api/projects/{project}"
        self.codes, self.documents, self.variable = codes, documents, variable
        self.words = words
        self.dice = random.Random(seed)
        self.took: dict[str, list[float]] = defaultdict(list)
        self.errors: list[str] = []

    def ask(self, what: str, path: str, body: dict[str, Any] | None = None) -> Any:
        start, answer = time.perf_counter(), b""
        try:
            answer = self.call(self.base + path, body)
        except urllib.error.HTTPError as error:
            self.errors.append(f"{what}: {error.code} {error.read()[:200]!r}")
        except OSError as error:
            self.errors.append(f"{what}: {error!r}")
        finally:
            self.took[what].append(time.perf_counter() - start)
        # Read once it is timed: twenty people who ask from one process would wait for each other's reading.
        return json.loads(answer) if answer else None

    def question(self) -> dict[str, Any]:
        return {"codes": self.dice.sample(self.codes, min(30, len(self.codes))), "variable": self.variable}

    def code(self) -> None:
        document, length = self.dice.choice(self.documents)
        start = self.dice.randrange(max(length - 200, 1))
        put = {"start": start, "end": start + self.dice.randint(20, 180), "codes": [self.dice.choice(self.codes)]}
        self.ask("coding", f"/documents/{document}/passages", put)
        self.ask("codebook counts", "/codebook/counts", {})

    def compare(self) -> None:
        question = self.question()
        self.ask("comparison", "/compare", question)
        self.ask("what stands out", "/compare/stands-out", question)

    def evidence(self) -> None:
        question = self.question()
        found = self.ask("comparison", "/compare", question)
        if found:
            self.ask("evidence", "/compare/evidence", {**question, "row": self.dice.randrange(10), "group": 0})

    def codebook(self) -> None:
        self.ask("codebook", "/codebook")

    def shelf(self) -> None:
        self.ask("shelf", "/documents")

    def read(self) -> None:
        self.ask("document", f"/documents/{self.dice.choice(self.documents)[0]}")

    def find(self) -> None:
        self.ask("find", "/find", {"text": self.dice.choice(self.words)})

    def status(self) -> None:
        self.ask("status", "/status")

    def roster(self) -> None:
        self.ask("roster", "/roster")

    def undo(self) -> None:
        self.ask("undo", "/undo", {})

    def steps(self) -> Iterator[Callable[[], None]]:
        often = [(self.code, 40), (self.compare, 15), (self.evidence, 10), (self.codebook, 8), (self.shelf, 5), (self.read, 8), (self.find, 4), (self.status, 4), (self.roster, 2), (self.undo, 4)]  # fmt: skip
        while True:
            yield from self.dice.choices([step for step, _ in often], [weight for _, weight in often])

    def work(self, until: float) -> None:
        asked = 0.0
        for step in self.steps():
            if time.perf_counter() > until:
                return
            step()
            if time.perf_counter() - asked > PULSE:
                self.ask("pulse", "/pulse")
                asked = time.perf_counter()
            time.sleep(self.dice.uniform(1, 4))


def run(
    report: Report, sign_in: Callable[[str], Call], project: int, names: list[str], where: str, seconds: int = SECONDS
) -> None:
    """Let them work; how long each kind of answer took, and every error."""
    variable = Variable.objects.filter(project=project, of="case", kind__in=["category", "ordered"]).first()
    assert variable is not None
    documents = [
        (pk, length)
        for pk, length in Document.objects.filter(project=project, kind="transcript").values_list("id", "length")
    ]
    calls = [sign_in(name) for name in names]
    codes = [one["id"] for one in json.loads(calls[0](f"/api/projects/{project}/codebook"))["codes"]]
    words = sorted(
        set(re.findall(r"\w{4,}", Document.objects.filter(project=project, kind="transcript")[0].text[:3000]))
    )
    people = [Person(call, project, codes, documents, variable.pk, words, seed) for seed, call in enumerate(calls)]
    until = time.perf_counter() + seconds
    threads = [threading.Thread(target=person.work, args=(until,)) for person in people]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    took: dict[str, list[float]] = defaultdict(list)
    for person in people:
        for what, times in person.took.items():
            took[what] += times
    for what, times in sorted(took.items()):
        figures = (statistics.median(times), float(np.quantile(times, 0.95)), max(times))
        for name, figure in zip(("median", "p95", "longest"), figures, strict=True):
            report(f"{where}: {USERS} people at once, {what} (of {len(times)}), {name}", figure)
    errors = [error for person in people for error in person.errors]
    report(f"{where}: {USERS} people at once, errors", float(len(errors)), "")
    for error in errors[:10]:
        print("   ", error)
