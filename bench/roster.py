"""The roster scrolled in a browser, measured: how long a reader waits between two drawn frames."""

import statistics
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings

from bench.browser import signed_in
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
    with signed_in(home, password) as page:
        page.goto(f"{home}/projects/{held}/people")
        page.get_by_text("R000001").first.wait_for()
        times = sorted(page.evaluate(SCROLL))
    report("roster 5,000 × 60, scrolled: median frame", statistics.median(times), "ms")
    report("roster 5,000 × 60, scrolled: p95 frame", times[int(len(times) * 0.95)], "ms")
    report("roster 5,000 × 60, scrolled: longest frame", times[-1], "ms")
