"""The reading desk in a browser, measured on a text of 20,000 words with 600 passages: opening, scrolling, coding."""

import random
import statistics
import time
from typing import Any

from playwright.sync_api import Page

from bench.browser import signed_in
from bench.gather import project, transcript
from core.gather.labels import Line
from core.gather.transcript import Corrections, read_transcript
from core.text.normalise import ink_bounds
from server.coding.actions import create_code, pin_code
from server.coding.models import Coding, Passage
from server.gather.actions.documents import add_document
from server.gather.models import Document
from server.projects.models import Membership, Project
from server.projects.trail import act

NAME = "Bench: desk"
PASSAGES = 600
SCROLL = """async () => {
    const frame = document.querySelector('[role=group][aria-label^="Text of"]');
    const times = [];
    let last = performance.now();
    for (const begun = last; last - begun < 10_000; ) {
        frame.scrollTop = frame.scrollTop + 60 >= frame.scrollHeight - frame.clientHeight ? 0 : frame.scrollTop + 60;
        await new Promise(requestAnimationFrame);
        const now = performance.now();
        times.push(now - last);
        last = now;
    }
    return times;
}"""
WATCH = """() => {
    window.stored = null;
    window.shown = 0;
    const begun = performance.now();
    new PerformanceObserver((list) => {
        for (const entry of list.getEntries())
            if (entry.name.endsWith("/passages")) window.stored = entry.responseEnd - window.pressed;
    }).observe({ type: "resource", buffered: false });
    window.addEventListener("keydown", () => {
        window.pressed = performance.now();
        requestAnimationFrame(() => setTimeout(() => { window.shown = performance.now() - window.pressed; }, 0));
    }, { once: true, capture: true });
}"""


def prepare() -> tuple[int, int]:
    """Project and document, made once."""
    there = Project.objects.filter(name=NAME).first()
    if there:
        document = Document.objects.get(project=there, title="Long talk")
        _as_made(document)
        return int(there.pk), int(document.pk)
    member = project(NAME)
    dice = random.Random(4)
    codes = [create_code(member, f"Code {number}") for number in range(300)]
    pin_code(member, 1, codes[0].pk)
    with act(member, "material.bring_in") as change:
        found = read_transcript([Line(line) for line in transcript(9999, 20_000).split("\n")], Corrections(), [])
        document = add_document(change, "Long talk", found)
        for number in range(PASSAGES):
            # Some eight deep at one place, the others all over the text.
            start = dice.randrange(len(found.text) - 400) if number > 40 else dice.randrange(3_000, 3_600)
            bounds = ink_bounds(found.text, start, start + dice.randrange(40, 380))
            passage, _ = Passage.objects.get_or_create(document=document, start=bounds[0], end=bounds[1])
            Coding.objects.get_or_create(passage=passage, code=dice.choice(codes), coder=member.account)
        add_document(change, "Short talk", read_transcript([Line("P1: Yes.")], Corrections(), []))
    return int(member.project_id), int(document.pk)


def _as_made(document: Document) -> None:
    """What earlier runs coded goes: the text has its 600 passages again."""
    owner = Membership.objects.filter(project=document.project_id).first()
    assert owner
    with act(owner, "passage.delete") as change:
        later = list(document.passages.order_by("pk").values_list("pk", flat=True)[PASSAGES:])
        change.delete(Coding.objects.filter(passage__in=later))
        change.delete(Passage.objects.filter(pk__in=later))


def run(report: Any, home: str, held: int, document: int, password: str) -> None:
    with signed_in(home, password) as page:
        opened = [_open(page, home, held, document) for _ in range(5)]
        frames = sorted(page.evaluate(SCROLL))
        coded = [_code(page) for _ in range(100)]
    report("desk, 20,000 words and 600 passages: opened", statistics.median(opened))
    report("desk: median frame while scrolling ten seconds", statistics.median(frames), "ms")
    report("desk: longest frame", frames[-1], "ms")
    for name, place in (("shown", 0), ("stored", 1)):
        times = sorted(one[place] for one in coded)
        report(f"desk: a coding {name}, median", statistics.median(times), "ms")
        report(f"desk: a coding {name}, p95", times[int(len(times) * 0.95)], "ms")


def _open(page: Page, home: str, held: int, document: int) -> float:
    """From the short text to the long one, as by a click: seconds until it stands there."""
    other = document + 1
    page.goto(f"{home}/projects/{held}/code/{other}")
    page.get_by_role("group", name="Text of Short talk").wait_for()
    page.wait_for_load_state("networkidle")
    begun = time.perf_counter()
    page.get_by_role("button", name="Previous document").click()
    page.get_by_role("group", name="Text of Long talk").wait_for()
    return time.perf_counter() - begun


def _code(page: Page) -> tuple[float, float]:
    page.get_by_role("group", name="Text of Long talk").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    page.evaluate(WATCH)
    page.keyboard.press("1")
    page.evaluate(
        "async () => { while (window.stored === null || !window.shown) await new Promise(requestAnimationFrame); }"
    )
    page.wait_for_load_state("networkidle")
    return page.evaluate("[window.shown, window.stored]")
