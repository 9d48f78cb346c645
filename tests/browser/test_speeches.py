"""A folder of 189 speeches, labelled in six ways, and a sheet that has its speakers' names: linked without a click."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import sign_in
from tests.browser.speeches import SPEAKERS, SPEECHES, folder


def test_a_folder_of_speeches_is_linked_without_a_click(page: Page, home: str, tmp_path):
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Speeches")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_text("No documents yet")).to_be_visible()
    page.locator("input[type=file]").set_input_files(folder(tmp_path))
    outcome = page.get_by_role("region", name="What will happen")
    expect(page.get_by_role("region", name="Files on their way")).to_have_count(0, timeout=60_000)
    expect(outcome).to_contain_text(re.compile(rf"{SPEECHES}\s*documents"))
    expect(outcome).to_contain_text(re.compile(rf"{SPEAKERS}\s*new people"))

    # What the labels of the hall mean is said, and corrected for all texts at once.
    page.get_by_role("button", name=re.compile("^All speakers")).click()
    audience = page.get_by_role("row").filter(has=page.get_by_label("Name of AUDIENCE in all texts"))
    expect(audience).to_contain_text("means an audience")
    expect(audience.get_by_role("button", name="Role of AUDIENCE in all texts: other")).to_be_visible()
    page.get_by_role("button", name="Tick the 7 whose role was guessed").click()
    expect(page.get_by_text("7 ticked")).to_be_visible()

    outcome.get_by_role("button", name="Bring in").click()
    expect(page.get_by_text(re.compile(f"Brought in {SPEECHES} documents, {SPEAKERS} new people, {SPEECHES} speakers linked"))).to_be_visible(timeout=120_000)  # fmt: skip
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^People")).click()
    page.get_by_role("button", name=re.compile("^Check")).click()
    expect(page.get_by_text("Every speaker is linked to a person")).to_be_visible()


def test_speakers_that_no_sheet_names_are_settled_at_once_by_keyboard(page: Page, home: str, tmp_path):
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Unnamed")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_text("No documents yet")).to_be_visible()
    files = [one for one in folder(tmp_path) if one.name.startswith("hall ")][:12]
    page.locator("input[type=file]").set_input_files(files)
    expect(page.get_by_role("region", name="Files on their way")).to_have_count(0)
    page.get_by_role("region", name="What will happen").get_by_role("button", name="Bring in").click()
    expect(page.get_by_text(re.compile("Brought in 12 documents")).last).to_be_visible(timeout=60_000)
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^People")).click()
    tray = page.get_by_role("region", name="Speakers without a link")
    expect(tray).to_contain_text("12 speakers without a person")
    # All become people with one key each for ticking and making.
    tray.get_by_role("checkbox", name="All", exact=True).press("Space")
    tray.get_by_role("button", name="New people").press("Enter")
    expect(page.get_by_text("Every speaker is linked to a person")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(tray).to_contain_text("12 speakers without a person")
