"""A browser as somebody uses it, signed in."""

import shutil
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser, Page, sync_playwright


@contextmanager
def signed_in(home: str, password: str) -> Iterator[Page]:
    """A page of 1280 × 800 on the list of projects."""
    with opened_by(home, "bench", password) as (_, page):
        yield page


@contextmanager
def opened_by(home: str, name: str, password: str) -> Iterator[tuple[Browser, Page]]:
    """A browser, and somebody's page in it on the list of their projects."""
    with sync_playwright() as tools:
        browser = tools.chromium.launch(
            executable_path=shutil.which("chromium"), args=["--no-sandbox", "--disable-gpu", "--disable-quic"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(home)
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="Your projects").wait_for()
        yield browser, page
        browser.close()
