"""All that Compare does beyond its table, by the real interface: forms, frozen results, queries, codes with codes."""

import csv
import io
import re

import docx
import openpyxl
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import go_to, open_demo, sign_in

# Snee 1974, The American Statistician 28: hair by eye colour of 592 students, a public categorical data set.
HAIR = ("black", "brown", "red", "blond")
EYES = {"brown": (68, 119, 26, 7), "blue": (20, 84, 17, 94), "hazel": (15, 54, 14, 10), "green": (5, 29, 14, 16)}


def test_every_form_is_drawn_and_opens(page: Page, home: str):
    open_demo(page, home, "compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()
    drawer = page.get_by_role("complementary", name="Evidence")
    marks = {
        "flow": r"^Missed connections, daily: 10 of 11",
        "tiles": r"^Missed connections, daily: 10 of 11",
        "matrix": r"^Missed connections, daily: 91 %",
        "map": r"^Missed connections: \d+ % of its place",
        "one by one": r"^Missed connections, P\d+: \d passage",
        "by a number": r"^Missed connections$",
        "waves": r"^Missed connections, daily: 91 %",
        "bars": r"^Missed connections, daily: 91 %",
    }
    for form, name in marks.items():
        page.get_by_role("button", name=form, exact=True).click()
        mark = page.locator("[data-form]").get_by_role("button", name=re.compile(name)).first
        mark.focus()
        page.keyboard.press("Enter")
        expect(drawer.get_by_role("heading", name="Missed connections")).to_be_visible()
        drawer.get_by_role("button", name="Close the evidence").click()
        expect(drawer).to_be_hidden()
    page.get_by_role("button", name="Stack to 100 %").click()
    expect(page.get_by_role("button", name=re.compile("^Missed connections, daily: 67 %, 10"))).to_be_visible()
    page.get_by_role("button", name="table", exact=True).click()
    page.get_by_role("button", name="Swap sides").click()
    expect(page.get_by_role("columnheader", name="Missed connections")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Order of rows")).click()
    page.get_by_role("option", name="like ones together").click()
    page.reload()
    expect(page.get_by_role("rowheader", name=re.compile("daily"))).to_be_visible()


def test_a_frozen_result_tells_which_coding_changed_it(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("link", name="Frozen", exact=True).click()
    page.get_by_role("link", name=re.compile("^Who carries the crossing, first reading")).click()
    expect(page.get_by_text("One cell differs today")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Missed connections, daily: 82 %, 9 of 11; now")).click()
    change = page.get_by_role("complementary", name="What changed")
    expect(change.get_by_text(re.compile("^Missed connections, by Rana Aske on "))).to_be_visible()
    page.get_by_role("link", name="Open the comparison as it is today").click()
    noted = page.get_by_role("button", name=re.compile("^Missed connections, daily: 91 %"))
    expect(noted.get_by_text("with a note")).to_be_attached()
    noted.click()
    expect(page.get_by_text("ask again in spring")).to_be_visible()
    page.get_by_label("Note on this cell").last.fill("Read the drawer first")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Read the drawer first")).to_be_visible()
    page.get_by_role("button", name="Freeze").click()
    page.get_by_label("Name of the frozen result").fill("Second reading")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing has changed since: today gives the same.")).to_be_visible()


def test_passages_by_conditions_are_saved_and_compared(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("link", name="Passages", exact=True).click()
    page.get_by_role("button", name=re.compile("^Add a condition")).click()
    page.get_by_role("option", name=re.compile("^whose words hold")).click()
    page.get_by_label("Words of the passage").fill("boat")
    found = page.get_by_role("region", name="Passages found").get_by_role("status")
    expect(found).to_contain_text(re.compile(r"^\d+ passages by \d+ people"))
    page.get_by_role("button", name=re.compile("^Add a condition")).click()
    page.get_by_role("option", name=re.compile("^coded with")).click()
    page.get_by_role("button", name="Codes: choose codes").click()
    page.get_by_label("Find codes").fill("Own boat")
    page.get_by_role("checkbox", name="Own boat").check()
    page.keyboard.press("Escape")
    expect(found).to_contain_text(re.compile(r"^\d passages? by \d (person|people)"))
    page.get_by_role("button", name="Save this query").click()
    page.get_by_label("Name of the query").fill("Boats of their own")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Saved · live")).to_be_visible()
    page.get_by_label("Words of the passage").fill("zebra crossing")
    expect(page.get_by_text("Condition 1 left nothing.")).to_be_visible()
    listed = (
        page.get_by_role("complementary", name="Saved queries")
        .get_by_role("listitem")
        .filter(has_text="Boats of their own")
    )
    listed.get_by_role("link", name="Compare").click()
    expect(page.get_by_role("rowheader", name=re.compile("Boats of their own"))).to_be_visible()


def test_codes_with_codes_near_each_other_by_group(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("link", name="Codes with codes", exact=True).click()
    table = page.get_by_role("table")
    pair = "^Missed connections with Leaving before dark lifts: "
    expect(table.get_by_role("button", name=re.compile(pair + "[1-9],"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^How near")).click()
    page.get_by_role("option", name="at most some turns apart").click()
    page.get_by_label("Distance").fill("3")
    table.get_by_role("button", name=re.compile(pair + r"([3-9]|1\d),")).click()
    drawer = page.get_by_role("complementary", name="Evidence")
    expect(drawer.get_by_text(re.compile(r"^\d+ pairs of passages"))).to_be_visible()
    expect(drawer.get_by_role("link", name="Open in document").first).to_be_visible()
    page.get_by_role("button", name=re.compile("^Groups: ")).click()
    page.get_by_role("option", name="Vehicle").click()
    expect(page.get_by_role("heading", name="Differences in likeness")).to_be_visible()


def test_a_scope_by_conditions_is_counted_saved_and_told_when_it_leaves_nothing(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("button", name="Saved scopes").click()
    page.get_by_role("button", name=re.compile("^Only ")).first.click()
    expect(page.get_by_text(re.compile(r"^\d+ of 86 people and \d+ passages of \d+ in play"))).to_be_visible()
    expect(page.get_by_role("heading", level=2).first).to_contain_text("only")
    page.get_by_role("button", name="people by 1 condition").click()
    page.get_by_label("Last day").fill("2020-01-01")
    page.get_by_role("button", name="Done").click()
    expect(page.get_by_text("No passage is left: the last day left none.")).to_be_visible()
    page.get_by_role("button", name="Clear").click()
    expect(page.get_by_role("button", name="no further conditions")).to_be_visible()


def test_everything_leaves_as_a_file(page: Page, home: str):
    open_demo(page, home, "compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()

    def file(name: str) -> bytes:
        page.get_by_role("button", name="Export").click()
        with page.expect_download() as got:
            page.get_by_role("dialog", name="Export").get_by_role("button", name=name).click()
        return got.value.path().read_bytes()

    drawn = file("Drawing (.svg)").decode()
    assert drawn.startswith("<svg")
    assert {"Missed connections", "daily", "91"} <= set(re.findall(r"<text[^>]*>([^<]+)</text>", drawn))
    assert "Compare 7 codes under Getting across" in drawn
    assert file("Picture (.png)")[:8] == b"\x89PNG\r\n\x1a\n"
    words = [paragraph.text for paragraph in docx.Document(io.BytesIO(file("Document (.docx)"))).paragraphs]
    assert any(text.startswith("For each row we counted the people") for text in words)
    lines = openpyxl.load_workbook(io.BytesIO(file("Spreadsheet of passages (.xlsx)"))).active
    assert lines.max_row > 100


def test_a_large_table_draws_what_is_in_view_and_stays_legible(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("button", name="7 codes under Getting across").click()
    page.get_by_role("button", name="All codes").click()
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("^Variable: ")).click()
    page.get_by_role("option", name=re.compile("^each person")).click()
    table = page.locator("[data-in-view]")
    expect(table.get_by_role("columnheader", name=re.compile("H01"))).to_be_visible()
    assert table.get_by_role("button").count() < 500
    table.evaluate("box => { box.scrollTop = box.scrollHeight; box.scrollLeft = 3000; }")
    # What was out of view is there now; the names of the rows stay.
    expect(table.get_by_role("rowheader", name=re.compile("Somebody local in charge"))).to_be_in_viewport()
    cell = table.get_by_role("button", name=re.compile(r"^Somebody local in charge, [HP]\d\d: "))
    expect(cell.first).to_be_in_viewport()
    page.get_by_role("button", name="Export").click()
    page.get_by_role("button", name="Drawing (.svg)").click()
    expect(page.get_by_text("That is too large for one picture")).to_be_visible()
    page.get_by_role("button", name="matrix", exact=True).click()
    expect(page.get_by_text("are too many marks to tell apart")).to_have_count(0)


def test_passages_go_into_an_exhibit_from_the_drawer_and_come_out_as_a_file(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("button", name=re.compile("^Health appointments moved, never")).click()
    drawer = page.get_by_role("complementary", name="Evidence")
    drawer.get_by_role("button", name="Exhibit").first.click()
    page.get_by_role("menuitem", name="A new exhibit …").click()
    page.get_by_label("Name of the exhibit").fill("Waiting rooms")
    page.keyboard.press("Enter")
    expect(page.get_by_text("The exhibit “Waiting rooms” is made")).to_be_visible()
    drawer.get_by_role("button", name="Exhibit").nth(1).click()
    page.get_by_role("menuitem", name="Waiting rooms").click()
    expect(page.get_by_text("1 passage put into “Waiting rooms”.")).to_be_visible()
    drawer.get_by_role("button", name=re.compile("^Write a digest of P")).first.click()
    drawer.get_by_role("textbox", name=re.compile("^Digest of P")).fill("Waits, and says so.")
    drawer.get_by_role("button", name="Keep").click()
    expect(drawer.get_by_text("Waits, and says so.")).to_be_visible()
    drawer.get_by_role("button", name="Around it").click()
    expect(drawer.get_by_text("Other codes on these words")).to_be_visible()
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Report").click()
    page.get_by_role("link", name=re.compile("^Waiting rooms")).click()
    exhibit = page.get_by_role("region", name="Waiting rooms")
    expect(exhibit.get_by_role("listitem")).to_have_count(2)
    before = exhibit.get_by_role("blockquote").first.inner_text()
    exhibit.get_by_role("button", name="A word less at the start").first.click()
    expect(exhibit.get_by_role("blockquote").first).to_have_text(re.compile("^… "))
    caption = exhibit.get_by_label("Caption of passage 1")
    caption.fill("Three times moved")
    caption.press("Enter")
    exhibit.get_by_role("button", name="Passage 1 one place down").click()
    expect(exhibit.get_by_label("Caption of passage 2")).to_have_value("Three times moved")
    with page.expect_download() as got:
        exhibit.get_by_role("link", name=".docx").click()
    words = [paragraph.text for paragraph in docx.Document(io.BytesIO(got.value.path().read_bytes())).paragraphs]
    assert words[0] == "Waiting rooms"
    assert "Three times moved" in words
    assert f"“… {before.partition(' ')[2]}”" in words
    page.keyboard.press("Control+z")
    expect(exhibit.get_by_label("Caption of passage 1")).to_have_value("Three times moved")


def test_found_passages_are_frozen_and_leave_as_a_file(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("link", name="Passages", exact=True).click()
    page.get_by_role("button", name="Late, and what it costs nearby", exact=True).click()
    found = page.get_by_role("region", name="Passages found")
    expect(found.get_by_role("status")).to_contain_text("25 passages by 15 people")
    found.get_by_role("button", name="Export").click()
    with page.expect_download() as got:
        page.get_by_role("button", name="Spreadsheet (.xlsx)").click()
    sheet = openpyxl.load_workbook(io.BytesIO(got.value.path().read_bytes())).active
    assert sheet["A1"].value.startswith("Passages coded with any of “Missed connections”, “Leaving before dark lifts”")
    assert len({row[3] for row in sheet.iter_rows(min_row=4, values_only=True)}) == 25
    found.get_by_role("button", name="Freeze").click()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing has changed since: today finds the same.")).to_be_visible()
    expect(page.get_by_role("region", name="Found then").get_by_role("heading")).to_contain_text(
        "25 passages by 15 people"
    )


@pytest.fixture
def answers(tmp_path):
    """592 rows: who, their hair, and the answer to "What colour are your eyes?"."""
    path = tmp_path / "students.csv"
    with path.open("w", newline="", encoding="utf-8") as out:
        writer = csv.writer(out)
        writer.writerow(["ID", "Hair", "What colour are your eyes?"])
        number = 0
        for eye, counts in EYES.items():
            for hair, count in zip(HAIR, counts, strict=True):
                for _ in range(count):
                    number += 1
                    writer.writerow([f"S{number:03}", hair, f"They are {eye}."])
    return path


def test_a_public_data_set_gives_its_published_table_and_statistics(page: Page, home: str, answers):
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Hair and eyes")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_text("No documents yet")).to_be_visible()
    page.locator("input[type=file]").set_input_files(answers)
    column = page.get_by_role("button", name=re.compile("^What What colour are your eyes"))
    expect(column).to_be_visible()
    if "Answer to code" not in (column.get_attribute("aria-label") or ""):
        column.click()
        page.get_by_role("option", name=re.compile("^Answer to code")).click()
    outcome = page.get_by_role("region", name="What will happen")
    expect(outcome).to_contain_text("592 documents of answers to code")
    outcome.get_by_role("button", name="Bring in").click()
    page.get_by_role("heading", name="Every speaker is linked to a person").wait_for(timeout=240_000)
    project = re.search(r"/projects/(\d+)", page.url)
    assert project is not None
    for eye in EYES:
        page.goto(f"{home}/projects/{project[1]}/code/find?text={eye}")
        page.get_by_role("checkbox", name="tick all shown").check()
        line = page.get_by_role("combobox").last
        line.fill(f"{eye.title()} eyes")
        line.press("Enter")
        expect(page.get_by_text(f"{sum(EYES[eye])} passages coded.")).to_be_visible()
    go_to(page, "Compare")
    for eye, counts in EYES.items():
        for place, hair in enumerate(HAIR):
            base = sum(one[place] for one in EYES.values())
            figure = page.get_by_role("button", name=re.compile(f"^{eye.title()} eyes, {hair}: "))
            expect(figure).to_contain_text(f"{counts[place]} of {base}")
    # Snee 1974, recomputed with an independent package: X² 138.29 on 9 degrees, Cramér's V .279.
    expect(page.get_by_text("χ² 138.29, df 9, p < .0001; Cramér’s V 0.279")).to_be_visible()
    # By scipy.stats.contingency.expected_freq and the formula of Haberman 1973: brown eyes of black-haired students.
    brown = page.get_by_role("button", name=re.compile("^Brown eyes, black: "))
    assert "adjusted residual 6.14" in (brown.get_attribute("aria-label") or "")
