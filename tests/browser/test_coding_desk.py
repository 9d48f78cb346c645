"""A hundred passages coded by keyboard alone, and a codebook merged, split, drawn into themes, each taken back."""

import re

import regex
from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo, sign_in

TURNS = [
    "Interviewer: So, how was the winter?",
    "Ana: Cold 🥶, and the bo\u0301at was late 🚢🚢 again; nai\u0308ve me, I waited with the family 👨‍👩‍👧 on the quay.",
    "Interviewer: And then?",
    "Ana: הסירה איחרה שוב and nobody said a word, not one, until spring came and went.",
    "Interviewer: Did anybody ask?",
    *["Ana: Nobody asked us anything about it, and we never told them how it was with the dark and the ice."] * 12,
]
WORD = regex.compile(r"(?w)\b", regex.V1)


def words_of(text: str) -> list[tuple[int, int]]:
    """Bounds of words in code points (UAX 29)."""
    spans, at = [], 0
    for part in WORD.split(text):
        if regex.search(r"[\p{L}\p{N}]", part):
            spans.append((at, at + len(part)))
        at += len(part)
    return spans


def fetched(page: Page, path: str):
    return page.evaluate("async (path) => (await fetch(path)).json()", path)


def test_a_hundred_passages_by_keyboard_alone_are_where_they_were_put(page: Page, home: str, tmp_path):
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("By keyboard")
    page.get_by_role("button", name="Make the project").click()
    (tmp_path / "winter.txt").write_text("\n".join(TURNS), encoding="utf-8")
    page.locator("input[type=file]").set_input_files([tmp_path / "winter.txt"])
    page.get_by_role("region", name="What will happen").get_by_role("button", name="Bring in").click()
    page.get_by_role("link", name="winter", exact=True).first.click()
    text = page.get_by_role("group", name=re.compile("^Text of winter"))
    expect(text).to_be_visible()
    project, document = re.search(r"/projects/(\d+)/code/(\d+)", page.url).groups()
    address = f"/api/projects/{project}/documents/{document}"
    held = fetched(page, address)
    words = words_of(held["text"])
    line = page.get_by_role("combobox", name="Coding line")

    text.focus()
    expected, at = set(), -1
    for number in range(100):
        at += 1
        first = at
        page.keyboard.press("ArrowRight")
        for _ in range(number % 3):
            at += 1
            page.keyboard.press("Shift+ArrowRight")
        expected.add((words[first][0], words[at][1], f"Code {number % 7}"))
        page.keyboard.type(f"Code {number % 7}")
        expect(line).to_have_value(f"Code {number % 7}")
        page.keyboard.press("Enter")
        expect(line).to_have_value("")
    expect(page.get_by_text("100 passages")).to_be_visible()
    page.reload()
    expect(page.get_by_text("100 passages")).to_be_visible()
    # What waited when the page went is among them, and is still being sent.
    expect(page.get_by_text("Saving …")).to_have_count(0)

    held = fetched(page, address)
    names = {code["id"]: code["name"] for code in fetched(page, f"/api/projects/{project}/codebook")["codes"]}
    found = {(one["start"], one["end"], names[coding["code"]]) for one in held["passages"] for coding in one["codings"]}
    assert len(expected) == 100
    assert found == expected


def test_codes_are_merged_split_and_drawn_into_a_theme_and_each_is_taken_back(page: Page, home: str):
    open_demo(page, home, "code")
    page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name="Codebook").click()
    row = page.get_by_role("row").filter(has=page.get_by_role("checkbox", name="Tick Own boat"))
    before = row.inner_text()
    page.get_by_role("checkbox", name="Tick Own boat").check()
    page.get_by_role("checkbox", name="Tick Shopping ahead").check()
    page.get_by_role("button", name="Merge …").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("together")
    dialog.get_by_role("button", name="Merge into “Shopping ahead”").click()
    expect(row).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(row).to_be_visible()
    assert row.inner_text() == before

    page.get_by_role("checkbox", name="Tick Own boat").check()
    page.get_by_role("button", name="Split …").click()
    dialog.get_by_label("Name of new code 1").fill("Borrowed boat")
    dialog.get_by_role("button", name="Into Borrowed boat").first.click()
    dialog.get_by_role("button", name="Split", exact=True).click()
    fresh = page.get_by_role("row", name=re.compile("Borrowed boat"))
    expect(fresh).to_contain_text("1")
    page.keyboard.press("Control+z")
    expect(fresh).to_have_count(0)
    expect(row).to_be_visible()
    assert row.inner_text() == before

    page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name="Themes").click()
    page.get_by_label("New theme").fill("Boats of one’s own")
    page.keyboard.press("Enter")
    theme = page.get_by_role("article", name="Theme Boats of one’s own")
    expect(theme).to_contain_text("Read 0 passages")
    codes = page.get_by_role("complementary", name="Codes to draw in")
    codes.get_by_text("Own boat").drag_to(theme)
    expect(theme).to_contain_text("Read 6 passages by 5 people")
    page.get_by_label("New theme").focus()
    page.keyboard.press("Control+z")
    expect(theme).to_contain_text("Read 0 passages")
    page.keyboard.press("Control+z")
    expect(theme).to_have_count(0)


def test_the_end_of_a_passage_is_dragged_over_the_words(page: Page, home: str):
    open_demo(page, home, "code")
    project = re.search(r"/projects/(\d+)", page.url).group(1)
    shelf = fetched(page, f"/api/projects/{project}/documents")
    cafe = next(one["id"] for one in shelf if one["title"] == "Group_pier_cafe")
    page.goto(f"{home}/projects/{project}/code/{cafe}")
    page.get_by_role("button", name=re.compile("^Missed connections on “The bus. Sorry")).first.click()
    marked = page.locator(".selected-words")
    expect(marked.last).to_be_visible()
    before = "".join(marked.all_inner_texts())
    handle = page.locator(".edge-handle").last
    box = handle.bounding_box()
    page.mouse.move(box["x"] + 3, box["y"] + 8)
    page.mouse.down()
    page.mouse.move(box["x"] - 90, box["y"] + 8, steps=6)
    page.mouse.up()
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_be_enabled()
    shorter = "".join(marked.all_inner_texts())
    assert before.startswith(shorter)
    assert shorter != before
    with page.expect_response(re.compile("/undo")):
        page.get_by_role("button", name=re.compile("^Undo")).click()
