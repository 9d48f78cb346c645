"""In a made-up language a third longer, every sentence of the page is one of its own, and no label is cut at 1280 × 800."""

import calendar
import json
import re
import subprocess
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, Response, expect

from tests.browser.conftest import ROOT, open_demo
from tests.browser.test_accessibility import OPENED, VIEWS

OURS = re.compile("[áéíóúçñýÁÉÍÓÚ⟦⟧]")
"""Letters and brackets of the made-up language (``web/messages/pseudo.mjs``)."""
MADE = dict(zip("aeioucnyAEIOU", "áéíóúçñýÁÉÍÓÚ", strict=True))
FORMATS = {
    "xlsx",
    "csv",
    "qdc",
    "docx",
    "md",
    "svg",
    "png",
    "zip",
    "Cohortia",
    "English",
    "Deutsch",
    *calendar.month_abbr,
    *calendar.month_name,
}
READ = """() => {
  const told = [];
  const drawn = (element) => { const box = element.getBoundingClientRect(); return box.width > 0 && box.height > 0; };
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const element = walker.currentNode.parentElement;
    // What has no direction of its own is material, and keys are called what stands on them.
    if (!element.closest("script, style, [dir=auto], kbd") && drawn(element)) told.push(walker.currentNode.textContent);
  }
  for (const name of ["aria-label", "title", "placeholder", "alt"])
    for (const element of document.querySelectorAll(`[${name}]`)) told.push(element.getAttribute(name));
  return told;
}"""
CUT = """() => [...document.querySelectorAll("body *")].filter((element) => {
  const style = getComputedStyle(element);
  const hides = style.textOverflow === "ellipsis" || style.overflowX === "hidden" || style.overflowX === "clip";
  // Material may give way; a label may not.
  const label = element.textContent.trim().startsWith("⟦") && element.textContent.trim().endsWith("⟧");
  return hides && label && element.clientWidth > 1 && element.scrollWidth > element.clientWidth + 1;
}).map((element) => element.textContent)"""


@pytest.fixture(scope="module")
def elsewhere(
    browser: Browser, browser_context_args: dict[str, Any], home: str
) -> Iterator[tuple[Page, str, set[str]]]:
    """A page in the made-up language, the demo's address, and every word that came from the server."""
    words = subprocess.run(
        ["node", "messages/pseudo.mjs"], cwd=ROOT / "web", check=True, capture_output=True, text=True
    )
    with browser.new_context(**browser_context_args) as context:
        page = context.new_page()
        open_demo(page, home)
        base = page.url.rsplit("/", 1)[0]
        told: set[str] = set()
        page.on("response", lambda response: told.update(texts(response)))
        context.add_init_script(words.stdout)
        yield page, base, told


def texts(response: Response) -> Iterator[str]:
    kind = response.headers.get("content-type", "")
    if "html" in kind:
        # What the head of a page says already.
        waiting: list[Any] = [
            json.loads(said) for said in re.findall(r"<script[^>]*data-said[^>]*>(.*?)<", response.text())
        ]
    elif "/api/" in response.url and "json" in kind:
        waiting = [json.loads(response.body())]
    else:
        return
    while waiting:
        one = waiting.pop()
        if isinstance(one, str):
            yield one
        elif isinstance(one, dict):
            waiting += one.values()
        elif isinstance(one, list):
            waiting += one
            # A sentence in parts, some of which open something.
            yield "".join(part["text"] for part in one if isinstance(part, dict) and isinstance(part.get("text"), str))


@pytest.mark.parametrize("view", VIEWS)
def test_every_sentence_is_in_the_catalogue_and_none_is_cut(elsewhere: tuple[Page, str, set[str]], view: str):
    page, base, told = elsewhere
    page.goto(f"{base}/{view}", wait_until="networkidle")
    shown = page.evaluate(READ)
    assert sum(bool(OURS.search(text)) for text in shown) > 10, "the page isn't in the made-up language"
    assert loose_in(shown, told) == []
    assert page.evaluate(CUT) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280
    page.set_viewport_size({"width": 320, "height": 800})
    assert page.evaluate("document.documentElement.scrollWidth") <= 320
    page.set_viewport_size({"width": 1280, "height": 800})


@pytest.mark.parametrize("name", OPENED)
def test_so_is_what_opens_over_a_page(elsewhere: tuple[Page, str, set[str]], name: str):
    page, base, told = elsewhere
    view, buttons, _ = OPENED[name]
    page.goto(f"{base}/{view}", wait_until="networkidle")
    for role, label in buttons:
        open_by(page, role, label)
    page.wait_for_load_state("networkidle")
    assert loose_in(page.evaluate(READ), told) == []
    assert page.evaluate(CUT) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280
    page.keyboard.press("Escape")


def open_by(page: Page, role: Any, label: str) -> None:
    """By a name that is said in English: its letters have accents here, and what is put into it stays."""
    between = "[~ ⟦⟧]*"
    plain = "".join(
        f"[{one}{MADE[one]}]"
        if one in MADE
        else between
        if one == " "
        else between + one
        if one == ":"
        else re.escape(one)
        for one in label
    )
    page.get_by_role(role, name=re.compile(f"^[⟦ ]*{plain}")).first.click()


def loose_in(shown: list[str], told: set[str]) -> list[str]:
    """Pieces of what is shown that are neither in the catalogue nor said by the server."""
    all_told = "\n".join(told)
    loose = []
    for text in shown:
        for _ in range(4):
            text = re.sub(r"⟦[^⟦⟧]*⟧", "|", text)
        for piece in re.split(r"[|·,:;()“”\"×→+−\n●■▲◆]", text):
            piece = piece.strip(" .…–—0123456789%/")
            if OURS.search(piece) or not re.search(r"[A-Za-z]{3}", piece) or piece in FORMATS:
                continue
            # Names and passages are written by people; what the server says has a catalogue of its own.
            if piece not in all_told:
                loose.append(piece)
    return loose


def test_the_browser_says_the_language_and_the_account_has_the_last_word(
    browser: Browser, browser_context_args: dict[str, Any], home: str
):
    with browser.new_context(**{**browser_context_args, "locale": "de-DE"}) as context:
        page = context.new_page()
        page.goto(home)
        assert page.locator("html").get_attribute("lang") == "de"
        page.get_by_label("Name").fill("mika")
        page.get_by_label("Passwort").fill("after-the-winter")
        page.get_by_role("button", name="Anmelden", exact=True).click()
        page.get_by_role("link", name="After the winter timetable").click()
        steps = page.get_by_role("navigation", name="Schritte", exact=True)
        steps.get_by_role("link", name="Vergleichen").click()
        # What the page says, what the server tells, and what they count.
        expect(page.get_by_text("Geht auf:")).to_be_visible()
        expect(page.get_by_text("Sicher: unter allen 21 gezeigten Unterschieden")).to_be_visible()
        expect(page.get_by_text("10 von 11", exact=True).first).to_be_visible()
        try:
            page.get_by_role("button", name="Konto von").click()
            page.get_by_role("menuitem", name="English").click()
            expect(page.get_by_text("Adds up:")).to_be_visible()
            assert page.locator("html").get_attribute("lang") == "en"
            page.reload()
            expect(page.get_by_text("Adds up:")).to_be_visible()
        finally:
            page.get_by_role("button", name=re.compile("Account of|Konto von")).click()
            page.get_by_role("menuitem", name=re.compile("As this browser has it|Wie dieser Browser")).click()
            expect(page.get_by_text("Geht auf:")).to_be_visible()
