"""Somebody withdraws: an owner sees what would go, types the name, and they are nowhere any more."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo


def test_somebody_who_withdraws_is_forgotten_by_keyboard(page: Page, home: str, tmp_path):
    open_demo(page, home)
    page.goto(home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Who withdraws")
    page.get_by_role("button", name="Make the project").click()
    (tmp_path / "Ada.txt").write_text(
        "Interviewer: And?\nAda: The lantern of Wexcombe never burned.\n", encoding="utf-8"
    )
    (tmp_path / "people.csv").write_text("ID,Town\nAda,Wexcombe\nBea,Holm\n", encoding="utf-8")
    page.locator("input[type=file]").set_input_files([tmp_path / "Ada.txt", tmp_path / "people.csv"])
    page.get_by_role("region", name="What will happen").get_by_role("button", name="Bring in").click()
    expect(page.get_by_role("heading", name="Every speaker is linked to a person")).to_be_visible()
    page.goto(f"{re.match(r'.*/projects/[0-9]+', page.url)[0]}/members")
    page.get_by_label("Which person to forget").fill("Ada")
    # Whoever it is has to be known first.
    expect(page.get_by_role("button", name="See what would go")).to_be_enabled()
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog", name="What would go for good")
    expect(dialog).to_contain_text("Whole: Ada")
    expect(dialog.get_by_role("button", name="Forget for good")).to_be_disabled()
    dialog.get_by_label(re.compile("^Type Ada")).fill("Ada")
    page.keyboard.press("Enter")
    expect(page.get_by_text("The person is forgotten.")).to_be_visible()
    steps = page.get_by_role("navigation", name="Steps")
    steps.get_by_role("link", name=re.compile("^People")).click()
    expect(page.get_by_text("Bea", exact=True).first).to_be_visible()
    expect(page.get_by_text("Ada", exact=True)).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_be_disabled()
