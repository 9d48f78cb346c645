"""From a researcher's own files to an exported cross-tabulation, in the real interface."""

import csv
import io
import re
import urllib.request

import docx
import openpyxl
from playwright.sync_api import Page, expect

from tests.browser.conftest import go_to, open_demo, sign_in

ANNA = "Interviewer: How do you get there?\nAnna: By bus 🚌, and it is always late.\nInterviewer: Always?\nAnna: On Mondays, yes. I walk then."
BEN = "[00:00:02] Int.: How do you get there?\n[00:00:05] Ben: I drive. It's quick.\n[00:00:09] Int.: Always?\n[00:00:11] Ben: The bus is late, they say."
SHEET = "Name,Town,Age\nAnna,North,31\nBen,South,\nCleo,North,52\n"


def own_files(folder):
    (folder / "talk_Anna.txt").write_text(ANNA, encoding="utf-8")
    (folder / "talk_Ben.txt").write_text(BEN, encoding="utf-8")
    (folder / "people.csv").write_text(SHEET, encoding="utf-8")
    (folder / "broken.docx").write_bytes(b"not a Word file")
    document = docx.Document()
    for label, said in (
        ("Interviewer: ", "And you?"),
        ("The lady in green: ", "I never go. The bus is late, I hear."),
        ("Interviewer: ", "Thanks."),
    ):
        paragraph = document.add_paragraph()
        paragraph.add_run(label).bold = True
        paragraph.add_run(said)
    document.save(folder / "market.docx")
    return sorted(folder.iterdir())


def test_own_files_to_an_exported_comparison(page: Page, home: str, tmp_path):
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Getting to work")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_text("No documents yet")).to_be_visible()

    # Bring in: four good files and a broken one.
    page.locator("input[type=file]").set_input_files(own_files(tmp_path))
    expect(page.get_by_role("heading", name="What was found")).to_be_visible()
    # An answer that is left unread would hold its connection, and a browser has six.
    page.wait_for_load_state("networkidle")
    found = page.get_by_role("region", name="What was found")
    expect(found.get_by_text("can’t be read")).to_be_visible()
    found.get_by_role("button", name=re.compile("^broken.docx")).click()
    expect(page.get_by_text("the content is plain text")).to_be_visible()
    found.get_by_role("button", name=re.compile("^talk_Ben.txt")).click()
    expect(page.get_by_role("button", name="Role of Int.: interviewer")).to_be_visible()
    expect(page.get_by_label("Name of speaker Ben")).to_have_value("Ben")
    found.get_by_role("button", name=re.compile("^people.csv")).click()
    expect(page.get_by_role("button", name="What Name is: ID of the person")).to_be_visible()
    outcome = page.get_by_role("region", name="What will happen")
    expect(outcome).to_contain_text(re.compile(r"3\s*documents"))
    outcome.get_by_role("button", name="Bring in").click()

    # Link the one speaker that nothing decides.
    expect(page.get_by_text("1 speaker without a person")).to_be_visible()
    page.get_by_role("combobox", name="Who The lady in green in market is").click()
    page.get_by_role("option", name=re.compile("Cleo")).click()
    expect(page.get_by_text("Every speaker is linked to a person")).to_be_visible()

    # Code by keyboard: a new code from what is typed, then the same code again by name.
    page.get_by_role("link", name="Go on to code").click()
    quotes = {
        "talk_Anna": "it is always late",
        "talk_Ben": "The bus is late, they say",
        "market": "The bus is late, I hear",
    }
    for title, quote in quotes.items():
        go_to(page, "Gather")
        page.get_by_role("link", name=title, exact=True).click()
        expect(page.get_by_role("group", name=f"Text of {title}.")).to_be_visible()
        choose_words(page, quote)
        line = page.get_by_label("Coding line")
        line.press_sequentially("Late bus")
        line.press("Enter")
        expect(page.get_by_role("button", name=f"Late bus on “{quote}”")).to_be_visible()

    # Compare across towns, open the evidence, export, read back.
    go_to(page, "Compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()
    north = page.get_by_role("button", name=re.compile(r"^Late bus, North: 100 %"))
    north.click()
    drawer = page.get_by_role("complementary", name="Evidence")
    expect(drawer.get_by_text("it is always late")).to_be_visible()
    expect(drawer.get_by_text("2 of 2 people · 2 passages")).to_be_visible()
    page.get_by_role("button", name="Export").click()
    with page.expect_download() as got:
        page.get_by_role("button", name="Spreadsheet (.xlsx)").click()
    sheet = openpyxl.load_workbook(io.BytesIO(got.value.path().read_bytes())).active
    header = [cell.value for cell in sheet[3]]
    row = dict(zip(header, [cell.value for cell in sheet[4]], strict=True))
    assert (row["Row"], row["North: people"], row["North: base"], row["South: share"]) == ("Late bus", 2, 2, 1)
    assert sheet["A1"].value.startswith("Compare “Late bus” across Town, counting people who mention it")
    page.get_by_role("button", name="Export").click()
    with page.expect_download() as got:
        page.get_by_role("button", name="Plain table").click()
    lines = list(csv.reader(io.StringIO(got.value.path().read_bytes().decode("utf-8-sig"))))
    assert ["Adds up: 3 passages in scope = 3 in this table."] in lines

    # Open in document leads to the passage; undo takes the last coding back.
    drawer.get_by_role("link", name="Open in document").first.click()
    expect(page.get_by_role("button", name=re.compile("^Late bus on"))).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_text(re.compile("Taken back: Put Late bus"))).to_be_visible()


def choose_words(page: Page, quote: str) -> None:
    """Select a stretch of the text as a hand on the mouse would: press at its start, let go at its end."""
    box = page.evaluate(
        """(quote) => {
            const walk = document.createTreeWalker(document.querySelector('[role=group]'), NodeFilter.SHOW_TEXT);
            for (let node = walk.nextNode(); node; node = walk.nextNode()) {
                const at = node.textContent.indexOf(quote);
                if (at < 0) continue;
                const range = document.createRange();
                range.setStart(node, at); range.setEnd(node, at + quote.length);
                const rects = [...range.getClientRects()];
                const first = rects[0], last = rects[rects.length - 1];
                return [first.left, first.top + first.height / 2, last.right, last.top + last.height / 2];
            }
        }""",
        quote,
    )
    page.mouse.move(box[0] + 1, box[1])
    page.mouse.down()
    page.mouse.move(box[2] - 1, box[3], steps=5)
    page.mouse.up()


def test_coding_by_keyboard_alone(page: Page, home: str):
    open_demo(page, home, "code")
    go_to(page, "Gather")
    page.get_by_role("link", name="P11_boathouse").click()
    text = page.get_by_role("group", name="Text of P11_boathouse")
    text.focus()
    for key in ["ArrowDown", "ArrowDown", "Shift+ArrowRight", "Shift+ArrowRight"]:
        page.keyboard.press(key)
    expect(page.get_by_text("1 passage, 2 words")).to_be_visible()
    page.keyboard.press("w")
    page.keyboard.type("ho dec")
    expect(page.get_by_role("option", selected=True)).to_contain_text("Who decided")
    page.keyboard.press("Tab")
    page.keyboard.type("pride")
    page.keyboard.press("Enter")
    words = "Thirty-one years"
    for name in ("Who decided", "Pride in the place"):
        expect(page.get_by_role("button", name=re.compile(f"^{name} on “{words}"))).to_be_visible()
    expect(text).to_be_focused()
    # A pinned key, and the words themselves as a name.
    page.keyboard.press("t")
    page.keyboard.press("1")
    expect(
        page.get_by_role(
            "button", name=re.compile("^Missed connections on “You were a skipper|^Missed connections on “Thirty")
        )
    ).to_be_visible()
    for _ in range(2):
        page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile(f"^Who decided on “{words}"))).to_have_count(0)
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_role("button", name=re.compile(f"^Who decided on “{words}"))).to_be_visible()
    page.keyboard.press("Control+z")


def test_the_address_holds_the_comparison(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("button", name="Variable: Crosses for work").click()
    page.get_by_role("option", name=re.compile("^Island")).click()
    page.get_by_role("button", name=re.compile("^Measure")).click()
    page.get_by_role("option", name=re.compile("per 1,000 words")).click()
    expect(
        page.get_by_role("button", name=re.compile(r"^Freight delays, Ytter: .*most by one: \d+ \(P14\)"))
    ).to_be_visible()
    page.get_by_role("button", name=re.compile("^Freight delays, Ytter")).click()
    expect(page.get_by_role("complementary", name="Evidence")).to_be_visible()
    page.reload()
    expect(page.get_by_role("complementary", name="Evidence").get_by_text("P14").first).to_be_visible()
    expect(page.get_by_role("button", name="Variable: Island")).to_be_visible()
    page.get_by_role("button", name="bars").click()
    expect(page.get_by_role("button", name=re.compile("^Freight delays, Ytter: .* per 1,000 words"))).to_be_visible()


def test_scope_narrows_and_clears(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("button", name="all 86 people").click()
    page.get_by_label("Filter people by name or value").fill("Holm")
    page.get_by_role("button", name=re.compile("^Only the")).click()
    page.keyboard.press("Escape")
    expect(
        page.get_by_text(re.compile(r"Leaves out 58 people · 2[0-9] of 86 people and \d+ passages of \d+ in play"))
    ).to_be_visible()
    expect(page.get_by_role("heading", level=2).first).to_contain_text("only 28 of 86 people")
    page.get_by_role("button", name="Clear", exact=True).click()
    expect(page.get_by_role("button", name="all 86 people")).to_be_visible()


def test_a_viewer_can_read_and_compare_but_not_change(page: Page, home: str):
    open_demo(page, home, "code", "vera")
    expect(page.get_by_role("complementary", name="Codebook")).to_be_visible()
    expect(page.get_by_label("Coding line")).to_have_count(0)
    go_to(page, "People")
    expect(page.get_by_role("button", name="Add a person")).to_have_count(0)
    go_to(page, "Compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()


def test_find_anything(page: Page, home: str):
    open_demo(page, home)
    page.keyboard.press("Control+k")
    page.get_by_role("combobox", name="Find anything").fill("kitchen_t")
    expect(page.get_by_role("option", name="P07_kitchen_table document")).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("group", name=re.compile("Text of P"))).to_be_visible()


def test_a_wrong_password_is_said(page: Page, home: str):
    page.goto(home)
    page.get_by_label("Name").fill("rana")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("don’t go together")


def test_the_page_itself_comes_small_and_is_kept(page: Page, home: str):
    """A first visit loads the scripts pressed; another none of them, since they are named after what is in them."""
    page.goto(home)
    scripts = page.eval_on_selector_all(
        "script[src], link[rel=stylesheet]", "found => found.map(one => one.src || one.href)"
    )
    assert scripts
    for script in scripts:
        with urllib.request.urlopen(urllib.request.Request(script, headers={"Accept-Encoding": "gzip"})) as answer:
            assert answer.headers["Content-Encoding"] == "gzip"
            assert "immutable" in answer.headers["Cache-Control"]
            assert len(answer.read()) < 400_000
    with urllib.request.urlopen(home) as answer:
        assert "immutable" not in answer.headers.get("Cache-Control", "")
