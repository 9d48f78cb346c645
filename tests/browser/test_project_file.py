"""A whole project taken out and brought in again, as its owner does it."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo


def test_a_project_is_taken_out_and_brought_in_again(page: Page, home: str, tmp_path):
    open_demo(page, home)
    steps = page.get_by_role("navigation", name="Steps")
    expect(steps).to_contain_text(re.compile(r"Code\s*\d+"))
    shown = steps.text_content()
    page.goto(f"{re.match(r'.*/projects/[0-9]+', page.url)[0]}/members")
    with page.expect_download() as download:
        page.get_by_role("link", name="Take the project out").click()
    assert download.value.suggested_filename == "after-the-winter-timetable-project.zip"
    download.value.save_as(tmp_path / "it.zip")
    first = page.url
    page.goto(home)
    page.get_by_role("button", name="Bring in a project").click()
    (tmp_path / "other.zip").write_bytes(b"something else")
    page.get_by_label("File of a project").set_input_files(tmp_path / "other.zip")
    expect(page.get_by_role("alert")).to_contain_text("can’t be opened as a .zip")
    page.get_by_label("File of a project").set_input_files(tmp_path / "it.zip")
    dialog = page.get_by_role("dialog", name="Bring in a project")
    expect(dialog).to_contain_text("86 people")
    dialog.get_by_role("button", name="Bring it in").press("Enter")
    page.wait_for_url(re.compile(r"/projects/\d+"))
    assert re.match(r".*/projects/\d+", page.url)[0] != re.match(r".*/projects/\d+", first)[0]
    expect(steps).to_have_text(shown)
    # Tests after this one look for the demo by its name.
    page.goto(f"{re.match(r'.*/projects/[0-9]+', page.url)[0]}/members")
    page.get_by_label("The project’s name, to delete it").fill("After the winter timetable")
    page.get_by_role("button", name="Delete for good").click()
    expect(page.get_by_role("link", name=re.compile("^After the winter"))).to_have_count(1)
