"""Pictures of each main view from the demo project, 1280 × 800."""

import re
import shutil
import sys
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

FOLDER = Path(__file__).resolve().parent / "screenshots"
TRANSCRIPTS = Path(__file__).resolve().parent.parent / "demo"


def step(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=name).click()


def shoot(page: Page, name: str) -> None:
    page.wait_for_load_state("networkidle")
    page.screenshot(path=FOLDER / f"{name}.png")


def views(page: Page) -> None:
    expect(page.get_by_role("heading", name="Documents", level=2)).to_be_visible()
    shoot(page, "gather")
    step(page, "People")
    page.get_by_label("Filter the roster").fill("P")
    page.get_by_role("button", name="Age", exact=True).click()
    expect(page.get_by_role("slider", name="Cut 1")).to_be_visible()
    shoot(page, "people")
    step(page, "Gather")
    page.get_by_role("link", name="P26_at_the_lift").click()
    expect(page.get_by_role("button", name="Play turn 1")).to_be_visible()
    expect(page.get_by_role("complementary", name="Codebook")).to_be_visible()
    shoot(page, "recording")
    step(page, "Gather")
    page.get_by_role("link", name="P02_at_the_board").click()
    expect(page.get_by_text("0 of 7 turns typed")).to_be_visible()
    page.keyboard.type("Can you say where you are standing?")
    page.keyboard.press("Enter")
    expect(page.get_by_text("1 of 7 turns typed")).to_be_visible()
    shoot(page, "typing")
    # Nothing of it stays.
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_text("0 of 7 turns typed")).to_be_visible()
    for said in page.get_by_role("button", name="Dismiss").all():
        said.click()
    step(page, "Gather")
    page.get_by_role("link", name="P07_kitchen_table").click()
    text = page.get_by_role("group", name=re.compile("^Text of P07"))
    text.focus()
    for key in ["ArrowDown"] * 6 + ["ArrowRight"] * 4 + ["Shift+ArrowRight"] * 5:
        page.keyboard.press(key)
    page.keyboard.type("who")
    expect(page.get_by_role("listbox", name="Codes")).to_be_visible()
    shoot(page, "code")
    page.keyboard.press("Escape")
    pages = page.get_by_role("navigation", name="Pages of coding")
    pages.get_by_role("link", name="Codebook").click()
    page.get_by_role("button", name="Asked, not heard").click()
    expect(page.get_by_role("complementary", name="The code chosen").get_by_role("heading").first).to_be_visible()
    shoot(page, "codebook")
    pages.get_by_role("link", name="Answers").click()
    page.get_by_role("button", name=re.compile("^Order")).click()
    page.get_by_role("option", name="Like ones together").click()
    sheet = page.get_by_role("group", name=re.compile("^Answers"))
    sheet.focus()
    page.keyboard.press("Shift+ArrowDown")
    expect(page.get_by_text("2 answers ticked")).to_be_visible()
    shoot(page, "answers")
    page.keyboard.press("Escape")
    pages.get_by_role("link", name="Themes").click()
    page.get_by_role("button", name=re.compile("^Read")).nth(1).click()
    expect(page.get_by_role("complementary", name="Passages of the theme").get_by_role("link").first).to_be_visible()
    shoot(page, "themes")
    pages.get_by_role("link", name="Guide").click()
    page.get_by_role("button", name="Who do you think decided it?", exact=True).click()
    expect(page.get_by_role("region", name="Turns").get_by_role("link").first).to_be_visible()
    shoot(page, "guide")
    pages.get_by_role("link", name="Topics").click()
    topics = page.get_by_role("region", name="Topics")
    topics.get_by_role("button", name="waiting room", exact=True).click()
    expect(page.get_by_role("list", name="Hits").get_by_role("checkbox").first).to_be_visible()
    shoot(page, "topics")
    pages.get_by_role("link", name="Find").click()
    page.get_by_label("What to find").fill("ask late")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("hits by"))).to_be_visible()
    shoot(page, "find")
    step(page, "Compare")
    page.get_by_role("button", name=re.compile("^Missed connections, daily")).click()
    expect(page.get_by_role("complementary", name="Evidence").get_by_role("blockquote").first).to_be_visible()
    shoot(page, "compare")
    page.get_by_role("button", name="Close the evidence").click()
    page.get_by_role("button", name="gaps", exact=True).click()
    page.emulate_media(color_scheme="dark")
    shoot(page, "night")
    page.emulate_media(color_scheme="light")
    further(page)
    bring_in(page)


def further(page: Page) -> None:
    """The other pages of comparing, and what goes into a report."""
    pages = page.get_by_role("navigation", name="Pages of comparing")
    pages.get_by_role("link", name="Codes with codes").click()
    expect(page.get_by_role("region", name="Meet most")).to_be_visible()
    shoot(page, "together")
    pages.get_by_role("link", name="Passages", exact=True).click()
    page.get_by_role("button", name="Late, and what it costs nearby", exact=True).click()
    expect(page.get_by_role("region", name="Passages found").get_by_role("blockquote").first).to_be_visible()
    shoot(page, "queries")
    pages.get_by_role("link", name="Overview").click()
    expect(page.get_by_role("button", name=re.compile("^Getting across: "))).to_be_visible()
    shoot(page, "overview")
    pages.get_by_role("link", name="Frozen").click()
    page.get_by_role("button", name=re.compile("^Missed connections, daily: 82 %, 9 of 11; now")).click()
    expect(page.get_by_role("complementary", name="What changed").get_by_role("blockquote").first).to_be_visible()
    shoot(page, "frozen")
    step(page, "Report")
    expect(page.get_by_role("region", name="Four minutes")).to_be_visible()
    shoot(page, "exhibit")


def bring_in(page: Page) -> None:
    """In a project of its own, so that the files are new to it."""
    page.goto(page.url.split("/projects/")[0])
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Bringing in")
    page.get_by_role("button", name="Make the project").click()
    names = (
        "participants.xlsx",
        "survey_households.xlsx",
        "material/P26_at_the_lift.ogg",
        "material/P26_at_the_lift.vtt",
    )
    files = [*(TRANSCRIPTS / name for name in names), *sorted((TRANSCRIPTS / "transcripts").iterdir())[:6]]
    page.locator("input[type=file]").set_input_files(files)
    expect(page.get_by_role("heading", name="What will happen")).to_be_visible()
    page.get_by_role("button", name=re.compile("^survey_households")).first.click()
    expect(page.get_by_text("without any answer in words")).to_be_visible()
    shoot(page, "bring-in")
    page.get_by_role("button", name="Forget all").click()
    expect(page.get_by_text("Nothing waits")).to_be_visible()
    page.goto(re.sub("/gather.*", "/members", page.url))
    page.get_by_label("The project’s name, to delete it").fill("Bringing in")
    page.get_by_role("button", name="Delete for good").click()
    expect(page.get_by_role("heading", name="Your projects")).to_be_visible()


def main(home: str) -> None:
    FOLDER.mkdir(exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=shutil.which("chromium"),
            args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(home)
        page.get_by_label("Name").fill("rana")
        page.get_by_label("Password").fill("after-the-winter")
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("link", name="After the winter timetable").click()
        views(page)
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1])
