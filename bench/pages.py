"""Every page of the demo in a browser: how long until its own words stand there, gone to for the first time and again."""

import statistics
from typing import Any

from playwright.sync_api import Browser, Page

from bench.browser import opened_by
from bench.team import prepare

NAME = "member00"
TIMES = 5
PAGES = {
    "gather": "P07_kitchen_table",
    "gather/bring-in": "Nothing waits to be brought in",
    "people": "Crosses for work",
    "people?tab=check": "Man by the window",
    "code": "Getting across",
    "code/codebook": "Click a code to read its passages",
    "code/answers": "As in the material",
    "code/guide": "Who was asked what",
    "code/themes": "with passages are in no theme",
    "code/find": "Words used most",
    "code/find?text=wait": "hits by",
    "code/memos": "I grew up with a ferry",
    "compare": "Adds up:",
    "compare?form=gaps": "95 % interval",
    "compare?form=matrix": "A full dial is the largest figure",
    "compare?form=map": "Correspondence analysis",
    "compare?form=waves": "Person by person",
    "compare/together": "Meet most",
    "compare/passages?saved=1": "Open in document",
    "compare/overview": "A tile’s area",
    "report": "Take it out as",
    "report/digests": "crossings",
    "members": "Nobody else sees this project",
    "history": "newest first",
}
# Looked for in each frame, as an eye would: asking from outside would add its own time.
WITHIN = """([address, shows]) => new Promise((done) => {
  const begun = performance.now();
  const there = () => document.querySelector("main")?.textContent.includes(shows);
  history.pushState(null, "", address);
  dispatchEvent(new PopStateEvent("popstate"));
  const look = () => there() ? requestAnimationFrame(() => setTimeout(() => done(performance.now() - begun))) : requestAnimationFrame(look);
  requestAnimationFrame(look);
})"""
WATCH = """(shows) => {
  const look = () => document.querySelector("main")?.textContent.includes(shows)
    ? requestAnimationFrame(() => setTimeout(() => { window.readable = performance.now(); }))
    : requestAnimationFrame(look);
  requestAnimationFrame(look);
}"""


def run(report: Any, home: str, project: int, password: str) -> None:
    prepare(project, password)
    base = f"{home}/projects/{project}"
    with opened_by(home, NAME, password) as (browser, page):
        state = page.context.storage_state()
        # Nobody is the first to ask a server that has just begun.
        for address, shows in PAGES.items():
            page.goto(f"{base}/{address}")
            page.get_by_text(shows).first.wait_for()
        cold = {address: _cold(browser, state, f"{base}/{address}", shows) for address, shows in PAGES.items()}
        warm = {address: _warm(page, base, address, shows) for address, shows in PAGES.items()}
    for address in PAGES:
        report(f"the demo, {address}: first time", cold[address], "ms")
        report(f"the demo, {address}: again", warm[address], "ms")
    for name, times in (("first time", cold), ("again", warm)):
        report(f"the demo, {len(PAGES)} pages, {name}: median", statistics.median(times.values()), "ms")
        report(f"the demo, {len(PAGES)} pages, {name}: longest", max(times.values()), "ms")


def _cold(browser: Browser, state: Any, address: str, shows: str) -> float:
    """Milliseconds from opening an address in a browser that has nothing of it."""
    times = []
    for _ in range(TIMES):
        context = browser.new_context(storage_state=state, viewport={"width": 1280, "height": 800})
        page = context.new_page()
        page.add_init_script(f"({WATCH})({shows!r})")
        page.goto(address)
        page.evaluate(
            "new Promise((done) => { const look = () => window.readable ? done() : requestAnimationFrame(look); look(); })"
        )
        times.append(page.evaluate("window.readable"))
        context.close()
    return statistics.median(times)


def _warm(page: Page, base: str, address: str, shows: str) -> float:
    """Milliseconds from going to it from another page of the project, where one was before."""
    times = []
    other = "history" if address != "history" else "members"
    for _ in range(TIMES + 1):
        page.evaluate(WITHIN, [f"{base}/{other}", PAGES[other]])
        page.wait_for_load_state("networkidle")
        times.append(page.evaluate(WITHIN, [f"{base}/{address}", shows]))
        page.wait_for_load_state("networkidle")
    return statistics.median(times[1:])
