"""From files to an exported comparison without a mouse: brought in, linked, coded, compared, read, written, taken out, taken back.

Keys come from the keyboard only, and go where the last ones left them: nothing is clicked, filled or focused by the test."""

import csv
import io
import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import PASSWORD
from tests.browser.test_whole_path import own_files

FOCUSED = """() => {
    const one = document.activeElement;
    const seen = one.getBoundingClientRect();
    const said = one.getAttribute('aria-label') ?? one.labels?.[0]?.textContent ?? one.textContent ?? '';
    return { role: one.getAttribute('role') ?? one.tagName, said: said.replace(/\\s+/g, ' ').trim(), seen: seen.width > 0 && seen.height > 0 };
}"""
MOST_TABS = 160


def keys(page: Page, *pressed: str) -> None:
    for key in pressed:
        page.keyboard.press(key)


def reach(page: Page, name: str, backwards: bool = False) -> None:
    """By Tab to what bears this name; on the way the keys are never lost."""
    wanted = re.compile(name)
    for _ in range(MOST_TABS):
        at = page.evaluate(FOCUSED)
        if wanted.search(at["said"]) and at["role"] not in ("BODY", "MAIN", "main"):
            assert at["seen"], f"{at} has the keys and isn’t seen"
            return
        keys(page, "Shift+Tab" if backwards else "Tab")
    raise AssertionError(f"{name} isn’t reached in {MOST_TABS} Tabs; the keys are at {page.evaluate(FOCUSED)}")


def press(page: Page, name: str) -> None:
    reach(page, name)
    keys(page, "Enter")


def find(page: Page, words: str) -> None:
    """By Ctrl K to anything that has a name."""
    keys(page, "Control+k")
    expect(page.get_by_role("dialog", name="Find anything").get_by_role("combobox")).to_be_focused()
    page.keyboard.type(words)
    expect(page.get_by_role("option").first).to_contain_text(words)
    keys(page, "Enter")
    expect(page.get_by_role("dialog", name="Find anything")).to_be_hidden()


def test_an_hours_work_without_a_mouse(page: Page, home: str, tmp_path):
    # Whoever waits for a choice of files from the beginning can't come too late for it.
    page.on("filechooser", lambda chooser: None)
    page.goto(home)
    expect(page.get_by_label("Name")).to_be_focused()
    page.keyboard.type("rana")
    keys(page, "Tab")
    page.keyboard.type(PASSWORD)
    keys(page, "Enter")
    expect(page.get_by_role("heading", name="Your projects")).to_be_visible()
    press(page, "^New project")
    expect(page.get_by_label("Name", exact=True)).to_be_focused()
    page.keyboard.type("By keyboard")
    keys(page, "Enter")
    expect(page.get_by_text("No documents yet")).to_be_visible()

    # Brought in: what was found is gone through, and one file says why it can't be read.
    # What is still on its way to the page may draw it anew beneath the hand.
    page.wait_for_load_state("networkidle")
    reach(page, "^Choose files")
    expect(page.get_by_role("button", name="Choose files")).to_be_focused()
    with page.expect_file_chooser() as chooser:
        keys(page, "Enter")
    chooser.value.set_files(own_files(tmp_path))
    expect(page.get_by_role("heading", name="What was found")).to_be_visible()
    expect(page.get_by_role("region", name="What was found").get_by_text("can’t be read")).to_be_visible()
    expect(page.get_by_role("region", name="What will happen")).to_contain_text(re.compile(r"3\s*documents"))
    press(page, "^broken.docx")
    expect(page.get_by_text("the content is plain text")).to_be_visible()
    press(page, "^Bring in$")

    # Linked: the one speaker that nothing decides, chosen in a list by the first letters.
    expect(page.get_by_text("1 speaker without a person")).to_be_visible()
    reach(page, "^Who The lady in green")
    # Going past it chooses nobody.
    keys(page, "Tab", "Shift+Tab")
    expect(page.get_by_text("1 speaker without a person")).to_be_visible()
    expect(page.get_by_role("option", name=re.compile("Cleo"))).to_be_visible()
    page.keyboard.type("Cleo")
    keys(page, "Enter")
    expect(page.get_by_text("Every speaker is linked to a person")).to_be_visible()

    # A value that was missing is written into the roster.
    press(page, "^Roster")
    press(page, "Age of Ben")
    page.keyboard.type("44")
    keys(page, "Enter")
    expect(page.get_by_role("button", name=re.compile("Age of Ben: 44|Age of Ben"))).to_contain_text("44")

    # Coded: whole turns, words, the same again, a second code, in all three documents.
    find(page, "talk_Anna")
    text = page.get_by_role("group", name="Text of talk_Anna")
    expect(text).to_be_focused()
    keys(page, "u")
    page.keyboard.type("Late bus")
    keys(page, "Enter")
    expect(page.get_by_role("button", name=re.compile("^Late bus on “By bus"))).to_be_visible()
    expect(text).to_be_focused()
    keys(page, "u")
    page.keyboard.type("On foot")
    keys(page, "Enter")
    expect(page.get_by_role("button", name=re.compile("^On foot on “On Mondays"))).to_be_visible()
    find(page, "talk_Ben")
    expect(page.get_by_role("group", name="Text of talk_Ben")).to_be_focused()
    for _ in range(2):
        keys(page, "u", "=")
    expect(page.get_by_role("button", name=re.compile("^On foot on"))).to_have_count(2)
    # The last one was wrong: taken back, and put right.
    keys(page, "Control+z")
    expect(page.get_by_role("button", name=re.compile("^On foot on"))).to_have_count(1)
    keys(page, "u")
    page.keyboard.type("Late")
    expect(page.get_by_role("option", selected=True)).to_contain_text("Late bus")
    keys(page, "Enter")
    expect(page.get_by_role("button", name=re.compile("^Late bus on “The bus is late"))).to_be_visible()
    find(page, "market")
    expect(page.get_by_role("group", name="Text of market")).to_be_focused()
    keys(page, "u")
    page.keyboard.type("Late")
    keys(page, "Enter")
    expect(page.get_by_role("button", name=re.compile("^Late bus on"))).to_be_visible()

    # Compared: across towns, in another form and back; a number opened, who did not say it read, closed again.
    reach(page, "^Compare", backwards=True)
    keys(page, "Enter")
    expect(page.get_by_text("Adds up:")).to_be_visible()
    press(page, "^bars")
    expect(page.get_by_text("Thin line: 95 % interval")).to_be_visible()
    reach(page, "^table", backwards=True)
    keys(page, "Enter")
    press(page, "^Late bus, North: 100 %")
    drawer = page.get_by_role("complementary", name="Evidence")
    expect(drawer.get_by_text("2 of 2 people · 2 passages")).to_be_visible()
    keys(page, "Escape")
    expect(drawer).to_be_hidden()
    assert "Late bus, North" in page.evaluate(FOCUSED)["said"]
    reach(page, "^Measure", backwards=True)
    keys(page, "Enter", "ArrowDown", "Enter")
    expect(page.get_by_text(re.compile("counting")).first).not_to_contain_text("people who mention it")
    keys(page, "Enter", "ArrowUp", "Enter")
    expect(page.get_by_role("button", name=re.compile("Measure: people who mention it"))).to_be_visible()
    press(page, "^Keep$")
    page.keyboard.type("Who waits")
    keys(page, "Enter")
    expect(page.get_by_role("heading", name="Who waits")).to_be_visible()

    # Taken out, and read as it stands there.
    press(page, "^Export")
    reach(page, "Plain table")
    with page.expect_download() as got:
        keys(page, "Enter")
    lines = list(csv.reader(io.StringIO(got.value.path().read_bytes().decode("utf-8-sig"))))
    assert "Adds up: 5 passages in scope = 5 in this table." in [line[0] for line in lines if line]
    assert [line[0] for line in lines if line][2:4] == ["Late bus", "On foot"]
