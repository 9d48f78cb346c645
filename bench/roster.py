"""The roster scrolled in a browser, measured: how long a reader waits between two drawn frames."""

import shutil
import statistics
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from playwright.sync_api import Page, sync_playwright

from bench.gather import bring_in, project, stage_sheet, write_sheet
from server.people.models import Case
from server.projects.models import Project

SCROLL = """async () => {
    const frame = [...document.querySelectorAll("div")].find((one) => one.scrollHeight > 50_000);
    const times = [];
    let last = performance.now();
    for (let step = 0; step < 300; step += 1) {
        frame.scrollTop += 120;
        if (step % 10 === 0) frame.scrollLeft += 40;
        await new Promise(requestAnimationFrame);
        const now = performance.now();
        times.push(now - last);
        last = now;
    }
    return times;
}"""


def prepare(rows: int = 5_000, columns: int = 60) -> int:
    """A project with that many people, made once."""
    settings.MEDIA_FOLDER = Path(settings.LOCAL) / "bench-media"
    there = Project.objects.filter(name="Bench: roster").first()
    if there and Case.objects.filter(project=there).count() == rows:
        return int(there.pk)
    member = project("Bench: roster")
    path = Path(tempfile.mkdtemp()) / "roster.csv"
    write_sheet(path, rows, columns)
    stage_sheet(member, path)
    bring_in(member)
    return int(member.project_id)


def run(report: Any, home: str, held: int, password: str) -> None:
    with sync_playwright() as tools:
        browser = tools.chromium.launch(
            executable_path=shutil.which("chromium"), args=["--no-sandbox", "--disable-gpu", "--disable-quic"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        sign_in(page, home, password)
        page.goto(f"{home}/projects/{held}/people")
        page.get_by_text("R000001").first.wait_for()
        times = sorted(page.evaluate(SCROLL))
        browser.close()
    report("roster 5,000 × 60, scrolled: median frame", statistics.median(times), "ms")
    report("roster 5,000 × 60, scrolled: p95 frame", times[int(len(times) * 0.95)], "ms")
    report("roster 5,000 × 60, scrolled: longest frame", times[-1], "ms")


def sign_in(page: Page, home: str, password: str) -> None:
    page.goto(home)
    page.get_by_label("Name").fill("bench")
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Your projects").wait_for()
