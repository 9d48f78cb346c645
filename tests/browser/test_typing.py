"""From a recording without a text to coded words, by keyboard: typed, cut, given to speakers, transcribed, brought."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo, sign_in
from tests.sounds import spoken, wav

TIMES = [(1.0, 3.5), (5.0, 8.0), (10.0, 12.0)]
VTT = "WEBVTT\n\n00:01.000 --> 00:03.500\n<v Ana>How was the boat?\n\n00:08.500 --> 00:12.000\n<v Bo>Late again, as ever.\n"


def recording(page: Page, home: str, tmp_path) -> str:
    """A project with one recording in which somebody speaks three times."""
    sign_in(page, home)
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name", exact=True).fill("Recorded")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_text("No documents yet")).to_be_visible()
    file = tmp_path / "Jetty.wav"
    file.write_bytes(wav(spoken(14, *TIMES)))
    page.locator("input[type=file]").set_input_files(file)
    expect(page.get_by_role("region", name="Files on their way")).to_have_count(0)
    page.get_by_role("region", name="What will happen").get_by_role("button", name="Bring in").click()
    page.get_by_role("link", name="Jetty").first.click()
    expect(page.get_by_text("0 of 3 turns typed")).to_be_visible()
    return page.url


def field(page: Page, number: int):
    return page.get_by_role("textbox", name=re.compile(f"^What is said in turn {number},"))


def test_a_recording_is_typed_cut_and_coded_by_keyboard(page: Page, home: str, tmp_path):
    recording(page, home, tmp_path)
    expect(field(page, 1)).to_be_focused()
    # What is heard is drawn, with the empty turns beneath it.
    expect(page.get_by_role("region", name="Along the recording").get_by_role("button", name=re.compile("^Turns: Turn"))).to_have_count(3)  # fmt: skip
    # Where it plays is chosen below: by itself it would play on meanwhile.
    page.get_by_label("Play each turn as one comes to it").uncheck()
    field(page, 1).focus()
    page.keyboard.type("How was the crossing?")
    page.keyboard.press("Enter")
    expect(field(page, 2)).to_be_focused()
    page.keyboard.type("Late again. So?")
    for _ in range(4):
        page.keyboard.press("ArrowLeft")
    # Where it plays is where its sound is cut.
    page.get_by_role("slider", name="Place in the recording").evaluate("slider => { document.querySelector('audio').pause(); document.querySelector('audio').currentTime = 6.5 }")  # fmt: skip
    expect(page.get_by_role("slider", name="Place in the recording")).to_have_attribute(
        "aria-valuetext", "0:06 of 0:14"
    )
    page.keyboard.press("Alt+x")
    expect(page.get_by_text("3 of 4 turns typed")).to_be_visible()
    expect(field(page, 2)).to_have_value("Late again.")
    expect(field(page, 3)).to_have_value("So?")
    # Somebody new, by mouse; then by key.
    page.get_by_role("button", name=re.compile("^Speaker of turn 1")).click()
    page.get_by_role("option", name=re.compile("Somebody new")).click()
    dialog = page.get_by_role("dialog", name="Somebody new speaks")
    dialog.get_by_label("Label").fill("INT")
    dialog.get_by_role("radio", name="interviewer").check()
    dialog.get_by_role("button", name="Give the turn").click()
    expect(page.get_by_role("button", name="Speaker of turn 1: INT")).to_be_visible()
    field(page, 3).focus()
    page.keyboard.press("Alt+2")
    expect(page.get_by_role("button", name="Speaker of turn 3: INT")).to_be_visible()
    page.get_by_role("button", name="Read and code").click()
    text = page.get_by_role("group", name=re.compile("^Text of"))
    expect(text).to_contain_text("Late again.")
    text.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Alt+t")
    page.keyboard.type("Waiting")
    page.keyboard.press("Enter")
    lanes = page.get_by_role("region", name="Along the recording")
    expect(lanes.get_by_role("button", name=re.compile("^Waiting: words of it, 0:0[45]–0:0[56]$"))).to_be_visible()


def test_a_span_is_drawn_on_the_lanes_moved_and_coded(page: Page, home: str, tmp_path):
    recording(page, home, tmp_path)
    page.get_by_role("button", name="Read and code").click()
    lanes = page.get_by_role("region", name="Along the recording")
    box = lanes.get_by_role("button").first.evaluate("piece => { const { x, y, width, height } = piece.parentElement.getBoundingClientRect(); return { x, y, width, height } }")  # fmt: skip
    at = lambda share: (box["x"] + box["width"] * share, box["y"] + box["height"] - 2)  # noqa: E731
    page.mouse.move(*at(0.3))
    page.mouse.down()
    page.mouse.move(*at(0.35))
    page.mouse.move(*at(0.5))
    page.mouse.up()
    expect(page.get_by_text(re.compile("^0:04–0:0[67]")).first).to_be_visible()
    page.keyboard.type("Wind")
    page.keyboard.press("Enter")
    span = lanes.get_by_role("button", name=re.compile("^Wind: a span, 0:04–0:0[67]$"))
    expect(span).to_be_visible()
    span.click()
    span.press("ArrowRight")
    expect(lanes.get_by_role("button", name=re.compile("^Wind: a span, 0:05–0:0[78]$"))).to_be_visible()


def test_a_text_is_brought_and_another_put_in_its_place(page: Page, home: str, tmp_path):
    recording(page, home, tmp_path)
    file = tmp_path / "jetty.vtt"
    file.write_text(VTT)
    page.get_by_role("button", name="Bring a text …").click()
    dialog = page.get_by_role("dialog", name="A text for this recording")
    dialog.get_by_label("The text’s file").set_input_files(file)
    expect(dialog).to_contain_text("2 turns, 8 words")
    dialog.get_by_role("button", name="Give the recording this text").click()
    expect(page.get_by_text("2 of 2 turns typed")).to_be_visible()
    expect(field(page, 2)).to_have_value("Late again, as ever.")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_text("0 of 3 turns typed")).to_be_visible()
    # What isn't a text is said in place.
    (tmp_path / "sheet.csv").write_text("a;b\n1;2\n")
    page.get_by_role("button", name="Bring a text …").click()
    dialog.get_by_label("The text’s file").set_input_files(tmp_path / "sheet.csv")
    expect(dialog.get_by_role("alert")).to_contain_text("That is no text")


def test_the_demos_recording_is_transcribed_by_the_stand_in(page: Page, home: str):
    open_demo(page, home)
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^Gather")).click()
    page.get_by_label("Filter documents").fill("at_the_board")
    expect(page.get_by_text(re.compile("^1 document ·"))).to_be_visible()
    page.get_by_role("link", name="P02_at_the_board").click()
    expect(page.get_by_text("0 of 7 turns typed")).to_be_visible()
    page.get_by_role("button", name="Have it transcribed by the stand-in").click()
    expect(page.get_by_role("textbox", name=re.compile("^What is said in turn 2,"))).to_have_value(re.compile("my back to the wind"), timeout=60_000)  # fmt: skip
    expect(page.get_by_role("button", name="Speaker of turn 1: Interviewer")).to_be_visible()
    # As it was, for whoever looks next.
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_text("0 of 7 turns typed")).to_be_visible()
