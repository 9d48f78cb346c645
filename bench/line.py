"""Pages on a poor line (400 ms there and back, 1 Mbit/s): what comes over it, and how long until there is something to read."""

import shutil
import statistics
import time
from typing import Any

from playwright.sync_api import BrowserContext, sync_playwright

LINE = {"offline": False, "latency": 400, "downloadThroughput": 125_000, "uploadThroughput": 125_000}
TIMES = 3


def run(report: Any, home: str, held: int, password: str, name: str = "bench") -> None:
    with sync_playwright() as tools:
        browser = tools.chromium.launch(
            executable_path=shutil.which("chromium"), args=["--no-sandbox", "--disable-gpu", "--disable-quic"]
        )
        first = [_opened(browser.new_context(), home, "Sign in") for _ in range(TIMES)]
        report("poor line, first view: over the line", statistics.median(size for _, size in first), "kB")
        report("poor line, first view: readable", statistics.median(took for took, _ in first))
        inside = browser.new_context()
        page = inside.new_page()
        page.goto(home)
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="Your projects").wait_for()
        known = inside.storage_state()
        shelf = f"{home}/projects/{held}/gather"
        cold = [_opened(browser.new_context(storage_state=known), shelf, "Bring in files") for _ in range(TIMES)]
        report("poor line, shelf, nothing kept: over the line", statistics.median(size for _, size in cold), "kB")
        report("poor line, shelf, nothing kept: readable", statistics.median(took for took, _ in cold))
        page.goto(shelf)
        page.wait_for_load_state("networkidle")
        page.close()
        warm = [_opened(inside, shelf, "Bring in files") for _ in range(TIMES)]
        report("poor line, shelf, been there before: over the line", statistics.median(size for _, size in warm), "kB")
        report("poor line, shelf, been there before: readable", statistics.median(took for took, _ in warm))
        browser.close()


def _opened(context: BrowserContext, address: str, shows: str) -> tuple[float, float]:
    """Seconds until the button that the page is for stands there, and the kilobytes that had come by then."""
    page = context.new_page()
    sizes: list[int] = []
    line = context.new_cdp_session(page)
    line.send("Network.enable")
    line.send("Network.emulateNetworkConditions", LINE)
    line.on("Network.loadingFinished", lambda told: sizes.append(told["encodedDataLength"]))
    start = time.perf_counter()
    page.goto(address, wait_until="commit")
    page.get_by_text(shows, exact=True).first.wait_for()
    took = time.perf_counter() - start
    size = sum(sizes) / 1000
    page.close()
    return took, size
