"""Long lists in a browser: 1,000 documents, 5,000 people and 400 codes on pages and in menus; how long a hand waits."""

import random
import statistics
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page

from bench.browser import signed_in
from bench.gather import project
from core.gather.labels import Line
from core.gather.transcript import Corrections, read_transcript
from server.coding.actions import create_code
from server.coding.models import Code, Coding, Passage
from server.gather.actions.documents import add_document
from server.gather.models import Document, Speaker
from server.people.models import Case
from server.projects.models import Project
from server.projects.trail import act

NAME = "Bench: lists"
DOCUMENTS, PEOPLE, CODES = 1_000, 5_000, 400
WATCH = """() => {
    window.longest = 0;
    window.watching?.disconnect();
    window.watching = new PerformanceObserver((list) => {
        for (const entry of list.getEntries()) window.longest = Math.max(window.longest, entry.duration);
    });
    window.watching.observe({ type: "longtask", buffered: false });
}"""
SETTLED = "() => new Promise((done) => setTimeout(() => done(window.longest), 500))"
TIMES = 5


def prepare() -> int:
    """The project, made once."""
    there = Project.objects.filter(name=NAME).first()
    if there:
        return int(there.pk)
    member, dice = project(NAME), random.Random(7)
    tops = [create_code(member, f"Branch {number}") for number in range(20)]
    Code.objects.bulk_create(
        Code(
            project=member.project, parent=tops[number % 20], name=f"Code {number}", position=number, colour=number % 16
        )
        for number in range(CODES - 20)
    )
    codes = list(Code.objects.filter(project=member.project))
    people = Case.objects.bulk_create(
        Case(project=member.project, identifier=f"P{number:04}") for number in range(PEOPLE)
    )
    with act(member, "material.bring_in") as change:
        for number in range(DOCUMENTS):
            lines = [f"Interviewer: What of {number}?", f"P{number:04}: The boat was late, and nobody asked us."]
            found = read_transcript([Line(line) for line in lines], Corrections(), [])
            add_document(change, f"Talk {number:04}", found)
    for document in Document.objects.filter(project=member.project):
        speaker = Speaker.objects.get(document=document, label=f"P{document.title[-4:]}")
        Speaker.objects.filter(pk=speaker.pk).update(case=people[int(document.title[-4:])])
        start = document.text.index("The boat")
        passage = Passage.objects.create(document=document, start=start, end=start + 17)
        for code in dice.sample(codes, 3):
            Coding.objects.create(passage=passage, code=code, coder=member.account)
    return int(member.project_id)


def run(report: Any, home: str, held: int, password: str) -> None:
    with signed_in(home, password) as page:
        page.goto(f"{home}/projects/{held}/people")
        page.get_by_text("P0001").first.wait_for()
        page.wait_for_load_state("networkidle")
        for name, begin, act_ in _doings(page):
            longest = []
            for _ in range(TIMES):
                begin()
                page.wait_for_load_state("networkidle")
                page.evaluate(WATCH)
                act_()
                longest.append(page.evaluate(SETTLED))
            report(f"lists, {name}: longest task", statistics.median(longest), "ms")


Doing = tuple[str, Callable[[], object], Callable[[], object]]


def _doings(page: Page) -> list[Doing]:
    """What a hand does, with what has to stand there before."""
    steps = page.get_by_role("navigation", name="Steps", exact=True)
    scope = page.get_by_role("region", name="Scope")

    def step(name: str, shows: str) -> Callable[[], object]:
        def go() -> None:
            steps.get_by_role("link", name=name).click()
            page.get_by_text(shows).first.wait_for()

        return go

    def within(name: str, shows: str) -> Callable[[], object]:
        def go() -> None:
            page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name=name).click()
            page.get_by_text(shows).first.wait_for()

        return go

    def menu(name: str, shows: str) -> Callable[[], object]:
        def go() -> None:
            scope.get_by_role("button", name=name).click()
            page.get_by_label(shows).wait_for()

        return go

    shelf, people, code = step("Gather", "Talk 0001"), step("People", "P0001"), step("Code", "Branch 0")

    def shut() -> None:
        page.keyboard.press("Escape")
        people()

    return [
        ("1,000 documents on the shelf", people, shelf),
        ("filtering the shelf", shelf, lambda: _typed(page, "Filter documents", "0777")),
        ("5,000 people on the roster", shelf, people),
        ("filtering the roster", people, lambda: _typed(page, "Filter the roster", "0777")),
        ("the desk with 400 codes", people, code),
        ("the codebook of 400 codes", code, within("Codebook", "Branch 0")),
        ("the menu of 5,000 people", shut, menu("all 5,000 people", "Filter people by name or value")),
        ("the menu of 1,000 documents", shut, menu("all 1,000 documents", "Filter documents by name or value")),
        ("the menu of 400 codes", shut, menu("all 400 codes", "Filter codes by name or value")),
    ]


def _typed(page: Page, field: str, words: str) -> None:
    page.get_by_label(field).fill("")
    page.get_by_label(field).press_sequentially(words)
    page.get_by_text(words).first.wait_for()
    page.get_by_label(field).fill("")
