"""Memos: written with what they speak of, weeded into kinds, and taken out, by keyboard where it is quicker."""

import io
import re

import docx
from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo


def test_memos_speak_of_codes_are_of_several_kinds_and_leave(page: Page, home: str):
    open_demo(page, home, "code")
    page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name="Memos").click()
    field = page.get_by_role("textbox", name="New memo")
    field.fill("Those who own a boat wait less: ")
    field.press_sequentially("[[own bo")
    expect(page.get_by_role("listbox", name="What the memo speaks of").get_by_role("option").first).to_contain_text(
        "Own boat"
    )
    page.keyboard.press("Enter")
    expect(field).to_have_value("Those who own a boat wait less: [[Own boat]]")
    field.press("Control+Enter")
    card = page.get_by_role("article").filter(has_text="Those who own a boat wait less")
    expect(card.get_by_role("link", name="Own boat")).to_be_visible()

    page.get_by_role("button", name="Kinds …").click()
    dialog = page.get_by_role("dialog", name="Kinds of memos")
    dialog.get_by_role("textbox", name="Name of a new kind").fill("Hunches")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("textbox", name="Name of the kind “Hunches”")).to_be_visible()
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)

    card.get_by_role("checkbox").check()
    bar = page.get_by_role("region", name="With the ticked memos")
    bar.get_by_role("button", name="Give a kind").press("Enter")
    page.get_by_role("button", name="Hunches", exact=True).press("Enter")
    expect(card).to_contain_text("Reflexive, Hunches")
    page.get_by_role("button", name=re.compile("^Kind:")).click()
    page.get_by_role("option", name="Hunches").click()
    expect(page.get_by_role("article")).to_have_count(1)
    assert "kind=" in page.url
    with page.expect_download() as held:
        page.get_by_role("button", name="Take out as .docx").click()
    written = docx.Document(io.BytesIO(held.value.path().read_bytes()))
    assert "Speaks of: Own boat" in [one.text for one in written.paragraphs]

    card.get_by_role("link", name="Own boat").click()
    expect(page).to_have_url(re.compile("code/codebook.*open="))
    page.go_back()
    page.get_by_role("button", name=re.compile("^Shown as")).click()
    page.get_by_role("option", name="a list").click()
    row = page.get_by_role("row").filter(has_text="Those who own a boat")
    row.get_by_role("button").press("Enter")
    beside = page.get_by_role("complementary", name="The memo chosen")
    expect(beside.get_by_role("link", name="Own boat")).to_be_visible()
    for _ in range(3):
        with page.expect_response(re.compile("/undo")):
            page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(row).to_have_count(0)
