"""The interview guide: from its file to who was asked what, put right by hand."""

import re

import docx
from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo, sign_in

TALK = "INT: How often do you cross?\nANA: Daily.\nINT: And who decided that?\nANA: Nobody asked us.\nINT: Hm.\nANA: The wind decides."
OTHER = "INT: Well, how often do you cross, then?\nBO: Never.\nINT: Thank you.\nBO: Who decided? Not I."
SHEET = "ID;Island\nANA;Holm\nBO;Ytter\n"


def test_a_guide_in_a_file_says_who_was_asked_what(page: Page, home: str, tmp_path):
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Guided")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_text("No documents yet")).to_be_visible()
    for name, text in (("Pier.txt", TALK), ("Garden.txt", OTHER), ("people.csv", SHEET)):
        (tmp_path / name).write_text(text)
    page.locator("input[type=file]").set_input_files(sorted(tmp_path.iterdir()))
    expect(page.get_by_role("region", name="Files on their way")).to_have_count(0)
    page.get_by_role("region", name="What will happen").get_by_role("button", name="Bring in").click()
    expect(page.get_by_text(re.compile("Brought in 2 documents")).last).to_be_visible()
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^Code")).click()
    page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name="Guide").click()

    file = tmp_path / "guide.docx"
    made = docx.Document()
    for line in ("Interview guide", "1. How often do you cross?", "2. Who decided it?"):
        made.add_paragraph(line)
    made.save(str(file))
    page.get_by_role("button", name="Write the questions …").click()
    page.get_by_label("The guide’s file").set_input_files(file)
    expect(page.get_by_label("Questions, a line each")).to_have_value("How often do you cross?\nWho decided it?")
    page.get_by_role("button", name="Keep 2 questions").click()
    page.get_by_role("button", name="Match the turns").click()
    expect(page.get_by_text("3 of 5 turns of interviewers ask a question of the guide.")).to_be_visible()
    row = page.get_by_role("row").filter(has=page.get_by_role("button", name="Who decided it?", exact=True))
    expect(row.get_by_role("cell").nth(1)).to_contain_text("1 of 1 asked")
    expect(row.get_by_role("cell").nth(2)).to_contain_text("0 of 1 asked")

    # What the likeness didn't see is said by hand, and taken back.
    turns = page.get_by_role("region", name="Turns")
    turns.get_by_role("checkbox", name="Tick turn 3 of Garden").check()
    turns.get_by_role("button", name="What the turn ticked asks").click()
    page.get_by_role("option", name="Who decided it?").click()
    expect(row.get_by_role("cell").nth(2)).to_contain_text("1 of 1 asked")
    page.keyboard.press("Control+z")
    expect(row.get_by_role("cell").nth(2)).to_contain_text("0 of 1 asked")


def test_the_demos_guide_narrows_with_the_scope_and_leads_into_the_text(page: Page, home: str):
    open_demo(page, home, "code")
    page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name="Guide").click()
    expect(
        page.get_by_text(re.compile("54 people talk with no interviewer|60 people talk with no interviewer"))
    ).to_be_visible()
    page.get_by_role("button", name="Who do you think decided it?", exact=True).click()
    turns = page.get_by_role("region", name="Turns")
    turns.get_by_role("link", name="P19_smithy_yard").click()
    expect(page.get_by_role("group", name=re.compile("^Text of P19"))).to_contain_text("Who do you think decided it?")


def test_those_who_were_asked_are_compared_by_keyboard_and_evidence_says_who_was(page: Page, home: str):
    open_demo(page, home, "code")
    page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name="Guide").click()
    onwards = page.get_by_role("link", name="Compare those who were asked")
    onwards.focus()
    page.keyboard.press("Enter")
    base = page.get_by_role("button", name=re.compile("^Base"))
    expect(base).to_contain_text("people who were asked about it")
    expect(page.get_by_text(re.compile("by people who weren’t asked about it"))).to_be_visible()
    expect(page.get_by_role("columnheader", name=re.compile("Everyone"))).to_contain_text("people asked")

    # Who didn't say it was asked: nobody else is in the base.
    page.get_by_role("button", name=re.compile("^Health appointments moved, Norrby")).focus()
    page.keyboard.press("Enter")
    drawer = page.get_by_role("complementary", name="Evidence")
    drawer.get_by_role("button", name=re.compile("^Didn’t")).click()
    expect(drawer.get_by_text("was asked", exact=True).first).to_be_visible()
    expect(drawer.get_by_text("wasn’t asked")).to_have_count(0)
    page.keyboard.press("Escape")

    # Of everybody with material, only what nobody had asked for.
    base.click()
    page.get_by_role("option", name=re.compile("people with material")).click()
    expect(page.get_by_role("columnheader", name=re.compile("Everyone"))).not_to_contain_text("asked")
    page.get_by_role("button", name=re.compile("^When asked or not")).focus()
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="When asked or not: of their own accord")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Missed connections, Norrby")).click()
    passages = drawer.get_by_role("blockquote")
    expect(passages.first).to_contain_text("of their own accord")
    expect(passages.filter(has_text="when asked")).to_have_count(0)


def test_a_date_is_an_axis_by_month_or_quarter(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("button", name=re.compile("Crosses for work")).first.click()
    page.get_by_role("option", name=re.compile("^Date")).click()
    expect(page.get_by_role("columnheader", name=re.compile("^2026-01"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Length of a period")).click()
    page.get_by_role("option", name="quarter").click()
    expect(page.get_by_role("columnheader", name=re.compile("^2026 Q2"))).to_be_visible()
    expect(page).to_have_url(re.compile("period=quarter"))
