"""Topics proposed by words: proposed, read, weeded by keyboard, kept as a code; and documents grouped by hand, compared."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import sign_in
from tests.talks import MORE, TALK


def test_topics_are_weeded_and_one_kept_and_documents_are_compared_as_cohorts(page: Page, home: str, tmp_path):
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Buses")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_text("No documents yet")).to_be_visible()
    for at, more, when in zip((1, 2, 3), MORE, ("May", "June", "autumn"), strict=True):
        (tmp_path / f"P{at}_bus.txt").write_text(TALK.format(who=f"P{at}", more=more, when=when))
    (tmp_path / "people.csv").write_text("ID;Island\nP1;Holm\nP2;Ytter\nP3;Ytter\n")
    page.locator("input[type=file]").set_input_files(sorted(tmp_path.iterdir()))
    expect(page.get_by_role("region", name="Files on their way")).to_have_count(0)
    page.get_by_role("region", name="What will happen").get_by_role("button", name="Bring in").click()
    expect(page.get_by_text(re.compile("Brought in 3 documents")).last).to_be_visible()

    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^Code")).click()
    page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name="Topics").click()
    page.get_by_role("button", name="Propose topics …").click()
    page.get_by_role("dialog").get_by_role("button", name="Propose", exact=True).click()
    expect(page.get_by_text(re.compile(r"topics? (is|are) proposed. Nothing is coded"))).to_be_visible(timeout=60_000)
    topics = page.get_by_role("region", name="Topics")
    row = topics.get_by_role("row").filter(has_text="bus").first
    expect(row).to_contain_text("3 of 3")
    row.get_by_role("button").press("Enter")
    pane = page.get_by_role("region", name=re.compile("^The topic"))
    hits = pane.get_by_role("list", name="Hits")
    expect(hits.get_by_role("checkbox").first).to_be_checked()
    count = hits.get_by_role("checkbox").count()
    first = hits.get_by_role("checkbox").first
    first.press("Space")
    expect(first).not_to_be_checked()
    expect(pane.get_by_text("1 unticked")).to_be_visible()
    name = pane.get_by_role("textbox", name="Name of the topic")
    name.fill("The driver")
    name.press("Enter")
    expect(topics.get_by_role("button", name="The driver")).to_be_visible()
    pane.get_by_role("button", name=f"Keep as a code on {count - 1} passage").press("Enter")
    expect(topics.get_by_text("kept as the code “The driver”")).to_be_visible()
    expect(hits.get_by_role("checkbox")).to_have_count(0)
    expect(hits).to_contain_text("· unticked")

    # It stands in the text, and says that words proposed it.
    hits.get_by_role("link").last.click()
    expect(page.get_by_text(", by words").first).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text(", by words")).to_have_count(0)

    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^People")).click()
    page.get_by_role("button", name=re.compile("^Cohorts")).click()
    page.get_by_role("button", name="of documents").click()
    for cohort, documents in (("First", ("P1_bus",)), ("Others", ("P2_bus", "P3_bus"))):
        page.get_by_role("button", name="Make a cohort").click()
        editor = page.get_by_role("region", name="New cohort")
        editor.get_by_label("Name of the cohort").fill(cohort)
        editor.get_by_role("button", name="By hand").click()
        for title in documents:
            editor.get_by_role("checkbox", name=title).check()
        editor.get_by_role("button", name="Make the cohort").click()
        expect(page.get_by_role("region", name=f"Cohort {cohort}")).to_be_visible()
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^Code")).click()
    page.get_by_role("navigation", name="Pages of coding").get_by_role("link", name="Topics").click()
    topics.get_by_role("button", name="The driver").click()
    pane.get_by_role("button", name=f"Keep as a code on {count - 1} passage").click()
    expect(topics.get_by_text("kept as the code “The driver”")).to_be_visible()
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^Compare")).click()
    page.get_by_role("button", name=re.compile("^Variable:")).click()
    page.get_by_role("option", name=re.compile("^cohorts of documents")).click()
    result = page.get_by_role("region", name="Result")
    expect(result.get_by_role("columnheader", name=re.compile("First")).first).to_contain_text("1 person")
    expect(result.get_by_role("columnheader", name=re.compile("Others")).first).to_contain_text("2 people")
