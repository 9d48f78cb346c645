"""Comparing on the demo: what its data are made to teach, and every way to make columns, by the real interface."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo

FIGURE = re.compile(r"(\d+) of (\d+)")


def ask(page: Page, rows: list[str], **view: str) -> None:
    """Open a comparison of these codes; variables by their name."""
    base = page.url.split("/compare")[0]
    api = base.replace("/projects/", "/api/projects/")
    codes = {one["name"]: one["id"] for one in page.request.get(f"{api}/codebook").json()["codes"]}
    facts = page.request.get(f"{api}/roster").json()["variables"] + page.request.get(f"{api}/variables").json()
    ids = {one["name"]: str(one["id"]) for one in facts}
    chosen = {"codes": ".".join(str(codes[name]) for name in rows), **view}
    for key in ("variable", "second"):
        if key in chosen:
            chosen[key] = ids.get(chosen[key], chosen[key])
    page.goto(f"{base}/compare?" + "&".join(f"{key}={value}" for key, value in chosen.items()))
    expect(page.get_by_text("Adds up:")).to_be_visible()


def stands_out(page: Page, name: str):
    return page.get_by_role("region", name="What stands out").get_by_role("button", name=re.compile(f"^{name}"))


def test_the_four_lessons_of_the_demo_are_told_in_words(page: Page, home: str):
    open_demo(page, home, "compare")
    # One strong difference.
    ask(page, ["Missed connections", "Own boat"], variable="Crosses for work")
    expect(stands_out(page, "Missed connections")).to_contain_text("10 of 11 people in “daily”, 1 of 9 in “never”")
    expect(stands_out(page, "Missed connections")).to_contain_text("Sure: among all 6 differences shown")
    expect(stands_out(page, "Missed connections")).to_contain_text("heard each other in a conversation")
    row = page.get_by_role("rowheader", name=re.compile("^Missed connections"))
    expect(row).to_contain_text("sure")
    # It stands among all codes too, not only beside one.
    base = page.url.split("/compare")[0]
    every = page.request.get(f"{base.replace('/projects', '/api/projects')}/codebook").json()["codes"]
    beneath = [code["id"] for code in every if code["parent"] is not None]
    page.goto(f"{base}/compare?codes={'.'.join(map(str, beneath))}")
    expect(stands_out(page, "Missed connections")).to_contain_text("Sure: among all 108 differences shown")
    page.get_by_role("button", name="How steady are they?").click()
    region = page.get_by_role("region", name="What stands out")
    expect(region.get_by_text(re.compile("^Without any one person of 20")).first).to_be_visible()
    region.get_by_role("button", name=re.compile("without group discussions")).first.click()
    expect(page.get_by_text("89 of 92 documents").first).to_be_visible()
    # One that looks strong in passages but comes from one talkative person.
    ask(page, ["Freight delays"], variable="Crosses for work", measure="passages")
    talkative = stands_out(page, "Freight delays")
    expect(talkative).to_contain_text(
        "but 19 of those are by P14 alone: more likely one person’s theme than the group’s"
    )
    # One that goes when islands are held apart.
    ask(page, ["Freight delays"], variable="Vehicle")
    expect(stands_out(page, "Freight delays")).to_contain_text("7 of 11 people in “yes”, 3 of 15 in “no”")
    expect(stands_out(page, "Freight delays")).to_contain_text(
        "Hardly anything of it is left within the groups of Island"
    )
    ask(page, ["Freight delays"], variable="Vehicle", second="Island", **{"as": "layers"})
    expect(page.get_by_text(re.compile(r"^Common odds ratio 1\.\d+ "))).to_be_attached()
    # One on the edge of a small group.
    ask(page, ["Trouble at work", "Shame at being late"], variable="Island", second="Household")
    expect(page.get_by_text("groups have under five people in the base")).to_be_visible()


def test_what_is_copied_is_a_table_of_numbers(page: Page, home: str):
    """Selected and copied by key, or as a whole from the menu: figure, count and base never run into one another."""
    page.context.grant_permissions(["clipboard-read", "clipboard-write"], origin=home)
    open_demo(page, home, "compare")
    ask(page, ["Missed connections", "Own boat"], variable="Crosses for work")
    page.evaluate(
        """() => {
            const body = document.querySelector("[data-form] tbody"), range = document.createRange();
            range.selectNodeContents(body);
            document.getSelection().removeAllRanges();
            document.getSelection().addRange(range);
        }"""
    )
    page.keyboard.press("Control+c")
    head, *lines = [line.split("\t") for line in page.evaluate("navigator.clipboard.readText()").split("\n")]
    at = {name: place for place, name in enumerate(head)}
    daily = next(name for name in head if "daily" in name and name.endswith(": people"))
    row = next(line for line in lines if line[0].startswith("Missed connections"))
    assert (row[at[daily]], row[at[daily.replace(": people", ": base")]]) == ("10", "11")
    assert float(row[at[daily.replace(": people", ": share")]]) == round(10 / 11, 4)
    page.get_by_role("button", name="Export ▾").click()
    page.get_by_role("button", name="Copy as table").click()
    expect(page.get_by_text("Copied: a table with every figure in a cell of its own.")).to_be_visible()
    kinds = page.evaluate(
        """async () => {
            const [item] = await navigator.clipboard.read();
            return Promise.all(["text/plain", "text/html"].map(async kind => (await item.getType(kind)).text()));
        }"""
    )
    head, *lines = [line.split("\t") for line in kinds[0].strip().split("\n")]
    row = dict(zip(head, next(line for line in lines if line[0] == "Missed connections"), strict=True))
    assert (row["daily: people"], row["daily: base"]) == ("10", "11")
    assert "<td>Missed connections</td>" in kinds[1]
    page.get_by_role("button", name="Export ▾").click()
    page.get_by_role("button", name="Copy the figure").click()
    expect(page.get_by_text("Copied: the figure as it stands, with its sentence.")).to_be_visible()
    assert page.evaluate("navigator.clipboard.read().then(([item]) => item.types)") == ["image/png"]


def test_columns_of_every_kind_are_chosen_in_the_sentence_and_every_number_opens(page: Page, home: str):
    open_demo(page, home, "compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Variable: ")).click()
    page.get_by_role("option", name=re.compile("^Wave")).click()
    expect(page.get_by_role("columnheader", name=re.compile("Who changed"))).to_be_visible()
    expect(page.get_by_text("the test compares those who are in all of them with themselves")).to_be_visible()
    page.get_by_role("button", name="Second variable: nothing else").click()
    page.get_by_role("option", name=re.compile("^Island")).click()
    expect(page.get_by_role("columnheader", name="winter", exact=True)).to_be_visible()
    cell = page.get_by_role("button", name=re.compile("^Missed connections, winter · Holm")).first
    said = FIGURE.search(cell.locator("span").nth(1).inner_text())
    assert said is not None
    cell.click()
    drawer = page.get_by_role("complementary")
    expect(drawer.get_by_text(f"Said it · {said[1]}")).to_be_visible()
    expect(drawer.get_by_text(f"Didn’t · {int(said[2]) - int(said[1])}")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Variable: ")).click()
    page.get_by_role("option", name=re.compile("^each person")).click()
    page.get_by_role("button", name=re.compile("^Second variable")).click()
    page.get_by_role("option", name="nothing else").click()
    expect(page.get_by_text(re.compile(r"\d+ more groups are not shown"))).to_be_visible()


def test_gaps_are_sorted_and_the_way_there_is_by_keyboard(page: Page, home: str):
    open_demo(page, home, "compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()
    page.get_by_role("button", name="gaps").focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name=re.compile("^Order of rows")).focus()
    page.keyboard.press("Space")
    expect(page.get_by_role("option", name="largest difference first")).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Order of rows: largest difference first")).to_be_visible()
    points = page.evaluate(
        "[...document.querySelectorAll('tbody tr td:last-child b')].map((b) => Math.abs(Number(b.textContent.replace('−', '-'))))"
    )
    assert len(points) > 3
    assert points == sorted(points, reverse=True)
    assert points[0] > 50


def test_a_comparison_is_kept_changed_found_from_its_memo_and_taken_back(page: Page, home: str):
    open_demo(page, home, "compare")
    page.get_by_role("button", name=re.compile("^Measure")).click()
    page.get_by_role("option", name=re.compile("^passages a person")).click()
    page.get_by_role("button", name="Keep", exact=True).click()
    page.get_by_label("Name", exact=True).fill("How much each says")
    page.get_by_role("dialog").get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("heading", name="How much each says")).to_be_visible()
    expect(page.get_by_text("Kept · live")).to_be_visible()
    page.get_by_role("button", name="bars").click()
    expect(page.get_by_text("Kept · changed here")).to_be_visible()
    page.get_by_role("button", name="Keep these changes").click()
    expect(page.get_by_text("Kept · live")).to_be_visible()
    # From the memo on another one, the whole comparison opens.
    base = page.url.split("/compare")[0]
    page.goto(f"{base}/code/memos")
    page.get_by_role("link", name="Freight and the car").click()
    expect(page.get_by_role("heading", name="Freight and the car")).to_be_visible()
    expect(page.get_by_text("How do households get by with two boats fewer?").first).to_be_visible()
    expect(page.get_by_role("columnheader", name="Ytter", exact=True)).to_be_visible()
    page.get_by_role("button", name=re.compile("^Kept 4")).click()
    page.get_by_role("menuitem", name=re.compile("^How much each says")).click()
    expect(page.get_by_role("button", name="bars")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name=re.compile("^Kept 4")).click()
    page.get_by_role("menuitem", name="Let go of “How much each says”").click()
    expect(page.get_by_role("button", name=re.compile("^Kept 3"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Kept 4"))).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_role("button", name=re.compile("^Kept 3"))).to_be_visible()


def test_what_may_leave_is_set_by_owners_and_reached_by_keys(page: Page, home: str):
    open_demo(page, home)
    members = f"{page.url.split('/gather')[0]}/members"

    def limit(people: str) -> None:
        page.goto(members)
        page.get_by_label("Hide cells of fewer than").fill(people)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Saved.")).to_be_visible()

    limit("5")
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Compare").click()
    expect(page.get_by_text("Adds up:")).to_be_visible()
    page.get_by_role("button", name="Export").focus()
    page.keyboard.press("Enter")
    panel = page.get_by_role("dialog", name="Export")
    expect(panel.get_by_text("The project’s own limit is 5")).to_be_visible()
    field = panel.get_by_label("Hide cells of fewer than")
    expect(field).to_be_focused()
    page.keyboard.press("ControlOrMeta+a")
    page.keyboard.type("7")
    expect(panel).to_be_visible()
    with page.expect_download() as got:
        panel.get_by_role("button", name="Drawing (.svg)").click()
    drawn = got.value.path().read_text()
    assert "figures of fewer than 7 people" in drawn
    assert not re.search(r">(?:1|2|3|4|5|6) of \d+<", drawn)
    # On screen everything is as it was.
    expect(page.get_by_role("button", name=re.compile("^Missed connections, never: 11 %"))).to_be_visible()
    limit("0")


def test_facts_are_held_at_once_from_the_sentence(page: Page, home: str):
    open_demo(page, home, "compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()
    page.get_by_role("button", name="Adjusted for: nothing").click()
    page.get_by_label("Vehicle").check()
    page.keyboard.press("Escape")
    held = page.get_by_role("region", name="Adjusted")
    expect(held.get_by_role("heading", name="If the groups were alike in Vehicle")).to_be_visible()
    expect(held.get_by_text("five a term are needed")).to_be_visible()
    expect(page.get_by_role("button", name="Adjusted for: Vehicle")).to_be_visible()
