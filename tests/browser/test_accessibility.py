"""axe finds nothing serious on any main view."""

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

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
    "gather/bring-in": "Nothing waits to be brought in",
    "people?tab=check": "Man by the window",
    "members": "Nobody else sees this project",
    "history": "newest first",
}


@pytest.mark.parametrize("view", VIEWS)
def test_nothing_serious(page: Page, home: str, view: str):
    open_demo(page, home)
    base = page.url.rsplit("/", 1)[0]
    page.goto(f"{base}/{view}")
    expect(page.get_by_text(VIEWS[view]).first).to_be_visible()
    check(page)


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
