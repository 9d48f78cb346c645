"""axe finds nothing serious on any main view."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import open_demo

VIEWS = {
    "gather": "P07_kitchen_table",
    "people": "Crosses for work",
    "code": "Getting across",
    "code/codebook": "Click a code to read its passages",
    "code/answers": "As in the material",
    "code/find": "Words used most",
    "code/themes": "with passages are in no theme",
    "code/find?text=wait": "hits by",
    "code/memos": "I grew up with a ferry",
    "compare": "Adds up:",
    "compare?form=gaps&order=difference": "95 % interval",
    "compare?form=bars": "line: 95 % interval",
    "compare?form=bars&stack=1": "Each bar is 100 %",
    "compare?swap=1": "Adds up:",
    "compare?form=flow": "A band is as wide",
    "compare?form=tiles": "A column is as wide",
    "compare?form=matrix": "A full dial is the largest figure",
    "compare?form=map": "Correspondence analysis",
    "compare?form=people": "Filled: the person mentions it",
    "compare?form=spread": "A dot a person",
    "compare?form=waves": "Person by person",
    "compare?adjusted=6": "If the groups were alike in Vehicle",
    "compare?open=0~2": "Open in document",
    "compare?variable=cases&codes=1.2.3.4.5.6.7.8.9.10.11.12.13.14.15.16.17.18.19.20.21.22.23.24.25.26.27.28.29.30": "Adds up:",
    "compare/together": "Meet most",
    "compare/passages?saved=1": "Open in document",
    "compare/overview": "A tile’s area",
    "compare/overview?form=ring": "An arc’s length",
    "compare/overview?part=went": "By coder",
    "compare/overview?part=enough": "Codes of the base",
    "compare/frozen/1": "One cell differs today",
    "report": "Take it out as",
    "report/digests": "crossings",
    "gather/bring-in": "Nothing waits to be brought in",
    "people?tab=check": "Man by the window",
    "members": "Nobody else sees this project",
    "history": "newest first",
}


WIDTHS = (1024, 1440, 1280)
"""Pixels; no view makes the page wider than the window."""


@pytest.fixture(scope="module")
def demo(browser: Browser, browser_context_args: dict[str, Any], home: str) -> Iterator[tuple[Page, str]]:
    """One page for all views, each gone to by its address, and the address of the demo."""
    with browser.new_context(**browser_context_args) as context:
        page = context.new_page()
        open_demo(page, home)
        yield page, page.url.rsplit("/", 1)[0]


@pytest.mark.parametrize("view", VIEWS)
def test_nothing_serious(demo: tuple[Page, str], view: str):
    page, base = demo
    errors: list[str] = []
    page.once("pageerror", lambda error: errors.append(str(error)))
    page.goto(f"{base}/{view}")
    expect(page.get_by_text(VIEWS[view]).first).to_be_visible(timeout=15_000)
    check(page)
    assert errors == []
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("document.documentElement.scrollWidth") <= width
    # WCAG 2.4.2: the window says which page it is, and of what.
    assert re.fullmatch(r"\w.* · After the winter timetable · Cohortia", page.title())


def test_keys_go_past_the_bar_to_the_page(demo: tuple[Page, str]):
    """WCAG 2.4.1."""
    page, base = demo
    page.goto(f"{base}/compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()
    page.keyboard.press("Tab")
    skip = page.get_by_role("link", name="Skip to the page")
    expect(skip).to_be_focused()
    expect(skip).to_be_in_viewport()
    page.keyboard.press("Enter")
    expect(page.locator("main")).to_be_focused()
    page.keyboard.press("Tab")
    assert page.evaluate("document.querySelector('main').contains(document.activeElement)")


@pytest.mark.parametrize(
    ("title", "shows"), [("P10_crossing_diary", "region 4"), ("P26_at_the_lift", "Span begins here")]
)
def test_nothing_serious_on_pictures_and_recordings(page: Page, home: str, title: str, shows: str):
    open_demo(page, home)
    page.get_by_role("link", name=title).first.click()
    expect(page.get_by_text(shows)).to_be_visible()
    check(page)


def check(page: Page) -> None:
    found = Axe().run(page).response["violations"]
    serious = [
        (row["id"], [node["html"][:160] for node in row["nodes"]][:4])
        for row in found
        if row["impact"] in ("serious", "critical")
    ]
    assert serious == []
