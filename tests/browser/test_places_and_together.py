"""Regions by key, answers by key, a lost connection, and two coders at once, in the real browser."""

import re

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import open_demo
from tests.browser.test_coding_desk import fetched


def project_of(page: Page) -> str:
    return re.search(r"/projects/(\d+)/", page.url)[1]


def open_document(page: Page, home: str, title: str, name: str = "rana") -> str:
    """The address of the document in the API."""
    open_demo(page, home, name=name)
    project = project_of(page)
    rows = fetched(page, f"/api/projects/{project}/documents")
    pk = next(row["id"] for row in rows if row["title"] == title)
    page.goto(f"{home}/projects/{project}/code/{pk}")
    return f"/api/projects/{project}/documents/{pk}"


def test_a_region_is_drawn_moved_and_coded_by_key_on_a_turned_picture(page: Page, home: str):
    address = open_document(page, home, "Notice_board_Norrby")
    before = {row["id"] for row in fetched(page, address)["passages"]}
    page.get_by_role("button", name="Turn by a quarter").click()
    page.get_by_role("button", name="Larger").click()
    page.get_by_role("button", name="New region").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.type("Pride in the place")
    page.keyboard.press("Enter")
    box = page.get_by_role("button", name="Region with Pride in the place")
    expect(box).to_be_visible()
    # Shown at once; what the server hasn’t numbered yet has a number below nothing.
    expect(page.locator('[data-region^="-"]')).to_have_count(0)
    fresh = [row for row in fetched(page, address)["passages"] if row["id"] not in before]
    # Turned once clockwise: right is up on the upright picture, and down is right.
    assert [row["region"] for row in fresh] == [{"page": 1, "left": 3500, "top": 3400, "right": 6600, "bottom": 6400}]
    page.keyboard.press("Control+z")
    expect(box).to_have_count(0)


def test_answers_are_coded_many_at_once_without_leaving_the_keyboard(page: Page, home: str):
    open_demo(page, home)
    project = project_of(page)
    page.goto(f"{home}/projects/{project}/code/answers?show=uncoded")
    sheet = page.get_by_role("group", name=re.compile("^Answers"))
    expect(sheet).to_be_visible()
    waiting = sheet.get_by_role("listitem").count()
    assert waiting >= 2
    sheet.focus()
    page.keyboard.press("Shift+ArrowDown")
    expect(page.get_by_text("2 answers ticked")).to_be_visible()
    page.keyboard.type("Nothing to add")
    page.keyboard.press("Enter")
    expect(sheet.get_by_role("listitem")).to_have_count(waiting - 2)
    codes = fetched(page, f"/api/projects/{project}/codebook")["codes"]
    assert next(code["passages"] for code in codes if code["name"] == "Nothing to add") == 2
    page.keyboard.press("Control+z")
    expect(sheet.get_by_role("listitem")).to_have_count(waiting)


def test_codings_made_without_a_connection_are_kept_and_sent_when_it_is_back(page: Page, home: str):
    address = open_document(page, home, "P07_kitchen_table")
    text = page.get_by_role("group", name=re.compile("^Text of P07"))
    expect(text).to_be_visible()
    before = len(fetched(page, address)["passages"])
    text.focus()
    page.context.set_offline(True)
    for _ in range(3):
        page.keyboard.press("ArrowRight")
        page.keyboard.press("1")
    expect(page.get_by_text("3 codings not saved yet.")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("not saved yet")).to_have_count(0)
    assert len(fetched(page, address)["passages"]) == before + 3
    for left in (2, 1, 0):
        page.keyboard.press("Control+z")
        expect(
            page.get_by_text(f" {before + left} passages").or_(page.get_by_text(f"· {before + left} passage"))
        ).to_be_visible()


def test_two_coders_see_each_others_work_arrive(page: Page, browser: Browser, home: str, browser_context_args):
    address = open_document(page, home, "P07_kitchen_table")
    other = browser.new_context(**browser_context_args).new_page()
    open_document(other, home, "P07_kitchen_table", name="mika")
    for one in (page, other):
        expect(one.get_by_role("group", name=re.compile("^Text of P07"))).to_be_visible()
    before = len(fetched(page, address)["passages"])
    other.get_by_role("group", name=re.compile("^Text of P07")).focus()
    other.keyboard.press("ArrowRight")
    other.keyboard.type("Anger")
    other.keyboard.press("Enter")
    expect(page.get_by_role("status", name="What others do")).to_contain_text("Mika")
    expect(page.get_by_role("status", name="What others do")).to_contain_text("Put Anger on")
    expect(page.get_by_text(f"{before + 1} passages", exact=True)).to_be_visible()
    other.keyboard.press("Control+z")
    expect(page.get_by_text(f"{before} passages", exact=True)).to_be_visible()
    other.context.close()
