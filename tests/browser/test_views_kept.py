"""Filters, forms, what is open, how far it is scrolled, and the scope: back, forward, loading anew, a link and a step gone
back to bring the same; the scope holds on every page that reads or counts."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import go_to, open_demo

TEXT = "[aria-label^='Text of']"


def open_first(page: Page, place: int = 0) -> None:
    page.get_by_role("region", name="Result").get_by_role("table").locator("td button").nth(place).click()


def test_coming_back_to_a_comparison_brings_its_rows_form_and_what_was_open(page, home):
    open_demo(page, home, "compare")
    drawer = page.get_by_role("complementary", name="Evidence")
    open_first(page)
    drawer.get_by_role("button", name=re.compile("Didn’t")).click()
    expect(page).to_have_url(re.compile("seen=silent"))
    address = page.url
    go_to(page, "Code")
    expect(page.get_by_role("navigation", name="Pages of coding")).to_be_visible()
    go_to(page, "Compare")
    expect(drawer.get_by_role("button", name=re.compile("Didn’t"), pressed=True)).to_be_visible()
    assert page.url == address
    # Another number begins at its beginning, and another comparison with nothing chosen.
    drawer.get_by_role("button", name="Close the evidence").click()
    open_first(page, 1)
    expect(drawer.get_by_role("button", name=re.compile("Said it"), pressed=True)).to_be_visible()
    page.get_by_role("button", name="bars", exact=True).click()
    page.get_by_role("button", name="Begin anew").click()
    expect(page).to_have_url(re.compile(r"/compare$"))


def test_a_list_and_a_text_are_where_they_were(page, home):
    open_demo(page, home, "people")
    field = page.get_by_label("Filter the roster")
    field.fill("holm")
    expect(page).to_have_url(re.compile("words=holm"))
    page.reload()
    expect(field).to_have_value("holm")
    papers = page.request.get(re.sub(r"(.*)/projects/(\d+)/.*", r"\1/api/projects/\2/documents", page.url)).json()
    longest = max((row for row in papers if row["kind"] == "transcript"), key=lambda row: row["words"])
    page.goto(re.sub(r"/people.*", f"/code/{longest['id']}", page.url))
    pane = page.locator(TEXT)
    expect(pane).to_be_visible()
    pane.evaluate("pane => pane.scrollTo({ top: 700 })")
    page.get_by_role("link", name="Themes").click()
    expect(page).to_have_url(re.compile("/themes"))
    page.go_back()
    expect(pane).to_have_js_property("scrollTop", 700)
    page.reload()
    expect(pane).to_have_js_property("scrollTop", 700)


@pytest.fixture
def narrowed(page, home):
    """The demo with two people in scope, chosen on the page of people."""
    open_demo(page, home, "people")
    roster = page.request.get(re.sub(r"(.*)/projects/(\d+)/.*", r"\1/api/projects/\2/roster", page.url)).json()
    two = [row for row in roster["cases"] if row["identifier"] in ("P01", "P02")]
    page.goto(f"{page.url.split('?')[0]}?cases={'.'.join(str(row['id']) for row in two)}")
    return [row["identifier"] for row in two]


def test_the_scope_holds_on_every_page_that_reads_or_counts(page, home, narrowed):
    scope = page.get_by_role("region", name="Scope")
    expect(scope).to_contain_text("2")
    rows = page.get_by_role("row").filter(has=page.get_by_role("cell"))
    expect(page.get_by_role("button", name=re.compile(r"Roster 2 of \d+"))).to_be_visible()
    for name in narrowed:
        expect(rows.filter(has_text=name).first).to_be_visible()
    go_to(page, "Code")
    expect(page.get_by_text(re.compile(r"^1 of \d$"))).to_be_visible()
    whole = int(re.search(r"of (\d+)", page.get_by_text(re.compile(r"^1 of \d$")).inner_text())[1])
    assert whole < 10
    page.get_by_role("link", name="Codebook").click()
    expect(scope).to_contain_text("Leaves out")
    page.get_by_role("link", name="Find").click()
    page.get_by_label("What to find").fill("boat")
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary", name="Who says it")).to_contain_text(re.compile("by [12] (person|people)"))
    go_to(page, "Report")
    page.get_by_role("link", name="Digests").click()
    expect(page.get_by_role("row").filter(has=page.get_by_role("rowheader")).first).to_be_visible()
    assert page.get_by_role("rowheader").count() <= 2
    scope.get_by_role("button", name="Clear").click()
    expect(page.get_by_role("rowheader").nth(3)).to_be_visible()
