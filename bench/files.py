"""A folder of 189 speeches chosen in the browser: how long until the first of them is seen on its way, and until the page says what
will happen."""

import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import docx
from playwright.sync_api import expect

from bench.browser import signed_in
from bench.gather import project

SPEECHES, WORDS, TIMES = 189, 4_000, 3
_SAID = "We went down to the pier before it was light, and nobody could say whether the boat would come. "
SEEN = """() => new Promise((seen) => {
    window.addEventListener("change", () => {
        const begun = performance.now();
        const look = () => {
            if (document.querySelector("section[aria-label='Files on their way']")) seen(performance.now() - begun);
            else requestAnimationFrame(look);
        };
        look();
    }, { once: true, capture: true });
})"""


def run(report: Callable[..., None], home: str, password: str) -> None:
    members = [project(f"Bench: speeches, {number}") for number in range(TIMES)]
    first, whole = [], []
    with tempfile.TemporaryDirectory() as folder, signed_in(home, password) as page:
        chosen = [_speech(Path(folder), number) for number in range(SPEECHES)]
        for member in members:
            page.goto(f"{home}/projects/{member.project_id}/gather")
            field = page.locator("input[type=file]").first
            field.wait_for(state="attached")
            page.evaluate("() => { window.seen = (" + SEEN + ")(); }")
            begun = time.perf_counter()
            field.set_input_files(chosen)
            first.append(page.evaluate("() => window.seen") / 1000)
            expect(page.get_by_role("region", name="Files on their way")).to_have_count(0, timeout=60_000)
            expect(page.get_by_role("region", name="What will happen")).to_contain_text(f"{SPEECHES}", timeout=60_000)
            whole.append(time.perf_counter() - begun)
    report(f"{SPEECHES} files of {WORDS:,} words chosen: the first line of their way", statistics.median(first))
    report(f"{SPEECHES} files chosen: until it says what will happen", statistics.median(whole))
    for member in members:
        member.project.delete()


def _speech(folder: Path, number: int) -> Path:
    """Every third a .docx, the others plain text; labels behind stage directions, as speeches have them."""
    sentence = f"(Applause.) SPEAKER {number}: {_SAID}"
    count = WORDS // len(sentence.split())
    if number % 3:
        path = folder / f"speech_{number:03}.txt"
        path.write_text("\n".join([sentence] * count))
        return path
    path = folder / f"speech_{number:03}.docx"
    document = docx.Document()
    for _ in range(count):
        document.add_paragraph(sentence)
    document.save(str(path))
    return path
