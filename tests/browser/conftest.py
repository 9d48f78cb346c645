"""The real server, the real job worker and Debian's Chromium, on a database of their own."""

import os
import re
import shutil
import socket
import subprocess
import sys
import threading
import urllib.request
from pathlib import Path
from typing import Any

import psycopg
import pytest
from playwright.sync_api import Error as PlaywrightError
from playwright.sync_api import Page, expect

from server.gather import stand_in

ROOT = Path(__file__).resolve().parents[2]
PASSWORD = "after-the-winter"


@pytest.fixture(scope="session")
def port():
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return free.getsockname()[1]


@pytest.fixture(scope="session")
def transcriber():
    """The address of the stand-in for a transcriber."""
    server = stand_in.serve(0)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    server.server_close()
    thread.join()


@pytest.fixture(scope="session")
def served(port, transcriber):
    """The environment of servers and workers, with a database that holds the demo project."""
    name = f"cohortia_browser_{port}"
    at = {
        "host": "127.0.0.1",
        "port": os.environ["COHORTIA_DATABASE_PORT"],
        "user": "cohortia",
        "password": os.environ["COHORTIA_DATABASE_PASSWORD"],
    }
    with psycopg.connect(dbname="postgres", autocommit=True, **at) as connection:
        connection.execute(f'CREATE DATABASE "{name}"')
    environment = {
        **os.environ,
        "COHORTIA_DATABASE": name,
        "DJANGO_SETTINGS_MODULE": "server.settings",
        "COHORTIA_MAIL": "stand-in",
        "COHORTIA_TRANSCRIBER": transcriber,
    }
    manage = [sys.executable, str(ROOT / "server" / "manage.py")]
    subprocess.run([*manage, "prepare_demo"], cwd=ROOT, env=environment, check=True)
    yield environment
    with psycopg.connect(dbname="postgres", autocommit=True, **at) as connection:
        connection.execute(f'DROP DATABASE "{name}" WITH (FORCE)')


@pytest.fixture(scope="session")
def home(port, served):
    """The address of a Cohortia with the demo project, started as ``bin/demo`` starts it."""
    worker = [sys.executable, str(ROOT / "server" / "manage.py"), "procrastinate", "worker", "--concurrency", "1"]
    processes = [start_server(port, served), subprocess.Popen(worker, cwd=ROOT, env=served)]
    address = f"http://127.0.0.1:{port}"
    try:
        wait_for(address)
        yield address
    finally:
        for process in processes:
            process.terminate()
        for process in processes:
            process.wait(timeout=20)


def start_server(port: int, environment: dict[str, str]) -> subprocess.Popen[bytes]:
    serve = "gunicorn server.wsgi --threads 8 --worker-class gthread --no-control-socket --log-level warning"
    command = [sys.executable, "-m", *serve.split(), "--bind", f"127.0.0.1:{port}"]
    return subprocess.Popen(command, cwd=ROOT, env=environment, start_new_session=True)


def wait_for(address: str) -> None:
    """Until the server answers; connecting blocks, so this needs no pause of its own."""
    for _ in range(20_000):
        try:
            urllib.request.urlopen(f"{address}/api/health", timeout=5).read()
            return
        except OSError:
            continue
    raise AssertionError("the server didn't start")


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {
        **browser_type_launch_args,
        "executable_path": shutil.which("chromium"),
        "args": [
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
        ],
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}, "accept_downloads": True}


_logged: dict[Page, list[str]] = {}


@pytest.fixture
def page(page: Page):
    """A page whose script errors fail the test."""
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    logged = _logged.setdefault(page, [])
    page.on("console", lambda said: logged.append(said.text) if said.type == "error" else None)
    expect.set_options(timeout=15_000)
    yield page
    del _logged[page]
    assert errors == []


MOST_SHOWN = 6000


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item):
    """A test that fails on another machine says what its page showed: nobody can look at it again."""
    report = yield
    page = getattr(item, "funcargs", {}).get("page")
    if report.when == "call" and report.failed and page in _logged:
        try:
            shown = page.locator("body").aria_snapshot()[:MOST_SHOWN]
        except PlaywrightError as gone:
            shown = str(gone)
        report.sections.append(("the page", "\n".join([page.url, *_logged[page], shown])))
    return report


def sign_in(page: Page, home: str, name: str = "rana") -> None:
    page.goto(home)
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Your projects")).to_be_visible()


def go_to(page: Page, step: str) -> None:
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=step).click()


_signed_in: dict[tuple[str, str], tuple[list[Any], str]] = {}
"""Cookies of who has signed in, by server and name, and the address of the demo there."""


def open_demo(page: Page, home: str, step: str = "gather", name: str = "rana") -> None:
    """The demo at one of its steps; whoever has signed in for a test before is still signed in."""
    cookies, demo = _signed_in.get((home, name), ([], ""))
    if cookies:
        page.context.add_cookies(cookies)
    if not cookies or page.request.get(f"{home}/api/session").json()["account"] is None:
        page.context.clear_cookies()
        sign_in(page, home, name)
        page.get_by_role("link", name="After the winter timetable").click()
        expect(page.get_by_role("navigation", name="Steps")).to_be_visible()
        demo = re.match(r".*/projects/[0-9]+", page.url)[0]
        _signed_in[home, name] = page.context.cookies(), demo
    page.goto(f"{demo}/{step.lower()}")
    expect(page.get_by_role("navigation", name="Steps")).to_be_visible()
