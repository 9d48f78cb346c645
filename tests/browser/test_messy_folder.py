"""A messy folder and a messy sheet become a linked project: brought in, put right, linked, undone whole."""

import re
import wave
from pathlib import Path

import docx
import openpyxl
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import go_to, open_demo, sign_in

SAMPLES = Path(__file__).resolve().parents[1] / "samples"
VTT = (
    "WEBVTT\n\n00:00.000 --> 00:02.000\n<v INT>So how is the bus?\n\n00:02.500 --> 00:06.000\n<v Olav>Late and cold.\n"
)


def commented() -> docx.document.Document:
    document = docx.Document()
    for label, said in (
        ("Int.: ", "How was it?"),
        ("Berit: ", "The boat left without me."),
        ("Int.: ", "And?"),
        ("Berit: ", "I walked."),
    ):
        paragraph = document.add_paragraph()
        paragraph.add_run(label).bold = True
        run = paragraph.add_run(said)
        if "boat" in said:
            document.add_comment(run, text="Missed boats", author="Kim", initials="K")
    return document


@pytest.fixture
def folder(tmp_path):
    commented().save(tmp_path / "Berit_quay.docx")
    (tmp_path / "talk.vtt").write_text(VTT, encoding="utf-8")
    with wave.open(str(tmp_path / "talk.wav"), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(8000)
        file.writeframes(b"\0\0" * 8000 * 8)
    Image.new("RGB", (300, 200), "#345").save(tmp_path / "board.png")
    (tmp_path / "notice.pdf").write_bytes((SAMPLES / "office.pdf").read_bytes())
    (tmp_path / "market.txt").write_text(
        "INTERVIEWER: Well?\nCleo Lindd: Never heard.\nINTERVIEWER: No?\nCleo Lindd: No.\n"
    )
    book = openpyxl.Workbook()
    for row in (
        ["Survey, winter"],
        ["ID", "Name", "Town", "Age", "What is hardest for you here?"],
        ["B1", "Berit", "North", 31, "Getting home after a late shift in the snow"],
        ["B2", "Olav", "South", -99, None],
        ["B3", "Cleo Lind", "North", 52, "Nobody ever tells us about a change in time"],
    ):
        book.active.append(row)
    book.save(tmp_path / "people.xlsx")
    return sorted(tmp_path.iterdir())


def test_a_messy_folder_becomes_a_linked_project_and_is_undone_whole(page: Page, home: str, folder):
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Messy")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_text("No documents yet")).to_be_visible()
    page.locator("input[type=file]").set_input_files(folder)
    found = page.get_by_role("region", name="What was found")
    outcome = page.get_by_role("region", name="What will happen")
    expect(found).to_be_visible()

    # The sheet: a title above the names, a code for a missing value, answers in people's own words.
    found.get_by_role("button", name=re.compile("^people.xlsx")).click()
    expect(page.get_by_text("The column names are read from row 2")).to_be_visible()
    expect(page.get_by_text("-99 as not answered")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^What What is hardest.*: Answer to code"))).to_be_visible()
    expect(page.get_by_text("1 row without any answer in words.")).to_be_visible()
    expect(outcome).to_contain_text("2 documents of answers to code")

    # All speakers at once: three ways of writing one interviewer become one.
    found.get_by_role("button", name=re.compile("^All speakers")).click()
    for label in ("INT", "Int.", "INTERVIEWER"):
        page.get_by_role("checkbox", name=f"Tick {label}", exact=True).check()
    page.get_by_role("button", name=re.compile("^Merge into")).click()
    expect(page.get_by_text(re.compile("written .*INT"))).to_be_visible()

    # A recording finds its text by name; a comment is offered.
    found.get_by_role("button", name=re.compile("^talk.vtt")).click()
    expect(page.get_by_text("the two become one document")).to_be_visible()
    found.get_by_role("button", name=re.compile("^Berit_quay.docx")).click()
    page.get_by_role("button", name="Codes, where short").click()
    expect(page.get_by_role("button", name="Codes, where short")).to_have_attribute("aria-pressed", "true")
    outcome.get_by_role("button", name="Bring in").click()

    # Sure by name; the misspelt one is only offered.
    page.get_by_text(re.compile("Brought in 5 documents")).first.wait_for()
    expect(page.get_by_text("“Cleo Lindd” is written much like “Cleo Lind”, a name of B3")).to_be_visible()
    page.get_by_role("checkbox", name="Tick Cleo Lindd in market").check()
    page.get_by_role("button", name="Link 1 as proposed").click()
    expect(page.get_by_text("“Cleo Lindd” is written")).to_have_count(0)

    # The comment is a code on its words; the recording has its player, the notice its page.
    go_to(page, "Gather")
    page.get_by_role("link", name="Berit_quay", exact=True).click()
    expect(page.get_by_role("button", name="Missed boats on “The boat left without me.”")).to_be_visible()
    go_to(page, "Gather")
    page.get_by_role("link", name="talk", exact=True).click()
    page.get_by_role("button", name="Play turn 2").click()
    expect(page.locator("#turn-2")).to_have_class(re.compile("bg-spruce-soft"))
    go_to(page, "Gather")
    page.get_by_role("link", name="notice", exact=True).click()
    drawn = page.get_by_role("img", name="notice, page 1")
    expect(drawn).to_be_visible()
    assert drawn.evaluate("image => image.decode().then(() => image.naturalWidth)") == 1100

    # Undo: first the link, then the import whole; redo brings all of it back.
    go_to(page, "Gather")
    page.get_by_role("heading", name="Documents", level=2).click()
    page.keyboard.press("Control+z")
    expect(page.get_by_text(re.compile("Taken back: Linked 1 speaker"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("No documents yet")).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_role("link", name="Berit_quay", exact=True)).to_be_visible()


def test_bands_by_dragging_become_groups_of_a_comparison(page: Page, home: str):
    open_demo(page, home, "people")
    page.get_by_role("button", name="Years on the islands", exact=True).click()
    handle = page.get_by_role("slider", name="Cut 1")
    expect(handle).to_be_visible()
    before = handle.get_attribute("aria-valuetext")
    box = handle.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 - 25, box["y"] + 4, steps=5)
    page.mouse.up()
    after = handle.get_attribute("aria-valuetext")
    assert int(after) < int(before)
    page.get_by_role("button", name="Make the variable").last.click()
    expect(page.get_by_text("“Years on the islands, bands” is made")).to_be_visible()
    go_to(page, "Compare")
    page.get_by_role("button", name=re.compile("^Variable: ")).click()
    page.get_by_role("option", name=re.compile("^Years on the islands, bands")).click()
    expect(page.get_by_role("columnheader", name=re.compile(f"^.? ?under {after}"))).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_text("Taken back: Made the variable “Years on the islands, bands”")).to_be_visible()


def test_a_coded_text_is_changed_and_its_passages_stay(page: Page, home: str):
    open_demo(page, home)
    page.get_by_role("link", name="P15_slipway_bench", exact=True).click()
    card = page.get_by_role("button", name=re.compile("^Staying over in town on “I've slept at the garage"))
    expect(card).to_be_visible()
    page.get_by_role("button", name="Turn 10: split, join, change").click()
    page.get_by_role("menuitem", name="Change the text …").click()
    field = page.get_by_role("textbox", name="What the turn says")
    field.fill(field.input_value().replace("slept", "often slept"))
    page.get_by_role("button", name="Keep the change").click()
    expect(
        page.get_by_role("button", name=re.compile("^Staying over in town on “I've often slept at the garage"))
    ).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(card).to_be_visible()


def test_a_block_is_pasted_into_the_roster(page: Page, home: str):
    open_demo(page, home, "people")
    page.get_by_role("textbox", name="Filter the roster").fill("P0")
    cell = page.get_by_role("button", name="Age of P01: 34")
    cell.focus()
    page.evaluate(
        """(text) => {
            const data = new DataTransfer();
            data.setData("text/plain", text);
            document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
        }""",
        "35\tweekly\n72\tdaily\n",
    )
    expect(page.get_by_text("4 values changed.")).to_be_visible()
    expect(page.get_by_role("button", name="Crosses for work of P02: daily")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_role("button", name="Age of P01: 34")).to_be_visible()
